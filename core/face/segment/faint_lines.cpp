#include "face/segment/faint_lines.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <opencv2/imgproc.hpp>
#include <optional>

#include "face/find/axis.h"

namespace clendo::face {
namespace {

constexpr double stepUm = 1, windowUm = 6;  // from place to place, and what is averaged along the line at each
constexpr double reachUm = 6, swayUm = 1;   // asked across the line, and how far it may be off where it is expected
constexpr double longestUm = 130;
constexpr double leastOfLine = 0.45;  // of its contrast: where it is less, the line ends
constexpr double leastOverNoise = 2.5;
constexpr int mostMissed = 2;  // places in a row
constexpr double leastLengthUm = 10, leastSlender = 5;
constexpr double widestUm = 4.5;   // wider things are not lost in noise
constexpr double seenWhole = 0.8;  // as much of a line is no fragment of it
constexpr double besideUm = 1.4, armUm = 3;
constexpr double quarter = 0.25;  // px from one point of an outline to the next

struct Line {
    std::vector<cv::Point2d> places;  ///< pixels of the map, a step apart
    double contrast = 0, width = 0, length = 0;
    bool atRim = false;
};

cv::Point2d normalTo(cv::Point2d along) { return {-along.y, along.x}; }

class Follower {
public:
    explicit Follower(const LineSearch& s)
        : s_(s),
          step_(stepUm * s.pixelsPerMicrometre),
          window_(windowUm * s.pixelsPerMicrometre),
          offsets_(2 * static_cast<int>(2 * reachUm * s.pixelsPerMicrometre) + 1)
    {
    }

    [[nodiscard]] std::optional<Line> from(cv::Point2d start, cv::Point2d along) const
    {
        const auto here = peak(across(start, along), 0);
        if (here.height < leastHeight(here.height)) return std::nullopt;
        Line line;
        std::vector<cv::Point2d> back;
        double sum = here.height;
        int count = 1;
        const cv::Point2d on = start + normalTo(along) * here.offset;
        line.atRim = walk(on, -along, sum, count, back);
        line.places.assign(back.rbegin(), back.rend());
        line.places.push_back(on);
        line.atRim = walk(on, along, sum, count, line.places) || line.atRim;
        line.contrast = s_.sign * sum / count;
        line.length = cv::norm(line.places.back() - line.places.front());
        line.width = widthOf(line);
        return line;
    }

private:
    struct Peak {
        double offset = 0, height = 0;
    };

    [[nodiscard]] double level(cv::Point2d p) const
    {
        const int x = static_cast<int>(std::floor(p.x)), y = static_cast<int>(std::floor(p.y));
        if (x < 0 || y < 0 || x + 1 >= s_.map.cols || y + 1 >= s_.map.rows) return 0;
        const double u = p.x - x, v = p.y - y;
        return s_.sign * ((1 - v) * ((1 - u) * double(s_.map(y, x)) + u * double(s_.map(y, x + 1))) +
                          v * ((1 - u) * double(s_.map(y + 1, x)) + u * double(s_.map(y + 1, x + 1))));
    }
    [[nodiscard]] bool judged(cv::Point2d p) const
    {
        const cv::Point at(cvRound(p.x), cvRound(p.y));
        return cv::Rect({0, 0}, s_.glass.judged.size()).contains(at) && s_.glass.judged(at) != 0;
    }
    /// Mean levels along the line, at offsets of half a pixel across it.
    [[nodiscard]] std::vector<double> across(cv::Point2d at, cv::Point2d along) const
    {
        std::vector<double> sums(static_cast<std::size_t>(offsets_), 0.0);
        const cv::Point2d n = normalTo(along);
        int count = 0;
        for (double t = -window_ / 2; t <= window_ / 2; t += 1, ++count)
            for (int i = 0; i < offsets_; ++i) sums[static_cast<std::size_t>(i)] += level(at + along * t + n * offsetOf(i));
        for (double& s : sums) s /= count;
        return sums;
    }
    [[nodiscard]] double offsetOf(int i) const { return 0.5 * (i - offsets_ / 2); }
    [[nodiscard]] Peak peak(const std::vector<double>& profile, double expected) const
    {
        Peak best{expected, -1};
        for (int i = 1; i + 1 < offsets_; ++i) {
            if (std::abs(offsetOf(i) - expected) > swayUm * s_.pixelsPerMicrometre) continue;
            const auto k = static_cast<std::size_t>(i);
            const double height = (profile[k - 1] + profile[k] + profile[k + 1]) / 3;
            if (height > best.height) best = {offsetOf(i), height};
        }
        return best;
    }
    [[nodiscard]] double leastHeight(double ofLine) const
    {
        // neighbours in a smoothed map are alike: about half of them tell something of their own
        return std::max(leastOfLine * ofLine, leastOverNoise * s_.noise / std::sqrt(std::max(1.0, window_ / 2)));
    }
    /// Follows the line to its end; true where that is the border of what is judged.
    bool walk(cv::Point2d at, cv::Point2d along, double& sum, int& count, std::vector<cv::Point2d>& places) const
    {
        cv::Point2d last = at;
        int missed = 0;
        for (int i = 1; i < longestUm / stepUm; ++i) {
            at += along * step_;
            if (!judged(at)) return missed == 0;
            const Peak p = peak(across(at, along), 0);
            if (p.height < leastHeight(sum / count)) {
                if (++missed > mostMissed) return false;
                continue;
            }
            missed = 0;
            sum += p.height;
            ++count;
            at += normalTo(along) * (0.5 * p.offset);
            const cv::Point2d moved = at - last;
            along = along * 0.8 + moved * (0.2 / cv::norm(moved));
            along /= cv::norm(along);
            last = at;
            places.push_back(at);
        }
        return false;
    }
    /// At half of its height above its surroundings, of the mean over its length.
    [[nodiscard]] double widthOf(const Line& line) const
    {
        std::vector<double> mean(static_cast<std::size_t>(offsets_), 0.0);
        for (std::size_t i = 0; i < line.places.size(); ++i) {
            const cv::Point2d a = line.places[i > 2 ? i - 3 : 0], b = line.places[std::min(i + 3, line.places.size() - 1)];
            if (cv::norm(b - a) < 1e-6) return 0;
            const auto here = across(line.places[i], (b - a) / cv::norm(b - a));
            for (std::size_t k = 0; k < mean.size(); ++k) mean[k] += here[k] / double(line.places.size());
        }
        const auto quarterOf = static_cast<std::ptrdiff_t>(mean.size() / 8);
        const double aside =
            (std::accumulate(mean.begin(), mean.begin() + quarterOf, 0.0) + std::accumulate(mean.end() - quarterOf, mean.end(), 0.0)) /
            (2.0 * double(quarterOf));
        const auto top = std::max_element(mean.begin() + offsets_ / 4, mean.end() - offsets_ / 4);
        const double half = (*top + aside) / 2;
        const auto crossing = [&](auto from, auto to) {
            double steps = 0;
            for (auto it = from; it != to; ++it, ++steps)
                if (std::next(it) != to && *std::next(it) < half) return steps + (*it - half) / (*it - *std::next(it));
            return steps;
        };
        return 0.5 * (crossing(top, mean.end()) + crossing(std::make_reverse_iterator(std::next(top)), mean.rend()));
    }

