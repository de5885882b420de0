#include "record/advice/cleaning_advice.h"

#include <algorithm>
#include <array>

namespace clendo {

CleaningAdvice adviceFor(const FaceState& face, std::string_view firstMethod, std::string_view target)
{
    if (target == "device")
        return {"dry", face.cleanings < 2 ? "Dry: one stroke on fresh tape. Nothing wet goes into a device: it cannot be dried there."
                                          : "Dry, with a fresh pen or stick. Nothing wet goes into a device: it cannot be dried there."};
    // stronger each time: dry, dry, wet then dry, wet then dry with a fresh tool
    if (face.cleanings < 2 && firstMethod != "wet") {
        const Look* last = face.lastJudged();
        const bool film = last && std::any_of(last->seen.measured.findings.begin(), last->seen.measured.findings.end(), [](const Finding& f) {
                              return f.appearance == Appearance::Film || f.appearance == Appearance::Droplet;
                          });
        if (!film || face.cleanings == 0) return {"dry", "Dry: one stroke on fresh tape, one direction, never reuse the strip."};
    }
    if (face.cleanings < 3) return {"wet-then-dry", "Wet, then dry at once: fresh wipe area, one direction. Eye protection, no flame, let it dry."};
    return {"fresh-tool", "Wet, then dry, with a fresh tool: the one in your hand may carry the dirt. Eye protection, no flame."};
}

}  // namespace clendo
