#pragma once
#include <optional>
#include <string>

#include "result/result.h"
#include "units/units.h"

namespace clendo::reel {

enum class MarkUnit { Metres, Feet };
constexpr double metresPerFoot = 0.3048;  // exact

/// The counter on a cable's sheath, as it was read at both ends of a reel. Either end may have the higher figure; the counter starts again at zero
/// behind its highest number.
struct SheathMarks {
    double outer = 0, inner = 0;
    MarkUnit unit = MarkUnit::Metres;
    int digits = 5;  ///< of the counter
};

/// What the marks tell of the length.
struct LengthByMarks {
    Metre length;
    Metre uncertainty;  ///< standard
    bool rolledOver = false;
};

/// The length between the marks. Of the two ways round the counter the one that is nearer to `expected` is taken, the shorter one where nothing is
/// expected. An Error where a mark has more digits than its counter, or both are the same.
Result<LengthByMarks> lengthBetween(const SheathMarks& marks, std::optional<Metre> expected);

}  // namespace clendo::reel
