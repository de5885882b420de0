#include "face/noise/map_noise.h"

#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

#include "face/even/flatten.h"
#include "face/median.h"

namespace clendo::face {
namespace {

constexpr double samples = 10000;  // tell it to one per cent
constexpr std::size_t leastSamples = 100;
constexpr double leastNoise = 0.003;   // of an 8-bit picture
constexpr double deviations = 1.4826;  // standard deviations in a median absolute deviation, of a Gaussian

std::vector<float> strengths(const cv::Mat1f& map, const cv::Mat1b& judged)
{
    const int apart = std::max(1, static_cast<int>(double(map.total()) / samples)), down = std::max(1, static_cast<int>(std::sqrt(double(apart))));
    const int along = apart / down;
    std::vector<float> values;
    values.reserve(map.total() / static_cast<std::size_t>(apart) + static_cast<std::size_t>(map.rows));
    for (int y = 0; y < map.rows; y += down) {
        const float* row = map.ptr<float>(y);
        const std::uint8_t* known = judged.ptr(y);
        for (int x = y / down % along; x < map.cols; x += along)  // not the columns of the row above
            if (known[x]) values.push_back(std::abs(row[x]));
    }
    return values;
}

}  // namespace

double noiseOf(const cv::Mat1f& map, const cv::Mat1b& judged)
{
    auto values = strengths(map, judged);
    if (values.size() < leastSamples) return 1;
    return deviations * double(medianOf(std::span(values)));
}

double noiseOf(const Flattened& glass) { return std::max({glass.lost, noiseOf(glass.contrast, glass.judged), leastNoise}); }

Strengths strengthsOf(const cv::Mat1f& map, const cv::Mat1b& judged)
{
    auto values = strengths(map, judged);
    if (values.size() < leastSamples) return {};
    const float typical = medianOf(std::span(values));
    for (float& v : values) v = std::abs(v - typical);
    return {double(typical), deviations * double(medianOf(std::span(values)))};
}

}  // namespace clendo::face
