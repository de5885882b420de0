#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// One thing about a scope that a golden face shows.
struct ScopeFigure {
    enum class Of { Scale, Resolution, Light, LonePixels };
    enum class Verdict {
        Known,     ///< as before
        Drifting,  ///< as before still; at its pace it leaves what is usual within 30 days
        Off        ///< not as before
    };
    Of of = Of::Scale;
    double usual = 0, now = 0;  ///< um per pixel; blur's sigma, um; share of white; pixels
    Verdict verdict = Verdict::Known;
    std::string words;  ///< "scale 0.4170 µm per pixel, usually 0.4168"
};

/// What a golden face's looks say of the scope, up to now.
struct GoldenFace {
    FaceId face;
    int looks = 0;                      ///< that were evidence
    std::int64_t last = 0;              ///< seconds since 1970-01-01 UTC; 0: never
    std::vector<ScopeFigure> figures;   ///< of the last look against those before; empty: there are not enough of them
    std::vector<std::string> troubles;  ///< what to do, in sentences
};

/// Of all golden faces of the kit. At least three looks make what is usual: the median of the last thirty before the last one. What has drifted is
/// a trend over them (Theil and Sen's: the median of the slopes of all pairs), beyond three times what scatters about it. `now`: seconds since
/// 1970-01-01 UTC.
std::vector<GoldenFace> goldenFaces(const JobState& state, std::int64_t now);

}  // namespace clendo
