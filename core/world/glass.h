#pragma once
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "files/rule_files.h"
#include "units/units.h"
#include "world/marks.h"

namespace clendo::world {

/// A fibre as the light has it at one wavelength.
struct GlassAt {
    DecibelPerKilometre attenuation;
    double groupIndex = 1.468;
    Decibel backscatter;     ///< of a pulse of 1 ns
    Micrometre modeField{};  ///< diameter of single-mode light; 0: multimode
};

/// A kind of fibre: its core and what is known of it by wavelength. In between, values are interpolated; outside, the nearest counts.
class Glass {
public:
    /// By its name as the limits have it ("OS2", "OM4"), from data/fibres. An Error where the file does not know it.
    static Result<Glass> named(const std::string& fibre, const RuleFiles& rules);
    [[nodiscard]] GlassAt at(Nanometre wavelength) const;
    [[nodiscard]] bool multimode() const { return multimode_; }
    [[nodiscard]] Micrometre core() const { return core_; }

private:
    bool multimode_ = false;
    Micrometre core_{9};
    std::map<double, GlassAt> known_;  ///< by wavelength in nm
};

/// One face of the simulated world, as it is.
struct TrueFace {
    std::vector<Mark> marks;
    bool angled = false;
    bool multimode = false;
    Micrometre core{9};
    FacePoint offset;     ///< of the core from the middle of the ferrule
    Decibel polish{-52};  ///< reflectance when mated clean
    bool capped = false;
};

/// What two faces that touch do to the light.
struct JointTruth {
    Decibel loss;
    Decibel reflectance;
    Micrometre gap{0};  ///< by which dirt holds them apart
};

/// By offset of the cores (Gaussian modes: Marcuse, Bell System Technical Journal 56, 1977; graded cores: Gloge, the same 55, 1976), by what lies in
/// the way of the light on both, by the air that raised dirt leaves between domed faces, by cores and angles that do not fit. `seat`: how the
/// ferrules lie in the sleeve this time. Light goes from `from` into `to`.
JointTruth joint(const TrueFace& from, const TrueFace& to, FacePoint seat, const GlassAt& glass, Nanometre wavelength);
/// A face that touches nothing: glass against air, less light where dirt lies on it.
JointTruth open(const TrueFace& face, const GlassAt& glass);
/// What the dirt and damage of a face alone cost light that is caught by a detector.
Decibel shadow(const TrueFace& face, const GlassAt& glass);

}  // namespace clendo::world
