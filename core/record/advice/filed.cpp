#include "record/advice/filed.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <algorithm>
#include <ctime>

#include "otdr/trace.h"
#include "record/rules/kit.h"
#include "record/state/fitness.h"

namespace clendo {
namespace {

/// "less than 1 in 10 000", "about 1 in 300".
std::string chanceWords(double chance)
{
    constexpr double few = 1e-4;
    return chance < few ? "less than 1 in 10 000" : fmt::format("about 1 in {:.0f}", 1 / chance);
}

}  // namespace

namespace said {

Said cleaned(const KitItem* tool)
{
    constexpr int tenth = 10;
    const auto left = tool ? leftOn(*tool) : std::nullopt;
    if (!left || *left > tool->what.most / tenth) return {"Filed. Now look again."};
    return {fmt::format("Filed. Now look again. {} has {} left: take a fresh one soon.", tool->what.id,
                        *left == 1 ? "1 stroke" : fmt::format("{} strokes", std::max(0, *left))),
            true};
}

Said sleeveCleaned(const std::string& port, bool mated)
{
    return {fmt::format("Filed: the sleeve of {} is clean.{}", port, mated ? " So the pair was opened: mate it again." : "")};
}

Said touched(std::string_view how) { return {fmt::format("Filed: {}. It must be seen again.", how)}; }

Said covered(std::string_view how) { return {fmt::format("Filed: {}.", how)}; }

Said mated(const Link& link, Connection at) { return {fmt::format("Mated: fibre {} at {}.", link.fibre, link.place(at))}; }

Said joined(std::string_view what) { return {fmt::format("Filed: joined with {}. What touches it later is traced.", what)}; }

Said lightSeen(const LightSeen& seen, int belongs)
{
    if (!seen.out) return {fmt::format("Filed: light into fibre {} at A came out nowhere at B.", seen.in), true};
    const bool right = *seen.out == belongs;
    return {fmt::format("Filed: light into fibre {} at A came out at fibre {} at B.{}", seen.in, *seen.out,
                        right                ? ""
                        : belongs != seen.in ? fmt::format(" It belongs to {}.", belongs)
                                             : " Two fibres are crossed, or a cord is in the wrong port."),
            !right};
}

Said lengthMeasured(const LengthMeasured& length) { return {fmt::format("Filed: {:.1f} m by {}.", length.length.value(), length.how)}; }

Said traceFiled(const TraceShot& shot, const otdr::Trace& trace, int fibre)
{
    const std::size_t events = shot.found.events.size();
    Said out{fmt::format("Filed: {}, {}, {}.", shot.traceName, shot.direction == Direction::AtoB ? "A to B" : "B to A",
                         events == 1 ? "1 event" : fmt::format("{} events", events))};
    if (!trace.oddities.empty()) out.sentence += ' ' + trace.oddities.front();
    out.trouble = !trace.fibre.empty() && trace.fibre != std::to_string(fibre);
    if (out.trouble) out.sentence += fmt::format(" The file says fibre {}: is it the right one?", trace.fibre);
    return out;
}

Said pictureOfBefore(const JobState& state, const FaceId& face, std::string_view when)
{
    const FaceState& now = state.face(face);
    if (now.condition != FaceCondition::Stale || now.looks.empty()) return {};
    return {fmt::format("Filed as of {}, when its file was written: the {} {} since.", when, state.where(face), whyNotFit(state, face)), true};
}

Said samePicture(const JobState& state, std::string_view picture)
{
    for (const auto& [id, face] : state.faces)
        for (const auto& look : face.looks)
            if (look.seen.picture == picture)
                return {fmt::format("The very same picture was filed before, of {}: is the scope's picture frozen? Then take this one back.",
                                    state.where(id)),
                        true};
    return {};
}

Said notTheFace(const JobState& state, const FaceId& face, const face::FaceMatch& match)
{
    if (match.answer != face::SameFace::Different) return {};
    return {fmt::format("Is this {}? Scratches that were seen on it before do not lie where they were: look whether the right face is chosen.",
                        state.where(face)),
            true};
}

Said anotherFace(const JobState& state, const FaceId& face, const FaceId& other, const face::FaceMatch& match, std::size_t held)
{
    constexpr double mostByChance = 0.01;
    const double chance = match.falseMatchRate * double(std::max<std::size_t>(1, held));
    if (match.answer != face::SameFace::Same || chance > mostByChance) return {};
    return {fmt::format("This looks like {}, not {}: {} marks lie over each other, by chance in {} of looks held against as many faces. If the wrong "
                        "face was chosen, take it back.",
                        state.where(other), state.where(face), match.marksUsed, chanceWords(chance)),
            true};
}

std::string seenElsewhere(const std::string& where, const Elsewhere& found)
{
    if (!found.match)
        return fmt::format("{} was not found among the {} of “{}”: {} of them {} not show its marks, of {} it cannot be told.", where,
                           found.compared == 1 ? std::string("only face") : fmt::format("{} faces", found.compared), found.job, found.different,
                           found.different == 1 ? "does" : "do", found.compared - found.different);
    const std::time_t at = found.at;
    // as many faces were tried
    const double chance = found.match->falseMatchRate * std::max(1, found.compared);
    return fmt::format("{} is {} of “{}”, seen {:%Y-%m-%d}: {} marks lie over each other, by chance in {} of searches like this one.", where,
                       found.where, found.job, fmt::gmtime(at), found.match->marksUsed, chanceWords(chance));
}

}  // namespace said

std::string expectedLossWords(const face::ExpectedLoss& loss, Nanometre wavelength, bool heldApart)
{
    constexpr std::string_view apart = "a particle may hold the faces apart";
    if (loss.most < Decibel(0.01))
        return heldApart ? fmt::format("nothing lies right in the light's way, but {}", apart) : std::string("nothing lies in the light's way");
    return fmt::format("if mated so, +{:.2f} to {:.2f} dB at {:.0f} nm; a gap is not counted{}", loss.least.value(), loss.most.value(),
                       wavelength.value(), heldApart ? fmt::format(", and {}", apart) : std::string());
}

}  // namespace clendo
