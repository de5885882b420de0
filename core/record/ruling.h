#pragma once
#include <string>
#include <vector>

#include "record/state.h"

namespace clendo {

/// How a ruling is meant: sets mark and colour, never the words.
enum class Tone { Neutral, Fit, Work, Damaged };

/// What an action does; the window binds its key.
enum class ActionKind {
    TakePicture,
    Clean,
    CleanSleeve,
    Mate,
    NextStep,
    SetReference,
    ReadPower,
    ProveFibre,
    OpenTrace,
    Sign,
    Certificate,
    Undo,
    PlanCable
};

struct RulingAction {
    ActionKind kind = ActionKind::NextStep;
    std::string text;
};

struct RulingRow {
    std::string zone, what, allowed, counted;
    bool met = true;
};

/// One large sentence with what to do, then why, then what helps, then at most three actions; the first is the usual one.
struct Ruling {
    Tone tone = Tone::Neutral;
    std::string headline;  ///< "Clean, then look again"
    std::string sentence;  ///< names the rule, the count and the finding that broke it
    std::vector<RulingRow> rows;
    std::vector<std::string> help;
    std::vector<RulingAction> actions;
};

Ruling faceRuling(const JobState& state, const Link& link, const FaceId& face);
Ruling lossRuling(const JobState& state, const Link& link);
Ruling traceRuling(const JobState& state, const Link& link);
Ruling signRuling(const JobState& state, const Link& link);
Ruling journalRuling(const JobState& state, std::span<const Entry> entries);
Ruling learnRuling(const struct Learned& learned);
Ruling emptyJobRuling();

/// The next cleaning method for a face: stronger each time, never wet without dry.
struct CleaningAdvice {
    std::string method;  ///< as FaceCleaned keeps it
    std::string words;   ///< for people
};
/// `firstMethod`: the job's policy, "dry" or "wet". `target`: what is cleaned, as cleaningTarget() says it; nothing wet goes into a device.
CleaningAdvice adviceFor(const FaceState& face, std::string_view firstMethod = "dry", std::string_view target = "cord");
std::string methodWords(const std::string& method);

}  // namespace clendo
