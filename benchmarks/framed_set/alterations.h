#pragma once
#include <opencv2/core.hpp>
#include <random>
#include <span>

namespace clendo::framed {

/// What another camera makes of a picture. `fibre`, `radius`: the cladding's middle and radius in it, px.
struct Alteration {
    const char* name;
    void (*draw)(cv::Mat1b& picture, cv::Point2d fibre, double radius, std::mt19937& dice);
};

/// Round windows, bars, dark corners, text: they cut something off.
std::span<const Alteration> frames();
/// Tones, sharpening, noise, few levels, compression: all that was seen still is, more or less well.
std::span<const Alteration> cameras();

double between(std::mt19937& dice, double low, double high);

}  // namespace clendo::framed
