#pragma once
#include <opencv2/core.hpp>

#include "dice.h"

namespace clendo::drawn {

/// A lens under light from all sides, so that intensities add (unlike a partly coherent one): aperture, errors of its wavefront in waves, stray
/// light.
struct Lens {
    double aperture = 0.5, wavelength = 0.59;  ///< numerical; µm
    double defocus = 0, astigmatism = 0, coma = 0, turn = 0;
    double stray = 0.04, strayReach = 6;  ///< share of the light that is spread over so many µm

    /// How a point is spread, at `step` µm a pixel; sums to 1. J. W. Goodman, Introduction to Fourier Optics, 6.4: |F(pupil)|².
    [[nodiscard]] cv::Mat1f spread(double step) const;
    /// Full width of the spread at half of its height, the mean of all directions, µm.
    [[nodiscard]] double width(double step) const;
    void blur(cv::Mat1f& light, double step) const;
};

Lens someLens(Dice& dice);

}  // namespace clendo::drawn
