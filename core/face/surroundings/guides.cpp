#include "face/surroundings/guides.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr Micrometre beside{180};     // from the fibre's centre: behind its adhesive, before the next fibre
constexpr Micrometre farthest{1400};  // a guide's far side is nearer than this
constexpr Micrometre leastRun{220};   // of 700 um that a guide is wide: what the frame leaves of it
constexpr Micrometre halfBand{90};
constexpr double darkShare = 0.6, brightShare = 1.5;  // of the ferrule's level

Guide guideBeside(const cv::Mat1b& picture, const FaceMeasurement& face, int direction)
{
    const double umPerPx = face.scale.micrometresPerPixel();
    const int half = static_cast<int>(halfBand.value() / umPerPx), y = static_cast<int>(face.centre.y.value());
    const int top = std::max(0, y - half), bottom = std::min(picture.rows, y + half + 1);
    if (bottom - top < 8) return Guide::NotSeen;
    std::vector<double> levels;
    for (double at = beside.value(); at < farthest.value(); at += 10) {
        const int from = static_cast<int>(face.centre.x.value() + direction * at / umPerPx);
        const int wide = std::max(1, static_cast<int>(10 / umPerPx));
        if (from - wide < 0 || from + wide >= picture.cols) break;
        levels.push_back(cv::mean(picture(cv::Rect(from, top, wide, bottom - top)))[0]);
    }
    if (levels.size() < 15) return Guide::NotSeen;
    std::vector<double> near(levels.begin(), levels.begin() + 10);
    std::nth_element(near.begin(), near.begin() + 5, near.end());
    const double ferrule = std::max(4.0, near[5]);
    Micrometre dark, bright;
    for (const double level : levels) {
        dark = level < darkShare * ferrule ? dark + Micrometre(10) : Micrometre(0);
        bright = level > brightShare * ferrule ? bright + Micrometre(10) : Micrometre(0);
        if (dark >= leastRun) return Guide::Hole;
        if (bright >= leastRun) return Guide::Pin;
    }
    return Guide::NotSeen;
}

}  // namespace

void findGuides(const cv::Mat1b& picture, std::vector<FaceMeasurement>& row)
{
    if (row.size() < 2) return;
    if (row.front().usable()) row.front().guide = guideBeside(picture, row.front(), -1);
    if (row.back().usable()) row.back().guide = guideBeside(picture, row.back(), 1);
}

}  // namespace clendo::face
