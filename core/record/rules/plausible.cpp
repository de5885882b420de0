#include "record/rules/plausible.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "record/state/last_reading.h"
#include "record/state/loss_task.h"

namespace clendo {
namespace {

constexpr std::array<std::string_view, 5> asked{"sign_turned", "meter_floor", "gain", "loss_below_fibre", "loss_not_explained"};

bool sameFigure(const PowerRead& a, const PowerRead& b) { return a.shown == b.shown && (a.shown || a.power == b.power); }

/// At every wavelength of the direction the figures of a neighbour: that two fibres agree in one is chance.
std::string sameAsNeighbour(const JobState& state, const Link& link, const PowerRead& read)
{
    const auto wanted = state.plan->wavelengthsFor(*link.cable);
    for (const int beside : {link.fibre - 1, link.fibre + 1}) {
        const std::string other = fmt::format("{}/{}", link.cable->id, beside);
        if (!state.link(other)) continue;
        const bool same = std::all_of(wanted.begin(), wanted.end(), [&](int nm) {
            const Nanometre wavelength{double(nm)};
            const auto* before = lastReading(state.state(link.id), wavelength, read.direction);
            const auto* theirs = lastReading(state.state(other), wavelength, read.direction);
            const PowerRead* mine = read.wavelength == wavelength ? &read : before ? &before->what : nullptr;
            return mine && theirs && sameFigure(*mine, theirs->what);
        });
        if (same) return fmt::format("Fibre {} read exactly the same at every wavelength. Were the cords moved?", beside);
    }
    return {};
}

}  // namespace

std::string askBeforeFiling(const JobState& state, const PowerRead& read)
{
    const Link* link = state.link(read.link);
    const LimitSet* limits = link ? state.plan->limitsFor(*link->cable) : nullptr;
    if (!limits) return {};
    Reading one{read.wavelength, read.direction, {}, read.power, read.shown};
    if (const auto* on = state.reference(read.direction, read.wavelength); on && !on->zeroed) one.reference = on->level;
    const auto report = computeLoss(lossTaskOf(*link, state.plan->job.method, {one}), *limits);
    for (const auto& warning : report.warnings)
        if (std::find(asked.begin(), asked.end(), warning.code) != asked.end()) return warning.message;
    return sameAsNeighbour(state, *link, read);
}

}  // namespace clendo
