#include "record/ruling.h"

#include <fmt/format.h>

#include <algorithm>

#include "face/compare_looks.h"
#include "face/meaning.h"
#include "record/ferrule.h"
#include "record/plan_match.h"
#include "record/scale_check.h"

namespace clendo {
namespace {

RulingRow rowOf(const RuleOutcome& o)
{
    const std::string allowed = !o.rule.allowed ? "any" : *o.rule.allowed == 0 ? "none" : std::to_string(*o.rule.allowed);
    return {std::string(name(o.rule.zone)), bandWords(o.rule), allowed, std::to_string(o.counted), o.met};
}

/// "One particle of 6.2 ± 0.9 µm in zone B (cladding). The rule allows none over 5 µm."
std::string whyBroken(const RuleOutcome& broken, const std::vector<Finding>& findings, const Profile& profile)
{
    const auto it =
        std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return !broken.findings.empty() && f.id == broken.findings.front(); });
    const char* zone = broken.rule.zone == Zone::A   ? "core, zone A"
                       : broken.rule.zone == Zone::B ? "cladding, zone B"
                       : broken.rule.zone == Zone::C ? "adhesive, zone C"
                                                     : "contact, zone D";
    const std::string allowed = *broken.rule.allowed == 0 ? "none" : fmt::format("at most {}", *broken.rule.allowed);
    std::string what = "Something";
    if (it != findings.end()) {
        const bool scratch = it->kind == FindingKind::Scratch;
        const double uncertain = sizeUncertainty(*it, profile).value();
        what = scratch ? fmt::format("a scratch {:.1f} ± {:.1f} µm wide", it->width.value(), uncertain)
                       : fmt::format("a {} of {:.1f} ± {:.1f} µm", name(it->appearance), it->size.value(), uncertain);
    }
    if (broken.counted == 1) {
        what[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(what[0])));
        return fmt::format("{} in the {}. The rule allows {} ({}).", what, zone, allowed, bandWords(broken.rule));
    }
    return fmt::format("{} findings in the {}, the first {}. The rule allows {} ({}).", broken.counted, zone, what, allowed, bandWords(broken.rule));
}

/// What the last cleaning did, as a sentence; empty where there is no look before the last.
std::string sinceBefore(const FaceState& state)
{
    const Try *last = state.lastJudged(), *before = state.judgedBefore();
    if (!before) return {};
    const auto compared = face::compareLooks(before->seen.measured.findings, last->seen.measured.findings);
    return fmt::format(" Since the look before: {} gone, {} moved, {} stayed, {} new.", compared.count(face::Fate::Gone),
                       compared.count(face::Fate::Moved), compared.count(face::Fate::Stayed), compared.count(face::Fate::New));
}

void addUnchecked(Ruling& ruling, const JobState& state)
{
    if (!state.profile.checked && !state.profile.name.empty())
        ruling.help.push_back(
            fmt::format("Criteria: {}, version {}. Not yet compared with a licensed copy.", state.profile.name, state.profile.version));
}

constexpr Micrometre looseFrom{5};  // particles over about 5 um burst and spread on mating

std::string direction(Direction d) { return d == Direction::AtoB ? "A to B" : "B to A"; }

}  // namespace

std::string methodWords(const std::string& method)
{
    if (method == "dry") return "dry, fresh tape";
    if (method == "wet-then-dry") return "wet, then dry";
    if (method == "fresh-tool") return "wet, then dry, fresh tool";
    return method;
}

CleaningAdvice adviceFor(const FaceState& face)
{
    // stronger each time: dry, dry, wet then dry, wet then dry with a fresh tool (docs/cleaning.md)
    if (face.cleanings < 2) {
        const Try* last = face.lastJudged();
        const bool film = last && std::any_of(last->seen.measured.findings.begin(), last->seen.measured.findings.end(), [](const Finding& f) {
                              return f.appearance == Appearance::Film || f.appearance == Appearance::Droplet;
                          });
        if (!film || face.cleanings == 0) return {"dry", "Dry: one stroke on fresh tape, one direction, never reuse the strip."};
    }
    if (face.cleanings < 3) return {"wet-then-dry", "Wet, then dry at once: fresh wipe area, one direction. Eye protection, no flame, let it dry."};
    return {"fresh-tool", "Wet, then dry, with a fresh tool: the one in your hand may carry the dirt. Eye protection, no flame."};
}

