// What to do with a link: its loss, its signature.
#include "record/advice/link_advice.h"

#include <fmt/format.h>

#include <cmath>

#include "record/output/loss_by_element.h"
#include "record/rules/cable_findings.h"
#include "record/rules/link_light_parts.h"
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
