#include "reel/reel_length.h"

#include <fmt/format.h>

#include <cmath>

namespace clendo::reel {
namespace {

constexpr double indexShare = 0.0015, excessShare = 0.001;  // standard: group index of a fibre that nobody measured; excess as makers state it

bool alike(Metre a, Metre b, double share) { return std::abs(a / b - 1) < share; }

std::string mistakeOf(Metre marks, Metre optical, double excess)
{
    constexpr double near = 0.02;
    if (alike(marks * metresPerFoot, optical, near)) return "The marks are likely in feet and were taken for metres.";
    if (alike(marks / metresPerFoot, optical, near)) return "The marks are likely in metres and were taken for feet.";
    if (alike(marks, optical * (1 + excess), 0.002) && excess > 0.004)
        return "It fits where the fibre's excess is left out: is it in the figure already?";
    return marks > optical ? "A fibre may be broken before the reel's end, or a mark was read at the wrong end or of another reel."
                           : "The counter may have gone round once more, or a mark was read wrong.";
}

}  // namespace

KnownLength cableOfFibre(Metre fibre, double excess, Metre sample)
{
    const Metre length = fibre / (1 + excess);
    const double byShare = std::hypot(indexShare, excessShare) * length.value();
    return {length, Metre(std::hypot(byShare, sample.value()))};
}

ReelLength combineLengths(std::optional<Metre> ordered, const std::optional<LengthByMarks>& marks, std::optional<Metre> fibre, double excess,
                          Metre sample)
{
    ReelLength out;
    out.ordered = ordered;
    out.marks = marks;
    out.fibre = fibre;
    if (fibre) out.optical = cableOfFibre(*fibre, excess, sample);
    const auto byMarks = marks ? std::optional(KnownLength{marks->length, marks->uncertainty}) : std::nullopt;
    if (!byMarks || !out.optical) {
        out.best = out.optical ? out.optical : byMarks;
        return out;
    }
    const double apart = (byMarks->length - out.optical->length).value(),
                 sigma = std::hypot(byMarks->uncertainty.value(), out.optical->uncertainty.value());
    if (std::abs(apart) > 3 * sigma) {
        out.best = out.optical;
        out.doubt = fmt::format("By the marks {:.0f} m, by the light {:.0f} m. {}", byMarks->length.value(), out.optical->length.value(),
                                mistakeOf(byMarks->length, out.optical->length, excess));
        return out;
    }
    const auto weight = [](const KnownLength& l) { return 1 / (l.uncertainty.value() * l.uncertainty.value()); };
    const double a = weight(*byMarks), b = weight(*out.optical);
    out.best = KnownLength{(byMarks->length * a + out.optical->length * b) / (a + b), Metre(1 / std::sqrt(a + b))};
    return out;
}

}  // namespace clendo::reel
