#pragma once
#include <map>
#include <optional>
#include <string>
#include <utility>

#include "face/judge/dirt.h"
#include "record/state/state.h"

namespace clendo {

/// What kind of dirt a look showed, with what is known from the look before it; nothing: it is not crowded. `at`: which of the face's looks.
std::optional<face::Dirt> dirtOf(const FaceState& face, std::size_t at);

/// Crowded faces that one cleaning was done on between two looks, and how many were fit at the second.
struct CleaningShare {
    int fit = 0, all = 0;
};
/// By kind of dirt and method ("dry"), over all faces of the job. Where a face was cleaned more than once between two looks nobody knows which did
/// it: it does not count.
std::map<std::pair<face::DirtKind, std::string>, CleaningShare> cleaningsByDirt(const JobState& state);

/// "Faces like this that were fit after one cleaning in this job: wet, then dry: 3 of 4; dry, fresh tape: 1 of 5.", the best share first; where none
/// was cleaned yet it says so.
std::string bestCleaning(const JobState& state, face::DirtKind kind);

}  // namespace clendo
