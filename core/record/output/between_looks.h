#pragma once
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// For a face that was found bad: when it was last seen fit, by whom, and everything that was filed of it between, so that a dispute is about facts.
struct BetweenLooks {
    /// Something that was filed.
    struct Deed {
        std::int64_t at = 0;  ///< when it happened, seconds since 1970-01-01 UTC
        std::string who;
        Digest entry;
        std::string says;
        std::string met;        ///< the other face that touched it, for people; empty: none
        std::string metBefore;  ///< what was known of that one then: "seen fit 2026-11-28 10:15 UTC", "never seen"
    };
    FaceId face;
    std::string where;
    std::optional<Deed> fit;  ///< the last look before at which it was fit; nothing: it never was seen fit
    std::string fitPicture;   ///< SHA-256
    Deed bad;                 ///< the first look after that at which it was not
    std::string badPicture;
    std::vector<std::string> broken;  ///< rules that it broke then: "zone B, defect: 2 counted, none allowed"
    std::vector<Deed> between;        ///< in the order of time
    std::string sentence;             ///< what that comes to, and what not
};

/// The last time that this face was found bad. An Error where it never was. `journal`: of which the state is the fold.
Result<BetweenLooks> betweenLooks(const JobState& state, std::span<const Entry> journal, const FaceId& face);

/// As it is signed: "format": "clendo-between-looks".
nlohmann::json toJson(const BetweenLooks& between, const JobState& state);

}  // namespace clendo
