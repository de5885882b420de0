#pragma once
#include "face/picture.h"
#include "record/facts/fact_reading.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// What a scope with a tip was found to show: from a graticule, or from a fibre whose cladding was measured.
struct ScopeCalibrated {
    static constexpr std::string_view factKind = "scope_calibrated", factWords = "calibration";
    std::string scope;  ///< scope and tip, as people call them
    Scale scale{0.4};

    [[nodiscard]] nlohmann::json body() const { return {{"scope", scope}, {"um_per_pixel", scale.micrometresPerPixel()}}; }
    static ScopeCalibrated read(FactReading& in) { return {in.text("scope"), Scale(in.number("um_per_pixel", 0.01, 10))}; }
    [[nodiscard]] std::string sentence(const JobState&) const
    {
        return fmt::format("Calibrated {}: {:.4f} µm a pixel", scope, scale.micrometresPerPixel());
    }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
