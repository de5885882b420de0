#pragma once
#include <opencv2/core.hpp>
#include <optional>

#include "face/find/locate.h"

namespace clendo::face {

/// How far the ferrule is looked at, in radii of the cladding, so that what goes on beyond zone D is seen whole.
inline constexpr double ferruleLook = 2.4;

/// The picture that a fibre's things are looked for in: where its pixels are much finer than anything the optics show, one of larger pixels, which
/// tells as much in a fraction of the time and without the unrest of single pixels along the border of a thing.
struct Working {
    cv::Mat1b picture;
    cv::Mat1b seen;  ///< of it: 255 where the camera's optics show something; empty: everywhere
    CladdingEdge edge;
    double pixelsPerMicrometre = 1;
    std::optional<int> lonePixels{};  ///< on the glass, that were mended before pixels were laid together; nothing: they are there still
    double lostNoise = 0;             ///< of the picture as it came, grey levels (lostNoise)
    double jpegStep = 0;              ///< the same (jpegStep)
    int reduction = 1;                ///< pixels of the picture as it came, to a side, that make one of this
    cv::Point origin{};               ///< of this in the picture as it came, pixels of that
};

/// Of a picture with pixels so fine that two or more to a side make one of `largestUm` at most: those, averaged. Otherwise the picture itself.
/// `seen`: as FieldOfView::seen().
Working workingOn(const cv::Mat1b& picture, const cv::Mat1b& seen, const CladdingEdge& edge, double pixelsPerMicrometre);
/// The picture itself, whatever its pixels.
Working workingOnAll(const cv::Mat1b& picture, const CladdingEdge& edge, double pixelsPerMicrometre);

}  // namespace clendo::face
