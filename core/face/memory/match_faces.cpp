#include "face/memory/match_faces.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <vector>

#include "face/memory/chance.h"

namespace clendo::face {
namespace {

constexpr double circle = 360;
constexpr int near = 6;                         // degrees about a turn that are no chance
constexpr double independent = 180;             // turns that are not neighbours of each other
constexpr int coarseStep = 2;                   // degrees
constexpr int chanceStep = 4;                   // degrees between the turns at which chance is looked at
constexpr int margin = 56;                      // pixels about a map: nothing is pushed farther aside
constexpr double parallel = 10;                 // degrees between lines of one polish
constexpr double leastHigher = 0.3;             // of places across a line, or of other turns, where it is alike at none
constexpr double centralUm = 12;                // from the fibre's centre: what lies there is like what a core leaves at any turn
constexpr int polishReach = 24;                 // um
constexpr std::size_t mostPixels = 160;         // of a mark; a quarter of them at half the resolution
constexpr std::size_t looked = 4;               // best turns that are looked at closer
constexpr double same = 3e-5, different = 0.5;  // chance of a false match up to which, and from which
constexpr int leastDifferent = 3;               // lasting marks that should lie on each other and do not
constexpr double alike = 0.05;                  // chance of so good a likeness, above which a mark is not counted as lying on its like
constexpr double worthwhile = 0.05;             // chance by a coarse look, above which no closer one is taken

double apart(double a, double b) { return std::abs(std::remainder(a - b, circle)); }

const std::array<cv::Point, 9> shifts{cv::Point{0, 0}, {-1, 0}, {1, 0}, {0, -1}, {0, 1}, {-1, -1}, {1, -1}, {-1, 1}, {1, 1}};

/// Marks of one face as they are compared, and the map of another to which they are compared, at one resolution.
class Level {
public:
    /// `step`: pixels of the reliefs per pixel.
    Level(const Fingerprint& face, const Relief& other, int step) : step_(step), middle_(Relief::middle / step + margin), other_(reduced(other.map))
    {
        const cv::Mat1f own = reduced(face.relief.map);
        for (const FaceMark& mark : face.marks) {
            marks_.push_back(markOf(mark.pixels, own));
            marks_.back().along = mark.along;
        }
    }

    [[nodiscard]] std::size_t count() const { return marks_.size(); }

    /// A mark laid on the other face: pixels of its map.
    using Places = std::vector<int>;
    /// Turned clockwise by so much about the fibre's centre.
    [[nodiscard]] Places turned(std::size_t mark, double degrees) const
    {
        const double a = degrees * std::numbers::pi / 180;
        const auto c = static_cast<float>(std::cos(a)), s = static_cast<float>(std::sin(a)), m = static_cast<float>(middle_) + 0.5F;
        Places out;
        out.reserve(marks_[mark].from.size());
        for (const auto& p : marks_[mark].from)
            out.push_back(static_cast<int>(s * p.x + c * p.y + m) * other_.cols + static_cast<int>(c * p.x - s * p.y + m));
        return out;
    }

    /// Whether it lies so near to the fibre's centre that turning hardly moves it.
    [[nodiscard]] bool isCentral(std::size_t mark) const
    {
        cv::Point2f sum(0, 0);
        for (const auto& p : marks_[mark].from) sum += p;
        return cv::norm(sum) * Relief::umPerPixel * step_ < centralUm * double(marks_[mark].from.size());
    }
    /// Whether another of the marks runs along with this one.
    [[nodiscard]] bool hasParallel(std::size_t mark) const
    {
        const auto& along = marks_[mark].along;
        for (std::size_t i = 0; along && i < marks_.size(); ++i)
            if (i != mark && marks_[i].along && std::abs(along->dot(*marks_[i].along)) > std::cos(parallel * std::numbers::pi / 180)) return true;
        return false;
    }
    /// Places across a line, um from it, on the other face.
    [[nodiscard]] std::vector<cv::Point> across(std::size_t mark, double degrees) const
    {
        const double a = std::atan2(marks_[mark].along->y, marks_[mark].along->x) + degrees * std::numbers::pi / 180 + std::numbers::pi / 2;
        std::vector<cv::Point> out;
        for (int d = 2; d <= polishReach; d += 2)
            for (const int sign : {-1, 1}) out.emplace_back(cvRound(sign * d * std::cos(a)), cvRound(sign * d * std::sin(a)));
        return out;
    }

    /// Correlation of a mark with what lies there on the other face, pushed aside (um), at the best of small shifts.
    [[nodiscard]] double likeness(std::size_t mark, const Places& places, cv::Point aside = {}) const
    {
        const cv::Point by(aside.x * 2 / step_, aside.y * 2 / step_);
        double most = -1;
        for (const auto& shift : shifts)
            if (step_ == 1 || shift.x == 0 || shift.y == 0) most = std::max(most, correlation(marks_[mark], places, by + shift));
        return most;
    }

private:
    struct Mark {
        std::vector<cv::Point2f> from;  ///< the fibre's centre
        std::vector<float> values;      ///< less their mean, of length 1
        std::optional<cv::Point2d> along{};
    };

