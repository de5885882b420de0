#include "face/memory/face_match.h"

namespace clendo::face {

std::string_view name(SameFace answer)
{
    switch (answer) {
        case SameFace::Same: return "same";
        case SameFace::Different: return "different";
        case SameFace::CannotTell: return "cannot-tell";
    }
    return "";
}

}  // namespace clendo::face
