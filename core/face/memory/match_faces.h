#pragma once
#include "face/memory/face_match.h"
#include "face/memory/fingerprint.h"

namespace clendo::face {

/// Turns the second face over the first until their marks lie on each other, and weighs how much more often marks lie so on the same face than by
/// chance: at other turns, and with one face pushed aside (lines of one polish lie on each other then, too). Marks that only one face has speak
/// against it a little: they may be dirt, or were made since.
FaceMatch matchFaces(const Fingerprint& first, const Fingerprint& second);

}  // namespace clendo::face