    [[nodiscard]] cv::Mat1f reduced(const cv::Mat1f& map) const
    {
        cv::Mat1f out = map;
        if (step_ > 1) {
            cv::Mat1f smooth;
            cv::GaussianBlur(map, smooth, {}, 0.45 * step_);
            out = cv::Mat1f((map.rows + step_ - 1) / step_, (map.cols + step_ - 1) / step_);
            for (int y = 0; y < out.rows; ++y)
                for (int x = 0; x < out.cols; ++x) out(y, x) = smooth(y * step_, x * step_);
        }
        cv::Mat1f padded;
        cv::copyMakeBorder(out, padded, margin, margin, margin, margin, cv::BORDER_CONSTANT, cv::Scalar(0));
        return padded;
    }

    [[nodiscard]] Mark markOf(const std::vector<cv::Point>& pixels, const cv::Mat1f& map) const
    {
        std::vector<cv::Point> mine;
        for (const auto& p : pixels)
            if (p.x % step_ == 0 && p.y % step_ == 0) mine.emplace_back(p.x / step_ + margin, p.y / step_ + margin);
        const std::size_t every = std::max<std::size_t>(1, mine.size() * static_cast<std::size_t>(step_ * step_) / mostPixels);
        Mark out;
        float sum = 0;
        for (std::size_t i = 0; i < mine.size(); i += every) {
            out.from.emplace_back(static_cast<float>(mine[i].x - middle_), static_cast<float>(mine[i].y - middle_));
            out.values.push_back(map(mine[i]));
            sum += out.values.back();
        }
        float squares = 0;
        for (float& v : out.values) {
            v -= sum / static_cast<float>(out.values.size());
            squares += v * v;
        }
        for (float& v : out.values) v /= std::max(1e-6F, std::sqrt(squares));
        return out;
    }

    [[nodiscard]] double correlation(const Mark& mark, const Places& places, cv::Point by) const
    {
        const float* map = other_.ptr<float>() + by.y * other_.cols + by.x;
        float sum = 0, squares = 0, product = 0;
        for (std::size_t i = 0; i < places.size(); ++i) {
            const float v = map[places[i]];
            sum += v;
            squares += v * v;
            product += mark.values[i] * v;
        }
        const float spread = std::sqrt(std::max(0.0F, squares - sum * sum / static_cast<float>(std::max<std::size_t>(1, places.size()))));
        return spread > 1e-6F ? double(product / spread) : 0;
    }

