#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "result/result.h"
#include "units/units.h"

namespace clendo::reel {

/// Something to do, and to tick when it is done.
struct JointStep {
    std::string id, words;
    std::string caution;  ///< what can hurt somebody here; empty: nothing
};

/// A way to get light into a bare end of cable, with its part's own data. data/joints, and a user's own files.
struct JointKind {
    std::string id, title, source;
    std::optional<Metre> strip, cleave;  ///< nothing: the part does not ask for it
    std::string wayRound, seated;        ///< which way it goes in; what shows that it is seated
    int uses = 0;                        ///< how often the part can be used again; 0: not said
    std::optional<Decibel> loss;         ///< as a rule
    std::vector<JointStep> steps;        ///< from the closed cable on
};

/// "strip 50 mm, cleave to 10 mm, good for 5 uses, about 0.5 dB"
std::string figuresOf(const JointKind& kind);

struct JointKinds {
    std::vector<JointKind> all;         ///< by their titles
    std::vector<std::string> troubles;  ///< files that could not be used, in sentences
    /// Null: there is none.
    [[nodiscard]] const JointKind* find(std::string_view id) const;
};
/// Kinds of all files "*.json" of these folders; of two with the same id that of the later folder holds. A folder that is not there has none.
JointKinds jointKinds(const std::vector<std::filesystem::path>& folders);

}  // namespace clendo::reel
