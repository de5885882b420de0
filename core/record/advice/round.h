#pragma once
#include <cstddef>
#include <string>
#include <vector>

#include "record/state/state.h"
#include "record/state/stations.h"
#include "sharing/index_iterator.h"

namespace clendo {

enum class StepKind { Look, Clean, Sleeve, Mate, Reference, Loss, RightFibre, Length, Trace, Sign };

/// One thing to do, in walking order.
struct Step {
    StepKind kind = StepKind::Look;
    std::string place;  ///< where one stands for it; "Both ends" for light
    std::string link;
    FaceId face;                     ///< for Look and Clean
    Connection connection;           ///< for Mate and Sleeve
    std::string title;               ///< "Look behind the adapter"
    std::string where;               ///< "TH-R2 port 7"
    std::vector<std::string> carry;  ///< what to take along, thing by thing
    std::string advice{};            ///< what else to think of
};
inline constexpr std::string_view bothEnds = "Both ends";

/// The step of a station, in words.
Step stepOf(const JobState& state, const Station& station);

/// What is left, the next one first. A step is put into words when it is asked for. Looks at a state, which must stay.
class StepsLeft {
public:
    StepsLeft() = default;
    StepsLeft(const JobState& state, std::vector<std::uint32_t> places) : state_(&state), places_(std::move(places)) {}
    [[nodiscard]] std::size_t size() const { return places_.size(); }
    [[nodiscard]] bool empty() const { return places_.empty(); }
    [[nodiscard]] const Station& station(std::size_t i) const { return state_->plan->stations.all[places_[i]]; }
    [[nodiscard]] std::string_view placeAt(std::size_t i) const;
    Step operator[](std::size_t i) const { return stepOf(*state_, station(i)); }
    [[nodiscard]] Step front() const { return (*this)[0]; }

    [[nodiscard]] IndexIterator<StepsLeft> begin() const { return {this, 0}; }
    [[nodiscard]] IndexIterator<StepsLeft> end() const { return {this, size()}; }

private:
    const JobState* state_ = nullptr;
    std::vector<std::uint32_t> places_;
};

struct Round {
    StepsLeft left;
    int done = 0, all = 0;
};

/// What is left of a job, by its stations. With a place: only what is to be done there, for two people at two ends.
Round roundOf(const JobState& state, std::string_view place = {});

/// How far a kind of work with light is, or what there is to do at a strip's ports.
struct Tally {
    int done = 0, all = 0;
};
struct StripTally {
    std::size_t strip = 0;  ///< its place in Stations::strips
    Tally faces;
};
struct LightTally {
    StepKind kind = StepKind::Loss;
    std::string title;  ///< "Insertion loss"
    Tally fibres;
};
/// The round at a glance: strips of ports in walking order, and what is done with light.
struct RoundTally {
    std::vector<StripTally> strips;
    std::vector<LightTally> light;
};
RoundTally tallyOf(const JobState& state, std::string_view place = {});

/// What to carry for the steps at a place, each thing once.
std::vector<std::string> carryList(const StepsLeft& steps, std::string_view place);

}  // namespace clendo
