#include "record/facts/kit_facts.h"

#include "record/state/fact_effects.h"

namespace clendo {

nlohmann::json KitKept::body() const
{
    return {{"id", id},
            {"kind", kind},
            {"connectors", connectors},
            {"serial", serial},
            {"calibrated_until", calibratedUntil},
            {"most", most},
            {"criteria", className},
            {"gone", gone}};
}

KitKept KitKept::read(FactReading& in)
{
    return {in.text("id"),
            in.text("kind"),
            in.texts("connectors"),
            in.textOr("serial", ""),
            static_cast<std::int64_t>(in.numberOrNothing("calibrated_until", 0, 1e12).value_or(0)),
            in.wholeOr("most", 0, 1e6, 0),
            in.textOr("criteria", ""),
            in.flagOr("gone", false)};
}

void KitKept::apply(FactEffects& effects, const EntryHead&) const { effects.state().kit[id].what = *this; }

void KitProved::apply(FactEffects& effects, const EntryHead& entry) const
{
    auto& kit = effects.state().kit;
    if (const auto it = kit.find(id); it != kit.end()) it->second.proofs[what] = {entry.at(), good};
}

std::string KitChecked::sentence(const JobState&) const
{
    if (open.empty()) return "The kit was looked through: nothing was open";
    return fmt::format("The kit was looked through: {} open{}", open.size(), reason.empty() ? "" : ", went on: " + reason);
}

void KitChecked::apply(FactEffects& effects, const EntryHead& entry) const
{
    effects.state().kitChecked = LookedThrough{entry.at(), entry.who, *this};
}

}  // namespace clendo
