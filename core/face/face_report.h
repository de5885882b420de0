#pragma once
#include <optional>
#include <string>
#include <vector>

#include "criteria/judge.h"
#include "face/picture.h"

namespace clendo::face {

enum class ScaleSource { Cladding, Calibration };

/// Why a picture is no evidence. Each has a sentence, see sentenceOf().
enum class RetakeReason { NoFibre, CutOff, OutOfFocus, TooBright, TooDark, TooSmall };
std::string_view sentenceOf(RetakeReason reason);
std::string_view name(RetakeReason reason);

/// What aligns a ferrule with several fibres, beside its row.
enum class Guide { NotSeen, Hole, Pin };
std::string_view name(Guide guide);

/// What went wrong when the connector was made.
enum class MakingFault { WideHole, OffCentre, Proud, RaggedRim, Unpolished };
std::string_view name(MakingFault fault);
/// What it means and what to do, one sentence.
std::string_view sentenceOf(MakingFault fault);

/// What a picture shows of one fibre. Everything here was measured; no verdict.
struct FaceMeasurement {
    int fibre = 1;  ///< from 1, counted from the left, in the upper row first
    int row = 1;    ///< from 1, the upper one first
    PicturePoint centre;
    Pixel claddingDiameter;
    Scale scale;
    ScaleSource scaleSource = ScaleSource::Cladding;
    std::optional<CoreKind> core;
    bool coreInferred = false;  ///< no core shows, so it is none of multimode: good for a hint, not to stop anybody
    std::optional<Micrometre> coreDiameter;
    double focus = 0;                  ///< 0 blurred .. 1 sharp: 0.5 um over the measured blur
    Micrometre blur;                   ///< sigma, by the cladding's edge, or less where something on the glass is narrower
    Guide guide = Guide::NotSeen;      ///< beside the first or last fibre of a row
    std::vector<RetakeReason> retake;  ///< empty: usable
    std::vector<Finding> findings;
    std::vector<MakingFault> making;
    std::optional<Micrometre> offset{};  ///< of the fibre from the middle of its hole, where a crescent beside it shows one

    std::optional<double> light{};  ///< of the glass, a share of white; nothing: not noted
    int lonePixels = 0;             ///< that stood out alone on the glass: of the camera, no dirt

    /// The share of the ferrule, from the glass to twice its diameter, that the picture shows: beyond its frame and its field of view nothing is
    /// judged. Nothing: the ferrule is not asked, or it was not noted.
    std::optional<double> ferruleSeen{};

    [[nodiscard]] bool usable() const { return retake.empty(); }
};
/// "41 % of the ferrule seen"; empty: all of it, not asked, or not noted.
std::string ferruleSeenWords(const FaceMeasurement& m);

struct MeasureOptions {
    std::optional<Scale> scale;     ///< nothing: from the cladding edge
    Micrometre cladding{125};       ///< nominal diameter
    std::optional<int> fibres = 1;  ///< nothing: as many as are found in a row
    unsigned cores = 0;             ///< that the fibres of a row may be measured on; 0: as many as there are
};

/// Finds the fibre(s), measures what lies on them. Always at least one measurement: where no fibre is found it says so.
/// Never throws; a picture that is not sound() gives NoFibre.
std::vector<FaceMeasurement> measure(const Picture& picture, const MeasureOptions& options);

}  // namespace clendo::face
