#include "record/state/scale_check.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <cmath>
#include <ctime>

namespace clendo {
namespace {

// a cladding of 125 um varies by 0.5 % and its edge is found within 0.3 %: three times both together
constexpr double mostApart = 0.018;

}  // namespace

std::optional<std::string> scaleDisagrees(const JobState& state, const face::FaceMeasurement& look)
{
    const double seen = look.scale.micrometresPerPixel();
    if (state.calibrations.empty() || look.claddingDiameter <= Pixel(0) || look.scaleSource != face::ScaleSource::Cladding || seen <= 0)
        return std::nullopt;
    const std::pair<const std::string, Calibration>* nearest = nullptr;
    double least = 0;
    for (const auto& known : state.calibrations) {
        const double apart = std::abs(std::log(seen / known.second.scale.micrometresPerPixel()));
        if (!nearest || apart < least) nearest = &known, least = apart;
    }
    if (least <= mostApart) return std::nullopt;
    const std::time_t at = nearest->second.at;
    return fmt::format(
        "The cladding gives {:.3f} µm per pixel; “{}” was calibrated to {:.3f} on {:%Y-%m-%d}. Another tip or zoom? Calibrate it again, "
        "or check whether this cladding is 125 µm. Judged by the cladding.",
        seen, nearest->first, nearest->second.scale.micrometresPerPixel(), fmt::gmtime(at));
}

}  // namespace clendo
