#include "face/judge/imprint.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace clendo::face {
namespace {

constexpr std::size_t mostMarks = 40;
constexpr double slackUm = 1.5, slackOfSize = 0.1;
constexpr double alikeRatio = 2.0;  // of sizes: what presses is not as large as what it leaves
constexpr double turnsFromUm = 12;  // nearer to the middle a place says little about a turn
constexpr double longestUm = 40;    // the middle of a longer scratch lies now here, now there
constexpr double pi = std::numbers::pi;

struct Mark {
    double radius, angle, size;
    int id;
};

/// The largest marks; `mirrored`: as they lie opposite.
std::vector<Mark> marksOf(const std::vector<Finding>& findings, bool mirrored)
{
    std::vector<Mark> out;
    for (const Finding& f : findings) {
        const double x = mirrored ? -f.centre.x.value() : f.centre.x.value(), y = f.centre.y.value();
        if (f.length.value() <= longestUm) out.push_back({std::hypot(x, y), std::atan2(y, x), f.size.value(), f.id});
    }
    std::stable_sort(out.begin(), out.end(), [](const Mark& a, const Mark& b) { return a.size > b.size; });
    out.resize(std::min(out.size(), mostMarks));
    return out;
}

double slack(const Mark& a, const Mark& b) { return slackUm + slackOfSize * std::min(a.size, b.size); }

bool mayMeet(const Mark& a, const Mark& b)
{
    return std::abs(a.radius - b.radius) < slack(a, b) && a.size < alikeRatio * b.size && b.size < alikeRatio * a.size;
}

/// Distance of two marks after one face was turned.
double apart(const Mark& a, const Mark& b, double turn)
{
    return std::sqrt(std::max(0.0, a.radius * a.radius + b.radius * b.radius - 2 * a.radius * b.radius * std::cos(a.angle + turn - b.angle)));
}

/// Each mark once, the nearest pairs first.
std::vector<ImprintPair> pairsAt(const std::vector<Mark>& first, const std::vector<Mark>& second, double turn)
{
    struct Near {
        double apart;
        std::size_t a, b;
    };
    std::vector<Near> all;
    for (std::size_t a = 0; a < first.size(); ++a)
        for (std::size_t b = 0; b < second.size(); ++b)
            if (mayMeet(first[a], second[b]))
                if (const double d = apart(first[a], second[b], turn); d < slack(first[a], second[b])) all.push_back({d, a, b});
    std::sort(all.begin(), all.end(), [](const Near& x, const Near& y) { return x.apart < y.apart; });
    std::vector<char> usedA(first.size(), 0), usedB(second.size(), 0);
    std::vector<ImprintPair> out;
    for (const Near& n : all)
        if (!usedA[n.a] && !usedB[n.b]) {
            usedA[n.a] = usedB[n.b] = 1;
            out.push_back({first[n.a].id, second[n.b].id});
        }
    return out;
}

/// How many pairs a turn that says nothing has on average: a mark meets another one on that share of its circle.
double pairsByChance(const std::vector<Mark>& first, const std::vector<Mark>& second)
{
    double sum = 0;
    for (const Mark& a : first) {
        double share = 0;
        for (const Mark& b : second)
            if (mayMeet(a, b)) share += std::min(1.0, slack(a, b) / (pi * std::max(1.0, std::max(a.radius, b.radius))));
        sum += std::min(1.0, share);
    }
    return sum;
}

/// Chance of k and more where `mean` are expected (Poisson, which is wider than what marks on circles do).
double atLeast(std::size_t k, double mean)
{
    constexpr std::size_t enough = 60;  // terms: what comes behind is nothing
    double term = std::exp(-mean), tail = 0;
    for (std::size_t i = 0; i < k + enough; ++i) {
        if (i >= k) tail += term;
        term *= mean / double(i + 1);
    }
    return std::min(1.0, tail);
}

}  // namespace

Imprint imprintOf(const std::vector<Finding>& firstFindings, const std::vector<Finding>& secondFindings)
{
    const auto first = marksOf(firstFindings, false), second = marksOf(secondFindings, true);
    Imprint out;
    double anchors = 0;
    for (const Mark& a : first)
        for (const Mark& b : second) {
            if (!mayMeet(a, b) || a.radius < turnsFromUm) continue;
            ++anchors;
            if (auto pairs = pairsAt(first, second, b.angle - a.angle); pairs.size() > out.pairs.size()) out.pairs = std::move(pairs);
        }
    if (out.pairs.empty()) return out;
    // of each turn that was tried one pair is given and the others are chance; so many pairs are found from each of them
    const auto n = out.pairs.size();
    out.byChance = std::min(1.0, anchors / double(n) * atLeast(n - 1, pairsByChance(first, second)));
    return out;
}

}  // namespace clendo::face
