#include "record/facts/fibre_facts.h"

#include "record/state/fact_effects.h"

namespace clendo {

LightSeen LightSeen::read(FactReading& in)
{
    LightSeen f{in.text("cable"), in.whole("in", 1, 100000), {}};
    if (const auto out = in.numberOrNothing("out", 1, 100000)) f.out = static_cast<int>(*out);
    return f;
}

std::string LightSeen::sentence(const JobState&) const
{
    return out ? fmt::format("Light into fibre {} of {} at A came out at fibre {} at B", in, cable, *out)
               : fmt::format("Light into fibre {} of {} at A came out nowhere at B", in, cable);
}

void LightSeen::apply(FactEffects& effects, const EntryHead& entry) const { effects.link(link()).lightSeen = {*this, entry.hash, entry.at()}; }

std::string LengthMeasured::sentence(const JobState&) const { return fmt::format("Length of {}: {:.1f} m, by {}", link, length.value(), how); }

void LengthMeasured::apply(FactEffects& effects, const EntryHead& entry) const { effects.link(link).measured = {*this, entry.hash, entry.at()}; }

}  // namespace clendo
