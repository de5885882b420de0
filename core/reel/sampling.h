#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "files/rule_files.h"
#include "result/result.h"

namespace clendo::reel {

/// How many fibres of a lot are tested, and when it is accepted: single sampling by attributes. ISO 2859-1.
struct SamplingPlan {
    int lot = 0, size = 0;
    int accept = 0, reject = 1;  ///< so many bad ones are still accepted; so many reject it
    [[nodiscard]] bool all() const { return size >= lot; }
};

/// Plans by lot and acceptance quality limit, from data/sampling.
class SamplingTable {
public:
    static Result<SamplingTable> load(const RuleFiles& rules);
    /// An Error where the table does not hold the level, the limit or the lot.
    [[nodiscard]] Result<SamplingPlan> plan(int lot, const std::string& level, double aql) const;
    /// Acceptance quality limits that a level has plans for, percent, rising.
    [[nodiscard]] std::vector<double> qualityLimits(const std::string& level) const;
    [[nodiscard]] const std::string& source() const { return source_; }

private:
    struct Row {
        std::string level;
        double aql = 0;
        int from = 0, to = 0, size = 0, accept = 0, reject = 1;  ///< size 0: all
    };
    std::vector<Row> rows_;
    std::string source_;
};

/// How likely a lot is accepted of which so many are bad (operating characteristic): sampling without replacement, hypergeometric.
double acceptedWith(const SamplingPlan& plan, int bad);

/// Which fibres are tested: from 1, in rising order, drawn at random. The same seed draws the same ones on every computer.
std::vector<int> draw(const SamplingPlan& plan, std::uint32_t seed);

}  // namespace clendo::reel