    const LineSearch& s_;
    double step_, window_;
    int offsets_;
};

double distanceTo(const Line& line, cv::Point2d p)
{
    double least = 1e9;
    for (const auto& q : line.places) least = std::min(least, cv::norm(p - q));
    return least;
}

class Beside {
public:
    Beside(const Line& line, const Flattened& glass, double ppu) : line_(line), origin_(glass.origin), ppu_(ppu) {}

    /// Share of the line along which the piece runs.
    [[nodiscard]] double covered(const Piece& piece) const
    {
        std::vector<char> seen(line_.places.size(), 0);
        for (const auto& p : piece.outline)
            for (std::size_t i = 0; i < seen.size(); ++i)
                if (cv::norm(inMap(p) - line_.places[i]) < reach()) seen[i] = 1;
        return double(std::count(seen.begin(), seen.end(), 1)) / double(seen.size());
    }
    /// Whether the piece is a part of the line that stands out. Dirt on a scratch stands out by more than noise, or is wider.
    [[nodiscard]] bool isFragment(const Piece& piece, double noise) const
    {
        if (piece.contrast * line_.contrast < 0 || std::abs(piece.contrast) > 1.3 * std::abs(line_.contrast) + noise) return false;
        const auto on =
            std::count_if(piece.outline.begin(), piece.outline.end(), [&](const auto& p) { return distanceTo(line_, inMap(p)) < reach(); });
        return double(on) > 0.8 * double(piece.outline.size());
    }
    /// Averaged along lines, what is strong has faint arms all round.
    [[nodiscard]] bool isArmOf(const Piece& piece, double noise) const
    {
        if (std::abs(piece.contrast) < 1.5 * std::abs(line_.contrast) + noise) return false;
        return std::any_of(piece.outline.begin(), piece.outline.end(),
                           [&](const auto& p) { return distanceTo(line_, inMap(p)) < armUm * ppu_ + line_.width / 2; });
    }

private:
    [[nodiscard]] double reach() const { return line_.width / 2 + besideUm * ppu_; }
    [[nodiscard]] cv::Point2d inMap(cv::Point2f p) const { return cv::Point2d(p) - origin_; }

    const Line& line_;
    cv::Point2d origin_;
    double ppu_;
};

Piece pieceOf(const Line& line, const LineSearch& s)
{
    Piece piece;
    for (std::size_t i = 0; i + 1 < line.places.size(); ++i) {
        const cv::Point2d a = line.places[i], b = line.places[i + 1];
        const double apart = cv::norm(b - a);
        if (apart < 1e-6) continue;
        const cv::Point2d along = (b - a) / apart, aside = normalTo(along) * (line.width / 2);
        for (double t = 0; t < apart; t += quarter)
            for (const double side : {-1.0, 1.0}) piece.outline.emplace_back(s.glass.origin + a + along * t + aside * side);
    }
    piece.contrast = line.contrast;
    piece.smoothing = s.smoothing;
    piece.area = line.width * line.length;
    piece.atRim = line.atRim;
    piece.enclose();
    return piece;
}

}  // namespace

void followLines(const std::vector<Piece>& hints, const LineSearch& s, std::vector<Piece>& pieces)
{
    const double ppu = s.pixelsPerMicrometre, peaks = 3 * s.noise;
    const Follower follow(s);
    for (const Piece& hint : hints) {
        const auto axis = straightAxis(hint, ppu);
        if (!axis) continue;
        const auto line = follow.from(axis->middle - s.glass.origin, axis->along);
        if (!line || std::abs(line->contrast) < s.least || line->length < std::max(leastLengthUm * ppu, leastSlender * line->width) ||
            line->width > widestUm * ppu)
            continue;
        const Beside beside(*line, s.glass, ppu);
        if (std::any_of(pieces.begin(), pieces.end(), [&](const Piece& p) { return beside.covered(p) > seenWhole || beside.isArmOf(p, peaks); }))
            continue;
        std::erase_if(pieces, [&](const Piece& p) { return beside.isFragment(p, peaks); });
        pieces.push_back(pieceOf(*line, s));
    }
}

}  // namespace clendo::face
