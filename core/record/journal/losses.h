#pragma once
#include <span>
#include <vector>

#include "record/facts/facts.h"

namespace clendo {

/// What was noted as lost in this journal.
std::vector<LossesNoted> lossesIn(std::span<const Entry> journal);

/// Whether all of a gap was noted as lost.
bool isNoted(std::span<const LossesNoted> losses, const LossesNoted::Gap& gap);
/// The same of a picture or trace.
bool isEvidenceNoted(std::span<const LossesNoted> losses, const std::string& evidence);

}  // namespace clendo
