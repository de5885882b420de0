#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// What a link is made of for its record. Each has a line of its own.
enum class PartKind { Face, Mating, Loss, RightFibre, Length, Trace, Joint };
std::string_view name(PartKind kind);  ///< "faces", "mating", "loss", "right fibre", "length", "traces", "joints"

/// From the best to the worst: the verdict of a link is the worst of its parts.
enum class PartVerdict { NotAsked, Pass, NearLimit, Incomplete, NotValid, Fail };
std::string_view name(PartVerdict verdict);  ///< "not asked", "pass", "near limit", "incomplete", "not valid", "fail"

/// One thing that the job wants to know of a link, or that is known of it though nobody asked.
struct Part {
    PartKind kind = PartKind::Face;
    std::string about;                 ///< "TH-R2 port 7", "loss at 1310 nm"
    std::string says{};                ///< what is there, in words; empty: nothing
    std::vector<std::string> lacks{};  ///< what is not there, each as it stands behind "not tested:"
    bool wanted = true;                ///< by the plan, the job's policy and its tier
    PartVerdict verdict = PartVerdict::Pass;
    std::vector<Digest> entries{};  ///< of the journal, on which `says` rests
};

/// What was wanted of a link, what is there, what is missing.
struct Completeness {
    std::vector<Part> parts;              ///< in the order of the work; the same kinds stand together
    std::vector<std::string> exceptions;  ///< what was done all the same, or decided by hand, each with its reason

    /// The worst of what was asked for or is known; Incomplete where something that is wanted is missing and nothing fails.
    [[nodiscard]] PartVerdict verdict() const;
    /// The first part that is as bad as the verdict says; null where nothing is worse than a pass.
    [[nodiscard]] const Part* worst() const;
    /// What is wanted and missing.
    [[nodiscard]] std::vector<std::string> missing() const;
    /// The same, and what is missing though nobody asked for it.
    [[nodiscard]] std::vector<std::string> notTested() const;
    /// Whether everything that the job asks of these kinds is there, whatever its verdict.
    [[nodiscard]] bool complete(PartKind kind) const;
    [[nodiscard]] bool complete() const { return missing().empty(); }
    /// 1: loss, length and right fibre were tested; 2: and both traces; nothing: not even that.
    [[nodiscard]] std::optional<int> tier() const;
    /// The worst verdict among the parts of a kind; NotAsked where there are none.
    [[nodiscard]] PartVerdict verdict(PartKind kind) const;
};

/// From the plan, the job's policy and the tier that it asks for: each face seen fit after its last touch, sleeves, both ends mated, each wavelength
/// in each wanted direction on a good reference, right fibre, length, traces by wavelength and direction, every joint within its limit. Pure. Of a
/// face that waits for its partner too long it says so; `Ageing::Left`: it says what the entries alone say, whatever the clock.
enum class Ageing { Asked, Left };
Completeness completeness(const JobState& state, const Link& link, Ageing ageing = Ageing::Asked);

/// What is there of the parts that are tested with light.
LightDone lightDone(const Completeness& all);

/// Whether a link may be signed off: everything that is wanted is there. StepRefused, which can be overridden with a reason, says what is missing.
Result<void> maySign(const JobState& state, const Link& link);
/// Whether a cable may be: the signatures of all its fibres stand. StepForbidden says which does not.
Result<void> maySign(const JobState& state, const CablePlan& cable);

}  // namespace clendo
