#include "face/memory/match_faces.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <vector>

#include "face/memory/by_chance.h"
#include "face/memory/laid_marks.h"

namespace clendo::face {
namespace {

constexpr double circle = 360;
constexpr int coarseStep = 2;      // degrees
constexpr double promising = 0.5;  // correlation by a coarse look from which a mark speaks for a turn
constexpr std::size_t looked = 4;  // best turns that are looked at closer

// How often a mark of a face is found again on the same face, and how much alike: one that lasts where it should show, and another, which may have
// been cleaned away. As found on drawn faces in other light, by another scope, after cleaning (benchmarks/face-matches), a little carefully.
constexpr PerRange lastingAgain{0.08, 0.06, 0.09, 0.15, 0.26, 0.36}, otherAgain{0, 0.07, 0.07, 0.11, 0.31, 0.44};
constexpr PerRange rarestByChance{1, 2e-3, 1.4e-3, 1e-3, 5e-4, 2e-4};  // rarer than that no mark is so much alike by chance
constexpr std::array<double, 3> othersLeft{0.2, 0.5, 0.9};             // share of the others that was not cleaned away: any of these
constexpr std::size_t onItsLike = 2;                                   // range of likeness from which a mark is said to lie on its like
constexpr double independent = 300;                                    // turns: at 50 um from the middle they lie a micrometre apart
constexpr double independentAlongside = 5;  // turns at which lines of one polish run along with those of another: two, searched a little about them

// Markov's bound is far above what happens, as benchmarks/face-matches finds; docs/end-faces.md has the figures.
constexpr double boundTooHigh = 500, boundOfTwoTooHigh = 200;
constexpr double same = 1e-4;              // chance of a false match up to which it is the same face
constexpr double noSign = 0.5;             // bound from which nothing speaks for the same face
constexpr double falselyDifferent = 2e-3;  // likelihood ratio, and so how often the same face looks so, up to which it is another

double apart(double a, double b) { return std::abs(std::remainder(a - b, circle)); }

struct Laid {
    double bound = 1;  ///< on the chance that two different faces lie so well over each other
    double score = 0, turn = 0;
    int marks = 0;
};

/// The turns at which marks lie best on another face, by a coarse look, the best first.
std::vector<double> bestTurns(const LaidMarks& marks)
{
    std::vector<std::pair<double, double>> found;
    for (int t = 0; t < static_cast<int>(circle); t += coarseStep) {
        double sum = 0;
        int speaking = 0;
        for (std::size_t i = 0; i < marks.count(); ++i) {
            const double more = marks.likeness(i, marks.turned(i, t)) - promising;
            sum += std::max(0.0, more);
            speaking += more > 0 ? 1 : 0;
        }
        if (speaking > 1) found.emplace_back(sum, t);  // one alone lies on its like at some turn as a rule
    }
    std::sort(found.rbegin(), found.rend());
    std::vector<double> out;
    for (const auto& [sum, turn] : found)
        if (out.size() < looked && std::none_of(out.begin(), out.end(), [turn = turn](double o) { return apart(o, turn) <= 2 * coarseStep; }))
            out.push_back(turn);
    return out;
}

/// Marks laid over another face at one turn.
struct Over {
    double turn = 0;
    std::vector<double> likeness;
};

/// At the best turn a little to both sides of one.
Over lookCloser(const LaidMarks& marks, double turn)
{
    double best = -1;
    Over out;
    for (const double by : {-1.5, -1.0, -0.5, 0.0, 0.5, 1.0, 1.5}) {
        std::vector<double> here;
        double sum = 0;
        for (std::size_t i = 0; i < marks.count(); ++i) {
            here.push_back(marks.likeness(i, marks.turned(i, turn + by)));
            sum += std::pow(std::max(0.0, here.back()), 2);
        }
        if (sum > best) {
            best = sum;
            out = {std::fmod(turn + by + circle, circle), std::move(here)};
        }
    }
    return out;
}

/// What lies side by side: of it the mark that is most alike counts, since where one lies on its like, the rest does.
struct Group {
    std::size_t best = 0, range = 0;  ///< that mark, and its range of likeness
    bool lasts = false;
    int members = 0;
};

std::vector<Group> groupsOf(const Fingerprint& face, const Relief& other, const Over& over)
{
    std::map<int, Group> groups;
    for (std::size_t i = 0; i < face.marks.size(); ++i) {
        Group& group = groups[face.marks[i].group];
        if (group.members++ == 0 || over.likeness[i] > over.likeness[group.best]) group.best = i;
        group.range = likenessRange(over.likeness[group.best]);
        group.lasts = group.lasts || Fingerprint::shouldLast(face.marks[i], other);
    }
    std::vector<Group> out;
    for (const auto& [number, group] : groups) out.push_back(group);
    return out;
}

/// How much more often marks lie so on their like on the same face than by chance (a likelihood ratio). By chance it is larger than so much no more
/// often than once in so much (Markov's inequality, since its mean is 1 then), at each of the turns.
Laid weigh(const std::vector<Group>& groups, const LaidMarks& marks, const Over& over, ByChance& byChance)
{
    const auto from = [&](std::size_t range) {
        return std::count_if(groups.begin(), groups.end(), [range](const Group& g) { return g.range >= range; });
    };
    const auto lying = from(onItsLike);
    if (lying < 2 || from(onItsLike + 1) < 1) return {};  // at some turn one lies on its like on any face
    bool alongside = false;
    std::vector<double> chances(groups.size(), 1);
    for (std::size_t i = 0; i < groups.size(); ++i) {
        const Group& group = groups[i];
        if (group.range == 0) continue;
        const bool parallel = marks.hasParallel(group.best);
        alongside = alongside || parallel;
        const PerRange shares = parallel ? byChance.beside(group.best, over.turn) : byChance.anywhere(group.best);
        chances[i] = std::min(1.0, shares[group.range] * group.members);
    }
    Laid out;
    out.turn = over.turn;
    double ratio = 0;
    for (const double left : othersLeft) {
        double product = 1;
        for (std::size_t i = 0; i < groups.size(); ++i) {
            const auto& [best, range, lasts, members] = groups[i];
            const double again = lasts ? lastingAgain[range] : range > 0 ? left * otherAgain[range] : 1 - left;
            product *= again / chances[i];
        }
        ratio += product / double(othersLeft.size());
    }
    out.marks = static_cast<int>(lying);
    out.bound = std::min(1.0, (alongside ? independentAlongside : independent) / ratio);
    double likeness = 0;
    for (const double l : over.likeness) likeness += std::max(0.0, l);
    out.score = likeness / double(marks.count());
    return out;
}

/// The marks of one face over another: how they lie best.
class Laying {
public:
    Laying(const Fingerprint& face, const Relief& other) : face_(face), other_(other), marks_(face, other, 1)
    {
        for (const double turn : bestTurns(LaidMarks(face, other, 2))) over_.push_back(lookCloser(marks_, turn));
    }
    [[nodiscard]] Laid best() const
    {
        Laid best;
        ByChance byChance(marks_);
        for (const Over& over : over_)
            if (const Laid one = weigh(groupsOf(face_, other_, over), marks_, over, byChance); one.bound < best.bound) best = one;
        return best;
    }

