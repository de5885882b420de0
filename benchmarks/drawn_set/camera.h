#pragma once
#include <opencv2/core.hpp>

#include "dice.h"

namespace clendo::drawn {

enum class Border { None, Window, Bars, Corners };

/// From light (1: clean glass) to a picture: light and its borders, sensor, mosaic, curve, sharpening, stretching, text.
struct Camera {
    double grey = 160;  ///< of clean glass, before the curve
    double tilt = 0.1, tiltTo = 0, corners = 0.8;
    Border border = Border::None;
    bool mosaic = false;
    double full = 9000, read = 1.2;  ///< electrons at grey 255, and grey levels, of noise
    double columns = 0;              ///< grey levels
    int hot = 0;
    double curve = 0;  ///< of an S, -0.5 to 0.8
    double gamma = 1;
    double sharpen = 0, sharpenOver = 1;  ///< amount, px
    bool stretch = false;
    double enlarged = 1;  ///< the sensor had so many times fewer pixels a side
    bool stamp = false;

    /// `light` in pixels of the sensor; `fibre` and its radius in pixels of it. What may be judged lies within `keep` px of the fibre. Three
    /// channels where there is a mosaic, else one.
    [[nodiscard]] cv::Mat expose(const cv::Mat1f& light, cv::Point2d fibre, double radius, double keep, Dice& dice) const;
    /// Grey levels of noise at clean glass.
    [[nodiscard]] double noise() const;
};

Camera someCamera(Dice& dice);

}  // namespace clendo::drawn
