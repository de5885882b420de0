#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "plant/plan.h"
#include "power/loss.h"

namespace clendo {

struct JobPlan;
struct JobState;

/// Something that has to be done once at one place of the plan, whether it is done or not: a face to be fit, a pair to be mated, a reference, a
/// signature. All of them, in walking order, are the round; the plan and the policy say which there are, the journal which are done.
struct Station {
    enum class What : std::uint8_t { Cord, Port, Sleeve, Mate, Reference, Loss, RightFibre, Length, Trace, Sign };
    What what = What::Cord;
    Direction direction = Direction::AtoB;  ///< of a reference
    std::uint32_t link = 0;   ///< its place in JobPlan::links; of a ferrule that of its first fibre, of a reference the first of the cable
    Connection at;            ///< of a face or pair
    std::uint16_t strip = 0;  ///< the strip to which it belongs, its place in Stations::strips

    [[nodiscard]] bool atFace() const { return what <= What::Mate; }
};

/// The ports of one cable at one panel or device, or what is done with light at both ends of one cable.
struct Strip {
    std::size_t cable = 0;  ///< its place in JobPlan::cables
    Connection at;
    bool light = false;  ///< both ends
    [[nodiscard]] bool operator==(const Strip&) const = default;
};

/// The stations of a plan in walking order: by place (all A ends, then panels in between, then all B ends), at a place by connector, access, rack and
/// panel; then light through each fibre, then signatures.
struct Stations {
    std::vector<Strip> strips;
    std::vector<Station> all;
    std::vector<std::vector<std::uint32_t>> ofLink;  ///< by link: the places in `all` of what depends on it
    std::vector<std::uint32_t> references;           ///< the places in `all` of all references
};
Stations stationsOf(const JobPlan& plan);

/// Whether what is to be done there is done.
bool isDone(const JobState& state, const Station& station);

/// The places of the plan in walking order.
std::vector<std::string> placesOf(const JobPlan& plan);

}  // namespace clendo
