#pragma once
#include <optional>
#include <string_view>

namespace clendo::face {

enum class SameFace { Same, Different, CannotTell };
/// "same", "different", "cannot-tell".
std::string_view name(SameFace answer);

/// Whether two looks show one face.
struct FaceMatch {
    SameFace answer = SameFace::CannotTell;
    double score = 0;           ///< 0 to 1: how alike the marks look, laid over each other as they lie best
    double falseMatchRate = 1;  ///< how often two different faces with so many marks would lie over each other so well
    std::optional<double>
        turnDegrees;    ///< by how much the second is turned against the first, clockwise in the picture, 0 to 360; only of the same face
    int marksUsed = 0;  ///< marks that lie over each other
};

}  // namespace clendo::face
