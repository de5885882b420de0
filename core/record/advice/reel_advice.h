#pragma once
#include "record/advice/advice.h"
#include "record/rules/reels.h"

namespace clendo {

/// What to do with a reel: from its marks to the decision. `reel`: its name; empty: none was delivered yet.
Advice reelAdvice(const JobState& state, const std::string& reel);

Tone toneOf(reel::ReelVerdict verdict);

/// The next fibre that is asked for; 1 where none is.
int nextFibre(const ReelStanding& standing);

}  // namespace clendo
