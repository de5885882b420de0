#pragma once
#include <optional>
#include <set>
#include <vector>

#include "criteria/criteria.h"

namespace clendo {

/// One rule applied: what was counted, and which findings those were.
struct RuleOutcome {
    Rule rule;
    int counted = 0;
    bool met = true;
    std::vector<int> findings;  ///< ids
};

/// What the criteria say of a face. `fit` says pass or fail; `outcomes` has every rule in the criteria's order.
struct Verdict {
    bool fit = true;
    bool nearLimit = false;  ///< half the measuring uncertainty, leaving out what hardly shows, or the other kind would turn it
    std::vector<RuleOutcome> outcomes;

    /// The first rule that is broken, or nothing.
    [[nodiscard]] const RuleOutcome* broken() const;
    /// Ids of the findings that broken rules counted.
    [[nodiscard]] std::set<int> breaking() const;
};

/// The innermost zone that the finding touches; nothing outside all zones (IEC 61300-3-35: what crosses zones belongs to the innermost).
std::optional<Zone> zoneOf(const Finding& finding, const FaceClass& faceClass);

/// The size that the rules look at: a scratch's width, everything else's enclosing circle.
Micrometre judgedSize(const Finding& finding);

/// By how much a finding's judged size may be wrong (95 %): the larger of the criteria's fixed figure and its share of the size; more where the
/// finding hardly stands out or lies beside the glass.
Micrometre sizeUncertainty(const Finding& finding, const Criteria& criteria);

/// Applies every rule. Pure: the same findings and criteria give the same verdict. `nearLimit` uses the criteria's uncertainties.
Verdict judge(const std::vector<Finding>& findings, const FaceClass& faceClass, const Criteria& criteria);

}  // namespace clendo
