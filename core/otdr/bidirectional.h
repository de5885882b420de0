#pragma once
#include "otdr/analysis.h"

namespace clendo::otdr {

/// One joint seen from both ends. True loss is the mean: the fibres' backscatter difference has opposite signs.
struct Pair {
    Metre at;  ///< from the front panel at A
    std::optional<Decibel> lossAb, lossBa, loss;
    bool reflective = false;
};

struct Bidirectional {
    std::vector<Pair> pairs;
    std::optional<Span> span;  ///< loss: mean of both directions
};

/// Matches the events of a shot from A with one from B: z_a = end_a - z_b, within about a pulse. `cords`: launch at A, tail at B.
Bidirectional combine(const Trace& fromA, const Trace& fromB, const Cords& cords);

}  // namespace clendo::otdr
