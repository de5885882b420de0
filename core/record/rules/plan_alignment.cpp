#include "record/rules/plan_alignment.h"

#include <algorithm>
#include <cmath>

namespace clendo {
namespace {

constexpr double nearestReach = 5, reachShare = 0.03;          // m, and of the distance: further off nothing is taken for the planned one
constexpr double placeError = 1.5, placeShare = 0.006;         // one sigma of a place that was paced
constexpr double missing = 5, unplanned = 3, otherKind = 1.5;  // costs, beside those of places that are off
constexpr double scaleSigma = 0.012, scaleMost = 0.03, scaleStep = 0.001;

struct Best {
    double cost = 0;
    std::vector<std::optional<std::size_t>> seenOf;
};

/// The cheapest way through both lists, in their order. `table`: room for the costs, used again for each scale.
Best through(const std::vector<PlannedJoint>& planned, const std::vector<SeenJoint>& seen, double scale, std::vector<double>& table)
{
    const std::size_t n = planned.size(), m = seen.size();
    table.assign((n + 1) * (m + 1), 0);
    const auto cost = [&](std::size_t i, std::size_t k) -> double& { return table[i * (m + 1) + k]; };
    const auto match = [&](std::size_t i, std::size_t k) {
        const double at = planned[i].at.value(), off = seen[k].at.value() - at * scale;
        if (std::abs(seen[k].at.value() - at) > std::max(nearestReach, reachShare * at)) return 1e9;
        const double sigma = std::hypot(placeError, placeShare * at);
        // robust, so that one joint that lies elsewhere does not stretch the whole plan
        const double sigmas = std::abs(off) / sigma, apart = sigmas < 1 ? sigmas * sigmas : 2 * sigmas - 1;
        return apart + (planned[i].connection == seen[k].reflects ? 0 : otherKind);
    };
    for (std::size_t i = n + 1; i-- > 0;)
        for (std::size_t k = m + 1; k-- > 0;) {
            if (i == n && k == m) continue;
            double least = 1e18;
            if (i < n) least = std::min(least, missing + cost(i + 1, k));
            if (k < m) least = std::min(least, unplanned + cost(i, k + 1));
            if (i < n && k < m) least = std::min(least, match(i, k) + cost(i + 1, k + 1));
            cost(i, k) = least;
        }
    Best out{cost(0, 0), std::vector<std::optional<std::size_t>>(n)};
    for (std::size_t i = 0, k = 0; i < n;) {
        if (k < m && match(i, k) + cost(i + 1, k + 1) <= cost(i, k)) {
            out.seenOf[i++] = k++;
        } else if (missing + cost(i + 1, k) <= cost(i, k)) {
            ++i;
        } else {
            ++k;
        }
    }
    return out;
}

}  // namespace

PlanAlignment alignPlan(const std::vector<PlannedJoint>& planned, const std::vector<SeenJoint>& seen)
{
    PlanAlignment out{std::vector<std::optional<std::size_t>>(planned.size()), 1, 0};
    double least = 1e18;
    std::vector<double> table;
    const int steps = static_cast<int>(std::lround(scaleMost / scaleStep));
    for (int s = -steps; s <= steps; ++s) {
        const double scale = 1 + s * scaleStep, doubt = (scale - 1) / scaleSigma;
        Best here = through(planned, seen, scale, table);
        if (here.cost + doubt * doubt >= least) continue;
        least = here.cost + doubt * doubt;
        out.seenOf = std::move(here.seenOf);
        out.cost = least;
        out.scale = scale;
    }
    return out;
}

}  // namespace clendo
