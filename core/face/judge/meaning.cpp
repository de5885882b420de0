#include "face/judge/meaning.h"

namespace clendo::face {

std::string_view meaningOf(Appearance appearance)
{
    switch (appearance) {
        case Appearance::Particle: return "A particle lies on the glass: clean dry, one stroke; if it stays, wet then dry.";
        case Appearance::Pit: return "Small and round: dirt, or a pit in the glass. Clean; a pit stays at its place and is damage.";
        case Appearance::Chip: return "A chip: glass broken out at the edge. Cleaning does not help; repolish or replace where the rule is broken.";
        case Appearance::Film: return "A film, as from alcohol that dried or from skin: wet, then dry at once with a fresh area.";
        case Appearance::Droplet: return "A droplet of oil or alcohol: wet, then dry at once. It comes back when it dries by itself.";
        case Appearance::Lint: return "Lint, a fibre of cloth or wipe: dry, one stroke; look where it came from.";
        case Appearance::Scratch: return "A scratch: damage by grit under pressure. Cleaning does not take it away; look what it was mated with.";
        case Appearance::Crack: return "A crack: damage. Do not mate it; replace the connector.";
        case Appearance::Other: return "Not a known shape: clean, look again, and look at it yourself.";
    }
    return "";
}

}  // namespace clendo::face
