#include "record/advice/face_advice.h"

#include <fmt/format.h>

#include <algorithm>

#include "face/judge/compare_looks.h"
#include "face/judge/meaning.h"
#include "record/advice/cleaning_advice.h"
#include "record/output/cleanings_by_dirt.h"
#include "record/rules/gates.h"
#include "record/rules/imprints.h"
#include "record/rules/kit.h"
#include "record/state/ferrule.h"
#include "record/state/fitness.h"
#include "record/state/scale_check.h"
#include "record/state/spots.h"

namespace clendo {
namespace {

AdviceRow rowOf(const RuleOutcome& o)
{
    const std::string allowed = !o.rule.allowed ? "any" : *o.rule.allowed == 0 ? "none" : std::to_string(*o.rule.allowed);
    return {std::string(name(o.rule.zone)), bandWords(o.rule), allowed, std::to_string(o.counted), o.met};
}

/// A dark round thing is a spot until a cleaning showed what it is.
std::string_view thingWords(const Finding& f, const FaceState& state)
{
    return f.appearance == Appearance::Pit && !isKnownPit(f, state) ? "spot" : name(f.appearance);
}

/// "One particle of 6.2 ± 0.9 µm in zone B (cladding). The rule allows none over 5 µm."
std::string whyBroken(const RuleOutcome& broken, const FaceState& state, const Criteria& criteria)
{
    const auto& findings = state.lastJudged()->seen.measured.findings;
    const auto it =
        std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return !broken.findings.empty() && f.id == broken.findings.front(); });
    const char* zone = broken.rule.zone == Zone::A   ? "zone A (core area)"
                       : broken.rule.zone == Zone::B ? "zone B (cladding)"
                       : broken.rule.zone == Zone::C ? "zone C (adhesive)"
                                                     : "zone D (contact)";
    const std::string allowed = *broken.rule.allowed == 0 ? "none" : fmt::format("at most {}", *broken.rule.allowed);
    std::string what = "Something";
    if (it != findings.end()) {
        const bool scratch = it->kind == FindingKind::Scratch;
        const double uncertain = sizeUncertainty(*it, criteria).value();
        what = scratch ? fmt::format("a scratch {:.1f} ± {:.1f} µm wide", it->width.value(), uncertain)
                       : fmt::format("a {} of {:.1f} ± {:.1f} µm", thingWords(*it, state), it->size.value(), uncertain);
    }
    if (broken.counted == 1) {
        what[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(what[0])));
        return fmt::format("{} in {}. The rule allows {} ({}).", what, zone, allowed, bandWords(broken.rule));
    }
    return fmt::format("{} findings in {}, the first {}. The rule allows {} ({}).", broken.counted, zone, what, allowed, bandWords(broken.rule));
}

/// What the last cleaning did, as a sentence; empty where there is no look before the last.
std::string sinceBefore(const FaceState& state)
{
    const Look *last = state.lastJudged(), *before = state.judgedBefore();
    if (!before) return {};
    const std::string words = face::compareLooks(before->seen.measured.findings, last->seen.measured.findings).words();
    return words.empty() ? words : fmt::format(" Since the look before: {}.", words);
}

void addUnchecked(Advice& advice, const JobState& state)
{
    if (!state.plan->criteria.checked && !state.plan->criteria.name.empty())
        advice.help.push_back(
            fmt::format("Criteria: {}, version {}. Not yet compared with a licensed copy.", state.plan->criteria.name, state.plan->criteria.version));
}

constexpr Micrometre looseFrom{5};  // particles over about 5 um burst and spread on mating

}  // namespace

Advice emptyJobAdvice()
{
    Advice r;
    r.headline = "Plan the first cable";
    r.sentence = "This job has no links yet. Name a cable with its two ends, its fibres and its length; the links and the round follow from that.";
    r.actions = {{command::planCable, "Plan a cable"}};
    return r;
}

