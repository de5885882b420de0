// The parts of a link's record that are measured with light: loss, right fibre, length, traces, joints.
#include "record/rules/link_light_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "record/rules/plan_match.h"
#include "record/rules/right_fibre.h"
#include "record/state/last_reading.h"

namespace clendo {
namespace {

PartVerdict ofLoss(LossVerdict verdict)
{
    switch (verdict) {
        case LossVerdict::Pass: return PartVerdict::Pass;
        case LossVerdict::NearLimit: return PartVerdict::NearLimit;
        case LossVerdict::Fail: return PartVerdict::Fail;
        case LossVerdict::NotValid: return PartVerdict::NotValid;
    }
    return PartVerdict::NotValid;
}

const std::optional<Decibel>& lossIn(const LossResult& result, Direction d) { return d == Direction::AtoB ? result.lossAb : result.lossBa; }

const LossResult* resultAt(const LinkState& s, Nanometre wavelength)
{
    if (!s.loss) return nullptr;
    const auto it = std::find_if(s.loss->results.begin(), s.loss->results.end(), [&](const LossResult& r) { return r.wavelength == wavelength; });
    return it == s.loss->results.end() ? nullptr : &*it;
}

std::string lossWords(const LossResult& result, ReferenceMethod method)
{
    std::string out;
    for (const Direction d : {Direction::AtoB, Direction::BtoA})
        if (const auto& loss = lossIn(result, d)) out += fmt::format("{}{:.2f} dB {}", out.empty() ? "" : ", ", loss->value(), sourceWords(d));
    if (out.empty()) return "no loss is known";
    out += fmt::format(", {}", name(method));
    if (result.limit && result.margin)
        out += fmt::format("; limit {:.2f} dB, {} connections counted, {:.2f} dB to spare", result.limit->total.value(),
                           result.limit->connectionsCounted(), result.margin->value());
    else
        out += "; no limit is known";
    return out;
}

Part lossPart(const JobState& state, const LinkState& s, Nanometre wavelength, bool wanted)
{
    Part part{PartKind::Loss, fmt::format("loss at {:.0f} nm", wavelength.value())};
    part.wanted = wanted;
    const LossResult* result = resultAt(s, wavelength);
    if (result) {
        part.says = lossWords(*result, s.loss->method);
        part.verdict = ofLoss(result->verdict);
    }
    const auto asked = state.plan->lossDirections();
    for (const Direction d : {Direction::AtoB, Direction::BtoA}) {
        const auto* reading = lastReading(s, wavelength, d);
        if (reading) {
            part.entries.push_back(reading->entry);
            if (reading->what.reference) part.entries.push_back(reading->what.reference);
        }
        if (result && lossIn(*result, d)) continue;
        if (!reading && std::find(asked.begin(), asked.end(), d) == asked.end()) continue;
        part.lacks.push_back(fmt::format("{}, {}{}", part.about, sourceWords(d), reading ? ", on a good reference" : ""));
    }
    return part;
}

}  // namespace

Metre lengthTolerance(Metre planned) { return Metre{std::max(2.0, 0.03 * planned.value())}; }

void addLossParts(Completeness& out, const JobState& state, const Link& link)
{
    const LinkState& s = state.state(link.id);
    const auto wanted = state.plan->wavelengthsFor(*link.cable);
    for (const int nm : wanted) out.parts.push_back(lossPart(state, s, Nanometre(nm), true));
    if (!s.loss) return;
    for (const auto& result : s.loss->results)
        if (std::none_of(wanted.begin(), wanted.end(), [&](int nm) { return result.wavelength == Nanometre(nm); }))
            out.parts.push_back(lossPart(state, s, result.wavelength, false));
}

void addRightFibre(Completeness& out, const JobState& state, const Link& link)
{
    const LinkState& s = state.state(link.id);
    Part part{PartKind::RightFibre, "right fibre"};
    part.wanted = state.policy("right_fibre") == "prove";
    if (s.lightSeen) {
        const auto& seen = s.lightSeen->what;
        part.entries.push_back(s.lightSeen->entry);
        part.says = seen.out ? fmt::format("light into fibre {} at A came out at fibre {} at B", seen.in, *seen.out)
                             : fmt::format("light into fibre {} at A came out nowhere at B", seen.in);
        if (link.cable->polarity != "straight") part.says += fmt::format(", planned {} ({})", belongsAt(link), link.cable->polarity);
        part.verdict = seen.out == belongsAt(link) ? PartVerdict::Pass : PartVerdict::Fail;
    } else {
        part.lacks.emplace_back(part.wanted ? "right fibre (polarity)" : "right fibre (polarity), which this job does not ask for");
        part.verdict = PartVerdict::NotAsked;
    }
    out.parts.push_back(std::move(part));
}

void addLength(Completeness& out, const JobState& state, const Link& link)
{
    const LinkState& s = state.state(link.id);
    const Metre planned = link.cable->length;
    Part part{PartKind::Length, "length"};
    std::optional<Metre> measured;
    std::string how;
    const auto shot = std::find_if(s.traces.rbegin(), s.traces.rend(), [](const auto& t) { return t.what.found.span.has_value(); });
    if (shot != s.traces.rend()) {
        measured = shot->what.found.span->length();
        how = fmt::format("trace at {:.0f} nm", shot->what.wavelength.value());
        part.entries.push_back(shot->entry);
    } else if (s.measured) {
        measured = s.measured->what.length;
        how = s.measured->what.how;
        part.entries.push_back(s.measured->entry);
    }
    if (!measured) {
        part.lacks.emplace_back("length");
    } else {
        const bool fits = std::abs((*measured - planned).value()) <= lengthTolerance(planned).value();
        part.says = fmt::format("{:.0f} m by {}, planned {:.0f} m", measured->value(), how, planned.value());
        if (!fits) {
            part.says += ": the limit counts the planned length. Correct the plan, or find out which fibre this is";
            part.verdict = PartVerdict::NotValid;
        }
    }
    out.parts.push_back(std::move(part));
}

namespace {

/// The end from which one trace is enough: where there is one that shows the link, else where there is any.
Direction theOneWay(const LinkState& s, Nanometre wavelength)
{
    const auto* there = latestShot(s, Direction::AtoB, wavelength);
    const auto* back = latestShot(s, Direction::BtoA, wavelength);
    const bool backIsBetter = back && (!there || (back->what.found.span && !there->what.found.span));
    return backIsBetter ? Direction::BtoA : Direction::AtoB;
}

}  // namespace

void addTraceParts(Completeness& out, const JobState& state, const Link& link)
{
    const LinkState& s = state.state(link.id);
    const bool tier2 = state.policy("tier") == "2", bothWays = state.policy("trace_ways") == "both";
    const auto asked = state.plan->wavelengthsFor(*link.cable);
    std::set<double> wavelengths(asked.begin(), asked.end());
    for (const auto& t : s.traces) wavelengths.insert(t.what.wavelength.value());
    for (const double nm : wavelengths) {
        const bool wavelengthAsked = std::any_of(asked.begin(), asked.end(), [&](int a) { return std::abs(nm - a) < sameWavelength.value(); });
        for (const Direction d : {Direction::AtoB, Direction::BtoA}) {
            const auto* shot = latestShot(s, d, Nanometre(nm));
            Part part{PartKind::Trace, fmt::format("trace at {:.0f} nm, {}", nm, wayWords(d))};
            part.wanted = tier2 && wavelengthAsked && (bothWays || d == theOneWay(s, Nanometre(nm)));
            if (shot && shot->what.found.span) {
                const auto& span = *shot->what.found.span;
                part.says = fmt::format("{:.0f} m", span.length().value());
                if (span.loss) part.says += fmt::format(", {:.2f} dB in this direction", span.loss->value());
                part.entries.push_back(shot->entry);
            } else if (shot) {
                part.says = shot->what.found.launchFault.value_or("the end of the fibre was not found");
                part.lacks.push_back(fmt::format("{}: it does not show the link ({})", part.about, part.says));
                part.entries.push_back(shot->entry);
            } else if (wavelengthAsked && (part.wanted || !tier2)) {
                part.lacks.push_back(tier2 ? part.about : fmt::format("{}, which this job does not ask for", part.about));
                if (!part.wanted) part.verdict = PartVerdict::NotAsked;
            } else {
                continue;
            }
            out.parts.push_back(std::move(part));
        }
    }
}

void addJointParts(Completeness& out, const JobState& state, const Link& link)
{
    const LinkState& s = state.state(link.id);
    const bool oneWay = state.policy("trace_ways") != "both";
    std::set<double> wavelengths;
    for (const auto& t : s.traces) wavelengths.insert(t.what.wavelength.value());
    for (const double nm : wavelengths) {
        const auto* there = latestShot(s, Direction::AtoB, Nanometre(nm));
        const auto* back = latestShot(s, Direction::BtoA, Nanometre(nm));
        const auto* shot = there && there->what.found.span ? there : back;
        if (!shot || !shot->what.found.span) continue;
        for (const auto& row : matchPlan(state, link, shot->what)) {
            if (!row.planned && !row.loss) continue;
            Part part{PartKind::Joint,
                      fmt::format("{} at {:.0f} nm", row.planned ? row.name : fmt::format("{:.0f} m, not in the plan", row.found->value()), nm)};
            part.wanted = false;
            part.entries.push_back(shot->entry);
            const auto loss = row.bothWays ? row.bothWays : row.loss;
            if (row.notMeasurable || (!loss && (row.found || row.kind == "connection"))) {
                part.lacks.push_back(
                    fmt::format("{}: {}", part.about, row.notMeasurable ? *row.notMeasurable : "its loss could not be told in this trace"));
            } else if (!loss) {
                part.says = "no loss to be seen";
            } else {
                part.says = fmt::format("{:.2f} dB{}", loss->value(), row.bothWays ? ", mean of both ways" : " in one direction");
                if (row.limit) part.says += fmt::format(", {:.2f} dB allowed", row.limit->value());
                if (row.bothWays) part.entries.push_back((shot == there ? back : there)->entry);
                // a figure from one end holds the mismatch of the fibres: over the limit it is a verdict only where the job asks for no other
                if (row.overLimit()) part.verdict = row.bothWays || oneWay ? PartVerdict::Fail : PartVerdict::NearLimit;
            }
            out.parts.push_back(std::move(part));
        }
    }
}

}  // namespace clendo
