#include "record/journal/acts.h"

#include <algorithm>

#include "record/state/state.h"

namespace clendo {
namespace {

std::vector<Fact> facts(const std::vector<Setting>& settings)
{
    std::vector<Fact> out;
    for (const auto& s : settings) out.emplace_back(SettingSet{s.key, s.value.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace)});
    return out;
}

/// What Z leaves alone: rules stay kept, because whoever judges by them would keep them again at once.
bool staysFiled(const Fact& fact)
{
    return std::holds_alternative<Corrected>(fact) || std::holds_alternative<LossesNoted>(fact) || std::holds_alternative<RulesKept>(fact);
}

}  // namespace

Corrections correctedEntries(std::span<const Entry> journal)
{
    Corrections out;
    for (const auto& e : journal)
        if (const auto* c = std::get_if<Corrected>(&e.fact)) out.insert(c->entry);
    return out;
}

std::vector<const Entry*> lastActOf(std::span<const Entry> journal, std::string_view who, const std::set<std::string>& devices)
{
    const auto corrected = correctedEntries(journal);
    const auto counts = [&](const Entry& e) {
        return e.who == who && devices.contains(e.device) && !staysFiled(e.fact) && !corrected.contains(e.hash) && e.act != journal.front().act;
    };
    const auto last = std::find_if(journal.rbegin(), journal.rend(), counts);
    std::vector<const Entry*> out;
    if (last == journal.rend()) return out;
    for (const auto& e : journal)
        if (e.act == last->act && counts(e)) out.push_back(&e);
    return out;
}

std::vector<Fact> completeAct(std::vector<Fact> facts, const JobState& state)
{
    for (auto& fact : facts) complete(fact, state);
    return facts;
}

std::vector<Fact> rulesToKeep(const JobState& state)
{
    std::vector<Fact> out;
    for (const auto& [file, text] : state.plan->usedRules)
        if (!state.plan->keptRules.contains(file)) out.emplace_back(RulesKept{file, text});
    return out;
}

std::vector<Fact> settingFacts(const JobSettings& before, const JobSettings& after)
{
    auto out = facts(settingsChanged(before, after));
    // another method means other cords in place: what was referenced before no longer fits
    if (before.method != after.method)
        for (const Direction d : {Direction::AtoB, Direction::BtoA})  // made in place: gcc 12 sees an overrun in the move that is none
            out.emplace_back(std::in_place_type<ReferenceVoided>, d, std::string("reference method changed"));
    return out;
}

std::vector<Fact> settingFacts(const JobSettings& whole) { return facts(settingsOf(whole)); }

}  // namespace clendo
