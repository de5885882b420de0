#pragma once
#include <map>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "cleaning/kit_kinds.h"
#include "criteria/criteria.h"
#include "files/rule_files.h"
#include "plant/connectors.h"
#include "plant/plan.h"
#include "power/limits.h"
#include "record/state/job_settings.h"
#include "record/state/policy.h"
#include "record/state/stations.h"

namespace clendo {

class Rules;

struct TextHash {
    using is_transparent = void;
    std::size_t operator()(std::string_view text) const { return std::hash<std::string_view>()(text); }
};
using LinkIndex = std::unordered_map<std::string, std::size_t, TextHash, std::equal_to<>>;

/// What is planned and by which rules it is judged: what all other entries are read by. It changes as a whole, and then everything is read anew.
struct JobPlan {
    JobSettings job;
    std::vector<CablePlan> cables;
    std::vector<Link> links;  ///< point into `cables`
    LinkIndex linkIndex;      ///< place in `links` by id
    Criteria criteria;
    std::map<std::string, LimitSet> limits;                    ///< by the name of the fibre: "OS2"
    std::map<std::string, std::vector<LimitSet>> otherLimits;  ///< against which a certificate holds the loss as well, by the name of the fibre
    std::vector<ConnectorFamily> connectors;
    std::vector<KitKind> kitKinds;
    std::map<std::string, std::string> ownCriteria;  ///< criteria of the house, by edition: the text of their file
    RuleFiles::Texts keptRules;                      ///< rule files that the job keeps, by name
    RuleFiles::Texts usedRules;                      ///< those that it uses: criteria, limits, fibre constants
    Stations stations;                               ///< all that there is to do, in walking order
    std::vector<std::string> troubles;               ///< entries or rules that could not be used, in sentences

    JobPlan() = default;
    JobPlan(const JobPlan&) = delete;  // links point into cables
    JobPlan& operator=(const JobPlan&) = delete;

    /// Reads the rules that it names.
    void loadRules(const Rules& installed);
    /// The links of all cables, and what there is to do at them.
    void makeLinks();

    /// Null: there is none.
    [[nodiscard]] const Link* link(std::string_view id) const;
    /// The job's answer to a question of policyRows() that is no field of its own.
    [[nodiscard]] std::string_view policy(std::string_view key) const { return clendo::policy(job.policies, key); }
    /// A policy whose answer is a number; nothing where it is a word ("never").
    [[nodiscard]] std::optional<double> policyDecimal(std::string_view key) const;
    [[nodiscard]] std::optional<int> policyNumber(std::string_view key) const
    {
        const auto number = policyDecimal(key);
        return number ? std::optional(static_cast<int>(*number)) : std::nullopt;
    }
    /// The limits of the job as they apply to the cable's kind of fibre.
    [[nodiscard]] const LimitSet* limitsFor(const CablePlan& cable) const;
    /// The directions in which loss is read, by the job's policy.
    [[nodiscard]] std::vector<Direction> lossDirections() const;
    /// The job's wavelengths; where they do not suit the cable's kind of fibre, 850 and 1300 nm (multimode) or 1310 and 1550 nm.
    [[nodiscard]] std::vector<int> wavelengthsFor(const CablePlan& cable) const;
};

}  // namespace clendo