Ruling emptyJobRuling()
{
    Ruling r;
    r.headline = "Plan the first cable";
    r.sentence = "This job has no links yet. Name a cable with its two ends, its fibres and its length; the links and the round follow from that.";
    r.actions = {{ActionKind::PlanCable, "Plan a cable"}};
    return r;
}

namespace {

Ruling rulingOfOne(const JobState& state, const Link& link, const FaceId& id)
{
    const FaceState& face = state.face(id);
    Ruling r;
    const Try* latest = face.tries.empty() ? nullptr : &face.tries.back();
    if (latest && !latest->verdict && face.condition != FaceCondition::Fit) {
        r.headline = "Take the picture again";
        for (const auto& reason : latest->reasons) r.sentence += (r.sentence.empty() ? "" : " ") + reason;
        if (r.sentence.empty()) r.sentence = fmt::format("The criteria have no class “{}”; this face cannot be judged.", link.cable->criteria);
        r.actions = {{ActionKind::TakePicture, "Take a picture"}};
        return r;
    }
    const Try* judged = face.lastJudged();
    if (judged)
        for (const auto& o : judged->verdict->outcomes)
            if (o.rule.allowed || o.counted > 0) r.rows.push_back(rowOf(o));
    std::stable_partition(r.rows.begin(), r.rows.end(), [](const RulingRow& row) { return !row.met; });  // what is broken is read first
    switch (face.condition) {
        case FaceCondition::NotSeen:
            r.headline = "Look first";
            r.sentence = fmt::format("The {} was not seen yet. Nothing is mated that was not seen; a clean face needs no cleaning.", link.where(id));
            r.help = {"Prove the fibre dark with the power meter before anything else; never look into it.",
                      "V shows the live picture of a scope. A picture also comes from the watched folder, by drag and drop, or from a file."};
            r.actions = {{ActionKind::TakePicture, "Take a picture"}, {ActionKind::NextStep, "Next step"}};
            return r;
        case FaceCondition::Stale:
            r.headline = "Look again";
            r.sentence = fmt::format("The {} was cleaned ({}) and not looked at since.", link.where(id),
                                     face.cleanedSince.empty() ? "" : methodWords(face.cleanedSince.back().method));
            r.actions = {{ActionKind::TakePicture, "Take a picture"}, {ActionKind::NextStep, "Next step"}};
            return r;
        case FaceCondition::Fit: {
            r.tone = Tone::Fit;
            const bool mated = state.state(link.id).mated.contains(id.end);
            const bool ready = !mated && mayMate(state, link, id.end).has_value();
            if (const auto mix = coreMix(state, link, id.end); mix && !mated) {
                r.tone = Tone::Damaged;
                r.headline = "Do not mate: wrong core";
                r.sentence = fmt::format("The {}. Both can be clean and still lose most of the light.", *mix);
                r.actions = {{ActionKind::TakePicture, "Take a picture"}, {ActionKind::NextStep, "Next step"}};
                break;
            }
            r.headline = mated ? "Mated" : ready ? "Fit: mate now" : "Fit";
            r.sentence = mated   ? "Both faces were seen fit and are joined."
                         : ready ? "Both faces are fit. Join them now, or cap them: clean has an age."
                                 : fmt::format("The {} meets the criteria. Its partner comes next.", link.where(id));
            if (judged && judged->verdict->nearLimit)
                r.help.emplace_back("Near a limit: half the measuring uncertainty would turn the verdict. Look at the findings yourself.");
            if (ready) r.actions.push_back({ActionKind::Mate, "Mate"});
            r.actions.push_back({ActionKind::NextStep, "Next step"});
            break;
        }
        case FaceCondition::Work:
        case FaceCondition::Damaged: {
            const RuleOutcome* broken = judged ? judged->verdict->broken() : nullptr;
            if (broken) r.sentence = whyBroken(*broken, judged->seen.measured.findings, state.profile) + sinceBefore(face);
            if (face.condition == FaceCondition::Damaged || face.cleanings >= state.job.attempts) {
                r.tone = Tone::Damaged;
                r.headline = face.condition == FaceCondition::Damaged ? "Stop cleaning: damaged" : "Stop cleaning: decide";
                r.help = {face.condition == FaceCondition::Damaged
                              ? "What broke the rule stayed at its place through two methods: it is damage. Repolish or replace."
                              : fmt::format("{} cleanings did not make it fit: repolish, replace, or let the crew lead decide.", face.cleanings)};
                r.actions = {{ActionKind::NextStep, "Next step"}, {ActionKind::TakePicture, "Take a picture"}, {ActionKind::Clean, "I cleaned it"}};
            } else {
                r.tone = Tone::Work;
                r.headline = face.cleanings == 0 ? "Clean, then look again" : "Clean again, stronger";
                r.help = {adviceFor(face).words};
                if (broken)
                    for (const auto& f : judged->seen.measured.findings)
                        if (f.id == broken->findings.front()) r.help.emplace_back(face::meaningOf(f.appearance));
                r.actions = {{ActionKind::Clean, "I cleaned it"}, {ActionKind::TakePicture, "Take a picture"}, {ActionKind::NextStep, "Next step"}};
            }
            break;
        }
    }
    if (judged) {
        if (const auto scale = scaleDisagrees(state, judged->seen.measured)) r.help.push_back(*scale);
        for (const auto fault : judged->seen.measured.making) r.help.emplace_back(sentenceOf(fault));
        const auto criteria = state.criteriaFor(link);
        const auto loose = std::count_if(judged->seen.measured.findings.begin(), judged->seen.measured.findings.end(), [&](const Finding& f) {
            const auto zone = criteria ? zoneOf(f, *criteria) : std::nullopt;
            return (zone == Zone::C || zone == Zone::D) && f.kind == FindingKind::Defect && f.size >= looseFrom;
        });
        if (face.condition == FaceCondition::Fit && loose > 0)
            r.help.push_back(fmt::format("{} on the ferrule: allowed, but loose dirt moves when the pair is mated.",
                                         loose == 1 ? std::string("One particle lies") : fmt::format("{} particles lie", loose)));
    }
    if (judged)
        for (const auto& o : judged->overruled) r.help.push_back(fmt::format("Overruled by hand ({}): {}.", name(o.as), o.reason));
    addUnchecked(r, state);
    return r;
}

}  // namespace

