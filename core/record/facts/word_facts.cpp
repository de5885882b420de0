#include "record/facts/word_facts.h"

#include "record/state/fact_effects.h"

namespace clendo {

nlohmann::json Signed::body() const
{
    auto list = nlohmann::json::array();
    for (const auto& [device, end] : ends) list.push_back({{"device", device}, {"sequence", end.sequence}, {"entry", end.hash.hex()}});
    nlohmann::json out{{"subject", of}, {"remark", remark}};
    if (!record.empty()) out["record"] = record;
    if (!list.empty()) out["ends"] = list;
    return out;
}

Signed Signed::read(FactReading& in)
{
    Signed f{in.text("subject"), in.textOr("remark", ""), in.textOr("record", "")};
    if (const auto known = in.find("ends"); !known || known->is_null()) return f;  // of schema 1
    for (const auto item : in.list("ends")) {
        FlatReading end(item, "ends");
        f.ends[end.text("device")] = {static_cast<std::int64_t>(end.number("sequence", 1, 1e15)),
                                      Digest::parse(end.text("entry")).value_or(Digest{})};
        if (end.problem()) in.complain(*end.problem());
    }
    return f;
}

void Signed::complete(const JobState& state) { ends = state.chainEnds; }

void Signed::apply(FactEffects& effects, const EntryHead& entry) const { effects.sign({*this, entry.hash, entry.at(), entry.who, true}); }

std::int64_t LossesNoted::entries() const
{
    std::int64_t out = 0;
    for (const auto& gap : gaps) out += gap.to - gap.from + 1;
    return out;
}

nlohmann::json LossesNoted::body() const
{
    auto list = nlohmann::json::array();
    for (const auto& gap : gaps) list.push_back({{"device", gap.device}, {"from", gap.from}, {"to", gap.to}});
    return {{"file", file}, {"entries", list}, {"evidence", evidence}, {"perhaps_more", perhapsMore}};
}

LossesNoted LossesNoted::read(FactReading& in)
{
    LossesNoted f{in.text("file"), {}, in.texts("evidence"), in.flagOr("perhaps_more", false)};
    for (const auto item : in.list("entries")) {
        FlatReading gap(item, "entries");
        f.gaps.push_back(
            {gap.text("device"), static_cast<std::int64_t>(gap.number("from", 1, 1e15)), static_cast<std::int64_t>(gap.number("to", 1, 1e15))});
        if (gap.problem()) in.complain(*gap.problem());
    }
    return f;
}

std::string LossesNoted::sentence(const JobState&) const
{
    return fmt::format("Saved from the damaged file “{}”: {} entries and {} pictures or traces were lost{}", file, entries(), evidence.size(),
                       perhapsMore ? ", perhaps more" : "");
}

void LossesNoted::apply(FactEffects& effects, const EntryHead& entry) const { effects.state().losses.push_back({entry.at(), *this}); }

}  // namespace clendo
