#include "reel/sheath_marks.h"

#include <fmt/format.h>

#include <cmath>

namespace clendo::reel {
namespace {

constexpr double share = 0.0025;      // standard uncertainty of printed marks: makers state 0.5 to 1 %, whole range
constexpr double readingError = 0.3;  // of one mark, in its unit: to which part of the figure it belongs

}  // namespace

Result<LengthByMarks> lengthBetween(const SheathMarks& marks, std::optional<Metre> expected)
{
    constexpr int most = 9;
    if (marks.digits < 3 || marks.digits > most)
        return failure(Error::Code::ReadingUnclear, fmt::format("A sheath counter has 3 to {} digits, not {}.", most, marks.digits));
    const double turn = std::pow(10, marks.digits);
    for (const double mark : {marks.outer, marks.inner})
        if (!(mark >= 0) || mark >= turn)
            return failure(Error::Code::ReadingUnclear,
                           fmt::format("The mark {:.0f} does not fit a counter of {} digits. Read both marks again.", mark, marks.digits));
    const double straight = std::abs(marks.outer - marks.inner), over = turn - straight;
    if (straight == 0) return failure(Error::Code::ReadingUnclear, "Both sheath marks are the same: read the mark at the other end.");
    const double unit = marks.unit == MarkUnit::Feet ? metresPerFoot : 1;
    const bool rolled = expected ? std::abs(over * unit - expected->value()) < std::abs(straight * unit - expected->value()) : over < straight;
    const double length = (rolled ? over : straight) * unit;
    return LengthByMarks{Metre(length), Metre(std::hypot(share * length, readingError * unit * std::sqrt(2.0))), rolled};
}

}  // namespace clendo::reel
