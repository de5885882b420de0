#include "record/output/shots_of_cable.h"

#include <algorithm>
#include <cmath>

#include "record/rules/plan_match.h"

namespace clendo {

std::size_t ShotsOfCable::shot() const
{
    return static_cast<std::size_t>(std::count_if(rows.begin(), rows.end(), [](const Row& row) { return row.shot != nullptr; }));
}

std::vector<ShotsOfCable> shotsOfCable(const JobState& state, const CablePlan& cable)
{
    std::vector<ShotsOfCable> out;
    std::vector<const Link*> links;
    for (const Link& link : state.plan->links)
        if (link.cable->id == cable.id && cable.carriesLight(link.fibre)) links.push_back(&link);
    for (const Link* link : links)
        for (const auto& shot : state.state(link->id).traces) {
            const bool known = std::any_of(out.begin(), out.end(), [&](const ShotsOfCable& o) {
                return o.direction == shot.what.direction && std::abs((o.wavelength - shot.what.wavelength).value()) < sameWavelength.value();
            });
            if (!known) out.push_back({shot.what.direction, shot.what.wavelength, {}});
        }
    for (auto& shots : out)
        for (const Link* link : links) {
            const auto* latest = latestShot(state.state(link->id), shots.direction, shots.wavelength);
            shots.rows.push_back({link, latest ? &latest->what : nullptr});
        }
    std::stable_sort(out.begin(), out.end(), [](const auto& a, const auto& b) {
        return a.shot() != b.shot()                           ? a.shot() > b.shot()
               : a.wavelength.value() != b.wavelength.value() ? a.wavelength < b.wavelength
                                                              : a.direction < b.direction;
    });
    return out;
}

}  // namespace clendo
