#include "record/advice/reel_advice.h"

#include <fmt/format.h>

#include <algorithm>

namespace clendo {
namespace {

using reel::JointReading;
using reel::JointState;
using reel::ReelVerdict;

/// What the last shot says of launch cord and joint, before anything is said of the reel.
bool lightDidNotGetIn(const ReelStanding& s, Advice& r)
{
    if (!s.last || s.last->next.empty()) return false;
    const int fibre = s.filed->shots.back().what.fibre;
    if (s.last->where == JointReading::Where::LaunchCord) {
        r.tone = Tone::Damaged;
        r.headline = "It is the launch cord, not the reel";
        r.sentence = s.last->next;
        r.help = {
            "No other launch cord at hand? The job's policy can go on without one: then neither the joint nor the first metres of the reel are "
            "measured, and its report says so."};
        r.actions = {{command::reelCordOut, "Take the cord out of the kit"}, {command::reelTrace, "Open the next trace"}};
        return true;
    }
    if (s.last->joint == JointState::Dead || s.last->joint == JointState::Poor) {
        r.tone = Tone::Work;
        r.headline = s.last->joint == JointState::Dead ? "No light gets through the joint" : "The joint loses too much";
        r.sentence = fmt::format("Fibre {}: {}", fibre, s.last->next);
        r.help = {
            "The reel is not judged by this fibre as long as its joint is at fault. A joint that stays bad after three tries: try another fibre, "
            "then the other end."};
        r.actions = {{command::reelJoint, "Do the joint again"}, {command::reelTrace, "Open the next trace"}};
        return true;
    }
    return false;
}

void sayResult(const ReelStanding& s, Advice& r)
{
    for (const auto& why : s.report.why) r.help.push_back(why);
    for (const auto& warning : s.report.warnings) r.help.push_back(warning.message);
}

}  // namespace

Tone toneOf(ReelVerdict verdict)
{
    switch (verdict) {
        case ReelVerdict::Accept: return Tone::Fit;
        case ReelVerdict::AcceptWithNote: return Tone::Work;
        case ReelVerdict::Reject: return Tone::Damaged;
        case ReelVerdict::NotJudged: break;
    }
    return Tone::Neutral;
}

int nextFibre(const ReelStanding& standing) { return standing.open.empty() ? 1 : standing.open.front(); }

Advice reelAdvice(const JobState& state, const std::string& name)
{
    Advice r;
    if (name.empty()) {
        r.headline = "Write down what came";
        r.sentence = "No reel was delivered yet in this job: its name, what was ordered, and the marks on its sheath at both ends.";
        r.help = {"A reel is shot before it is paid for or pulled in; its trace is kept as the baseline."};
        r.actions = {{command::reelDeliver, "A reel came"}};
        return r;
    }
    const ReelStanding s = standingOf(state, name);
    if (!s.filed || !s.filed->delivered) {
        r.headline = fmt::format("Reel {}: what was ordered?", name);
        r.sentence = "Something was filed of this reel, but not what was ordered and what came.";
        r.actions = {{command::reelDeliver, "Write it down"}};
        return r;
    }
    if (!s.trouble.empty()) {
        r.tone = Tone::Work;
        r.headline = "The marks cannot be";
        r.sentence = s.trouble;
        r.actions = {{command::reelDeliver, "Put the marks right"}};
        return r;
    }
    const reel::Delivery& delivery = s.filed->delivered->what.delivery;
    if (lightDidNotGetIn(s, r)) return r;
    if (s.decided()) {
        r.tone = toneOf(s.verdict);
        r.headline = s.verdict == ReelVerdict::Reject ? "Rejected" : s.verdict == ReelVerdict::Accept ? "Accepted" : "Accepted with a note";
        r.sentence =
            fmt::format("Decided by {}{}{}.", s.filed->decidedBy, s.filed->decided->what.note.empty() ? "" : ": ", s.filed->decided->what.note);
        sayResult(s, r);
        if (state.cuts)
            for (auto& trouble : cutTroubles(state, state.cuts->what)) r.help.push_back(std::move(trouble));
        r.actions = {{command::reelPaper, "Write its report"}, {command::reelCuts, "Which reel serves which run"}};
        return r;
    }
    if (s.asksForSample && !s.filed->sampled) {
        r.headline = "Draw the fibres that are tested";
        r.sentence = fmt::format("The job tests a sample of the {} fibres. Which ones is drawn at random, so that nobody picks the good ones.",
                                 delivery.fibres);
        r.actions = {{command::reelSample, "Draw the sample"}, {command::reelJoint, "Make a joint"}};
        return r;
    }
    if (!s.open.empty() && s.proposed != ReelVerdict::Reject) {
        const int fibre = s.open.front();
        const bool joined = std::any_of(s.filed->joints.begin(), s.filed->joints.end(), [&](const auto& j) { return j.what.fibre == fibre; });
        r.headline = joined ? fmt::format("Shoot fibre {}", fibre) : fmt::format("Get light into fibre {}", fibre);
        r.sentence = fmt::format("{} of {} fibres that are asked for are open.", s.open.size(), s.wanted.size());
        if (s.decisionOvertaken) r.sentence += " It was shot again since it was decided: the decision waits to be made anew.";
        if (!delivery.marks) r.help.emplace_back("The marks on the sheath are not written down yet: read both ends.");
        if (state.policy("reel_launch") == "without")
            r.help.emplace_back("The job shoots without a launch cord: the joint and the first metres of the reel are not measured.");
        sayResult(s, r);
        const AdviceAction joint{command::reelJoint, fmt::format("Make the joint to fibre {}", fibre)}, shoot{command::reelTrace, "Open its trace"};
        r.actions = joined ? std::vector{shoot, joint} : std::vector{joint, shoot};
        return r;
    }
    r.tone = toneOf(s.proposed);
    switch (s.proposed) {
        case ReelVerdict::Accept: r.headline = "Can be accepted"; break;
        case ReelVerdict::AcceptWithNote: r.headline = "Can be accepted with a note"; break;
        case ReelVerdict::Reject: r.headline = "Reject it"; break;
        case ReelVerdict::NotJudged: r.headline = "Nothing is known of its fibres yet"; break;
    }
    r.sentence = s.report.why.empty() ? "Everything that was tested is as it was ordered." : s.report.why.front();
    for (std::size_t i = 1; i < s.report.why.size(); ++i) r.help.push_back(s.report.why[i]);
    for (const auto& warning : s.report.warnings) r.help.push_back(warning.message);
    if (!s.open.empty()) r.help.push_back(fmt::format("{} of {} fibres that are asked for are open.", s.open.size(), s.wanted.size()));
    r.actions = {{command::reelDecide, "Decide"}, {command::reelTrace, "Open another trace"}, {command::reelPaper, "Write its report"}};
    return r;
}

}  // namespace clendo
