#include "face/face_report.h"

#include <fmt/format.h>

namespace clendo::face {

std::string_view name(RetakeReason reason)
{
    switch (reason) {
        case RetakeReason::NoFibre: return "no_fibre";
        case RetakeReason::CutOff: return "cut_off";
        case RetakeReason::OutOfFocus: return "out_of_focus";
        case RetakeReason::TooBright: return "too_bright";
        case RetakeReason::TooDark: return "too_dark";
        case RetakeReason::TooSmall: return "too_small";
    }
    return "no_fibre";
}

std::string_view name(MakingFault fault)
{
    switch (fault) {
        case MakingFault::WideHole: return "wide_hole";
        case MakingFault::OffCentre: return "off_centre";
        case MakingFault::Proud: return "proud";
        case MakingFault::RaggedRim: return "ragged_rim";
        case MakingFault::Unpolished: return "unpolished";
    }
    return {};
}

std::string_view sentenceOf(MakingFault fault)
{
    switch (fault) {
        case MakingFault::WideHole:
            return "A dark gap all around the fibre: the ferrule's hole is too large. Cleaning cannot help; use another connector.";
        case MakingFault::OffCentre:
            return "A dark crescent beside the fibre: it sits off the centre of its hole. Expect loss; use another connector.";
        case MakingFault::Proud: return "A shadow around the fibre: it stands proud of the ferrule and can hurt its partner. Repolish before mating.";
        case MakingFault::RaggedRim: return "The fibre's rim is broken in many places: bad cleave or polish. Repolish or replace.";
        case MakingFault::Unpolished: return "The ferrule is coarse: its polish was not finished. New cords have this too; repolish or replace.";
    }
    return {};
}

std::string_view name(Guide guide) { return guide == Guide::Hole ? "hole" : guide == Guide::Pin ? "pin" : "not seen"; }

std::string_view sentenceOf(RetakeReason reason)
{
    switch (reason) {
        case RetakeReason::NoFibre: return "No fibre was found in the picture. Check the tip and that the ferrule sits straight, then take it again.";
        case RetakeReason::CutOff: return "The fibre is cut off by the frame. Bring it to the middle and take the picture again.";
        case RetakeReason::OutOfFocus:
            return "The picture is out of focus. Turn the focus slowly until the cladding's edge is a thin line; if it never is, check the tip.";
        case RetakeReason::TooBright:
            return "The picture is too bright: findings are washed out. Turn the light or the exposure down and take it again.";
        case RetakeReason::TooDark: return "The picture is too dark to judge. Turn the light up or check that the tip sits on the ferrule.";
        case RetakeReason::TooSmall: return "The picture has too few pixels to show a fibre. Use the scope's full resolution.";
    }
    return "Take the picture again.";
}

std::string ferruleSeenWords(const FaceMeasurement& m)
{
    constexpr double all = 0.995;
    return m.ferruleSeen && *m.ferruleSeen < all ? fmt::format("{:.0f} % of the ferrule seen", 100 * *m.ferruleSeen) : std::string();
}

}  // namespace clendo::face
