#include "face/find/field_of_view.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <span>
#include <vector>

#include "face/find/circle_fit.h"
#include "face/find/stamped_text.h"
#include "face/median.h"

namespace clendo::face {
namespace {

constexpr int reducedTo = 320;                   // pixels of the longer side
constexpr double darkShare = 0.14;               // of the light of the picture: less is no light
constexpr double littleLight = 0.02;             // of the light of the brightest parts
constexpr double blackest = 0.22;                // the same, a camera's own black level included
constexpr double leastHidden = 0.01;             // of the picture: less is dirt
constexpr double mostHidden = 0.97;              // more: there is no picture
constexpr int leastBorder = 3, mostBorder = 40;  // reduced pixels that a border may blur
constexpr double mostGain = 1.5;                 // by which a border may dim what is still seen
constexpr double surelySeen = 1.25;              // of the border's width
constexpr float onTheBorder = 1.5F;              // reduced pixels from what is hidden
constexpr std::size_t fewestOnCircle = 60;       // points of a border that can tell its circle
constexpr double mostOffCircle = 1.5;            // reduced pixels by which a round border is off it
constexpr int rimWidth = 6;                      // reduced pixels along the border that tell how the ferrule goes on
constexpr double stillRising = 0.025;            // share by which light grows over some pixels, where the border is not over yet
constexpr double evenlyDark = 0.05;              // of the light: what is hidden differs by less from place to place

/// How many pixels of a picture have each level.
class Levels {
public:
    explicit Levels(const cv::Mat1b& picture)
    {
        for (const std::uint8_t level : picture) ++of_[level];
        all_ = picture.total();
    }
    /// The level below which this share of the pixels lies.
    [[nodiscard]] double at(double share) const
    {
        const auto below = static_cast<std::size_t>(double(all_ - 1) * share);
        std::size_t sum = 0, level = 0;
        while (level < of_.size() - 1 && (sum += of_[level]) <= below) ++level;
        return double(level);
    }

private:
    std::array<std::size_t, 256> of_{};
    std::size_t all_ = 0;
};

/// How a border dims what is seen, by the distance from it in pixels of the reduced picture.
class Dimming {
public:
    /// `away`: distance from what is hidden.
    Dimming(const cv::Mat1b& picture, const cv::Mat1f& away)
    {
        std::vector<std::vector<std::uint8_t>> rings(mostBorder + step + 1);
        for (int y = 0; y < away.rows; ++y)
            for (int x = 0; x < away.cols; ++x)
                if (const auto ring = static_cast<std::size_t>(away(y, x)); away(y, x) > 0 && ring < rings.size())
                    rings[ring].push_back(picture(y, x));
        for (auto& ring : rings) levels_.push_back(ring.empty() ? 0 : double(medianOf(std::span(ring))));
        const auto level = [&](int ring) { return levels_[static_cast<std::size_t>(ring)]; };
        ends_ = leastBorder;
        while (ends_ < mostBorder && level(ends_ + step) > level(ends_) * (1 + stillRising)) ++ends_;
        ++ends_;
    }