    /// How much more often the marks that last lie so on the same face, at whatever turn, than by chance: no less than that. 1 where none lasts.
    [[nodiscard]] double forTheSame() const
    {
        const auto ratio = [](const std::vector<Group>& groups) {
            double product = 1;
            for (const Group& group : groups)
                if (group.lasts) product *= lastingAgain[group.range] / rarestByChance[group.range];
            return product;
        };
        // where no mark lies on its like, as at most turns, and at those where marks may
        const double none = ratio(groupsOf(face_, other_, {0, std::vector<double>(face_.marks.size(), 0)}));
        double most = 0;
        for (const Over& over : over_) most = std::max(most, ratio(groupsOf(face_, other_, over)));
        return none + most / independent;
    }

private:
    const Fingerprint& face_;
    const Relief& other_;
    LaidMarks marks_;
    std::vector<Over> over_;
};

}  // namespace

FaceMatch matchFaces(const Fingerprint& first, const Fingerprint& second)
{
    const Laying over(first, second.relief), under(second, first.relief);
    const Laid there = over.best(), back = under.best();
    const bool forward = there.bound <= back.bound;
    const Laid& best = forward ? there : back;
    const double bound = std::min(1.0, 2 * best.bound);  // looked at both ways
    FaceMatch out;
    out.falseMatchRate = bound < 1 ? bound / (best.marks > 2 ? boundTooHigh : boundOfTwoTooHigh) : 1;
    out.score = std::clamp(best.score, 0.0, 1.0);
    out.marksUsed = best.marks;
    if (out.falseMatchRate <= same) {
        out.answer = SameFace::Same;
        out.turnDegrees = forward ? best.turn : std::fmod(circle - best.turn, circle);
    } else if (bound >= noSign && over.forTheSame() <= falselyDifferent) {
        out.answer = SameFace::Different;
    }
    return out;
}

}  // namespace clendo::face
