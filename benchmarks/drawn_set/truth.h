#pragma once
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "criteria/judge.h"
#include "shot.h"

namespace clendo::drawn {

/// A thing as the lens shows it.
struct Seen {
    Thing thing;
    double contrast = 0, step = 0, snr = 0, visibility = 0;
    std::string zone;
};

/// What truth.json says of a face; its verdict and whether that is near a limit by these criteria. Sets the things' zones.
nlohmann::json faceTruth(int fibre, std::vector<Seen>& things, const Shot& shot, cv::Point2d at, const Criteria& criteria);

}  // namespace clendo::drawn
