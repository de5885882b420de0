#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// The seeds of a calmer map of the glass that touch no piece found before. `ppu`: pixels per um.
cv::Mat1b notYetKnown(cv::Mat1b seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu);

struct Beside {
    cv::Mat1b seeds;    ///< those that touch no piece found before
    bool more = false;  ///< others reach much farther than the pieces that they touch
};
/// The same. `skirts`: pixels by which the map's smoothing widens a thing.
Beside besideKnown(cv::Mat1b seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu, double skirts);

/// The glass's contrast, 0 where pieces lie and `margin` pixels around them: what it shows is no part of them.
cv::Mat1f withoutKnown(const Flattened& f, const std::vector<Piece>& pieces, double margin);

/// The seeds of a map made of that which touch pieces found before and reach much farther than they: of a large thing noise left only those.
cv::Mat1b farBeyondKnown(cv::Mat1b seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu);

}  // namespace clendo::face
