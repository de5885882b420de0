#include "record/facts/light_facts.h"

#include "record/state/fact_effects.h"

namespace clendo {

std::string_view wayWords(Direction direction) { return direction == Direction::AtoB ? "A to B" : "B to A"; }
std::string_view sourceWords(Direction direction) { return direction == Direction::AtoB ? "source at A" : "source at B"; }

nlohmann::json ReferenceSet::body() const
{
    nlohmann::json out{{"method", name(method)}, {"wavelength_nm", wavelength.value()}, {"direction", name(direction)}, {"level_dbm", level.value()}};
    if (!with.empty()) out["with"] = with;
    return out;
}

ReferenceSet ReferenceSet::read(FactReading& in)
{
    ReferenceSet f{in.method(), in.wavelength(), in.direction(), DecibelMilliwatt(in.number("level_dbm", -90, 30))};
    if (in.find("with")) f.with = in.texts("with");
    return f;
}

std::string ReferenceSet::sentence(const JobState&) const
{
    return fmt::format("Reference at {:.0f} nm, {}: {:.2f} dBm, {}{}{}", wavelength.value(), sourceWords(direction), level.value(), name(method),
                       with.empty() ? "" : ", with ", fmt::join(with, ", "));
}

void ReferenceSet::apply(FactEffects& effects, const EntryHead& entry) const
{
    effects.state().references[{direction, wavelength.value()}] = {level, method, entry.hash, entry.at(), with};
    effects.light().references[entry.hash] = {*this, true};
}

std::string ReferenceVoided::sentence(const JobState&) const { return fmt::format("Reference {} void: {}", sourceWords(direction), reason); }

void ReferenceVoided::apply(FactEffects& effects, const EntryHead&) const
{
    std::erase_if(effects.state().references, [&](const auto& item) { return item.first.first == direction; });
    for (auto& [hash, reference] : effects.light().references)
        if (reference.set.direction == direction) reference.good = false;
}

nlohmann::json PowerRead::body() const
{
    nlohmann::json out{{"link", link}, {"wavelength_nm", wavelength.value()}, {"direction", name(direction)}, {"power_dbm", power.value()}};
    out["reference"] = reference ? nlohmann::json(reference.hex()) : nlohmann::json(nullptr);
    addMadeBy(out, made);
    return out;
}

PowerRead PowerRead::read(FactReading& in)
{
    return {in.text("link"), in.wavelength(), in.direction(), DecibelMilliwatt(in.number("power_dbm", -90, 30)), in.entryOrNone("reference"),
            readMadeBy(in)};
}

void PowerRead::complete(const JobState& state)
{
    made = judgedBy(state, link);
    if (const auto* inForce = state.reference(direction, wavelength); inForce && !reference) reference = inForce->entry;
}

std::string PowerRead::sentence(const JobState&) const
{
    return fmt::format("Read {} at {:.0f} nm, {}: {:.2f} dBm{}", link, wavelength.value(), sourceWords(direction), power.value(),
                       reference ? "" : ", without a reference");
}

void PowerRead::apply(FactEffects& effects, const EntryHead& entry) const
{
    LightEffects& light = effects.light();
    const auto named = light.references.find(reference);
    const bool fits = named != light.references.end() && named->second.set.direction == direction && named->second.set.wavelength == wavelength;
    // readings under another method held other connections: they are other measurements and do not mix
    const auto before = light.methods.find(link);
    const auto method = fits ? named->second.set.method : before != light.methods.end() ? before->second : effects.state().plan->job.method;
    LinkState& of = effects.link(link);
    auto& readings = light.readings[link];
    if (before != light.methods.end() && before->second != method) {
        of.readings.clear();
        readings.clear();
        of.measuredWith.clear();
    }
    light.methods.insert_or_assign(link, method);
    light.readLinks.insert(link);
    of.readings.push_back({*this, entry.hash, entry.at()});
    if (fits) of.measuredWith.insert(named->second.set.with.begin(), named->second.set.with.end());
    readings.push_back({wavelength, direction, fits && named->second.good ? std::optional(named->second.set.level) : std::nullopt, power});
}

}  // namespace clendo
