#include "face/find/radial_profile.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numbers>

#include "face/median.h"

namespace clendo::face {
namespace {

constexpr double binsPerPixel = 2;
constexpr std::size_t enough = 40;   // pixels for a median
constexpr std::size_t plenty = 700;  // more hardly make it better
constexpr float large = 200;         // px from the middle: from there on every second row has pixels enough

}  // namespace

/// Distances of the pixels of one row after another, many at once.
class RadialProfile::Distances {
public:
    Distances(const RadialProfile& profile, cv::Rect area) : profile_(profile), dx_(area.width), distances_(area.width)
    {
        for (int i = 0; i < area.width; ++i) dx_[i] = static_cast<float>(area.x + i - profile.frame_.centre.x);
    }
    const float* ofRow(int y)
    {
        const auto dy = static_cast<float>(y - profile_.frame_.centre.y);
        distances_ = (dx_.square() + dy * dy).sqrt();
        if (dy * dy < profile_.shifted2_)
            for (Eigen::Index i = 0; i < dx_.size(); ++i)
                if (dx_[i] * dx_[i] + dy * dy < profile_.shifted2_) distances_[i] = profile_.distance(dx_[i], dy);
        return distances_.data();
    }

private:
    const RadialProfile& profile_;
    Eigen::ArrayXf dx_, distances_;
};

RadialProfile::RadialProfile(const cv::Mat1f& even, const Frame& frame)
    : frame_(frame), shifted2_(static_cast<float>(4 * frame.shiftRadius * frame.shiftRadius))
{
    const auto bins = static_cast<std::size_t>(std::max(2.0, std::ceil((frame.outer - frame.inner) * binsPerPixel)) + 1);
    const cv::Rect area = reached(even, frame.outer);
    // counting sort of the pixels by their distance: where each goes first, then how many there are of each
    std::vector<std::int32_t> bin(static_cast<std::size_t>(area.area()), -1);
    std::vector<std::size_t> start(bins + 1, 0);
    const auto inner = static_cast<float>(frame.inner), perPixel = static_cast<float>(binsPerPixel);
    auto* at = bin.data();
    Distances distances(*this, area);
    for (int y = area.y; y < area.br().y; ++y) {
        const float *row = even.ptr<float>(y), *away = distances.ofRow(y);
        for (int x = area.x; x < area.br().x; ++x, ++at, ++away) {
            if (row[x] <= 0 || (y % 2 != 0 && *away > large)) continue;
            const float b = (*away - inner) * perPixel;
            if (b < 0 || b >= static_cast<float>(bins)) continue;
            *at = static_cast<std::int32_t>(b);
            ++start[static_cast<std::size_t>(*at) + 1];
        }
    }
    for (std::size_t i = 0; i < bins; ++i) start[i + 1] += start[i];
    std::vector<float> sorted(start[bins]);
    std::vector<std::size_t> next(start.begin(), start.end() - 1);
    at = bin.data();
    for (int y = area.y; y < area.br().y; ++y) {
        const float* row = even.ptr<float>(y);
        for (int x = area.x; x < area.br().x; ++x, ++at)
            if (*at >= 0) sorted[next[static_cast<std::size_t>(*at)]++] = row[x];
    }
    levels_.assign(bins, 1.0);
    std::vector<float> pool;
    for (std::size_t i = 0; i < bins; ++i) {
        // near the middle and at the end a ring has few pixels: take its neighbours in
        std::size_t from = i, to = i + 1;
        while (start[to] - start[from] < enough && i - from < 3 && (from > 0 || to < bins)) {
            if (from > 0) --from;
            if (to < bins) ++to;
        }
        if (i == 0) shared_ = to;
        pool.assign(sorted.begin() + static_cast<std::ptrdiff_t>(start[from]), sorted.begin() + static_cast<std::ptrdiff_t>(start[to]));
        if (pool.size() >= 2 * plenty) {
            const std::size_t step = pool.size() / plenty;
            std::size_t n = 0;
            for (std::size_t k = 0; k < pool.size(); k += step) pool[n++] = pool[k];
            pool.resize(n);
        }
        if (!pool.empty())
            levels_[i] = double(medianOf(std::span(pool)));
        else if (i > 0)
            levels_[i] = levels_[i - 1];
    }
}

cv::Rect RadialProfile::reached(const cv::Mat1f& even, double outer) const
{
    const int reach = static_cast<int>(outer) + 2;
    return cv::Rect(static_cast<int>(frame_.centre.x) - reach, static_cast<int>(frame_.centre.y) - reach, 2 * reach + 1, 2 * reach + 1) &
           cv::Rect(0, 0, even.cols, even.rows);
}

double RadialProfile::level(double d) const
{
    const double bin = std::clamp((d - frame_.inner) * binsPerPixel - 0.5, 0.0, double(levels_.size() - 1) - 1e-6);
    const int whole = static_cast<int>(bin);
    const auto i = static_cast<std::size_t>(whole);
    const double t = bin - whole;
    return levels_[i] * (1 - t) + levels_[std::min(i + 1, levels_.size() - 1)] * t;
}

double RadialProfile::slope(double d) const { return (level(d + 1) - level(d - 1)) / 2; }

void RadialProfile::divide(const cv::Mat1f& even, double misplaced, cv::Mat1f& contrast, cv::Mat1f& doubt, cv::Mat1b& judged) const
{
    contrast = cv::Mat1f(even.size(), 0.0F);
    doubt = cv::Mat1f(even.size(), 0.0F);
    judged = cv::Mat1b(even.size(), std::uint8_t{0});
    // the profile and its slope in steps of a quarter pixel: fine enough to be looked up
    constexpr float perPixel = 4;
    const auto entries = static_cast<std::size_t>((frame_.outer - frame_.inner) * double(perPixel)) + 2;
    std::vector<float> levels(entries), doubts(entries);
    for (std::size_t i = 0; i < entries; ++i) {
        const double d = frame_.inner + double(i) / double(perPixel), l = level(d);
        levels[i] = l > 0.02 ? static_cast<float>(l) : 0.0F;
        doubts[i] = l > 0.02 ? static_cast<float>(misplaced * std::abs(slope(d)) / l) : 0.0F;
    }
    const cv::Rect area = reached(even, frame_.outer);
    const auto inner = static_cast<float>(frame_.inner), last = static_cast<float>(entries - 2);
    Distances distances(*this, area);
    for (int y = area.y; y < area.br().y; ++y) {
        const float* in = even.ptr<float>(y);
        float *change = contrast.ptr<float>(y), *unsure = doubt.ptr<float>(y);
        std::uint8_t* known = judged.ptr(y);
        const float* away = distances.ofRow(y);
        for (int x = area.x; x < area.br().x; ++x, ++away) {
            if (in[x] <= 0) continue;
            const float at = std::clamp((*away - inner) * perPixel, 0.0F, last);
            const auto whole = static_cast<int>(at);
            const auto i = static_cast<std::size_t>(whole);
            const float t = at - static_cast<float>(whole), l = levels[i] * (1 - t) + levels[i + 1] * t;
            if (l <= 0) continue;
            change[x] = in[x] / l - 1;
            unsure[x] = doubts[i];
            known[x] = 255;
        }
    }
}

void RadialProfile::raiseMiddle()
{
    const std::size_t beyond = shared_ + 1;
    if (frame_.inner > 0 || shared_ < 2 || beyond >= levels_.size() || levels_[0] <= levels_[beyond]) return;
    const auto square = [](double bin) { return (bin + 0.5) * (bin + 0.5); };
    const double disc = double(shared_ * shared_) / 2;  // half of a disc lies within this square of its radius: there its median stands
    const double slope = (levels_[0] - levels_[beyond]) / (disc - square(double(beyond))), top = levels_[0] - slope * disc;
    for (std::size_t i = 0; i < shared_; ++i) levels_[i] = std::max(levels_[i], top + slope * square(double(i)));
}

void RadialProfile::keepBetween(const std::function<double(double)>& darkest, const std::function<double(double)>& brightest, double upTo)
{
    for (std::size_t i = 0; i < levels_.size(); ++i) {
        const double d = frame_.inner + (double(i) + 0.5) / binsPerPixel;
        if (d >= upTo) return;
        levels_[i] = std::clamp(levels_[i], darkest(d), brightest(d));
    }
}

cv::Point2d RadialProfile::eccentricity(const cv::Mat1f& even, double from, double to, double most) const
{
    struct Sample {
        double miss;          // from the profile
        Eigen::Vector2d row;  // what a shift of one pixel makes of it
    };
    std::vector<Sample> samples;
    const cv::Rect area = reached(even, to);
    const double least = std::max(from, 0.5);
    // whatever the shift: most pixels need not be asked
    const double shifted = std::hypot(frame_.shift.x, frame_.shift.y) + 1;
    const auto surelyNearer = static_cast<float>(std::pow(std::max(0.0, least - shifted), 2)),
               surelyFarther = static_cast<float>(std::pow(to + shifted, 2));
    samples.reserve(static_cast<std::size_t>(std::numbers::pi * std::max(0.0, to * to - least * least)));
    for (int y = area.y; y < area.br().y; ++y)
        for (int x = area.x; x < area.br().x; ++x) {
            const auto fromX = static_cast<float>(x - frame_.centre.x), fromY = static_cast<float>(y - frame_.centre.y);
            if (const float r2 = fromX * fromX + fromY * fromY; r2 < surelyNearer || r2 > surelyFarther) continue;
            const auto d = double(distance(fromX, fromY));
            if (d < least || d > to || even(y, x) <= 0) continue;
            const double dx = x - frame_.centre.x - frame_.shift.x, dy = y - frame_.centre.y - frame_.shift.y, steep = -slope(d) / d;
            samples.push_back({double(even(y, x)) - level(d), {steep * dx, steep * dy}});
        }
    Eigen::Vector2d shift(0, 0);
    for (const double width : {0.3, 0.12, 0.06}) {
        Eigen::Matrix2d m = Eigen::Matrix2d::Identity() * 1e-9;
        Eigen::Vector2d v(0, 0);
        for (const Sample& s : samples) {
            const double u = (s.miss - s.row.dot(shift)) / width;
            if (std::abs(u) >= 1) continue;
            const double weight = (1 - u * u) * (1 - u * u);
            m += weight * s.row * s.row.transpose();
            v += weight * s.miss * s.row;
        }
        shift = m.ldlt().solve(v);
    }
    if (!shift.allFinite()) return {0, 0};
    const double length = shift.norm();
    if (length > most) shift *= most / length;
    return {shift[0], shift[1]};
}

}  // namespace clendo::face
