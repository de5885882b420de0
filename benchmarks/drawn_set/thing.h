#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "criteria/finding.h"
#include "dice.h"

namespace clendo::drawn {

/// How a thing changes the light inside its outline.
enum class Body { Even, DarkRim, LitMiddle, OneBrightSide };

/// Something on a face. Lengths in µm about the fibre's centre, x to the right and y downwards.
struct Thing {
    Finding truth;                                   ///< size, place and kind, of the outline
    std::vector<std::vector<cv::Point2d>> outlines;  ///< the thing is their union
    std::vector<cv::Point2d> line;                   ///< centre line of what is a line
    double takes = 0.5;                              ///< share of the light; below 0 it shines
    double soft = 0;                                 ///< sigma of its edge
    Body body = Body::Even;
    std::vector<double> strength;  ///< along the line, 0 to 1; empty: even
};

/// Random things about a place; lengths in µm.
Thing speck(Dice& dice, cv::Point2d at, double size);    ///< a lump of crystals
Thing flake(Dice& dice, cv::Point2d at, double length);  ///< flat, with corners, lets light through
Thing droplet(Dice& dice, cv::Point2d at, double size);
Thing film(Dice& dice, cv::Point2d at, double size);  ///< of several patches that run together
Thing pit(Dice& dice, cv::Point2d at, double size);
Thing chip(Dice& dice, double glassRadius, double size);  ///< broken off the edge of the glass
Thing lint(Dice& dice, cv::Point2d at, double length);    ///< bends and kinks
Thing scratch(Dice& dice, cv::Point2d through, double angle, double length, double width);

/// Least distance of two things' outlines.
double gapBetween(const Thing& a, const Thing& b);

}  // namespace clendo::drawn
