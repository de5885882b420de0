#include "face/face_report.h"

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

}  // namespace clendo::face
