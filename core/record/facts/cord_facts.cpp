#include "record/facts/cord_facts.h"

#include "record/state/fact_effects.h"
#include "record/state/resting.h"

namespace clendo {

nlohmann::json CordRead::body() const
{
    nlohmann::json out{{"cord", cord}, {"wavelength_nm", wavelength.value()}, {"direction", name(direction)}, {"power_dbm", power.value()}};
    if (!end.empty()) out["end"] = end;
    if (acquired) out["acquired"] = acquired->body();
    out["reference"] = reference ? nlohmann::json(reference.hex()) : nlohmann::json(nullptr);
    return out;
}

CordRead CordRead::read(FactReading& in)
{
    CordRead f;
    f.cord = in.text("cord");
    f.end = in.textOr("end", "");
    if (!f.end.empty() && f.end != "A" && f.end != "B") in.complain("“end” is A or B");
    f.wavelength = in.wavelength();
    f.direction = in.direction();
    f.power = DecibelMilliwatt(in.number("power_dbm", -90, 30));
    f.reference = in.entryOrNone("reference");
    f.acquired = Acquired::read(in);
    return f;
}

void CordRead::complete(const JobState& state)
{
    if (const auto* inForce = state.reference(direction, wavelength); inForce && !reference) reference = inForce->entry;
}

std::string CordRead::sentence(const JobState&) const
{
    return fmt::format("Read patch cord {}{} at {:.0f} nm: {:.2f} dBm{}", cord, end.empty() ? ", both connectors" : fmt::format(", end {}", end),
                       wavelength.value(), power.value(), reference ? "" : ", without a reference");
}

void CordRead::apply(FactEffects& effects, const EntryHead& entry) const
{
    CordLoss out{end, wavelength, {}, ReferenceMethod::SingleEnded, reference, 0, {}, entry.at(), entry.hash};
    const auto named = effects.light().references.find(reference);
    if (named != effects.light().references.end() && named->second.set.direction == direction && named->second.set.wavelength == wavelength) {
        KeptReading kept;
        static_cast<Reading&>(kept) = {wavelength, direction, {}, power};
        PowerRead read{"patch cord " + cord, wavelength, direction, power, reference};
        out.method = named->second.set.method;
        if (const auto doubt = restOn(kept, named->second, read, effects.state(), entry.at())) out.doubt = doubt->why;
        out.loss = kept.loss();
        out.epoch = kept.entryEpoch;
    }
    effects.state().patchCords[cord].push_back(std::move(out));
}

}  // namespace clendo
