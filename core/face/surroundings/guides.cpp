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

/// `height`: of the ferrule's middle line, px.
Guide guideBeside(const cv::Mat1b& picture, const FaceMeasurement& face, double height, int direction)
{
    const double umPerPx = face.scale.micrometresPerPixel();
    const int half = static_cast<int>(halfBand.value() / umPerPx), y = static_cast<int>(height);
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

void findGuides(const cv::Mat1b& picture, std::vector<FaceMeasurement>& faces)
{
    if (faces.size() < 2) return;
    // of two rows the guides lie between them: beside the ends of the upper one, half a row lower
    const auto below = std::find_if(faces.begin(), faces.end(), [](const FaceMeasurement& m) { return m.row == 2; });
    FaceMeasurement &first = faces.front(), &last = *std::prev(below);
    const double lower = below == faces.end() ? 0 : (below->centre.y - first.centre.y).value() / 2;
    if (first.usable()) first.guide = guideBeside(picture, first, first.centre.y.value() + lower, -1);
    if (last.usable()) last.guide = guideBeside(picture, last, last.centre.y.value() + lower, 1);
}

}  // namespace clendo::face
