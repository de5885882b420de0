#include "record/journal/order.h"

#include <algorithm>
#include <numeric>
#include <tuple>

namespace clendo {

bool filedBefore(const EntryHead& a, const EntryHead& b)
{
    return std::tie(a.filed, a.device, a.sequence, a.hash) < std::tie(b.filed, b.device, b.sequence, b.hash);
}

std::int64_t EffectClock::timeOf(const Entry* before, const Entry& e)
{
    const bool pushed = before && before->filed + 1 == e.filed;
    behind_ = pushed && (behind_ || before->act != e.act);
    return behind_ ? e.filed : std::min(e.filed, e.happened);
}

std::vector<std::int64_t> effectTimes(std::span<const Entry> journal, EffectClock& clock, std::size_t from)
{
    std::vector<std::int64_t> out;
    out.reserve(journal.size() - from);
    for (std::size_t i = from; i < journal.size(); ++i) out.push_back(clock.timeOf(i == 0 ? nullptr : &journal[i - 1], journal[i]));
    return out;
}

std::vector<std::size_t> orderOfEffect(std::span<const std::int64_t> times)
{
    std::vector<std::size_t> out(times.size());
    std::iota(out.begin(), out.end(), std::size_t{0});
    if (!std::is_sorted(times.begin(), times.end())) std::stable_sort(out.begin(), out.end(), [&](auto a, auto b) { return times[a] < times[b]; });
    return out;
}

}  // namespace clendo
