#pragma once
#include "record/completeness.h"

namespace clendo {

// The parts of a link's record, kind by kind. Only completeness() asks them.

void addFaceParts(Completeness& out, const JobState& state, const Link& link, Ageing ageing);
/// Every mated pair, with its sleeve.
void addMatingParts(Completeness& out, const JobState& state, const Link& link);
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
