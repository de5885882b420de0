#pragma once
#include <string>
#include <string_view>
#include <vector>

#include "record/advice/command_ids.h"

namespace clendo {

/// How advice is meant: sets mark and colour, never the words.
enum class Tone { Neutral, Fit, Work, Damaged };

struct AdviceAction {
    std::string_view command = command::nextStep;  ///< its id
    std::string text;
};

struct AdviceRow {
    std::string zone, what, allowed, counted;
    bool met = true;
};

/// One large sentence with what to do, then why, then what helps, then at most three actions; the first is the usual one.
struct Advice {
    Tone tone = Tone::Neutral;
    std::string headline;  ///< "Clean, then look again"
    std::string sentence;  ///< names the rule, the count and the finding that broke it
    std::vector<AdviceRow> rows;
    std::vector<std::string> help;
    std::vector<AdviceAction> actions;
};

}  // namespace clendo
