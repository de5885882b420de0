#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "criteria/finding.h"

namespace clendo::face {

/// What became of a finding from one look to the next.
enum class Fate { Stayed, Moved, Gone, New };
std::string_view name(Fate fate);

struct FindingFate {
    Fate fate = Fate::New;
    std::optional<int> before, after;  ///< ids of the findings; Gone has no `after`, New no `before`
};

/// Two looks at one face, laid over each other. The fibre's centre and the scale are known of both, so only the turn is searched.
struct LookComparison {
    double turnDegrees = 0;  ///< by which the later look is turned against the earlier, clockwise in the picture
    std::vector<FindingFate> fates;

    [[nodiscard]] int count(Fate fate) const;
    /// "3 stayed, 1 gone"; empty where nothing was found in either.
    [[nodiscard]] std::string words() const;
    /// The fate of a finding of the later look.
    [[nodiscard]] Fate ofLater(int id) const;
};

/// What lies within about 2 um of its old place and has about its old size stayed; a loose thing of the same size elsewhere moved.
LookComparison compareLooks(const std::vector<Finding>& before, const std::vector<Finding>& after);

}  // namespace clendo::face
