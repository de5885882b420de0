#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>

#include "otdr/analysis.h"

namespace clendo::otdr {

/// The fibre's level along a trace, for many traces to be drawn over each other: means over any distance at a fixed cost. Reflections, their dead
/// zones and what lies behind the fibre's end are left out. Nothing finer than a quarter of the pulse is kept, which no trace shows.
class LevelRow {
public:
    /// `launchEnd`: where on the trace the link begins; the level there is taken for 0. `turned`: the trace was shot from the link's other end, which
    /// lies at `launchEnd` then, the link being `length` long: places are turned round, levels rise.
    LevelRow(const Trace& trace, const Analysis& found, Metre launchEnd, Metre length, bool turned);

    /// Mean level between two places, in metres from the link's port at A, in dB against the near end's; NaN where nothing is known.
    [[nodiscard]] float mean(double from, double to) const;
    /// The same of columns side by side, each so wide, from a place on: `out` has room for all of them.
    void means(double from, double wide, std::size_t columns, float* out) const;
    [[nodiscard]] std::size_t bytes() const { return sums_.capacity() * sizeof(double) + counts_.capacity() * sizeof(std::uint32_t); }

private:
    /// Of the blocks [a, b).
    [[nodiscard]] float level(std::size_t a, std::size_t b) const;

    double pitch_ = 1, launchEnd_ = 0, length_ = 0;
    bool turned_ = false;
    float zero_ = 0;
    std::vector<double> sums_;           ///< of power, up to each block
    std::vector<std::uint32_t> counts_;  ///< of blocks that show fibre
};

/// Rows of levels over the same columns, each level less the median of its column: what one fibre lost that the others did not, positive where it
/// lost more. NaN where a row shows nothing; with fewer than three rows nothing can be compared and all are NaN. Row after row.
std::vector<float> differenceMap(const std::vector<const LevelRow*>& rows, Metre from, Metre to, std::size_t columns);

/// A row that lost more than most others and does not get it back: from which column on, and how much in the end.
struct StandsOut {
    std::size_t row = 0, column = 0;
    Decibel more;
};
/// Of a difference map of so many columns: rows that end at least `least` beyond the median, in order.
std::vector<StandsOut> standingOut(const std::vector<float>& map, std::size_t columns, Decibel least);

}  // namespace clendo::otdr
