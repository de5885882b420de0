// What to do with a link: its loss, its trace, its signature.
#include "record/advice/link_advice.h"

#include <fmt/format.h>

#include <cmath>

#include "record/output/loss_by_element.h"
#include "record/rules/cable_findings.h"
#include "record/rules/link_light_parts.h"
#include "record/rules/plan_match.h"
#include "record/rules/reference_health.h"

namespace clendo {
Advice lossAdvice(const JobState& state, const Link& link, std::int64_t now)
{
    Advice r;
    const LinkState& s = state.state(link.id);
    std::string missing;
    for (const Direction d : state.plan->lossDirections())
        for (const int nm : state.plan->wavelengthsFor(*link.cable))
            if (!state.reference(d, Nanometre(nm))) missing += fmt::format("{}{} nm {}", missing.empty() ? "" : ", ", nm, sourceWords(d));
    if (!s.loss) {
        r.headline = missing.empty() ? "Read the loss" : "Set the reference";
        r.sentence = missing.empty() ? fmt::format("Type what the meter shows for fibre {}, each wavelength, {}.", link.fibre,
                                                   state.plan->lossDirections().size() == 1 ? "source at A" : "source at A, then at B")
                                     : fmt::format("A reference is measured, never assumed. Missing: {}.", missing);
        r.help = {"Dark fibre, warm source, same wavelength on both, continuous wave. After the reference the cord stays on the source."};
        for (auto& trouble : referenceTroubles(state, *link.cable, now)) r.help.push_back(std::move(trouble));
        r.actions = {
            missing.empty() ? AdviceAction{command::readPower, "Type the readings"} : AdviceAction{command::setReference, "Set the reference"},
            {command::nextStep, "Next step"}};
        if (missing.empty() && !unprovenReferences(state, *link.cable).empty())
            r.actions.insert(r.actions.begin() + 1, {command::proveReference, "Prove the reference"});
        return r;
    }
    const LossResult* worst = nullptr;
    for (const auto& result : s.loss->results)
        if (result.margin && (!worst || *result.margin < *worst->margin)) worst = &result;
    switch (s.loss->verdict) {
        case LossVerdict::Pass: r.tone = Tone::Fit, r.headline = "Within the limit"; break;
        case LossVerdict::NearLimit: r.tone = Tone::Work, r.headline = "Too near to the limit to tell"; break;
        case LossVerdict::Fail: r.tone = Tone::Damaged, r.headline = "Over the limit"; break;
        case LossVerdict::NotValid: r.tone = Tone::Work, r.headline = "Not valid: reference first"; break;
    }
    if (worst && worst->limit)
        r.sentence =
            fmt::format("{:.2f} dB at {:.0f} nm, worse direction. Allowed loss: {}. {:.2f} dB to spare, {:.2f} dB uncertain.", worst->worst->value(),
                        worst->wavelength.value(), worst->limit->sum, worst->margin->value(), worst->uncertainty.value());
    for (auto& finding : runFindings(state, *link.cable)) r.help.push_back(std::move(finding));
    if (auto own = ownFinding(state, link); !own.empty()) r.help.push_back(std::move(own));
    for (const auto& result : s.loss->results)
        if (const auto where = lossByElement(state, link, result.wavelength))
            if (auto words = lossByElementWords(*where); !words.empty()) r.help.push_back(std::move(words));
    for (const auto& warning : s.loss->warnings) r.help.push_back(warning.message);
    if (worst && worst->limit && s.loss->verdict == LossVerdict::NearLimit) {
        const LimitSet* limits = state.plan->limitsFor(*link.cable);
        if (const auto settles = limits ? whatWouldSettleIt(*worst->margin, worst->conditions, *limits) : std::nullopt)
            r.help.insert(r.help.begin(), *settles);
    }
    if (worst) r.help.push_back(fmt::format("Uncertain by {}.", uncertaintyWords(worst->doubts, worst->uncertainty)));
    for (auto& trouble : referenceTroubles(state, *link.cable, now)) r.help.push_back(std::move(trouble));
    if (s.loss->method != state.plan->job.method)
        r.help.push_back(fmt::format("Read by the {} reference; the job's method is {} now.", name(s.loss->method), name(state.plan->job.method)));
    const Completeness all = completeness(state, link);
    if (all.complete(PartKind::Loss) && !all.complete(PartKind::RightFibre)) {
        r.help.emplace_back("Not proven yet: that light into this fibre at A comes out of the same number at B.");
        r.actions = {{command::proveFibre, "It came out here"}, {command::nextStep, "Next step"}, {command::readPower, "Type the readings"}};
        return r;
    }
    r.actions = {{command::nextStep, "Next step"}, {command::readPower, "Type the readings"}, {command::setReference, "Set the reference"}};
    return r;
}

namespace {

/// What two wavelengths say of a place, or what is to be done so that they do.
std::string causeWords(const JobState& state, const Link& link, const TraceShot& shot, const LineRow& row, bool otherWavelength)
{
    if (row.found)
        if (const auto both = atOtherWavelength(state.state(link.id), shot, *row.found)) {
            const std::string by = fmt::format("{:.2f} dB at the longer wavelength, {:.2f} dB at the shorter, {:.2f} ± {:.2f} dB more",
                                               both->longer.value(), both->shorter.value(), both->difference.value(), 2 * both->uncertainty.value());
            switch (both->cause) {
                case otdr::LossCause::Bend: return by + ": a bend or a pinch; look for it before anything is opened.";
                case otdr::LossCause::Joint: return by + ": no bend; a splice or a connection loses the same at both.";
                case otdr::LossCause::Unclear: return by + ": that tells no bend from a splice.";
            }
        }
    return otherWavelength ? "The shot at the other wavelength does not show it."
                           : "Shoot the other wavelength before anything is opened: a bend loses more at the longer one, a splice about the same.";
}

void addJointsOverLimit(Advice& r, const JobState& state, const Link& link, const TraceShot& shot)
{
    if (!shot.found.span) return;
    const auto& traces = state.state(link.id).traces;
    const bool otherWavelength = std::any_of(traces.begin(), traces.end(), [&](const auto& t) { return t.what.wavelength != shot.wavelength; });
    for (const auto& row : matchPlan(state, link, shot)) {
        if (!row.planned && !row.overLimit() && row.loss && *row.loss > Decibel(0.1))
            r.help.push_back(fmt::format("{:.2f} dB at {:.0f} m, {}, is not in the plan: a bend, a crush or an unplanned splice.", row.loss->value(),
                                         row.found->value(), row.where));
        if (row.shifted)
            r.help.push_back(fmt::format("{} lies {:.0f} m {} than planned.", row.name, std::abs(row.shifted->value()),
                                         *row.shifted > Metre(0) ? "further from A" : "nearer to A"));
        if (!row.overLimit()) continue;
        const std::string what = row.planned ? row.name : fmt::format("What is not in the plan at {:.0f} m, {},", row.found->value(), row.where);
        const Decibel lost = row.bothWays.value_or(*row.loss);
        const auto both = row.found ? atOtherWavelength(state.state(link.id), shot, *row.found) : std::nullopt;
        const bool bend = both && both->cause == otdr::LossCause::Bend;
        if (r.tone == Tone::Fit) {
            r.tone = Tone::Work;
            r.headline = bend                       ? "Look for a bend"
                         : row.kind == "connection" ? "Look at one connection"
                         : !row.planned             ? "Something is not in the plan"
                         : otherWavelength          ? "Open one splice"
                                                    : "Check it at the other wavelength first";
        }
        r.help.insert(r.help.begin(), fmt::format("{} loses {:.2f} dB{}; {:.2f} dB are allowed. {}", what, lost.value(),
                                                  row.bothWays ? ", mean of both ways" : " in this direction", row.limit->value(),
                                                  causeWords(state, link, shot, row, otherWavelength)));
    }
}

}  // namespace

Advice traceAdvice(const JobState& state, const Link& link)
{
    Advice r;
    const LinkState& s = state.state(link.id);
    if (s.traces.empty()) {
        r.headline = "Shoot the fibre";
        r.sentence = fmt::format("No trace of fibre {} yet. Open the file that the OTDR saved, or drop it here.", link.fibre);
        r.help = {"Prove the fibre dark first. The launch cord must be proven: a crushed one looks like a dead link."};
        r.actions = {{command::openTrace, "Open a trace"}, {command::nextStep, "Next step"}};
        return r;
    }
    const TraceShot& shot = s.traces.back().what;
    if (shot.found.launchFault) {
        r.tone = Tone::Damaged;
        r.headline = "No light into the link";
        r.sentence = *shot.found.launchFault;
    } else if (!shot.found.span) {
        r.tone = Tone::Work;
        r.headline = "The link cannot be measured";
        r.sentence = "The end of the fibre was not found in this shot. Choose a longer range, a longer pulse or more averaging.";
    } else {
        const auto& span = *shot.found.span;
        const double planned = link.cable->length.value(), off = span.length().value() - planned;
        const bool fits = std::abs(off) <= lengthTolerance(link.cable->length).value();
        r.tone = fits ? Tone::Fit : Tone::Work;
        r.headline = fits ? "The length fits the plan" : off < 0 ? "Shorter than planned" : "Longer than planned";
        r.sentence = fmt::format("{:.0f} m of fibre, planned {:.0f} m", span.length().value(), planned);
        if (span.loss) r.sentence += fmt::format("; {:.2f} dB in this direction at {:.0f} nm", span.loss->value(), shot.wavelength.value());
        if (span.returnLoss) r.sentence += fmt::format("; return loss {:.1f} dB", span.returnLoss->value());
        r.sentence += ".";
    }
    r.help = shot.found.notes;
    addJointsOverLimit(r, state, link, shot);
    for (const auto& e : shot.found.events)
        if (e.kind == otdr::EventKind::Gain)
            r.help.push_back(
                fmt::format("The gain at {:.0f} m is a mismatch of fibres, not a real gain: shoot from the other end and average.", e.at.value()));
    const Completeness all = completeness(state, link);
    for (const auto& part : all.parts)
        if (part.kind == PartKind::Trace && part.wanted)
            for (const auto& lack : part.lacks) r.help.push_back(fmt::format("Still to shoot: {}.", lack));
    if (!otherWay(s, shot)) r.help.emplace_back("One direction only: splice losses can be wrong by the fibres' mismatch.");
    r.actions = {{command::nextStep, "Next step"}, {command::openTrace, "Open a trace"}};
    if (s.traces.size() > 1) r.actions.push_back({command::otherTrace, "The other shot"});
    return r;
}

Advice signAdvice(const JobState& state, const Link& link)
{
    Advice r;
    const auto& signature = state.state(link.id).signature;
    const Completeness all = completeness(state, link);
    const auto lacking = all.missing();
    for (const auto& lack : all.notTested())
        if (std::find(lacking.begin(), lacking.end(), lack) == lacking.end()) r.help.push_back(fmt::format("Not tested: {}.", lack));
    for (const auto& exception : all.exceptions) r.help.push_back(fmt::format("Exception: {}.", exception));
    if (signature && signature->stands) {
        r.tone = Tone::Fit;
        r.headline = "Signed off";
        r.sentence = fmt::format("Fibre {} was signed by {}, and what it was signed for still stands.", link.fibre, signature->who);
        if (!signature->what.remark.empty()) r.sentence += fmt::format(" Remark: {}.", signature->what.remark);
        r.actions = {{command::certificate, "Write the certificate"}, {command::nextStep, "Next step"}};
        return r;
    }
    if (!lacking.empty()) {
        r.headline = signature ? "Signed before, not finished now" : "Not finished";
        constexpr std::size_t told = 3;
        for (std::size_t i = 0; i < std::min(told, lacking.size()); ++i) r.sentence += fmt::format("{}{}", i == 0 ? "Missing: " : "; ", lacking[i]);
        r.sentence += lacking.size() > told ? fmt::format("; and {} more, in the table.", lacking.size() - told) : ".";
        if (signature) r.tone = Tone::Work;
        r.actions = {{command::nextStep, "Next step"}, {command::certificate, "Write the certificate"}};
        return r;
    }
    const PartVerdict verdict = all.verdict();
    r.tone = signature ? Tone::Work : verdict == PartVerdict::Pass ? Tone::Fit : verdict == PartVerdict::NearLimit ? Tone::Work : Tone::Damaged;
    r.headline = signature ? "Overtaken: sign again" : "Sign off";
    r.sentence = fmt::format("Everything that the job asks for is there. Verdict of fibre {}: {}", link.fibre, name(verdict));
    const Part* worst = all.worst();
    r.sentence += worst ? fmt::format(", because of {}. Who signs says that this is the result, not that it is good.", worst->about) : ".";
    if (signature)
        r.sentence = fmt::format("{} signed it, and the record says something else since: see what differs. {}", signature->who, r.sentence);
    r.actions = {
        {command::sign, signature ? "Sign again" : "Sign off"}, {command::certificate, "Write the certificate"}, {command::nextStep, "Next step"}};
    return r;
}

}  // namespace clendo
