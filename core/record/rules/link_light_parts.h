#pragma once
#include "record/rules/completeness.h"

namespace clendo {

// The parts of a link's record that are tested with light, kind by kind. Only completeness() asks them.

/// By wavelength: those that the job wants, and those that were read besides.
void addLossParts(Completeness& out, const JobState& state, const Link& link);
void addRightFibre(Completeness& out, const JobState& state, const Link& link);
void addLength(Completeness& out, const JobState& state, const Link& link);
/// By wavelength and direction.
void addTraceParts(Completeness& out, const JobState& state, const Link& link);
/// Connections and splices, and what stands in no plan, by the wavelengths that were shot.
void addJointParts(Completeness& out, const JobState& state, const Link& link);

/// How far a measured length may be from the planned one: plans are paced along the way, 3 % and at least 2 m.
Metre lengthTolerance(Metre planned);

}  // namespace clendo