    int step_, middle_;
    cv::Mat1f other_;
    std::vector<Mark> marks_;
};

struct Laid {
    double chance = 1, score = 0, turn = 0;
    int marks = 0;
};

/// How often so many marks are so much alike by chance, at any turn. `chances`: of each mark; in order afterwards.
Laid together(std::vector<double>& chances)
{
    std::sort(chances.begin(), chances.end());
    Laid out;
    const int n = static_cast<int>(chances.size());
    for (int k = 1; k <= n && chances[static_cast<std::size_t>(k) - 1] < alike; ++k)
        if (const double p = atLeast(k, n, chances[static_cast<std::size_t>(k) - 1]); p < out.chance) {
            out.chance = p;
            out.marks = k;
        }
    out.chance = std::min(1.0, out.chance * independent * 2);  // as many turns, and some numbers of marks, were tried
    return out;
}

/// By how much, um, a face is pushed aside to see what chance does.
const std::array<cv::Point, 4> somewhere{cv::Point{8, 0}, {0, 8}, {-8, 0}, {0, -8}};

/// The same on a grid about the place itself.
std::vector<cv::Point> grid(int reach, int step)
{
    std::vector<cv::Point> out;
    for (int y = -reach; y <= reach; y += step)
        for (int x = -reach; x <= reach; x += step)
            if (std::abs(x) >= step || std::abs(y) >= step) out.emplace_back(x, y);
    return out;
}

/// The turns at which marks lie best on another face, by a coarse look, the best first; none where they lie nowhere better than by chance.
std::vector<double> bestTurns(const Level& level)
{
    constexpr int turns = static_cast<int>(circle) / coarseStep;
    const std::size_t n = level.count();
    std::vector<std::vector<double>> at(n);
    std::vector<Chance> chance(n);
    for (int t = 0; t < turns; ++t) {
        for (std::size_t i = 0; i < n; ++i) {
            const auto turned = level.turned(i, t * coarseStep);
            at[i].push_back(level.likeness(i, turned));
            chance[i].saw(at[i].back());
            for (int k = 0; k < 2; ++k) chance[i].saw(level.likeness(i, turned, somewhere[static_cast<std::size_t>(2 * k + t % 2)]));
        }
    }
    for (auto& c : chance) c.ready();
    std::vector<std::pair<double, double>> found;
    for (int t = 0; t < turns; ++t) {
        std::vector<double> chances;
        double sum = 0;
        for (std::size_t i = 0; i < n; ++i) {
            chances.push_back(chance[i].share(at[i][static_cast<std::size_t>(t)], 1));
            if (chances.back() < alike) sum -= std::log(chances.back());
        }
        if (together(chances).chance < worthwhile) found.emplace_back(sum, t * coarseStep);
    }
    std::sort(found.rbegin(), found.rend());
    std::vector<double> out;
    for (const auto& [sum, turn] : found)
        if (out.size() < looked && std::none_of(out.begin(), out.end(), [turn = turn](double o) { return apart(o, turn) <= 2 * coarseStep; }))
            out.push_back(turn);
    return out;
}

/// What chance does to one mark at other turns: pushed aside as well, and not.
struct ByChance {
    Chance anywhere, turned;
};

/// Marks laid over another face at one turn, searched a little to both sides.
Laid lookCloser(const Level& level, double turn, const std::vector<ByChance>& chance)
{
    const std::size_t n = level.count();
    double best = -1;
    Laid out;
    for (const double by : {-1.5, -1.0, -0.5, 0.0, 0.5, 1.0, 1.5}) {
        double sum = 0;
        for (std::size_t i = 0; i < n; ++i) sum += std::pow(std::max(0.0, level.likeness(i, level.turned(i, turn + by))), 2);
        if (sum > best) {
            best = sum;
            out.turn = std::fmod(turn + by + circle, circle);
        }
    }
    std::vector<double> chances;
    double likeness = 0;
    const auto around = grid(12, 4);
    for (std::size_t i = 0; i < n; ++i) {
        const auto turned = level.turned(i, out.turn);
        const double here = level.likeness(i, turned);
        const auto pushed = [&](const std::vector<cv::Point>& places, double least) {
            Chance seen;
            for (const auto& aside : places) seen.saw(level.likeness(i, turned, aside));
            seen.ready();
            return seen.share(here, least);
        };
        double p = std::max(chance[i].anywhere.share(here, 1), pushed(around, 0));
        // once one line of a polish lies on another, the direction of all others is no chance
        if (level.hasParallel(i)) p = std::max(p, pushed(level.across(i, out.turn), leastHigher));
        if (level.isCentral(i)) p = std::max(p, chance[i].turned.share(here, leastHigher));
        chances.push_back(p);
        likeness += std::max(0.0, here);
    }
    Laid all = together(chances);
    all.turn = out.turn;
    all.score = all.marks > 0 ? likeness / double(n) : 0;
    return all;
}

/// The marks of one face laid over another.
Laid lay(const Fingerprint& marks, const Relief& other)
{
    if (marks.marks.empty()) return {};
    const std::vector<double> turns = bestTurns(Level(marks, other, 2));
    if (turns.empty()) return {};
    const Level level(marks, other, 1);
    std::vector<ByChance> chance(level.count());
    const auto around = grid(8, 4);
    for (int t = 0; t < static_cast<int>(circle); t += chanceStep) {
        if (std::any_of(turns.begin(), turns.end(), [&](double turn) { return apart(turn, t) <= near; })) continue;
        for (std::size_t i = 0; i < level.count(); ++i) {
            const auto turned = level.turned(i, t);
            const double here = level.likeness(i, turned);
            chance[i].turned.saw(here);
            chance[i].anywhere.saw(here);
            for (const auto& aside : around) chance[i].anywhere.saw(level.likeness(i, turned, aside));
        }
    }
    for (auto& c : chance) {
        c.anywhere.ready();
        c.turned.ready();
    }
    Laid best;
    for (const double turn : turns)
        if (const Laid one = lookCloser(level, turn, chance); one.chance < best.chance) best = one;
    return best;
}

}  // namespace

FaceMatch matchFaces(const Fingerprint& first, const Fingerprint& second)
{
    const Laid there = lay(first, second.relief), back = lay(second, first.relief);
    const bool forward = there.chance <= back.chance;
    const Laid& best = forward ? there : back;
    FaceMatch out;
    out.falseMatchRate = std::min(1.0, 2 * best.chance);  // looked at both ways
    out.score = std::clamp(best.score, 0.0, 1.0);
    out.marksUsed = best.marks;
    if (out.falseMatchRate <= same) {
        out.answer = SameFace::Same;
        out.turnDegrees = forward ? best.turn : std::fmod(circle - best.turn, circle);
    } else if (out.falseMatchRate >= different && first.lasting(second.relief) >= leastDifferent) {
        out.answer = SameFace::Different;
    }
    return out;
}

}  // namespace clendo::face
