#pragma once
#include <algorithm>
#include <cstdint>

namespace clendo {

/// A hybrid logical clock (S. Kulkarni, M. Demirbas, D. Madappa, B. Avva, M. Leone: Logical Physical Clocks, OPODIS 2014): later than all that it has
/// heard, and the time of day where that is later still. Its logical part lies in the lowest digits of the microseconds, as the paper's section on
/// packing has it, so that a time is one whole number. However a clock is set, what a device files comes after what it knew.
class HybridClock {
public:
    void heard(std::int64_t filed) { last_ = std::max(last_, filed); }
    /// `wall`: microseconds since 1970-01-01 UTC.
    std::int64_t next(std::int64_t wall) { return last_ = std::max(wall, last_ + 1); }
    [[nodiscard]] std::int64_t last() const { return last_; }

private:
    std::int64_t last_ = 0;
};

/// No time of a journal is later: whole numbers that every reader of JSON keeps end at 2^53 (in the year 2255).
inline constexpr std::int64_t latestTime = (std::int64_t{1} << 53) - 1;

}  // namespace clendo
