#pragma once
#include <span>

#include "batch/cord_certificate.h"
#include "batch/cord_line.h"
#include "record/advice/advice.h"

namespace clendo {

Tone toneOf(SheetOutcome outcome);

/// What to do with a folder of pictures. `rows`: what was judged of it so far.
Advice folderAdvice(std::span<const SheetRow> rows);

/// What to do on a line of cords. `rows` in the order in which they were taken; `cords`: what is in hand.
Advice lineAdvice(std::span<const SheetRow> rows, const FaceClass& faceClass, const CordLine& cords, const CleanerCheck& cleaner);

}  // namespace clendo
