#pragma once
#include <optional>
#include <string>
#include <vector>

#include "record/rules/plan_match.h"

namespace clendo {

/// Three witnesses of one connection: the pictures of its faces, the loss and the reflectance that the trace shows there.
struct Witnesses {
    enum class Faces { Clean, Dirty, NotKnown };  ///< Clean: all were seen fit before the shot; Dirty: one was seen unfit and not cleaned since
    std::string name;                             ///< "TH-R2 port 7"
    Faces faces = Faces::NotKnown;
    bool loses = false, reflects = false;  ///< more than it may

    /// Who is likely at fault where they contradict each other; empty where they do not.
    [[nodiscard]] std::string contradiction() const;
};

/// Of the connections that a shot shows with a loss or a reflectance to be judged. At the link's ends the cord that was shot with was there, not the
/// link's own: where nobody said which one, its face is not known.
std::vector<Witnesses> witnessesOf(const JobState& state, const Link& link, const Filed<TraceShot>& shot);

}  // namespace clendo
