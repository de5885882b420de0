#include "otdr/two_wavelengths.h"

#include <cmath>

namespace clendo::otdr {

std::optional<TwoWavelengths> compareWavelengths(const Event& a, Nanometre wavelengthA, const Event& b, Nanometre wavelengthB)
{
    constexpr double apart = 100;  // nm; closer wavelengths tell nothing
    if (!a.loss || !b.loss || std::abs((wavelengthA - wavelengthB).value()) < apart) return std::nullopt;
    const bool aIsLonger = wavelengthA > wavelengthB;
    const Event &shorter = aIsLonger ? b : a, &longer = aIsLonger ? a : b;
    constexpr Decibel unknown{0.05};  // a loss whose uncertainty nobody stated
    TwoWavelengths out{*shorter.loss, *longer.loss, *longer.loss - *shorter.loss, {}, LossCause::Unclear};
    out.uncertainty = Decibel(std::hypot(shorter.lossUncertainty.value_or(unknown).value(), longer.lossUncertainty.value_or(unknown).value()));
    constexpr double multimode = 1000;  // nm
    if (std::min(wavelengthA, wavelengthB).value() < multimode) return out;
    constexpr double leastMore = 0.1, moreShare = 1.5, alike = 0.06, sigmas = 2;
    const double difference = out.difference.value(), doubt = sigmas * out.uncertainty.value();
    if (difference - doubt > leastMore && out.longer.value() > moreShare * std::max(0.0, out.shorter.value()))
        out.cause = LossCause::Bend;
    else if (std::abs(difference) + doubt < alike + 0.2 * std::abs(out.shorter.value()))
        out.cause = LossCause::Joint;
    return out;
}

}  // namespace clendo::otdr