    /// Where nothing is dimmed any more: where light no longer grows from ring to ring.
    [[nodiscard]] int ends() const { return ends_; }
    /// By how much more light there is farther in.
    [[nodiscard]] double gain(double distance) const
    {
        if (distance >= ends_) return 1;
        const auto ring = static_cast<std::size_t>(std::max(0.0, distance));
        const double part = distance - double(ring), level = levels_[ring] * (1 - part) + levels_[ring + 1] * part;
        return std::max(1.0, levels_[static_cast<std::size_t>(ends_)] / std::max(1.0, level));
    }

private:
    static constexpr int step = 4;
    std::vector<double> levels_;
    int ends_ = 0;
};

/// Where a round window goes on beyond the picture, it dims what lies along the picture's edge too. `away`: distance from what is hidden.
void goOnRound(cv::Mat1f& away)
{
    std::vector<cv::Point2f> border;
    for (int y = 1; y + 1 < away.rows; ++y)
        for (int x = 1; x + 1 < away.cols; ++x)
            if (away(y, x) > 0 && away(y, x) < onTheBorder) border.emplace_back(static_cast<float>(x), static_cast<float>(y));
    if (border.size() < fewestOnCircle) return;
    const auto window = circleThrough(border);
    if (!window || offCircle(border, *window) > mostOffCircle) return;
    for (int y = 0; y < away.rows; ++y)
        for (int x = 0; x < away.cols; ++x)
            if (away(y, x) > 0) {
                const double left = window->radius + 1 - std::hypot(x - window->x, y - window->y);
                away(y, x) = static_cast<float>(std::clamp(left, 0.5, double(away(y, x))));
            }
}

}  // namespace

FieldOfView::FieldOfView(const cv::Mat1b& picture)
{
    findBorders(picture);
    const cv::Mat1b text = stampedText(picture);
    if (text.empty()) return;
    if (seen_.empty()) seen_ = cv::Mat1b(picture.size(), std::uint8_t{255});
    seen_.setTo(0, text);
}

void FieldOfView::findBorders(const cv::Mat1b& picture)
{
    const double shrink = std::min(1.0, double(reducedTo) / std::max(picture.cols, picture.rows));
    cv::Mat1b small;
    cv::resize(picture, small, {}, shrink, shrink, cv::INTER_AREA);
    const Levels levels(small);
    const double black = levels.at(0.002), bright = levels.at(0.98);
    double light = levels.at(0.9);
    if (light - black < littleLight * (bright - black)) light = bright;  // a window in a picture that is black nearly all over
    const double dark = std::min(black + darkShare * (light - black), blackest * light);
    cv::Mat1b hidden;
    cv::threshold(small, hidden, dark, 255, cv::THRESH_BINARY_INV);
    // what is hidden reaches the picture's edge, and is dark all over
    cv::Mat1i labels;
    cv::Mat1i stats;
    cv::Mat1d centres;
    const int count = cv::connectedComponentsWithStats(hidden, labels, stats, centres, 8);
    std::vector<char> outside(static_cast<std::size_t>(count), 0);
    const double all = double(small.total());
    double area = 0;
    for (int n = 1; n < count; ++n) {
        const cv::Rect box(stats(n, cv::CC_STAT_LEFT), stats(n, cv::CC_STAT_TOP), stats(n, cv::CC_STAT_WIDTH), stats(n, cv::CC_STAT_HEIGHT));
        const bool reaches = box.x == 0 || box.y == 0 || box.br().x == small.cols || box.br().y == small.rows;
        if (!reaches || stats(n, cv::CC_STAT_AREA) < leastHidden * all / 4) continue;
        cv::Scalar mean, spread;
        cv::meanStdDev(small, mean, spread, labels == n);
        if (spread[0] > evenlyDark * (light - black)) continue;
        outside[static_cast<std::size_t>(n)] = 1;
        area += stats(n, cv::CC_STAT_AREA);
    }
    if (area < leastHidden * all || area > mostHidden * all) return;
    cv::Mat1b seen(small.size(), std::uint8_t{255});
    for (int y = 0; y < small.rows; ++y)
        for (int x = 0; x < small.cols; ++x)
            if (outside[static_cast<std::size_t>(labels(y, x))]) seen(y, x) = 0;
    // the border itself is soft
    cv::Mat1f away;
    cv::distanceTransform(seen, away, cv::DIST_L2, 5);
    goOnRound(away);
    const Dimming dimming(small, away);
    cv::Mat1f gain(small.size());
    cv::Mat1b lit(small.size()), rim(small.size());
    for (int y = 0; y < small.rows; ++y)
        for (int x = 0; x < small.cols; ++x) {
            gain(y, x) = static_cast<float>(dimming.gain(double(away(y, x))));
            lit(y, x) = away(y, x) > leastBorder && double(gain(y, x)) < mostGain ? 255 : 0;
            seen(y, x) = double(away(y, x)) > surelySeen * dimming.ends() + 1 ? 255 : 0;
            rim(y, x) = lit(y, x) && double(away(y, x)) < dimming.ends() + rimWidth ? 255 : 0;
        }
    cv::resize(seen, seen_, picture.size(), 0, 0, cv::INTER_NEAREST);
    cv::resize(lit, lit_, picture.size(), 0, 0, cv::INTER_NEAREST);
    cv::resize(rim, rim_, picture.size(), 0, 0, cv::INTER_NEAREST);
    cv::resize(gain, gain_, picture.size(), 0, 0, cv::INTER_LINEAR);
}

bool FieldOfView::holds(cv::Point2d centre, double radius) const
{
    if (lit_.empty()) return true;
    constexpr int directions = 72;
    int missing = 0;
    for (int i = 0; i < directions; ++i) {
        const double angle = 2 * CV_PI * i / directions;
        const int x = cvRound(centre.x + radius * std::cos(angle)), y = cvRound(centre.y + radius * std::sin(angle));
        if (x < 0 || y < 0 || x >= lit_.cols || y >= lit_.rows || lit_(y, x) == 0) ++missing;
    }
    return missing == 0;
}

double FieldOfView::shareOfRing(cv::Point2d centre, double from, double to, cv::Size picture) const
{
    constexpr int directions = 180, rings = 24;
    int inside = 0;
    for (int ring = 0; ring < rings; ++ring) {
        // each ring of as much area as the next
        const double share = (ring + 0.5) / rings, radius = std::sqrt(from * from + share * (to * to - from * from));
        for (int i = 0; i < directions; ++i) {
            const double angle = 2 * CV_PI * i / directions;
            const cv::Point at(cvRound(centre.x + radius * std::cos(angle)), cvRound(centre.y + radius * std::sin(angle)));
            inside += cv::Rect({}, picture).contains(at) && (seen_.empty() || seen_(at)) ? 1 : 0;
        }
    }
    return double(inside) / (directions * rings);
}

cv::Mat1b FieldOfView::goingOn(const cv::Mat1b& picture) const
{
    if (lit_.empty()) return picture;
    // means over what lies along the border, from fine to coarse, each filling what the finer one could not
    cv::Mat1f level, weight;
    cv::Mat1f seen;
    rim_.convertTo(seen, CV_32F, 1 / 255.0);
    picture.convertTo(level, CV_32F);
    cv::multiply(level, gain_, level);
    cv::Mat1b even;
    level.convertTo(even, CV_8U);
    cv::multiply(level, seen, level);
    weight = seen.clone();
    std::vector<std::pair<cv::Mat1f, cv::Mat1f>> steps{{level, weight}};
    while (std::min(steps.back().first.cols, steps.back().first.rows) > 4) {
        cv::Mat1f l, w;
        cv::pyrDown(steps.back().first, l);
        cv::pyrDown(steps.back().second, w);
        steps.emplace_back(l, w);
    }
    cv::Mat1f filled;
    cv::divide(steps.back().first, cv::max(steps.back().second, 1e-6F), filled);
    for (auto step = std::next(steps.rbegin()); step != steps.rend(); ++step) {
        cv::Mat1f up;
        cv::resize(filled, up, step->first.size(), 0, 0, cv::INTER_LINEAR);
        filled = cv::Mat1f(step->first.size());
        for (int y = 0; y < filled.rows; ++y)
            for (int x = 0; x < filled.cols; ++x) filled(y, x) = step->first(y, x) + up(y, x) * (1 - std::min(1.0F, step->second(y, x)));
    }
    cv::Mat1b out;
    filled.convertTo(out, CV_8U);
    even.copyTo(out, lit_);
    return out;
}

}  // namespace clendo::face
