#include "record/journal/order.h"

#include <algorithm>
#include <numeric>
#include <tuple>

namespace clendo {

bool filedBefore(const EntryHead& a, const EntryHead& b)
{
    return std::tie(a.filed, a.device, a.sequence, a.hash) < std::tie(b.filed, b.device, b.sequence, b.hash);
}

std::vector<std::int64_t> effectTimes(std::span<const Entry> journal)
{
    std::vector<std::int64_t> out;
    out.reserve(journal.size());
    bool behind = false;  // the clock had to be pushed on to come after the entry before: the time of day was earlier
    for (std::size_t i = 0; i < journal.size(); ++i) {
        const Entry& e = journal[i];
        const bool pushed = i > 0 && journal[i - 1].filed + 1 == e.filed;
        behind = pushed && (behind || journal[i - 1].act != e.act);
        out.push_back(behind ? e.filed : std::min(e.filed, e.happened));
    }
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
