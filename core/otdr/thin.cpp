#include "otdr/thin.h"

#include <algorithm>

namespace clendo::otdr {

std::vector<ColumnRange> thin(const Trace& trace, Metre from, Metre to, std::size_t columns)
{
    std::vector<ColumnRange> out;
    if (columns == 0 || to <= from) return out;
    const double width = (to - from).value() / double(columns);
    auto i = static_cast<std::size_t>(std::lower_bound(trace.distance.begin(), trace.distance.end(), static_cast<float>(from.value())) -
                                      trace.distance.begin());
    for (std::size_t c = 0; c < columns; ++c) {
        const double stop = from.value() + width * double(c + 1);
        ColumnRange range{stop - width / 2, 1e9, -1e9};
        for (; i < trace.level.size() && double(trace.distance[i]) < stop; ++i) {
            range.low = std::min(range.low, double(trace.level[i]));
            range.high = std::max(range.high, double(trace.level[i]));
        }
        if (range.high >= range.low) out.push_back(range);
    }
    return out;
}

}  // namespace clendo::otdr
