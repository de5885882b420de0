#pragma once
#include <opencv2/imgproc.hpp>

#include "face/segment/segment.h"

/// Maps of contrast as flattening makes them, for the tests of what is found in them.
namespace clendo::face::maps {

constexpr double ppu = 2.5;                 // pixels per um
inline const cv::Point2d middle(160, 160);  // of the fibre
inline const Circle cladding{middle.x, middle.y, 62.5 * ppu, 1};

/// Of 320 x 320 pixels.
inline Flattened glassOf(cv::Mat1f contrast)
{
    Flattened f;
    f.contrast = std::move(contrast);
    f.doubt = cv::Mat1f(f.contrast.size(), 0.0F);
    f.judged = cv::Mat1b(f.contrast.size(), std::uint8_t{0});
    cv::circle(f.judged, cv::Point(middle), static_cast<int>(60 * ppu), 255, cv::FILLED);
    f.contrast.setTo(0, ~f.judged);
    return f;
}

/// Um from the fibre's middle, in pixels of the map.
inline cv::Point at(double x, double y) { return {cvRound(middle.x + x * ppu), cvRound(middle.y + y * ppu)}; }

/// The ferrule about it, of 720 x 720 pixels.
constexpr int ferruleRoom = 200;  // pixels on each side
/// The same in pixels of its map.
inline cv::Point onFerrule(double x, double y) { return at(x, y) + cv::Point(ferruleRoom, ferruleRoom); }
inline Flattened ferruleOf(cv::Mat1f contrast)
{
    Flattened f;
    f.contrast = std::move(contrast);
    f.origin = {-ferruleRoom, -ferruleRoom};
    f.doubt = cv::Mat1f(f.contrast.size(), 0.0F);
    f.judged = cv::Mat1b(f.contrast.size(), std::uint8_t{255});
    cv::circle(f.judged, onFerrule(0, 0), static_cast<int>(65 * ppu), 0, cv::FILLED);
    f.contrast.setTo(0, ~f.judged);
    return f;
}

}  // namespace clendo::face::maps
