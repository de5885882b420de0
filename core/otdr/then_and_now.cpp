#include "otdr/then_and_now.h"

#include <algorithm>
#include <cmath>

#include "otdr/joint.h"

namespace clendo::otdr {
namespace {

constexpr double least = 0.05, sigmas = 3;  // dB; a change must be both

const Event* endOf(const Analysis& a) { return !a.events.empty() && a.events.back().kind == EventKind::End ? &a.events.back() : nullptr; }

double errorOf(const Event& e)
{
    constexpr Decibel unknown{0.05};
    return e.lossUncertainty.value_or(unknown).value();
}

}  // namespace

std::vector<Change> changesSince(const Analysis& then, const Analysis& now, Metre reachOf)
{
    std::vector<Change> out;
    const Event *endThen = endOf(then), *endNow = endOf(now);
    const double reach = reachOf.value();
    double stretch = 1;
    if (endThen && endNow) {
        constexpr double sameFibre = 0.003;  // what another group index or temperature makes of a length
        const double share = endNow->at.value() / std::max(1.0, endThen->at.value());
        if (std::abs(share - 1) < sameFibre)
            stretch = share;
        else if (endNow->at < endThen->at - Metre(reach))
            out.push_back({Change::Kind::Shorter, endNow->at, {}, {}, {}, {}});
    }
    const double visible = endNow ? endNow->at.value() : 1e18;
    std::vector<char> used(now.events.size(), 0);
    for (const auto& before : then.events) {
        if (!isJoint(before) || !before.loss) continue;
        const double place = before.at.value() * stretch;
        if (place > visible - reach) continue;  // nobody sees there now
        std::size_t best = now.events.size();
        for (std::size_t k = 0; k < now.events.size(); ++k)
            if (isJoint(now.events[k]) && !used[k] && std::abs(now.events[k].at.value() - place) <= reach &&
                (best == now.events.size() || std::abs(now.events[k].at.value() - place) < std::abs(now.events[best].at.value() - place)))
                best = k;
        if (best == now.events.size()) {
            if (std::abs(before.loss->value()) > std::max(2 * least, sigmas * errorOf(before)))
                out.push_back({Change::Kind::Gone, before.at, before.loss, {}, Decibel(0) - *before.loss, Decibel(errorOf(before))});
            continue;
        }
        used[best] = 1;
        const Event& after = now.events[best];
        if (!after.loss || before.joinedWithNext != after.joinedWithNext) continue;
        const double difference = (*after.loss - *before.loss).value(), error = std::hypot(errorOf(before), errorOf(after));
        if (std::abs(difference) > std::max(least, sigmas * error))
            out.push_back({difference > 0 ? Change::Kind::Worse : Change::Kind::Better, after.at, before.loss, after.loss, Decibel(difference),
                           Decibel(error)});
    }
    for (std::size_t k = 0; k < now.events.size(); ++k) {
        const Event& e = now.events[k];
        if (isJoint(e) && !used[k] && e.loss && std::abs(e.loss->value()) > std::max(2 * least, sigmas * errorOf(e)))
            out.push_back({Change::Kind::New, e.at, {}, e.loss, *e.loss, Decibel(errorOf(e))});
    }
    std::stable_sort(out.begin(), out.end(), [](const Change& a, const Change& b) { return a.at < b.at; });
    return out;
}

}  // namespace clendo::otdr
