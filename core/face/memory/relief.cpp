#include "face/memory/relief.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "face/even/flatten.h"
#include "face/find/locate.h"
#include "face/noise/map_noise.h"

namespace clendo::face {
namespace {

constexpr double smoothUm = 0.55;    // what two scopes show alike
constexpr double halfStrong = 0.12;  // contrast that is drawn half as strong as the strongest

}  // namespace

std::optional<Relief> reliefOf(const Picture& picture, const FaceMeasurement& face)
{
    if (!picture.sound() || !face.usable()) return std::nullopt;
    const cv::Mat1b grey(picture.height, picture.width, const_cast<std::uint8_t*>(picture.pixels.data()));  // cv::Mat has no view of const
    const auto edge = refine(grey, {face.centre.x.value(), face.centre.y.value(), face.claddingDiameter.value() / 2, 1});
    if (!edge) return std::nullopt;
    const double ppu = 1 / face.scale.micrometresPerPixel();
    const Flattened glass = flattenGlass(workingOnAll(grey, *edge, ppu));
    if (glass.empty()) return std::nullopt;
    cv::Mat1f contrast = glass.contrast.clone();
    for (int y = 0; y < contrast.rows; ++y)
        for (int x = 0; x < contrast.cols; ++x) {
            float& c = contrast(y, x);
            const float sure = std::max(0.0F, std::abs(c) - glass.doubt(y, x));
            c = std::copysign(sure / (sure + static_cast<float>(halfStrong)), c);
        }
    cv::GaussianBlur(contrast, contrast, {}, std::max(0.3, smoothUm * ppu));
    const double step = Relief::umPerPixel * ppu;  // pixels of the picture per pixel of the map
    const cv::Point2d centre = cv::Point2d(edge->circle.x, edge->circle.y) - glass.origin;
    const cv::Matx23d fromMap(step, 0, centre.x - step * Relief::middle, 0, step, centre.y - step * Relief::middle);
    Relief out;
    const cv::Size size(Relief::side, Relief::side);
    cv::warpAffine(contrast, out.map, fromMap, size, cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
    cv::warpAffine(glass.judged, out.seen, fromMap, size, cv::INTER_NEAREST | cv::WARP_INVERSE_MAP);
    out.noise = noiseOf(out.map, out.seen);
    return out;
}

}  // namespace clendo::face
