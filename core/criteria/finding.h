#pragma once
#include <optional>
#include <string_view>
#include <vector>

#include "units/units.h"

namespace clendo {

enum class FindingKind { Scratch, Defect };
enum class Appearance { Particle, Pit, Chip, Film, Droplet, Lint, Scratch, Crack, Other };
enum class Zone { A, B, C, D };
enum class CoreKind { SingleMode, Multimode50, Multimode62 };

/// One thing on an end face, as measured in a picture.
struct Finding {
    int id = 0;  ///< from 1, in the order of the list
    FindingKind kind = FindingKind::Defect;
    Appearance appearance = Appearance::Other;
    FacePoint centre;                  ///< of the smallest circle that encloses it
    Micrometre size;                   ///< diameter of that circle
    Micrometre width;                  ///< least extent; of a scratch its width at half contrast
    Micrometre length;                 ///< greatest extent
    Micrometre nearest;                ///< its point nearest to the fibre's centre
    Micrometre farthest;               ///< its farthest point
    std::vector<FacePoint> outline{};  ///< of what lies near the light's way, in few points; empty: not kept
    double contrast = 0;               ///< strongest change of brightness against the surroundings, a share: -0.3 is 30 % darker
};

std::string_view name(FindingKind kind);
std::string_view name(Appearance appearance);
std::string_view name(Zone zone);
std::string_view name(CoreKind kind);

std::optional<FindingKind> findingKindNamed(std::string_view name);
std::optional<Appearance> appearanceNamed(std::string_view name);
std::optional<Zone> zoneNamed(std::string_view name);
std::optional<CoreKind> coreKindNamed(std::string_view name);

}  // namespace clendo
