#include "record/facts/made_by.h"

#include "record/state/state.h"

namespace clendo {
namespace {

MadeBy madeHere() { return {"clendo " CLENDO_VERSION, {}}; }

}  // namespace

MadeBy judgedBy(const Criteria& criteria)
{
    MadeBy out = madeHere();
    if (!criteria.hash.empty()) out.rules.push_back({criteria.name, criteria.version, criteria.hash});
    return out;
}

MadeBy judgedBy(const JobState& state, const std::string& linkId)
{
    MadeBy out = madeHere();
    const Link* link = state.link(linkId);
    if (const LimitSet* limits = link ? state.plan->limitsFor(*link->cable) : nullptr)
        out.rules.push_back({limits->name, limits->version, limits->hash});
    return out;
}

void addMadeBy(nlohmann::json& body, const MadeBy& made)
{
    if (made.program.empty() && made.rules.empty()) return;
    auto rules = nlohmann::json::array();
    for (const auto& r : made.rules) rules.push_back({{"name", r.name}, {"version", r.version}, {"sha256", r.sha256}});
    body["made_by"] = {{"program", made.program}, {"rules", rules}};
}

MadeBy readMadeBy(FactReading& in)
{
    MadeBy out;
    const auto found = in.find("made_by");
    if (!found || found->is_null()) return out;
    FlatReading made(*found, "made_by");
    out.program = made.text("program");
    for (const auto item : made.list("rules")) {
        FlatReading rules(item, "made_by");
        out.rules.push_back({rules.text("name"), rules.text("version"), rules.text("sha256")});
        if (rules.problem()) in.complain(*rules.problem());
    }
    if (made.problem()) in.complain(*made.problem());
    return out;
}

}  // namespace clendo
