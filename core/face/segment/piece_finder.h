#pragma once
#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// How a map is searched. Lengths in pixels of the map.
struct Search {
    Region region = Region::Glass;
    double threshold = 0;            ///< contrast from which a thing counts as one
    double least = 0;                ///< the same where there is no noise
    double noise = 0;                ///< the same where noise alone sets it
    double pixelsPerMicrometre = 1;  ///< of the map
    double blur = 1;                 ///< sigma of the picture's blur
    double smoothing = 0;            ///< sigma of the smoothing that made the map
};

/// Finds pieces of one sign: seeds above the threshold, cut at half of their own strongest contrast; what is left over is looked at again, so that a
/// faint thing beside a strong one is not lost. `map` is a smoothed `flattened.contrast`.
class PieceFinder {
public:
    PieceFinder(const Flattened& flattened, const cv::Mat1f& map, const Search& search) : flattened_(flattened), map_(map), search_(search) {}

    /// 255 where the map stands out by the threshold and the doubt.
    [[nodiscard]] cv::Mat1b seeds(double sign) const;
    /// Pieces that hold a seed, appended to `out`. The seeds are used up.
    void find(cv::Mat1b seeds, double sign, std::vector<Piece>& out) const;

private:
    bool cut(const cv::Mat1i& labels, int label, cv::Rect box, double sign, cv::Mat1b& left, std::vector<Piece>& out) const;
    [[nodiscard]] double thresholdAt(int x, int y) const;
    [[nodiscard]] Piece collect(const cv::Mat1b& mask, cv::Rect around) const;

    const Flattened& flattened_;
    const cv::Mat1f& map_;
    Search search_;
};

}  // namespace clendo::face
