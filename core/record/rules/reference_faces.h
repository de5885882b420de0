#pragma once
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// A face that comes together for a reference, and where it stands.
struct ReferenceFace {
    FaceId face;
    bool trusted = false;  ///< seen fit, and nothing happened to it since
};

/// The ends of the cords and the instruments' ports that meet by a method, of what is in hand by its names in the kit: what to see and clean first.
/// Cords beyond those in hand are unknown and not in it.
std::vector<ReferenceFace> facesOfReference(const JobState& state, const std::vector<std::string>& inHand);

/// "See and clean first: port of LS-1, test cord RC-1, end A." Empty: all are trusted, or nothing is in hand.
std::string facesToSeeFirst(const JobState& state, const std::vector<std::string>& inHand);

}  // namespace clendo
