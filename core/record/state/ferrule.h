#pragma once
#include <optional>
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

// Ferrules that hold several fibres: they are cleaned and mated as one, and seen in one picture or in groups.

/// The faces that share a ferrule with this one, itself included, by fibre number.
std::vector<FaceId> ferruleOf(const JobState& state, const FaceId& face);

/// The face that says what is next for the whole ferrule. By the job's policy a bad fibre comes before those not seen yet, or after them.
FaceId decidingFace(const JobState& state, const FaceId& face);

/// "10 of 12 fit; needs work: 3, 8". Empty for a ferrule of one fibre.
std::string ferruleTally(const JobState& state, const FaceId& face);

/// How the connector was held: with its key up fibre 1 is at the left, with its key down at the right.
enum class KeyWay { Up, Down };

struct FibreSeen {
    FaceId face;
    face::FaceMeasurement measured;
};

/// How many rows the fibres of a ferrule stand in: up to 16 in one, more in two, of which the upper one is counted first.
constexpr int rowsOfFerrule(int fibres) { return fibres > 16 ? 2 : 1; }

/// Which fibres a picture shows: a whole ferrule, or the group of that size in which `chosen` stands (of twelve fibres, four in a picture: 1 to 4, 5
/// to 8, 9 to 12; of two rows either one of them, or part of it, or a group of columns through both: of 24, eight in two rows: 1 to 4 and 13 to 16).
/// An Error where the number does not divide the ferrule: then a fibre was cut off or not found, and filing would shift all others.
Result<std::vector<FibreSeen>> assignFibres(const JobState& state, const FaceId& chosen, const std::vector<face::FaceMeasurement>& seen, KeyWay key);

/// Where the next group begins after `filed`: the first face of the ferrule that was not seen yet. Nothing where all were, or where the policy stops
/// at a bad group.
std::optional<FaceId> nextGroup(const JobState& state, const FaceId& filed);

/// Why two ferrules do not fit together: pins on both sides or on neither. What the pictures do not show is taken from the plan. Nothing where they
/// fit or where neither says it.
std::optional<std::string> pinMix(const JobState& state, const Link& link, Connection at);

}  // namespace clendo
