#include "record/rules/cable_findings.h"

#include <fmt/format.h>

#include <algorithm>

#include "record/state/last_reading.h"

namespace clendo {
namespace {

std::vector<CableReading> readingsOf(const JobState& state, const CablePlan& cable)
{
    std::vector<CableReading> out;
    std::map<Digest, int> references;
    for (const auto& link : state.plan->links) {
        if (link.cable != &cable) continue;
        const LinkState& of = state.state(link.id);
        if (!of.loss) continue;
        for (const auto& result : of.loss->results)
            for (const Direction d : {Direction::AtoB, Direction::BtoA}) {
                const auto& loss = d == Direction::AtoB ? result.lossAb : result.lossBa;
                const auto* read = lastReading(of, result.wavelength, d);
                if (!loss || !read) continue;
                const int reference = references.try_emplace(read->what.reference, int(references.size())).first->second;
                out.push_back({link.id, result.wavelength, d, *loss, read->at, reference});
            }
    }
    return out;
}

/// "RC-1" where the references in force name the cord on the source, else "the reference cord".
std::string cordWords(const JobState& state, Direction direction)
{
    for (const auto& [key, reference] : state.references)
        if (key.first == direction)
            for (const auto& name : reference.with)
                if (const auto item = state.kit.find(name); item != state.kit.end() && item->second.what.kind == "cord") return name;
    return "the reference cord";
}

std::string at(const std::optional<Nanometre>& wavelength)
{
    return wavelength ? fmt::format(", at {:.0f} nm alone", wavelength->value()) : std::string(", at all wavelengths alike");
}

std::string stepWords(const JobState& state, const RunShift& shift)
{
    const double size = shift.size.value();
    const std::string seen =
        fmt::format("{}: from {} on readings are {:.2f} dB {}{} ({} readings, give or take {:.2f} dB)", sourceWords(shift.direction), shift.since,
                    std::abs(size), size > 0 ? "higher" : "lower", at(shift.wavelength), shift.readings, 2 * shift.standard.value());
    if (shift.newReference)
        return fmt::format(
            "{}. The reference was set anew there: one of the two is wrong. Prove this one, then read again what rests on the wrong one.", seen);
    if (shift.wavelength)
        return fmt::format("{}. A cord does that to all wavelengths: suspect the source or its setting. Check the reference.", seen);
    const std::string cord = cordWords(state, shift.direction);
    if (size > 0)
        return fmt::format(
            "{}. That is in no fibre: a dirty face or a moved cord. Look at the faces of {} and of the receive cord, clean, check the "
            "reference, then read again from {} on.",
            seen, cord, shift.since);
    return fmt::format("{}. Something was dirty or badly seated before: {} or the receive cord. Check the reference, then read again up to {}.", seen,
                       cord, shift.until);
}

std::string shiftWords(const JobState& state, const RunShift& shift)
{
    switch (shift.kind) {
        case RunShift::Kind::Step: return stepWords(state, shift);
        case RunShift::Kind::Drift:
            return fmt::format(
                "{}: loss {} by {:.2f} dB over the run{}. No fibre does that: the source or the meter drifts, or a cord gets dirtier. Check "
                "the reference.",
                sourceWords(shift.direction), shift.size.value() > 0 ? "rises" : "falls", std::abs(shift.size.value()), at(shift.wavelength));
        case RunShift::Kind::Ends:
            return fmt::format(
                "Through the whole cable readings with the {} are {:.2f} dB higher than from the other end: a reference or a cord of one "
                "end is bad. Prove both references.",
                sourceWords(shift.direction), shift.size.value());
    }
    return {};
}

/// The faces on the way of which nobody knows that they were fit, for people; empty: all were.
std::string facesInDoubt(const JobState& state, const Link& link)
{
    std::string out;
    int told = 0;
    for (const auto& id : link.faces()) {
        const FaceState& face = state.face(id);
        const bool trusted = face.mated ? face.unfitWhenMated.empty() && face.lastJudged() : face.condition == FaceCondition::Fit;
        if (trusted || ++told > 2) continue;
        out += fmt::format("{}{}", out.empty() ? "" : "; ", state.where(id));
    }
    if (told > 2) out += fmt::format("; and {} more", told - 2);
    return out;
}

}  // namespace

const std::optional<CableModel>& cableModel(const JobState& state, const CablePlan& cable)
{
    static const std::optional<CableModel> none;
    const auto run = state.cableRuns.find(cable.id);
    return run == state.cableRuns.end() ? none : run->second->model([&] { return fitCable(readingsOf(state, cable)); });
}

std::vector<std::string> runFindings(const JobState& state, const CablePlan& cable)
{
    std::vector<std::string> out;
    if (const auto& model = cableModel(state, cable))
        for (const auto& shift : model->shifts) {
            out.push_back(shiftWords(state, shift));
            out.back().front() = static_cast<char>(std::toupper(static_cast<unsigned char>(out.back().front())));
        }
    return out;
}

std::string ownFinding(const JobState& state, const Link& link)
{
    const auto& model = cableModel(state, *link.cable);
    if (!model) return {};
    const auto own = std::find_if(model->own.begin(), model->own.end(), [&](const OwnLoss& o) { return o.link == link.id; });
    if (own == model->own.end()) return {};
    const double size = own->size.value();
    switch (own->kind) {
        case OwnLoss::Kind::Fibre: {
            const std::string doubtful = facesInDoubt(state, link);
            return fmt::format(
                "{:.2f} dB more than the other fibres lose, whichever end the light comes from, at all wavelengths, as a bad joint of its own does. "
                "{}",
                size,
                doubtful.empty() ? "Its faces were seen fit: swab the adapters' sleeves, mate again; then the splices."
                                 : fmt::format("Look first: {}.", doubtful));
        }
        case OwnLoss::Kind::Bend:
            return fmt::format("{:.2f} dB more at the longer wavelength than the other fibres show{}", size,
                               isMultimode(*link.cable) ? ". Read it again; then look along its cords and in the trays."
                                                        : ", as a bend does. Look along its cords and in the trays.");
        case OwnLoss::Kind::OneWay:
            return fmt::format(
                "{:.2f} dB more with the {} than from the other end: that reading, not the fibre. Clean, seat the cords anew, read it again.", size,
                sourceWords(own->direction));
        case OwnLoss::Kind::OneEnded:
            return fmt::format(
                "{:.2f} dB more than the other fibres: its own joints, or how the cords were seated. Read it again; the other direction tells.",
                size);
    }
    return {};
}

}  // namespace clendo
