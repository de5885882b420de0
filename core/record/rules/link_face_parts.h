#pragma once
#include "record/rules/completeness.h"

namespace clendo {

// The parts of a link's record that are seen and joined. Only completeness() asks them.

void addFaceParts(Completeness& out, const JobState& state, const Link& link, Ageing ageing);
/// Every mated pair, with its sleeve.
void addMatingParts(Completeness& out, const JobState& state, const Link& link);
}  // namespace clendo
