#pragma once
#include "face/memory/face_match.h"
#include "face/memory/fingerprint.h"

namespace clendo::face {

/// Turns the second face over the first until their marks lie on each other, and asks how often marks would do so by chance: at other turns, and
/// with one face pushed aside (lines of one polish lie on each other then, too). Marks that only one face has are dirt, or were made since: they say
/// nothing against it.
FaceMatch matchFaces(const Fingerprint& first, const Fingerprint& second);

}  // namespace clendo::face
