#pragma once
#include <optional>
#include <string>
#include <vector>

#include "reel/sheath_marks.h"
#include "units/units.h"

namespace clendo::reel {

/// A length and how far it may be off: standard uncertainty.
struct KnownLength {
    Metre length, uncertainty;
};

/// Cable from the optical length of its fibre: divided by one and the fibre's excess. `excess`: fibre longer than its cable, as a share (0.01).
KnownLength cableOfFibre(Metre fibre, double excess, Metre sample);

/// What is known of a reel's length, three ways.
struct ReelLength {
    std::optional<Metre> ordered;
    std::optional<LengthByMarks> marks;
    std::optional<Metre> fibre;  ///< optical length as it was measured
    std::optional<KnownLength> optical;
    std::optional<KnownLength> best;  ///< of marks and optical together; one of them where they do not agree or the other is missing
    std::string doubt;                ///< where they do not agree: what it may be, in a sentence; empty: they do
    [[nodiscard]] std::optional<Metre> shortfall() const { return ordered && best ? std::optional(*ordered - best->length) : std::nullopt; }
    /// Whether it is shorter than ordered beyond what the measurement leaves open (twice its uncertainty).
    [[nodiscard]] bool shorter() const { return shortfall() && *shortfall() > 2 * best->uncertainty; }
};

/// Weighs them by their uncertainties. Where they differ by more than three of these, a unit, an end or the fibre's excess is wrong: the optical
/// length counts, and the likely mistake is said.
ReelLength combineLengths(std::optional<Metre> ordered, const std::optional<LengthByMarks>& marks, std::optional<Metre> fibre, double excess,
                          Metre sample);

}  // namespace clendo::reel
