#include "face/judge/compare_looks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace clendo::face {
namespace {

constexpr double samePlaceUm = 2.0;
constexpr double sameSize = 1.6, sameSizeElsewhere = 1.3;  // ratios
constexpr double turnsFromUm = 12;                         // nearer to the middle a place says little about a turn
constexpr int moreThanUnturned = 2;                        // matches that a turn must win: connectors have keys
constexpr double degree = std::numbers::pi / 180;

struct Place {
    double x, y;
};

Place turned(const FacePoint& p, double radians)
{
    const double c = std::cos(radians), s = std::sin(radians);
    return {p.x.value() * c - p.y.value() * s, p.x.value() * s + p.y.value() * c};
}

double apart(const Finding& before, const Finding& after, double turn)
{
    const Place p = turned(before.centre, turn);
    return std::hypot(p.x - after.centre.x.value(), p.y - after.centre.y.value());
}

bool alike(const Finding& a, const Finding& b, double ratio) { return a.kind == b.kind && a.size < b.size * ratio && b.size < a.size * ratio; }

bool samePlace(const Finding& before, const Finding& after, double turn)
{
    // the end of a long thing is cut now here, now there
    const double slack = samePlaceUm + 0.1 * std::min(before.size.value(), after.size.value());
    return alike(before, after, sameSize) && apart(before, after, turn) < slack;
}

int matches(const std::vector<Finding>& before, const std::vector<Finding>& after, double turn)
{
    return static_cast<int>(std::count_if(before.begin(), before.end(), [&](const Finding& b) {
        return std::any_of(after.begin(), after.end(), [&](const Finding& a) { return samePlace(b, a, turn); });
    }));
}

/// The turn under which most findings meet again; none where that is no better than chance.
double bestTurn(const std::vector<Finding>& before, const std::vector<Finding>& after)
{
    int most = matches(before, after, 0) + moreThanUnturned - 1;
    double best = 0;
    for (const auto& b : before)
        for (const auto& a : after) {
            const double r = b.centre.radius().value();
            if (r < turnsFromUm || std::abs(r - a.centre.radius().value()) > samePlaceUm || !alike(b, a, sameSize)) continue;
            const double turn = std::atan2(a.centre.y.value(), a.centre.x.value()) - std::atan2(b.centre.y.value(), b.centre.x.value());
            if (const int n = matches(before, after, turn); n > most) {
                most = n;
                best = turn;
            }
        }
    // refined: the mean of the small turns that are left
    double sum = 0, weight = 0;
    for (const auto& b : before)
        for (const auto& a : after) {
            const double r = a.centre.radius().value();
            if (r < turnsFromUm || !samePlace(b, a, best)) continue;
            const Place p = turned(b.centre, best);
            const double left = std::atan2(a.centre.y.value(), a.centre.x.value()) - std::atan2(p.y, p.x);
            sum += r * std::remainder(left, 2 * std::numbers::pi);
            weight += r;
        }
    return std::remainder(best + (weight > 0 ? sum / weight : 0), 2 * std::numbers::pi);
}

bool loose(const Finding& f) { return f.kind == FindingKind::Defect && f.appearance != Appearance::Chip && f.appearance != Appearance::Crack; }

}  // namespace

std::string_view name(Fate fate)
{
    switch (fate) {
        case Fate::Stayed: return "stayed";
        case Fate::Moved: return "moved";
        case Fate::Gone: return "gone";
        case Fate::New: return "new";
    }
    return "";
}

int LookComparison::count(Fate fate) const
{
    return static_cast<int>(std::count_if(fates.begin(), fates.end(), [&](const FindingFate& f) { return f.fate == fate; }));
}

std::string LookComparison::words() const
{
    std::string out;
    for (const Fate fate : {Fate::Stayed, Fate::Moved, Fate::Gone, Fate::New})
        if (const int n = count(fate); n > 0) out += fmt::format("{}{} {}", out.empty() ? "" : ", ", n, name(fate));
    return out;
}

Fate LookComparison::ofLater(int id) const
{
    const auto it = std::find_if(fates.begin(), fates.end(), [&](const FindingFate& f) { return f.after == id; });
    return it == fates.end() ? Fate::New : it->fate;
}

LookComparison compareLooks(const std::vector<Finding>& before, const std::vector<Finding>& after)
{
    LookComparison out;
    const double turn = bestTurn(before, after);
    out.turnDegrees = turn / degree;
    std::vector<char> oldUsed(before.size(), 0), newUsed(after.size(), 0);
    const auto pair = [&](Fate fate, auto fits, auto cost) {
        struct Candidate {
            double cost;
            std::size_t b, a;
        };
        std::vector<Candidate> candidates;
        for (std::size_t b = 0; b < before.size(); ++b)
            for (std::size_t a = 0; a < after.size(); ++a)
                if (!oldUsed[b] && !newUsed[a] && fits(before[b], after[a])) candidates.push_back({cost(before[b], after[a]), b, a});
        std::sort(candidates.begin(), candidates.end(), [](const Candidate& x, const Candidate& y) { return x.cost < y.cost; });
        for (const auto& c : candidates)
            if (!oldUsed[c.b] && !newUsed[c.a]) {
                oldUsed[c.b] = newUsed[c.a] = 1;
                out.fates.push_back({fate, before[c.b].id, after[c.a].id});
            }
    };
    pair(
        Fate::Stayed, [&](const Finding& b, const Finding& a) { return samePlace(b, a, turn); },
        [&](const Finding& b, const Finding& a) { return apart(b, a, turn); });
    pair(
        Fate::Moved, [&](const Finding& b, const Finding& a) { return loose(b) && loose(a) && alike(b, a, sameSizeElsewhere); },
        [](const Finding& b, const Finding& a) { return std::abs(b.size.value() - a.size.value()); });
    for (std::size_t b = 0; b < before.size(); ++b)
        if (!oldUsed[b]) out.fates.push_back({Fate::Gone, before[b].id, {}});
    for (std::size_t a = 0; a < after.size(); ++a)
        if (!newUsed[a]) out.fates.push_back({Fate::New, {}, after[a].id});
    return out;
}

}  // namespace clendo::face
