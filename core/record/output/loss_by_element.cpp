#include "record/output/loss_by_element.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "record/rules/plan_match.h"

namespace clendo {
namespace {

/// What the fibre itself loses: its attenuation over the link, of both ways where both show it.
ElementLoss ofFibre(const TraceShot& shot, const TraceShot* back)
{
    const auto alone = [](const TraceShot& s) {
        return s.found.span && s.found.span->attenuation ? std::optional(*s.found.span->attenuation * s.found.span->length()) : std::nullopt;
    };
    const auto there = alone(shot), other = back ? alone(*back) : std::nullopt;
    if (there && other) return {"fibre", {}, (*there + *other) / 2, true};
    return {"fibre", {}, there ? there : other, false};
}

}  // namespace

std::optional<LossByElement> lossByElement(const JobState& state, const Link& link, Nanometre wavelength)
{
    const LinkState& of = state.state(link.id);
    const Filed<TraceShot>* shot = latestShot(of, Direction::AtoB, wavelength);
    if (!shot || !shot->what.found.span) shot = latestShot(of, Direction::BtoA, wavelength);
    if (!shot || !shot->what.found.span) return std::nullopt;
    const TraceShot* back = otherWay(of, shot->what);
    LossByElement out{wavelength, true, {}, {}};
    Decibel sum{0};
    bool whole = true;
    for (const auto& row : matchPlan(state, link, shot->what)) {
        ElementLoss element{row.name, row.limit, row.bothWays ? row.bothWays : row.loss, row.bothWays.has_value()};
        if (!row.planned) element.name = fmt::format("unplanned, {:.0f} m", row.found->value());
        whole = whole && (element.found || row.kind == "splice");  // a splice that no trace shows loses nothing that could be seen
        if (element.found) sum += *element.found;
        out.elements.push_back(std::move(element));
    }
    ElementLoss fibre = ofFibre(shot->what, back);
    whole = whole && fibre.found;
    if (fibre.found) sum += *fibre.found;
    if (of.loss)
        for (const auto& result : of.loss->results)
            if (std::abs((result.wavelength - wavelength).value()) < sameWavelength.value()) {
                if (result.limit) fibre.allowed = result.limit->fibre;
                if (whole && result.mean) out.unexplained = *result.mean - sum;
            }
    out.elements.push_back(std::move(fibre));
    out.bothWays = std::none_of(out.elements.begin(), out.elements.end(), [](const auto& e) { return e.found && !e.bothWays; });
    return out;
}

std::string lossByElementWords(const LossByElement& where)
{
    const ElementLoss* worst = nullptr;
    for (const auto& element : where.elements)
        if (element.found && element.allowed && *element.found > *element.allowed &&
            (!worst || *element.found - *element.allowed > *worst->found - *worst->allowed))
            worst = &element;
    const auto ways = [](bool both) { return both ? "both ways" : "from one end"; };
    if (worst)
        return fmt::format("{:.0f} nm, traces {}: {} loses {:.2f} dB; {:.2f} dB are allowed.", where.wavelength.value(), ways(worst->bothWays),
                           worst->name, worst->found->value(), worst->allowed->value());
    constexpr Decibel much{0.4};  // what connectors, mated anew for each measurement, explain
    if (where.unexplained && *where.unexplained > much)
        return fmt::format("{:.0f} nm: source and meter show {:.2f} dB more than all that the traces show ({}). Look at the test cords, read again.",
                           where.wavelength.value(), where.unexplained->value(), ways(where.bothWays));
    return {};
}

}  // namespace clendo
