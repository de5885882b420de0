#include "record/facts/reference_facts.h"

#include <cmath>

#include "record/state/fact_effects.h"

namespace clendo {
namespace {

/// What proof and check have in common: a level at a wavelength in a direction, against a reference.
nlohmann::json levelBody(Direction direction, Nanometre wavelength, DecibelMilliwatt level, Digest reference, const std::optional<Acquired>& acquired)
{
    nlohmann::json out{{"direction", name(direction)}, {"wavelength_nm", wavelength.value()}, {"level_dbm", level.value()}};
    out["reference"] = reference ? nlohmann::json(reference.hex()) : nlohmann::json(nullptr);
    if (acquired) out["acquired"] = acquired->body();
    return out;
}

template <class Level>
void readLevel(FactReading& in, Level& fact)
{
    fact.direction = in.direction();
    fact.wavelength = in.wavelength();
    fact.level = DecibelMilliwatt(in.number("level_dbm", -90, 30));
    fact.reference = in.entryOrNone("reference");
    fact.acquired = Acquired::read(in);
}

Digest referenceFor(const JobState& state, Direction direction, Nanometre wavelength, Digest given)
{
    const auto* inForce = state.reference(direction, wavelength);
    return given || !inForce ? given : inForce->entry;
}

/// The reference that was meant, if it is of this direction and wavelength, is good and has a level.
LightEffects::Reference* meant(FactEffects& effects, Digest reference, Direction direction, Nanometre wavelength)
{
    const auto it = effects.light().references.find(reference);
    if (it == effects.light().references.end()) return nullptr;
    auto& found = it->second;
    return found.good && !found.set.zeroed && found.set.direction == direction && found.set.wavelength == wavelength ? &found : nullptr;
}

}  // namespace

bool isGain(Decibel added)
{
    constexpr Decibel meterSteps{0.03};  // so little shows the meter's own steps
    return added < -meterSteps;
}

std::string sourceOf(const std::vector<std::string>& with, const JobState& state)
{
    for (const auto& name : with)
        if (const auto it = state.kit.find(name); it != state.kit.end() && it->second.what.kind == "source") return name;
    return {};
}

nlohmann::json ReferenceProved::body() const
{
    auto out = levelBody(direction, wavelength, level, reference, acquired);
    if (!cord.empty()) out["cord"] = cord;
    return out;
}

ReferenceProved ReferenceProved::read(FactReading& in)
{
    ReferenceProved f;
    readLevel(in, f);
    f.cord = in.textOr("cord", "");
    return f;
}

void ReferenceProved::complete(const JobState& state) { reference = referenceFor(state, direction, wavelength, reference); }

std::string ReferenceProved::sentence(const JobState&) const
{
    return fmt::format("Proof of the reference at {:.0f} nm, {}: {:.2f} dBm with {}{}", wavelength.value(), sourceWords(direction), level.value(),
                       cord.empty() ? "the receive cord" : cord, reference ? "" : ", without a reference");
}

void ReferenceProved::apply(FactEffects& effects, const EntryHead& entry) const
{
    auto* on = meant(effects, reference, direction, wavelength);
    if (!on) return;
    const Decibel loss = on->set.level - level;
    JobState& state = effects.state();
    state.proofs.push_back({direction, wavelength, cord, loss, entry.at(), entry.hash});
    if (isGain(loss)) {  // a passive cord gives no light
        effects.voidReference(reference, fmt::format("behind {} there was {:.2f} dB more light than without it",
                                                     cord.empty() ? "the receive cord" : cord, -loss.value()));
        return;
    }
    if (const auto it = state.references.find({direction, wavelength.value()}); it != state.references.end() && it->second.entry == reference)
        it->second.proof = loss;
}

nlohmann::json ReferenceChecked::body() const { return levelBody(direction, wavelength, level, reference, acquired); }

ReferenceChecked ReferenceChecked::read(FactReading& in)
{
    ReferenceChecked f;
    readLevel(in, f);
    return f;
}

void ReferenceChecked::complete(const JobState& state) { reference = referenceFor(state, direction, wavelength, reference); }

std::string ReferenceChecked::sentence(const JobState&) const
{
    return fmt::format("Check of the reference at {:.0f} nm, {}: {:.2f} dBm{}", wavelength.value(), sourceWords(direction), level.value(),
                       reference ? "" : ", without a reference");
}

void ReferenceChecked::apply(FactEffects& effects, const EntryHead& entry) const
{
    auto* on = meant(effects, reference, direction, wavelength);
    if (!on) return;
    const Decibel drift = level - on->set.level;
    JobState& state = effects.state();
    state.checks.push_back({direction, wavelength, {}, drift, entry.at(), entry.hash});
    const double tolerated = state.plan->policyDecimal("drift").value_or(0.1);
    if (std::abs(drift.value()) <= tolerated + 1e-9) {
        ++on->epoch;
        on->at = entry.at();
        on->fibres.clear();
        if (const auto it = state.references.find({direction, wavelength.value()}); it != state.references.end() && it->second.entry == reference)
            it->second.checkedAt = entry.at();
        return;
    }
    effects.voidReference(reference, fmt::format("it had drifted by {:+.2f} dB when it was checked", drift.value()));
    for (auto& [link, readings] : effects.light().readings)
        for (auto& read : readings)
            if (read.on == reference && read.entryEpoch == on->epoch && read.loss()) {
                effects.link(link).doubted[read.entry] = {fmt::format("the reference had drifted by {:+.2f} dB when it was checked", drift.value()),
                                                          read.loss()};
                read.reference.reset();
                read.shown.reset();
                effects.light().readLinks.insert(link);
            }
    for (auto& [cord, losses] : state.patchCords)
        for (auto& read : losses)
            if (read.on == reference && read.epoch == on->epoch && read.loss) {
                read.doubt = fmt::format("the reference had drifted by {:+.2f} dB when it was checked", drift.value());
                read.loss.reset();
            }
}

std::string SourceSwitchedOn::sentence(const JobState&) const { return fmt::format("{} switched on: cold", source.empty() ? "The source" : source); }

void SourceSwitchedOn::apply(FactEffects& effects, const EntryHead& entry) const
{
    JobState& state = effects.state();
    state.sourcesOn[source] = entry.at();
    effects.voidReferences([&](const ReferenceSet& set) { return source.empty() || sourceOf(set.with, state) == source || set.with.empty(); },
                           fmt::format("{} was switched on", source.empty() ? "the source" : source));
}

std::string MeterSignKept::sentence(const JobState&) const
{
    return fmt::format("{}, set to zero, shows a loss {} zero", meter.empty() ? "The meter" : meter, lossIsNegative ? "below" : "above");
}

void MeterSignKept::apply(FactEffects& effects, const EntryHead&) const { effects.state().meterSigns[meter] = lossIsNegative; }

}  // namespace clendo
