#include "record/facts/light_facts.h"

#include "record/facts/reference_facts.h"
#include "record/state/fact_effects.h"
#include "record/state/reference_cords.h"
#include "record/state/resting.h"

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

std::optional<FaceId> ReferenceSet::sourceEnd() const
{
    if (!freeEnd) return std::nullopt;
    const bool freeIsA = freeEnd->connection == Connection(End::A);
    return FaceId{freeEnd->link, freeIsA ? End::B : End::A, freeEnd->side};
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
    if (freeEnd) out["free_end"] = freeEnd->text();
    if (!launchCord.empty()) out["launch_cord"] = launchCord;
    return out;
}

ReferenceSet ReferenceSet::read(FactReading& in)
{
    ReferenceSet f{in.method(), in.wavelength(), in.direction(), {}};
    f.zeroed = in.flagOr("zeroed", false);
    if (!f.zeroed) f.level = DecibelMilliwatt(in.number("level_dbm", -90, 30));
    if (in.find("with")) f.with = in.texts("with");
    f.launch = in.textOr("launch", "");
    f.launchCord = in.textOr("launch_cord", "");
    if (in.find("free_end")) f.freeEnd = in.face("free_end");
    f.acquired = Acquired::read(in);
    return f;
}

std::string ReferenceSet::sentence(const JobState&) const
{
    return fmt::format("Reference at {:.0f} nm, {}: {}, {}{}{}{}{}{}{}", wavelength.value(), sourceWords(direction),
                       zeroed ? std::string("the meter was set to zero") : fmt::format("{:.2f} dBm", level.value()), name(method),
                       with.empty() ? "" : ", with ", fmt::join(with, ", "), launch.empty() ? "" : ", launch: ", launch,
                       launchCord.empty() ? "" : ", taken off: ", launchCord);
}

void ReferenceSet::apply(FactEffects& effects, const EntryHead& entry) const
{
    effects.state().references[{direction, wavelength.value()}] = {level, method, entry.hash, entry.at(), with, zeroed, {}, 0, freeEnd, sourceEnd()};
    effects.state().voidedWhy.erase({direction, wavelength.value()});
    LightEffects::Reference kept{*this, true};
    kept.at = entry.at();
    const auto on = effects.state().sourcesOn.find(sourceOf(with, effects.state()));
    if (on != effects.state().sourcesOn.end()) kept.warmUp = Second(double(entry.at() - on->second));
    effects.light().references[entry.hash] = kept;
}

std::string ReferenceVoided::sentence(const JobState&) const { return fmt::format("Reference {} void: {}", sourceWords(direction), reason); }

void ReferenceVoided::apply(FactEffects& effects, const EntryHead&) const
{
    effects.voidReferences([&](const ReferenceSet& set) { return set.direction == direction; }, reason);
}

nlohmann::json PowerRead::body() const
{
    nlohmann::json out{{"link", link}, {"wavelength_nm", wavelength.value()}, {"direction", name(direction)}};
    if (shown)
        out["loss_db"] = shown->value();
    else
        out["power_dbm"] = power.value();
    if (acquired) out["acquired"] = acquired->body();
    if (receiveEnd) out["receive_end"] = receiveEnd->text();
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
    if (in.find("receive_end")) f.receiveEnd = in.face("receive_end");
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
    if (receiveEnd) of.measuredWith.insert(receiveEnd->link);
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
    if (fits)
        if (auto doubt = restOn(kept, named->second, *this, effects.state(), entry.at())) of.doubted[entry.hash] = std::move(*doubt);
    readings.push_back(std::move(kept));
    const bool fromA = direction == Direction::AtoB;
    if (fits && named->second.good) cordTouches(effects, named->second.set.freeEnd, link, fromA ? End::A : End::B, entry);
    cordTouches(effects, receiveEnd, link, fromA ? End::B : End::A, entry);
}

}  // namespace clendo
