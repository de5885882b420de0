// What to do with what was filed: the journal, and what it teaches.
#include "record/advice/record_advice.h"

#include <fmt/format.h>

#include "record/output/journal_view.h"
#include "record/output/learning.h"

namespace clendo {
namespace {

constexpr int enough = 5;  // looks below which a share says nothing

/// "Breakwater Hut: 3 of 9"; empty where nothing stands out.
std::string worstOf(const std::vector<Share>& shares)
{
    for (const auto& s : shares)
        if (s.all >= enough && s.right < s.all) return fmt::format("{}: {} of {}", s.of, s.right, s.all);
    return {};
}

}  // namespace

Advice journalAdvice(const JobState& state, std::span<const Entry> entries)
{
    Advice r;
    r.headline = entries.size() == 1 ? "1 entry" : fmt::format("{} entries", entries.size());
    r.sentence = "Everything that was filed, in order. Nothing is changed or taken out: a mistake is corrected by an entry of its own.";
    if (!entries.empty()) r.help.push_back(fmt::format("Last: {}", lineOf(entries.back(), entries, state)));
    for (const auto& trouble : state.troubles) r.help.push_back(trouble);
    r.actions = {{command::nextStep, "Next step"}, {command::takeBack, "Take back the last entry"}};
    return r;
}

Advice learnAdvice(const Learned& learned)
{
    Advice r;
    if (learned.firstTimeFit.all == 0) {
        r.headline = "No statistics yet";
        r.sentence = "Look at some faces first.";
        r.actions = {{command::nextStep, "Next step"}};
        return r;
    }
    r.headline = fmt::format("First-pass yield: {} of {}", learned.firstTimeFit.right, learned.firstTimeFit.all);
    r.sentence = "Faces that passed at their first look. Counted from the journal: each face once, and its first cleaning.";
    if (const auto worst = worstOf(learned.byPlace); !worst.empty()) r.help.push_back("Lowest first-pass yield, by place: " + worst + ".");
    if (const auto worst = worstOf(learned.byMethod); !worst.empty()) r.help.push_back("The method that helps least: " + worst + ".");
    if (const auto worst = worstOf(learned.byCord); !worst.empty()) r.help.push_back("A test cord that is dirty often: " + worst + ".");
    if (!learned.troublePorts.empty())
        r.help.push_back(fmt::format("Most trouble: {}, {} cleanings.", learned.troublePorts.front().of, learned.troublePorts.front().all));
    if (learned.firstTimeFit.all < 10) r.help.emplace_back("Few faces so far: read small numbers with care.");
    r.actions = {{command::nextStep, "Next step"}};
    return r;
}

}  // namespace clendo
