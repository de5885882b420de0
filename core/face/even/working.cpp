#include "face/even/working.h"

#include <algorithm>
#include <cmath>

#include "face/even/crop.h"
#include "face/noise/jpeg_step.h"
#include "face/noise/lone_pixels.h"
#include "face/noise/lost_noise.h"

namespace clendo::face {
namespace {

constexpr double mostToASide = 4;   // pixels: no fibre that fits a picture needs more
constexpr double largestUm = 0.64;  // a pixel of it still shows specks of half a micrometre; of 0.7 the faint ones are lost

/// Single pixels of the camera would otherwise become specks of a larger one. Gives how many there were.
int mendGlass(cv::Mat1b& picture, const Circle& cladding)
{
    cv::Mat1b glass = picture(squareAround(cladding, cladding.radius + 2, 1, picture.size()));
    cv::Mat1f levels;
    glass.convertTo(levels, CV_32F);
    const int mended = mendLonePixels(levels);
    if (mended > 0) levels.convertTo(glass, CV_8U);
    return mended;
}

CladdingEdge reduced(CladdingEdge edge, cv::Point origin, int factor)
{
    const double middle = (factor - 1) / 2.0;  // of the pixels that become one
    edge.circle.x = (edge.circle.x - origin.x - middle) / factor;
    edge.circle.y = (edge.circle.y - origin.y - middle) / factor;
    edge.circle.radius /= factor;
    edge.ring /= factor;
    // a pixel spreads light evenly over itself, and reading between pixels spreads it: larger ones by more
    const double spread = (1 - 1.0 / (factor * factor)) * (1.0 / 12 + betweenPixels * betweenPixels);
    edge.blur = std::hypot(edge.blur / factor, std::sqrt(spread));
    edge.mostBlur = std::hypot(edge.mostBlur / factor, std::sqrt(spread));
    edge.profile = {};
    return edge;
}

}  // namespace

Working workingOnAll(const cv::Mat1b& picture, const CladdingEdge& edge, double pixelsPerMicrometre)
{
    return {picture, {}, edge, pixelsPerMicrometre, {}, lostNoise(picture, edge.circle), jpegStep(picture, edge.circle), 1, {}};
}

Working workingOn(const cv::Mat1b& picture, const cv::Mat1b& seen, const CladdingEdge& edge, double pixelsPerMicrometre)
{
    Working out = workingOnAll(picture, edge, pixelsPerMicrometre);
    out.seen = seen;
    const int factor = static_cast<int>(std::min(largestUm * pixelsPerMicrometre, mostToASide));
    if (factor < 2) return out;
    const cv::Rect near = squareAround(edge.circle, ferruleLook * edge.circle.radius + 2 * factor, factor, picture.size());
    cv::Mat1b fine = picture(near).clone();
    const Circle within{edge.circle.x - near.x, edge.circle.y - near.y, edge.circle.radius, edge.circle.support};
    out.lonePixels = mendGlass(fine, within);
    out.picture = reduced(fine, factor);
    if (!seen.empty()) out.seen = reduced(seen(near), factor);
    out.edge = reduced(edge, near.tl(), factor);
    out.pixelsPerMicrometre = pixelsPerMicrometre / factor;
    out.reduction = factor;
    out.origin = near.tl();
    return out;
}

}  // namespace clendo::face
