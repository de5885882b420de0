#include "face/memory/by_chance.h"

#include <algorithm>

namespace clendo::face {
namespace {

constexpr int turnStep = 3, fineStep = 1;               // degrees
constexpr double centralUm = 12, rimUm = 54;            // from the fibre's centre
constexpr double insideUm = 40;                         // from the centre: no middle of a mark is pushed farther out, unless it lies farther out
constexpr int reachUm = 24, stepUm = 4;                 // pushed aside so far
constexpr int acrossUm = 40, alongUm = 12, endsUm = 6;  // pushed across a line, and along it in steps

/// Of the places looked at, those where it is so much alike.
class Shares {
public:
    Shares() { seen_.fill(1); }  // none in so many does not mean never
    void saw(double likeness)
    {
        ++looked_;
        ++seen_[likenessRange(likeness)];
    }
    [[nodiscard]] PerRange value() const
    {
        PerRange out;
        std::transform(seen_.begin(), seen_.end(), out.begin(), [this](double n) { return n / looked_; });
        return out;
    }

private:
    double looked_ = 1;
    PerRange seen_{};
};

}  // namespace

std::size_t likenessRange(double correlation)
{
    return static_cast<std::size_t>(std::upper_bound(likenessFrom.begin(), likenessFrom.end(), correlation) - likenessFrom.begin());
}

const PerRange& ByChance::anywhere(std::size_t mark)
{
    auto& known = anywhere_[mark];
    if (known) return *known;
    const double r = cv::norm(marks_.middle(mark)), farthest = std::max(r, insideUm);
    Shares all, turned;
    for (int t = 0; t < 360; t += turnStep) {
        const auto places = marks_.turned(mark, t);
        const cv::Point2d middle = marks_.middle(mark, t);
        for (int y = -reachUm; y <= reachUm; y += stepUm)
            for (int x = -reachUm; x <= reachUm; x += stepUm)
                if (cv::norm(middle + cv::Point2d(x, y)) <= farthest + 0.1) all.saw(marks_.likeness(mark, places, cv::Point2d(x, y)));
    }
    known = all.value();
    if (r < centralUm || r > rimUm) {
        for (int t = 0; t < 360; t += fineStep) turned.saw(marks_.likeness(mark, marks_.turned(mark, t)));
        const PerRange there = turned.value();
        for (std::size_t i = 0; i < there.size(); ++i) (*known)[i] = std::max((*known)[i], there[i]);
    }
    return *known;
}

PerRange ByChance::beside(std::size_t mark, double turn) const
{
    const auto along = marks_.along(mark, turn);
    if (!along) return Shares().value();
    const auto places = marks_.turned(mark, turn);
    const cv::Point2d middle = marks_.middle(mark, turn), across(-along->y, along->x);
    const double farthest = std::max(cv::norm(middle), insideUm);
    Shares shares;
    for (int a = -acrossUm; a <= acrossUm; ++a)
        for (int l = -alongUm; l <= alongUm; l += endsUm) {
            const cv::Point2d by = across * a + *along * l;
            if (cv::norm(by) <= LaidMarks::farthestAside && cv::norm(middle + by) <= farthest + 0.1) shares.saw(marks_.likeness(mark, places, by));
        }
    return shares.value();
}

}  // namespace clendo::face