Ruling faceRuling(const JobState& state, const Link& chosen, const FaceId& chosenId)
{
    // a ferrule is cleaned and mated as one: what is next for it is said whichever of its fibres is chosen
    const FaceId id = decidingFace(state, chosenId);
    const Link& link = *state.link(id.link);
    Ruling r = rulingOfOne(state, link, id);
    if (link.cable->ferruleFibres <= 1) return r;
    r.help.insert(r.help.begin(), ferruleTally(state, id));
    if (id.link != chosen.id) r.sentence = fmt::format("Fibre {}: {}", link.fibre, r.sentence);
    if (state.job.stopAtFirstBad) r.help.emplace_back("This job stops at the first bad group of fibres: clean before the next group is looked at.");
    if (const auto pins = pinMix(state, link, id.end)) {
        r.tone = Tone::Damaged;
        r.headline = "Do not mate: guide pins";
        r.sentence = *pins + ".";
        r.sentence[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(r.sentence[0])));
    }
    return r;
}

Ruling lossRuling(const JobState& state, const Link& link)
{
    Ruling r;
    const LinkState& s = state.state(link.id);
    std::string missing;
    for (const Direction d : {Direction::AtoB, Direction::BtoA})
        for (const int nm : state.wavelengthsFor(*link.cable))
            if (!state.references.contains({d, double(nm)})) missing += fmt::format("{}{} nm {}", missing.empty() ? "" : ", ", nm, direction(d));
    if (!s.loss) {
        r.headline = missing.empty() ? "Read the loss" : "Set the reference";
        r.sentence = missing.empty() ? fmt::format("Type what the meter shows for fibre {}, each wavelength, both directions.", link.fibre)
                                     : fmt::format("A reference is measured, never assumed. Missing: {}.", missing);
        r.help = {"Dark fibre, warm source, same wavelength on both, continuous wave. After the reference the cord stays on the source."};
        r.actions = {
            missing.empty() ? RulingAction{ActionKind::ReadPower, "Type the readings"} : RulingAction{ActionKind::SetReference, "Set the reference"},
            {ActionKind::NextStep, "Next step"}};
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
        r.sentence = fmt::format("{:.2f} dB at {:.0f} nm, worst way. Limit: {}. {:.2f} dB to spare, {:.2f} dB uncertain.", worst->worst->value(),
                                 worst->wavelength.value(), worst->limit->sum, worst->margin->value(), worst->uncertainty.value());
    for (const auto& warning : s.loss->warnings) r.help.push_back(warning.message);
    r.actions = {{ActionKind::NextStep, "Next step"}, {ActionKind::ReadPower, "Type the readings"}, {ActionKind::SetReference, "Set the reference"}};
    return r;
}

namespace {

void addJointsOverLimit(Ruling& r, const JobState& state, const Link& link, const TraceShot& shot)
{
    if (!shot.found.span) return;
    for (const auto& row : matchPlan(state, link, shot)) {
        if (!row.planned && row.loss && *row.loss > Decibel(0.1))
            r.help.push_back(fmt::format("{:.2f} dB at {:.0f} m stands in no plan: a bend, a crush or an unplanned splice.", row.loss->value(),
                                         row.found->value()));
        if (!row.overLimit()) continue;
        const Decibel lost = row.bothWays.value_or(*row.loss);
        if (r.tone == Tone::Fit) {
            r.tone = Tone::Work;
            r.headline = row.kind == "splice" ? "Open one splice" : "Look at one connection";
        }
        r.help.insert(r.help.begin(),
                      fmt::format("{} loses {:.2f} dB{}; {:.2f} dB are allowed. Shoot the other wavelength too: a bend loses more at the longer one, "
                                  "a splice about the same.",
                                  row.name, lost.value(), row.bothWays ? ", mean of both ways" : " in this direction", row.limit->value()));
    }
}

}  // namespace

Ruling traceRuling(const JobState& state, const Link& link)
{
    Ruling r;
    const LinkState& s = state.state(link.id);
    if (s.traces.empty()) {
        r.headline = "Shoot the fibre";
        r.sentence = fmt::format("No trace of fibre {} yet. Open the file that the OTDR saved, or drop it here.", link.fibre);
        r.help = {"Prove the fibre dark first. The launch cord must be proven: a crushed one looks like a dead link."};
        r.actions = {{ActionKind::OpenTrace, "Open a trace"}, {ActionKind::NextStep, "Next step"}};
        return r;
    }
    const TraceShot& shot = s.traces.back();
    if (shot.found.launchFault) {
        r.tone = Tone::Damaged;
        r.headline = "The launch cord is broken";
        r.sentence = *shot.found.launchFault;
    } else if (!shot.found.span) {
        r.tone = Tone::Work;
        r.headline = "The link cannot be measured";
        r.sentence = "The end of the fibre was not found in this shot. Choose a longer range, a longer pulse or more averaging.";
    } else {
        const auto& span = *shot.found.span;
        const double planned = link.cable->length.value(), off = span.length().value() - planned;
        const bool fits = std::abs(off) < std::max(20.0, 0.03 * planned);
        r.tone = fits ? Tone::Fit : Tone::Work;
        r.headline = fits ? "The trace fits the plan" : off < 0 ? "Shorter than planned" : "Longer than planned";
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
                fmt::format("The gain at {:.0f} m is a mismatch of fibres, not won light: shoot from the other end and average.", e.at.value()));
    if (s.traces.size() == 1) r.help.emplace_back("One direction only: splice losses can be wrong by the fibres' mismatch.");
    r.actions = {{ActionKind::NextStep, "Next step"}, {ActionKind::OpenTrace, "Open a trace"}};
    return r;
}

Ruling signRuling(const JobState& state, const Link& link)
{
    Ruling r;
    const LinkState& s = state.state(link.id);
    if (s.signedAt) {
        r.tone = Tone::Fit;
        r.headline = "Signed off";
        r.sentence = fmt::format("Fibre {} was signed by {}. The certificate holds what was seen, read and shot.", link.fibre, s.signedBy);
        r.actions = {{ActionKind::Certificate, "Write the certificate"}, {ActionKind::NextStep, "Next step"}};
        return r;
    }
    if (const auto ready = maySign(state, link); !ready) {
        r.headline = "Not ready to sign";
        r.sentence = ready.error().message;
        r.actions = {{ActionKind::NextStep, "Next step"}, {ActionKind::Certificate, "Write the certificate"}};
        return r;
    }
    r.tone = s.loss->verdict == LossVerdict::Pass ? Tone::Fit : Tone::Work;
    r.headline = "Sign off";
    r.sentence = fmt::format("Fibre {}: both ends mated after they were seen fit; loss: {}.", link.fibre, name(s.loss->verdict));
    if (s.traces.empty()) r.help.emplace_back("No trace: this is a tier 1 result (loss, length, polarity).");
    r.actions = {{ActionKind::Sign, "Sign off"}, {ActionKind::Certificate, "Write the certificate"}, {ActionKind::NextStep, "Next step"}};
    return r;
}

}  // namespace clendo
