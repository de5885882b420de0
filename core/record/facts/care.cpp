#include "record/facts/care.h"

#include "record/state/fact_effects.h"
#include "record/state/ferrule.h"
#include "record/state/reference_cords.h"

namespace clendo {

std::string methodWords(const std::string& method)
{
    if (method == "dry") return "dry, fresh tape";
    if (method == "wet-then-dry") return "wet, then dry";
    if (method == "fresh-tool") return "wet, then dry, fresh tool";
    return method;
}

std::string FaceCleaned::sentence(const JobState& state) const
{
    return fmt::format("Cleaned {}: {}, {} stroke{}{}", state.where(face), methodWords(method), strokes, strokes == 1 ? "" : "s",
                       tool.empty() ? "" : ", with " + tool);
}

void FaceCleaned::apply(FactEffects& effects, const EntryHead&) const
{
    JobState& state = effects.state();
    disturbed(effects, face, "was cleaned");
    if (const auto used = state.kit.find(tool); used != state.kit.end()) used->second.used += strokes;
    for (const auto& id : ferruleOf(state, face)) {  // a stroke touches every fibre of the ferrule
        FaceState& of = effects.touch(id);
        of.cleanedSince.push_back(*this);
        ++of.cleanings;
        if (of.mated) effects.open(id);
    }
}

std::string SleeveCleaned::sentence(const JobState& state) const { return "Cleaned the sleeve of " + state.whereMated(link, connection); }

void SleeveCleaned::apply(FactEffects& effects, const EntryHead& entry) const
{
    // there is no way into a sleeve with the connector in it
    if (effects.state().state(link).mated.contains(connection)) effects.open({link, connection, Side::Port});
    for (const auto& id : ferruleOf(effects.state(), {link, connection, Side::Port})) effects.link(id.link).sleeves[id.connection] = entry.hash;
}

std::string FaceHandled::sentence(const JobState& state) const { return fmt::format("{}: {}", state.where(face), how); }

void FaceHandled::apply(FactEffects& effects, const EntryHead&) const
{
    disturbed(effects, face, how == "moved" ? "was moved" : "was handled", how != "moved");
    for (const auto& id : ferruleOf(effects.state(), face)) {
        FaceState& of = effects.touch(id);
        if (of.mated) effects.open(id);
        of.handled = how;
    }
}

std::string FaceCovered::sentence(const JobState& state) const { return fmt::format("{}: {}", state.where(face), how); }

void FaceCovered::apply(FactEffects& effects, const EntryHead& entry) const
{
    disturbed(effects, face, "was covered");
    for (const auto& id : ferruleOf(effects.state(), face)) {
        FaceState& of = effects.touch(id);
        of.covered = how == "open" ? std::string() : how;
        of.coveredAt = entry.at();
    }
}

}  // namespace clendo
