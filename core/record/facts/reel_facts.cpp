#include "record/facts/reel_facts.h"

#include <nlohmann/json.hpp>

#include "otdr/trace_json.h"
#include "record/state/fact_effects.h"
#include "reel/reel_json.h"

namespace clendo {
namespace {

using nlohmann::json;

ReelState& reelOf(FactEffects& effects, const std::string& reel) { return effects.state().reels.change(reel); }

int fibreIn(FactReading& in) { return in.whole("fibre", 1, 10'000); }

reel::ReelVerdict verdictIn(FactReading& in, std::string_view key)
{
    const auto verdict = reel::reelVerdictNamed(in.text(key));
    if (!verdict) in.complain(fmt::format("“{}” is accept, accept-with-note, reject or not-judged", key));
    return verdict.value_or(reel::ReelVerdict::NotJudged);
}

/// What was read, or what is wrong with it.
template <class T>
T taken(FactReading& in, Result<T> result)
{
    if (result) return std::move(*result);
    in.complain(result.error().message);
    return {};
}

}  // namespace

json ReelDelivered::body() const { return reel::toJson(delivery); }

ReelDelivered ReelDelivered::read(FactReading& in) { return {taken(in, reel::deliveryFromJson(in.document()))}; }

std::string ReelDelivered::sentence(const JobState&) const
{
    return fmt::format("Reel {}: {} fibres {}{}{}", delivery.reel, delivery.fibres, delivery.type,
                       delivery.ordered ? fmt::format(", {:.0f} m ordered", delivery.ordered->value()) : "",
                       delivery.marks ? fmt::format(", marks {:.0f} and {:.0f} {}", delivery.marks->outer, delivery.marks->inner,
                                                    delivery.marks->unit == reel::MarkUnit::Feet ? "ft" : "m")
                                      : ", marks not read");
}

void ReelDelivered::apply(FactEffects& effects, const EntryHead& entry) const
{
    reelOf(effects, delivery.reel).delivered = {*this, entry.hash, entry.at()};
}

std::string ReelPictured::sentence(const JobState&) const
{
    return fmt::format("Photograph of reel {}: {}", reel, says.empty() ? pictureName : says);
}

void ReelPictured::apply(FactEffects& effects, const EntryHead& entry) const
{
    reelOf(effects, reel).pictures.push_back({*this, entry.hash, entry.at()});
}

json ReelSampled::body() const
{
    return {{"reel", reel},
            {"level", level},
            {"aql", aql},
            {"seed", seed},
            {"lot", sample.plan.lot},
            {"size", sample.plan.size},
            {"accept", sample.plan.accept},
            {"reject", sample.plan.reject},
            {"fibres", sample.drawn}};
}

ReelSampled ReelSampled::read(FactReading& in)
{
    constexpr double most = 10'000;
    ReelSampled f;
    f.reel = in.text("reel");
    f.level = in.text("level");
    f.aql = in.number("aql", 0, 100);
    f.seed = static_cast<std::uint32_t>(in.number("seed", 0, 4294967295.0));
    f.sample.plan = {in.whole("lot", 1, most), in.whole("size", 1, most), in.whole("accept", 0, most), in.whole("reject", 1, most)};
    for (const auto fibre : in.list("fibres")) {
        const int n = fibre.is_number_integer() ? fibre.get<int>() : 0;
        if (n < 1 || n > f.sample.plan.lot) in.complain("“fibres” are numbers of fibres of the lot");
        f.sample.drawn.push_back(n);
    }
    return f;
}

std::string ReelSampled::sentence(const JobState&) const
{
    return fmt::format("Drew {} of the {} fibres of reel {} (level {}, AQL {}, seed {}): {} bad reject it", sample.plan.size, sample.plan.lot, reel,
                       level, aql, seed, sample.plan.reject);
}

void ReelSampled::apply(FactEffects& effects, const EntryHead& entry) const
{
    ReelState& state = reelOf(effects, reel);
    state.sampled = {*this, entry.hash, entry.at()};
    ++state.draws;
}

json ReelJointMade::body() const { return {{"reel", reel}, {"fibre", fibre}, {"kind", kind}, {"part", part}, {"done", done}, {"left", left}}; }

ReelJointMade ReelJointMade::read(FactReading& in)
{
    return {in.text("reel"), fibreIn(in), in.text("kind"), in.textOr("part", ""), in.texts("done"), in.texts("left")};
}

std::string ReelJointMade::sentence(const JobState&) const
{
    return fmt::format("Joint to reel {}, fibre {}: {}{}{}", reel, fibre, kind, part.empty() ? "" : ", " + part,
                       left.empty() ? "" : fmt::format("; {} of {} steps not ticked", left.size(), left.size() + done.size()));
}

void ReelJointMade::apply(FactEffects& effects, const EntryHead& entry) const
{
    reelOf(effects, reel).joints.push_back({*this, entry.hash, entry.at()});
}

json ReelTraced::body() const
{
    json out{{"reel", reel},
             {"fibre", fibre},
             {"trace", trace},
             {"trace_name", traceName},
             {"wavelength_nm", wavelength.value()},
             {"launch_m", launch.value()},
             {"spacing_m", spacing.value()},
             {"found", otdr::toJson(found)}};
    if (!cord.empty()) out["cord"] = cord;
    return out;
}

ReelTraced ReelTraced::read(FactReading& in)
{
    ReelTraced f;
    f.reel = in.text("reel");
    f.fibre = fibreIn(in);
    f.trace = in.text("trace");
    f.traceName = in.text("trace_name");
    f.wavelength = in.wavelength();
    f.launch = Metre(in.number("launch_m", 0, 1e6));
    f.cord = in.textOr("cord", "");
    f.spacing = Metre(in.number("spacing_m", 0, 1e4));
    f.found = taken(in, otdr::analysisFromJson(in.document().value("found", json())));
    return f;
}

std::string ReelTraced::sentence(const JobState&) const
{
    return fmt::format("Trace of reel {}, fibre {}, {:.0f} nm{}: {}", reel, fibre, wavelength.value(),
                       launch > Metre(0) ? "" : ", without a launch cord", traceName);
}

void ReelTraced::apply(FactEffects& effects, const EntryHead& entry) const { reelOf(effects, reel).shots.push_back({*this, entry.hash, entry.at()}); }

json ReelDecided::body() const { return {{"reel", reel}, {"verdict", name(verdict)}, {"proposed", name(proposed)}, {"note", note}}; }

ReelDecided ReelDecided::read(FactReading& in)
{
    return {in.text("reel"), verdictIn(in, "verdict"), verdictIn(in, "proposed"), in.textOr("note", "")};
}

std::string ReelDecided::sentence(const JobState&) const
{
    return fmt::format("Reel {} was {}{}{}", reel, decided(verdict),
                       verdict == proposed ? "" : fmt::format(", where “{}” was proposed", words(proposed)), note.empty() ? "" : "; " + note);
}

void ReelDecided::apply(FactEffects& effects, const EntryHead& entry) const
{
    ReelState& state = reelOf(effects, reel);
    state.decided = {*this, entry.hash, entry.at()};
    state.decidedBy = entry.who;
    state.shotsWhenDecided = state.shots.size();
}

json CutsPlanned::body() const { return {{"wish", reel::toJson(wish)}, {"cuts", reel::toJson(cuts)}, {"by_hand", byHand}}; }

CutsPlanned CutsPlanned::read(FactReading& in)
{
    const json all = in.document();
    CutsPlanned f;
    f.wish = taken(in, reel::cuttingWishFromJson(all.value("wish", json())));
    f.cuts = taken(in, reel::reelCutsFromJson(all.value("cuts", json())));
    f.byHand = in.flagOr("by_hand", false);
    return f;
}

std::string CutsPlanned::sentence(const JobState&) const
{
    return fmt::format("Cutting plan: {} runs from {} reels{}", wish.runs.size(), cuts.size(), byHand ? ", by hand" : "");
}

void CutsPlanned::apply(FactEffects& effects, const EntryHead& entry) const
{
    effects.state().cuts = std::make_shared<const Filed<CutsPlanned>>(Filed<CutsPlanned>{*this, entry.hash, entry.at()});
}

std::string CableLaid::sentence(const JobState&) const
{
    return fmt::format("Cable {} was laid from reel {}: its end {} is the one that was shot into", cable, reel, shotEndAtA ? "A" : "B");
}

void CableLaid::apply(FactEffects& effects, const EntryHead&) const { effects.state().laid.insert_or_assign(cable, *this); }

}  // namespace clendo
