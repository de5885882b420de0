#include "record/facts/trace_facts.h"

#include "otdr/trace_json.h"
#include "record/facts/light_facts.h"
#include "record/state/fact_effects.h"
#include "record/state/reference_cords.h"

namespace clendo {

nlohmann::json TraceShot::body() const
{
    nlohmann::json out{{"link", link},
                       {"direction", name(direction)},
                       {"trace", trace},
                       {"trace_name", traceName},
                       {"wavelength_nm", wavelength.value()},
                       {"launch_m", cords.launch.value()},
                       {"tail_m", cords.tail.value()},
                       {"found", otdr::toJson(found)}};
    if (launchEnd) out["launch_end"] = launchEnd->text();
    if (tailEnd) out["tail_end"] = tailEnd->text();
    addMadeBy(out, made);
    return out;
}

TraceShot TraceShot::read(FactReading& in)
{
    TraceShot f;
    f.link = in.text("link");
    f.direction = in.direction();
    f.trace = in.text("trace");
    f.traceName = in.text("trace_name");
    f.wavelength = Nanometre(in.number("wavelength_nm", 0, 5000));
    f.cords = {Metre(in.number("launch_m", 0, 1e6)), Metre(in.number("tail_m", 0, 1e6))};
    if (auto analysis = otdr::analysisFromJson(in.document().value("found", nlohmann::json())))
        f.found = std::move(*analysis);
    else
        in.complain(analysis.error().message);
    if (in.find("launch_end")) f.launchEnd = in.face("launch_end");
    if (in.find("tail_end")) f.tailEnd = in.face("tail_end");
    f.made = readMadeBy(in);
    return f;
}

void TraceShot::complete(const JobState& state) { made = judgedBy(state, link); }

std::string TraceShot::sentence(const JobState&) const
{
    return fmt::format("Trace of {}, {}, {:.0f} nm: {}", link, wayWords(direction), wavelength.value(), traceName);
}

void TraceShot::apply(FactEffects& effects, const EntryHead& entry) const
{
    effects.link(link).traces.push_back({*this, entry.hash, entry.at()});
    const bool fromA = direction == Direction::AtoB;
    // before they touch each other
    for (const auto& [free, end] : {std::pair(launchEnd, fromA ? End::A : End::B), std::pair(tailEnd, fromA ? End::B : End::A)}) {
        if (!free || effects.state().state(link).mated.contains(end)) continue;
        for (const FaceId& face : {*free, FaceId{link, end, Side::Port}})
            effects.link(link).facesOfShots[entry.hash].insert_or_assign(face, effects.whyNotFitThen(effects.touch(face), entry.at()));
    }
    cordTouches(effects, launchEnd, link, fromA ? End::A : End::B, entry);
    cordTouches(effects, tailEnd, link, fromA ? End::B : End::A, entry);
}

}  // namespace clendo
