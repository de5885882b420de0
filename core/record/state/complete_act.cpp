#include "record/state/complete_act.h"

namespace clendo {
namespace {

std::vector<Fact> facts(const std::vector<Setting>& settings)
{
    std::vector<Fact> out;
    for (const auto& s : settings) out.emplace_back(SettingSet{s.key, s.value.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace)});
    return out;
}

}  // namespace

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
