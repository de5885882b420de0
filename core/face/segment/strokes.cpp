#include "face/segment/strokes.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr int directions = 16;

}  // namespace

cv::Mat1f strokes(const cv::Mat1f& map, double length)
{
    // at half the resolution: a stroke is long, and four times fewer pixels are read
    cv::Mat1f half;
    cv::resize(map, half, {}, 0.5, 0.5, cv::INTER_AREA);
    const int reach = std::max(1, static_cast<int>(length / 4));
    cv::Mat1f padded, best(half.size(), 0.0F), strength(half.size(), 0.0F), sum, size;
    cv::copyMakeBorder(half, padded, reach, reach, reach, reach, cv::BORDER_CONSTANT, cv::Scalar(0));
    for (int k = 0; k < directions; ++k) {
        const double angle = CV_PI * k / directions;
        sum.create(half.size());
        sum.setTo(0);
        for (int t = -reach; t <= reach; ++t) {
            const int dx = static_cast<int>(std::lround(t * std::cos(angle))), dy = static_cast<int>(std::lround(t * std::sin(angle)));
            cv::add(sum, padded(cv::Rect(reach + dx, reach + dy, half.cols, half.rows)), sum);
        }
        size = cv::abs(sum);
        const cv::Mat stronger = size > strength;
        sum.copyTo(best, stronger);
        size.copyTo(strength, stronger);
    }
    cv::Mat1f out;
    cv::resize(best, out, map.size(), 0, 0, cv::INTER_LINEAR);
    out /= 2 * reach + 1;
    return out;
}

}  // namespace clendo::face
