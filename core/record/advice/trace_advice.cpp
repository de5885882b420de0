// What to do with a trace: before it is shot, what it shows, what changed since.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "otdr/then_and_now.h"
#include "otdr/usual_fibre.h"
#include "record/advice/link_advice.h"
#include "record/rules/hidden_by_shot.h"
#include "record/rules/link_light_parts.h"
#include "record/rules/plan_match.h"
#include "record/rules/which_cable.h"
#include "record/rules/witnesses.h"

namespace clendo {
namespace {

/// Two sigma, in dB as it is printed: never nothing.
double plusMinus(Decibel sigma)
{
    constexpr double least = 0.01;
    return std::max(least, 2 * sigma.value());
}

/// How to shoot a fibre that was not shot yet: settings, why, and what they give up.
std::vector<std::string> beforeTheShot(const JobState& state, const Link& link)
{
    std::vector<std::string> out;
    const CablePlan& cable = *link.cable;
    const JobSettings& job = state.plan->job;
    if (const auto choice = advisedShot(state, link)) {
        std::string at;
        for (const int nm : state.plan->wavelengthsFor(cable)) at += fmt::format("{}{}", at.empty() ? "" : " and ", nm);
        out.push_back(
            fmt::format("Range {:.1f} km, pulse {:.0f} ns, {:.0f} s each at {} nm: the shortest pulse with which usual OTDRs see all that was "
                        "planned to its end. "
                        "A longer one hides what lies close together, a shorter one drowns in noise. The ribbon shows what this one will hide.",
                        std::ceil(choice->range.value() / 100) / 10, choice->pulse.value(), choice->averaging.value(), at));
        std::vector<otdr::NamedPlace> places{{link.port(End::A), Metre(0), true}, {link.port(End::B), cable.length, true}};
        for (const auto& splice : cable.splices) places.push_back({"splice " + splice.name, splice.at, false});
        for (int n = 1; n <= static_cast<int>(cable.inner.size()); ++n)
            places.push_back({link.port(Connection::inner(n)), cable.inner[static_cast<std::size_t>(n - 1)].at, true});
        std::sort(places.begin(), places.end(), [](const auto& a, const auto& b) { return a.at < b.at; });
        for (auto& pair : otdr::notToldApart(places, *choice)) out.push_back("With it " + pair);
        if (job.launchCord > Metre(0) && job.launchCord < choice->leastLaunch)
            out.push_back(
                fmt::format("The launch cord of {:.0f} m is short for that pulse: take one of {:.0f} m, or the first connection cannot be measured.",
                            job.launchCord.value(), choice->leastLaunch.value()));
    }
    out.emplace_back(
        "Prove the fibre dark first: light of others blinds the OTDR, and its light disturbs them. The port clean, the launch cord proven: a "
        "crushed one looks like a dead link.");
    return out;
}

/// What became worse, or is new, since the first shot from this end at this wavelength.
std::vector<std::string> sinceTheFirstShot(const LinkState& s, const TraceShot& shot)
{
    std::vector<std::string> out;
    const auto* first = firstShot(s, shot);
    if (!first || !shot.found.span) return out;
    constexpr double nearest = 10, share = 0.001;  // m; of long lines, whose pulses are long
    const auto& span = *shot.found.span;
    for (const auto& change : otdr::changesSince(first->what.found, shot.found, Metre(std::max(nearest, share * span.length().value())))) {
        const double at = fromA(shot, change.at).value_or(change.at).value();
        const double by = std::abs(change.difference.value()), doubt = plusMinus(change.uncertainty);
        using Kind = otdr::Change::Kind;
        switch (change.kind) {
            case Kind::Worse: out.push_back(fmt::format("Since the first shot: {:.2f} ± {:.2f} dB more are lost at {:.0f} m.", by, doubt, at)); break;
            case Kind::Better:
                out.push_back(fmt::format("Since the first shot: {:.2f} ± {:.2f} dB less are lost at {:.0f} m.", by, doubt, at));
                break;
            case Kind::New: out.push_back(fmt::format("Since the first shot: {:.2f} ± {:.2f} dB at {:.0f} m are new.", by, doubt, at)); break;
            case Kind::Gone: out.push_back(fmt::format("Since the first shot: the {:.2f} dB at {:.0f} m are gone.", by, at)); break;
            case Kind::Shorter: out.push_back(fmt::format("Since the first shot the fibre became shorter: it ends at {:.0f} m now.", at)); break;
        }
    }
    return out;
}

/// What two wavelengths say of a place, or what is to be done so that they do.
std::string causeWords(const std::optional<otdr::TwoWavelengths>& both, bool otherWavelength)
{
    if (both) {
        const std::string by = fmt::format("{:.2f} dB at the longer wavelength, {:.2f} dB at the shorter, {:.2f} ± {:.2f} dB more",
                                           both->longer.value(), both->shorter.value(), both->difference.value(), plusMinus(both->uncertainty));
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
    const bool otherWavelength = !otherWavelengths(state.state(link.id), shot).empty();
    for (const auto& row : matchPlan(state, link, shot)) {
        if (!row.planned && !row.overLimit() && row.loss && *row.loss > Decibel(0.1))
            r.help.push_back(fmt::format("{:.2f} dB at {:.0f} m, {}, is not in the plan: a bend, a crush or an unplanned splice.", row.loss->value(),
                                         row.found->value(), row.where));
        if (row.bothWays && row.loss) {
            constexpr Decibel clearly{0.1};
            const Decibel back = 2 * *row.bothWays - *row.loss, apart = (*row.loss - back) / 2;
            if (std::abs(apart.value()) > clearly.value())
                r.help.push_back(fmt::format(
                    "{}: {:.2f} dB in this direction, {:.2f} dB in the other. The fibres' mode fields differ; the mean, {:.2f} dB, is what it loses.",
                    row.planned ? row.name : "What is not in the plan", row.loss->value(), back.value(), row.bothWays->value()));
        }
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
                                                  causeWords(both, otherWavelength)));
    }
}

/// Lengths that lose more than the fibre beside them: nothing is opened there.
void addSections(Advice& r, const Link& link, const TraceShot& shot)
{
    for (const auto& section : shot.found.sections) {
        const auto a = fromA(shot, section.from), b = fromA(shot, section.to);
        if (!a || !b) continue;
        const auto [from, to] = std::minmax(*a, *b);
        if (to < Metre(0) || from > link.cable->length * 1.05) continue;  // of a cord
        r.help.push_back(fmt::format(
            "From {:.0f} to {:.0f} m the fibre loses {:.2f} ± {:.2f} dB more than beside it ({:.2f} dB/km): pressed, bent, cold or wet, or another "
            "fibre. No splice does that; the longer wavelength tells stress.",
            from.value(), to.value(), section.excess.value(), plusMinus(section.uncertainty), section.attenuation.value()));
    }
}

/// Fibre of another kind than planned, by what it loses; and fibre that is not even.
void addFibre(Advice& r, const Link& link, const otdr::Span& span, Nanometre wavelength)
{
    if (!span.attenuation) return;
    constexpr Metre enough{200};
    if (span.unevenness)
        r.help.push_back(
            fmt::format("The fibre is not even: a piece of it loses {:.2f} dB/km more or less than the mean.", span.unevenness->value()));
    const auto kind = span.length() < enough ? std::nullopt : otdr::fibreLike(wavelength, *span.attenuation);
    if (!kind || (*kind == otdr::FibreKind::Multimode) == isMultimode(*link.cable)) return;
    r.help.insert(r.help.begin(),
                  fmt::format("It loses {:.2f} dB/km at {:.0f} nm, as {} does; {} is planned. Another fibre, or another cable?",
                              span.attenuation->value(), wavelength.value(),
                              *kind == otdr::FibreKind::Multimode ? "multimode or stressed fibre" : "single-mode fibre", link.cable->fibre));
}

}  // namespace

Advice traceAdvice(const JobState& state, const Link& link)
{
    Advice r;
    const LinkState& s = state.state(link.id);
    if (s.traces.empty()) {
        r.headline = "Shoot the fibre";
        r.sentence = fmt::format("No trace of fibre {} yet. Open the file that the OTDR saved, or drop it here.", link.fibre);
        r.help = beforeTheShot(state, link);
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
    addSections(r, link, shot);
    if (shot.found.span) addFibre(r, link, *shot.found.span, shot.wavelength);
    for (const auto& witnesses : witnessesOf(state, link, s.traces.back()))
        if (auto words = witnesses.contradiction(); !words.empty()) r.help.insert(r.help.begin(), std::move(words));
    if (const auto cable = whichCable(state, link, shot.found, shot.direction); !cable.why.empty()) {
        r.tone = Tone::Work;
        if (cable.better || cable.turned) r.headline = cable.turned ? "Shot from the other end?" : "Another cable's trace?";
        r.help.insert(r.help.begin(), cable.why);
    }
    for (auto& change : sinceTheFirstShot(s, shot)) r.help.insert(r.help.begin(), std::move(change));
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

}  // namespace clendo
