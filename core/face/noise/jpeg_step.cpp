#include "face/noise/jpeg_step.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <optional>
#include <span>
#include <vector>

#include "face/median.h"
#include "face/noise/jpeg_blocks.h"

namespace clendo::face {
namespace {

constexpr double mostBlocks = 600;
constexpr std::size_t leastBlocks = 40, leastDetails = 6;
constexpr int coarse = 4;                     // sum of a coefficient's indices up to which its step is asked
constexpr float rounded = 1.0F, away = 1.6F;  // rounding of the pixels moves a coefficient by no more than the first
constexpr double mostBetween = 0.035;         // share of coefficients between them that noise of its own would not leave so small
constexpr float mostSteps = 3.5, leastTold = 4, multiplesOf = 0.75;  // up to so many steps, and of so large ones, a few grey levels off do not matter
constexpr double least = 0.05;                                       // share of details taken for the smallest one

using Coefficients = std::array<std::vector<float>, static_cast<std::size_t>(jpegBlock) * jpegBlock>;

/// The coarse cosines of a block (ITU-T T.81, A.3.3), a row each.
cv::Matx<float, coarse + 1, jpegBlock> coarseCosines()
{
    cv::Matx<float, coarse + 1, jpegBlock> out;
    for (int u = 0; u <= coarse; ++u)
        for (int x = 0; x < jpegBlock; ++x)
            out(u, x) = static_cast<float>((u == 0 ? std::sqrt(0.5) : 1.0) / 2 * std::cos((2 * x + 1) * u * CV_PI / (2 * jpegBlock)));
    return out;
}

Coefficients coefficientsIn(const cv::Mat1b& picture, const Circle& cladding, Reach reach)
{
    Coefficients out;
    const double blocks = CV_PI * (reach.second * reach.second - reach.first * reach.first) / (jpegBlock * jpegBlock);
    static const auto cosines = coarseCosines();
    cv::Matx<float, jpegBlock, jpegBlock> pixels;
    forEachJpegBlock(picture.size(), cladding, reach, std::max(1, static_cast<int>(std::sqrt(blocks / mostBlocks))), [&](const cv::Rect& block) {
        for (int y = 0; y < jpegBlock; ++y)
            for (int x = 0; x < jpegBlock; ++x) pixels(y, x) = static_cast<float>(picture(block.y + y, block.x + x));
        const auto details = cosines * pixels * cosines.t();
        for (int v = 0; v <= coarse; ++v)
            for (int u = v == 0 ? 1 : 0; u + v <= coarse; ++u)
                out[static_cast<std::size_t>(v) * jpegBlock + static_cast<std::size_t>(u)].push_back(std::abs(details(v, u)));
    });
    return out;
}

/// Whether the details of one kind are multiples of the smallest ones, as far as those tell.
bool areMultiples(const std::vector<float>& values, float smallest)
{
    double sum = 0;
    int near = 0, asked = 0, multiples = 0;
    for (const float v : values)
        if (v < smallest + 2 * rounded) {
            sum += double(v);
            ++near;
        }
    const auto step = static_cast<float>(sum / near);
    for (const float v : values) {
        if (v > mostSteps * step) continue;
        ++asked;
        multiples += std::abs(v - step * std::round(v / step)) < rounded ? 1 : 0;
    }
    return step > leastTold && float(multiples) > multiplesOf * float(asked);
}

/// 0 where they were not rounded; nothing where they hold too few details to tell. `sharply`: details are as large as those of an edge, of which few
/// are small by chance; so they must be multiples of the step.
std::optional<double> stepOf(Coefficients all, bool sharply)
{
    std::vector<float> steps;
    double between = 0, asked = 0, kinds = 0, alike = 0;
    for (auto& values : all) {
        if (values.size() < leastBlocks) continue;
        asked += double(values.size());
        between += double(std::count_if(values.begin(), values.end(), [](float v) { return v > rounded && v < away; }));
        std::erase_if(values, [](float v) { return v < away; });
        if (values.size() < leastDetails) continue;
        const auto smallest = values.begin() + static_cast<std::ptrdiff_t>(least * double(values.size()));
        std::nth_element(values.begin(), smallest, values.end());
        kinds += 1;
        alike += !sharply || areMultiples(values, *smallest) ? 1 : 0;
        steps.push_back(*smallest);
    }
    if (between > mostBetween * asked || alike < multiplesOf * kinds) return 0;
    if (steps.empty()) return std::nullopt;
    return double(medianOf(std::span(steps)));
}

}  // namespace

double jpegStep(const cv::Mat1b& picture, const Circle& cladding)
{
    // clean glass holds no details that could tell; its rim does
    const auto glass = stepOf(coefficientsIn(picture, cladding, innerGlass(cladding)), false);
    return glass ? *glass : stepOf(coefficientsIn(picture, cladding, onTheRim(cladding)), true).value_or(0);
}

}  // namespace clendo::face