namespace {

/// What is known of a pair that is mated.
std::string matedWords(const JobState& state, const Link& link, Connection at)
{
    for (const Side side : {Side::Cord, Side::Port}) {
        const FaceId id{link.id, at, side};
        const FaceState& face = state.face(id);
        if (!face.unfitWhenMated.empty()) return fmt::format("They are joined, though {}, {}.", state.where(id), face.unfitWhenMated);
        if (face.condition != FaceCondition::Fit) return fmt::format("They are joined; {}, {}.", state.where(id), whyNotFit(state, id));
    }
    return "Both faces were seen fit and are joined.";
}

Advice adviceOfOne(const JobState& state, const Link& link, const FaceId& id)
{
    const FaceState& face = state.face(id);
    Advice r;
    const Look* latest = face.looks.empty() ? nullptr : &face.looks.back();
    if (latest && !latest->verdict && face.condition != FaceCondition::Fit) {
        r.headline = "Take the picture again";
        for (const auto& reason : latest->reasons) r.sentence += (r.sentence.empty() ? "" : " ") + reason;
        if (r.sentence.empty())
            r.sentence = fmt::format("The criteria have no class “{}”; this face cannot be judged.", link.cable->classAt(id.connection, id.side));
        r.actions = {{command::takePicture, "Take a picture"}};
        return r;
    }
    const Look* judged = face.lastJudged();
    if (judged)
        for (const auto& o : judged->verdict->outcomes)
            if (o.rule.allowed || o.counted > 0) r.rows.push_back(rowOf(o));
    std::stable_partition(r.rows.begin(), r.rows.end(), [](const AdviceRow& row) { return !row.met; });  // what is broken is read first
    switch (face.condition) {
        case FaceCondition::NotSeen:
            r.headline = "Look first";
            if (state.policy("first_step") == "clean") {
                r.headline = "Clean, then look";
                r.sentence = "This job cleans a face before the first look.";
                r.help = {adviceFor(face, state.policy("first_method"), cleaningTarget(state, id)).words};
                r.actions = {{command::clean, "I cleaned it"}, {command::takePicture, "Take a picture"}, {command::nextStep, "Next step"}};
                return r;
            }
            r.sentence = fmt::format("{}: not seen yet. Nothing is mated that was not seen; a clean face needs no cleaning.", link.where(id));
            r.help = {"Prove the fibre dark with the power meter before anything else; never look into it.",
                      "A picture comes live from a scope, from the watched folder, by drag and drop, or from a file."};
            r.actions = {{command::takePicture, "Take a picture"}, {command::nextStep, "Next step"}};
            return r;
        case FaceCondition::Stale:
            r.headline = "Look again";
            if (face.suspicion && face.mated) r.headline = "Open it and look again";
            r.sentence = fmt::format("{}, {}.", link.where(id), whyNotFit(state, id));
            if (!face.cleanedSince.empty()) r.sentence += fmt::format(" Last: {}.", methodWords(face.cleanedSince.back().method));
            if (face.suspicion) {
                r.tone = Tone::Work;
                r.help.emplace_back("“What touched what” shows the way it may have come.");
            }
            r.actions = {{command::takePicture, "Take a picture"}, {command::nextStep, "Next step"}};
            return r;
        case FaceCondition::Fit: {
            r.tone = Tone::Fit;
            const bool mated = state.state(link.id).mated.contains(id.connection);
            const bool ready = !mated && mayMate(state, link, id.connection).has_value();
            const bool sleeveNext = !mated && !ready && bothFit(state, link, id.connection) && !state.state(link.id).sleeves.contains(id.connection);
            if (const auto mix = coreMix(state, link, id.connection); mix && !mated) {
                r.tone = Tone::Damaged;
                r.headline = "Do not mate: wrong core";
                r.sentence = fmt::format("Wrong core: {}. Both can be clean and still lose most of the light.", *mix);
                r.actions = {{command::takePicture, "Take a picture"}, {command::nextStep, "Next step"}};
                break;
            }
            r.headline = mated ? "Mated" : ready ? "Fit: mate now" : sleeveNext ? "Fit: now the sleeve" : "Fit";
            r.sentence = mated        ? matedWords(state, link, id.connection)
                         : ready      ? "Both faces are fit. Join them now, or cap them: clean has an age."
                         : sleeveNext ? "Both faces are fit. Swab the adapter's sleeve, back and forth, then dry; then mate."
                                      : fmt::format("{}, meets the criteria. Its partner comes next.", link.where(id));
            if (judged && judged->verdict->nearLimit)
                r.help.emplace_back(
                    "Near a limit: half the measuring uncertainty, or a flake taken for a short scratch, would turn the verdict. "
                    "Look at the findings yourself.");
            if (state.policy("judge") == "person") r.help.emplace_back("The measurement proposes; this job lets you decide. X overrules a finding.");
            if (!face.covered.empty()) r.help.push_back(fmt::format("It is {}.", face.covered));
            if (judged && std::any_of(judged->seen.measured.findings.begin(), judged->seen.measured.findings.end(), [&](const Finding& f) {
                    const FaceClass* faceClass = state.faceClass(id);
                    const auto zone = faceClass ? zoneOf(f, *faceClass) : std::nullopt;
                    return f.appearance == Appearance::Scratch && zone && *zone != Zone::A;
                }))
                r.help.emplace_back(state.policy("ground_in") == "replace"
                                        ? "Marks outside the core: by this job's policy it is replaced anyway."
                                        : "Marks outside the core meet the criteria: note them, watch them at the next look.");
            if (ready) r.actions.push_back({command::mate, "Mate"});
            if (sleeveNext) r.actions.push_back({command::cleanSleeve, "I cleaned the sleeve"});
            r.actions.push_back({command::nextStep, "Next step"});
            break;
        }
        case FaceCondition::Work:
        case FaceCondition::Damaged: {
            const RuleOutcome* broken = judged ? judged->verdict->broken() : nullptr;
            if (broken) r.sentence = whyBroken(*broken, face, state.plan->criteria) + sinceBefore(face);
            if (face.condition == FaceCondition::Damaged || face.cleanings >= state.plan->job.attempts) {
                r.tone = Tone::Damaged;
                r.headline = face.condition == FaceCondition::Damaged ? "Stop cleaning: damaged" : "Stop cleaning: decide";
                r.help = {face.condition == FaceCondition::Damaged
                              ? "What broke the rule stayed at its place through two methods: it is damage. Repolish or replace."
                              : fmt::format("{} cleanings did not make it fit: repolish, replace, or let the crew lead decide.", face.cleanings)};
                r.actions = {{command::nextStep, "Next step"}, {command::takePicture, "Take a picture"}, {command::clean, "I cleaned it"}};
            } else {
                r.tone = Tone::Work;
                r.headline = face.cleanings == 0 ? "Clean, then look again" : "Clean again, stronger";
                r.help = {adviceFor(face, state.policy("first_method"), cleaningTarget(state, id)).words};
                const auto dirt = judged ? dirtOf(face, static_cast<std::size_t>(judged - face.looks.data())) : std::nullopt;
                if (dirt) r.help.push_back(fmt::format("{} {}", sentenceOf(*dirt), bestCleaning(state, dirt->kind)));
                if (broken && !dirt)
                    for (const auto& f : judged->seen.measured.findings)
                        if (f.id == broken->findings.front()) r.help.emplace_back(face::meaningOf(f.appearance));
                r.actions = {{command::clean, "I cleaned it"}, {command::takePicture, "Take a picture"}, {command::nextStep, "Next step"}};
            }
            for (const auto& pressed : pressedTogether(state, id)) r.help.push_back(pressed.sentence);
            break;
        }
    }
    if (judged) {
        if (const auto scale = scaleDisagrees(state, judged->seen.measured)) r.help.push_back(*scale);
        for (const auto fault : judged->seen.measured.making) r.help.emplace_back(sentenceOf(fault));
        const FaceClass* faceClass = state.faceClass(id);
        const auto loose = std::count_if(judged->seen.measured.findings.begin(), judged->seen.measured.findings.end(), [&](const Finding& f) {
            const auto zone = faceClass ? zoneOf(f, *faceClass) : std::nullopt;
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

Advice faceAdvice(const JobState& state, const Link& chosen, const FaceId& chosenId)
{
    // a ferrule is cleaned and mated as one: what is next for it is said whichever of its fibres is chosen
    const FaceId id = decidingFace(state, chosenId);
    const Link& link = *state.link(id.link);
    Advice r = adviceOfOne(state, link, id);
    if (link.cable->ferruleFibres <= 1) return r;
    r.help.insert(r.help.begin(), ferruleTally(state, id));
    if (id.link != chosen.id) r.sentence = fmt::format("Fibre {}: {}", link.fibre, r.sentence);
    if (state.plan->job.stopAtFirstBad)
        r.help.emplace_back("This job stops at the first bad group of fibres: clean before the next group is looked at.");
    if (const auto pins = pinMix(state, link, id.connection)) {
        r.tone = Tone::Damaged;
        r.headline = "Do not mate: guide pins";
        r.sentence = *pins + ".";
        r.sentence[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(r.sentence[0])));
    }
    return r;
}

}  // namespace clendo
