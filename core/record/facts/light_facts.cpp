#include "record/facts/light_facts.h"

#include "record/facts/reference_facts.h"
#include "record/state/fact_effects.h"

namespace clendo {

std::string_view wayWords(Direction direction) { return direction == Direction::AtoB ? "A to B" : "B to A"; }
std::string_view sourceWords(Direction direction) { return direction == Direction::AtoB ? "source at A" : "source at B"; }

nlohmann::json Acquired::body() const
{
    return {{"instrument", instrument},
            {"scatter_db", scatter.value()},
            {"resolution_db", resolution.value()},
            {"samples", samples},
            {"seconds", lasting.value()}};
}

std::optional<Acquired> Acquired::read(FactReading& in)
{
    const auto body = in.find("acquired");
    if (!body || body->is_null()) return std::nullopt;
    FlatReading from(*body, "acquired");
    Acquired out{from.text("instrument"), Decibel(from.number("scatter_db", 0, 100)), Decibel(from.number("resolution_db", 0, 100)),
                 static_cast<int>(from.number("samples", 1, 1e9)), Second(from.number("seconds", 0, 1e9))};
    if (from.problem()) in.complain(*from.problem());
    return out;
}

nlohmann::json ReferenceSet::body() const
{
    nlohmann::json out{{"method", name(method)}, {"wavelength_nm", wavelength.value()}, {"direction", name(direction)}, {"level_dbm", level.value()}};
    if (!with.empty()) out["with"] = with;
    if (zeroed) {
        out["zeroed"] = true;
        out["level_dbm"] = nullptr;
    }
    if (!launch.empty()) out["launch"] = launch;
    if (acquired) out["acquired"] = acquired->body();
    return out;
}

ReferenceSet ReferenceSet::read(FactReading& in)
{
    ReferenceSet f{in.method(), in.wavelength(), in.direction(), {}};
    f.zeroed = in.flagOr("zeroed", false);
    if (!f.zeroed) f.level = DecibelMilliwatt(in.number("level_dbm", -90, 30));
    if (in.find("with")) f.with = in.texts("with");
    f.launch = in.textOr("launch", "");
    f.acquired = Acquired::read(in);
    return f;
}

std::string ReferenceSet::sentence(const JobState&) const
{
    return fmt::format("Reference at {:.0f} nm, {}: {}, {}{}{}{}{}", wavelength.value(), sourceWords(direction),
                       zeroed ? std::string("the meter was set to zero") : fmt::format("{:.2f} dBm", level.value()), name(method),
                       with.empty() ? "" : ", with ", fmt::join(with, ", "), launch.empty() ? "" : ", launch: ", launch);
}

void ReferenceSet::apply(FactEffects& effects, const EntryHead& entry) const
{
    effects.state().references[{direction, wavelength.value()}] = {level, method, entry.hash, entry.at(), with, zeroed, {}};
    if (!zeroed) effects.state().levelsOfReferences[entry.hash] = level;
    LightEffects::Reference kept{*this, true};
    kept.at = entry.at();
    const auto on = effects.state().sourcesOn.find(sourceOf(with, effects.state()));
    if (on != effects.state().sourcesOn.end()) kept.warmUp = Second(double(entry.at() - on->second));
    effects.light().references[entry.hash] = kept;
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
    nlohmann::json out{{"link", link}, {"wavelength_nm", wavelength.value()}, {"direction", name(direction)}};
    if (shown)
        out["loss_db"] = shown->value();
    else
        out["power_dbm"] = power.value();
    if (acquired) out["acquired"] = acquired->body();
    out["reference"] = reference ? nlohmann::json(reference.hex()) : nlohmann::json(nullptr);
    addMadeBy(out, made);
    return out;
}

PowerRead PowerRead::read(FactReading& in)
{
    PowerRead f{in.text("link"), in.wavelength(), in.direction(), {}, in.entryOrNone("reference"), readMadeBy(in)};
    if (const auto loss = in.numberOrNothing("loss_db", -100, 100))
        f.shown = Decibel(*loss);
    else
        f.power = DecibelMilliwatt(in.number("power_dbm", -90, 30));
    f.acquired = Acquired::read(in);
    return f;
}

void PowerRead::complete(const JobState& state)
{
    made = judgedBy(state, link);
    if (const auto* inForce = state.reference(direction, wavelength); inForce && !reference) reference = inForce->entry;
}

std::string PowerRead::sentence(const JobState&) const
{
    return fmt::format("Read {} at {:.0f} nm, {}: {}{}{}", link, wavelength.value(), sourceWords(direction),
                       shown ? fmt::format("{:.2f} dB on a meter set to zero", shown->value()) : fmt::format("{:.2f} dBm", power.value()),
                       reference ? "" : ", without a reference", acquired ? fmt::format(", by {}", acquired->instrument) : "");
}

namespace {

/// What a reading is worth on the reference that it names: nothing where that was voided, is too old, has carried too many fibres, or was set in the
/// other way (a level, or zero on the meter).
void rest(KeptReading& kept, LightEffects::Reference& on, const PowerRead& read, const JobState& state, std::int64_t at)
{
    kept.entryEpoch = on.epoch;
    kept.warmUp = on.warmUp;
    kept.launchSaid = !on.set.launch.empty();
    on.fibres.insert(read.link);
    if (!on.good || on.set.zeroed != read.shown.has_value()) return;
    if (const auto most = state.plan->policyNumber("reference_age"); most && at - on.at > *most * 60) {
        kept.doubt = fmt::format("the reference was {} minutes old", (at - on.at) / 60);
        return;
    }
    if (const auto most = state.plan->policyNumber("reference_fibres"); most && static_cast<int>(on.fibres.size()) > *most) {
        kept.doubt = fmt::format("the reference had served {} fibres since it was last checked", on.fibres.size() - 1);
        return;
    }
    if (on.set.zeroed)
        kept.shown = read.shown;
    else
        kept.reference = on.set.level;
}

}  // namespace

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
        of.doubted.clear();
    }
    light.methods.insert_or_assign(link, method);
    light.readLinks.insert(link);
    of.readings.push_back({*this, entry.hash, entry.at()});
    if (fits) of.measuredWith.insert(named->second.set.with.begin(), named->second.set.with.end());
    KeptReading kept;
    static_cast<Reading&>(kept) = {wavelength,
                                   direction,
                                   {},
                                   power,
                                   {},
                                   acquired ? std::optional(acquired->scatter) : std::nullopt,
                                   acquired ? std::optional(acquired->resolution) : std::nullopt};
    kept.on = reference;
    kept.entry = entry.hash;
    if (fits) rest(kept, named->second, *this, effects.state(), entry.at());
    if (!kept.doubt.empty()) of.doubted[entry.hash] = kept.doubt;
    readings.push_back(std::move(kept));
}

}  // namespace clendo
