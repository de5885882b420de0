#pragma once
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "otdr/analysis.h"
#include "reel/reel_length.h"
#include "reel/sampling.h"
#include "reel/temporary_joint.h"

namespace clendo::reel {

/// A reel as it was ordered, and what was read of it before light.
struct Delivery {
    std::string reel;
    std::optional<Metre> ordered;
    int fibres = 1;
    std::string type;                            ///< "OS2"
    std::map<int, DecibelPerKilometre> allowed;  ///< attenuation by wavelength in nm, as ordered
    std::optional<SheathMarks> marks;
    double excess = 0;  ///< fibre longer than its cable, as a share
    std::optional<double> pricePerMetre;
    std::string jacket, environment;              ///< "indoor", "outdoor"; empty: not said
    std::string date;                             ///< when it came, as it was written; empty: not said
    std::optional<Metre> supplierLength;          ///< as the supplier's papers say
    std::map<int, DecibelPerKilometre> supplier;  ///< attenuation as the supplier's papers say, by wavelength in nm
};

/// Fibres that were drawn to speak for all.
struct Sample {
    SamplingPlan plan;
    std::vector<int> drawn;
};

/// One shot into it.
struct ReelShot {
    int fibre = 1;
    Nanometre wavelength;
    Metre spacing;  ///< of its points
    Metre launch;   ///< length of the launch cord; 0: without one
    otdr::Analysis found;
};

enum class ReelVerdict { Accept, AcceptWithNote, Reject, NotJudged };
std::string_view name(ReelVerdict verdict);  ///< "accept", "accept-with-note", "reject", "not-judged"
std::optional<ReelVerdict> reelVerdictNamed(std::string_view name);
std::string_view words(ReelVerdict verdict);    ///< as it is proposed, for people: "accept with a note"
std::string_view decided(ReelVerdict verdict);  ///< as somebody decided it: "accepted with a note"

struct ReelReport {
    struct Attenuation {
        int fibre;
        Nanometre wavelength;
        DecibelPerKilometre measured;
        std::optional<DecibelPerKilometre> allowed;
        [[nodiscard]] bool ok() const { return !allowed || measured <= *allowed; }
    };
    /// A loss at a place of the reel where there should be fibre alone; from the reel's near end.
    struct Fault {
        int fibre;
        Metre at;
        std::optional<Decibel> loss;
        std::string words;
    };
    struct Warning {
        std::string code, message;
    };
    ReelLength length;
    std::vector<Attenuation> attenuation;
    std::vector<Fault> faults;
    JointState joint = JointState::NotKnown;  ///< the worst of those that spoke of the reel
    std::vector<int> tested, bad;             ///< fibres
    std::string kind;                         ///< what kind of fibre it looks like, and from what; empty: it cannot be told
    ReelVerdict verdict = ReelVerdict::NotJudged;
    std::vector<std::string> why;
    std::vector<Warning> warnings;
};

/// Whether a shot speaks of the launch cord, the joint or the reel.
JointReading readShot(const Delivery& delivery, const ReelShot& shot);

/// Judges a reel: the joint and the launch cord come before the reel; then length, attenuation, point faults and the sample's numbers. An Error where
/// the marks cannot be.
/// Without a sample each fibre that was shot speaks for itself alone.
Result<ReelReport> judgeReel(const Delivery& delivery, const std::optional<Sample>& sample, const std::vector<ReelShot>& shots);

}  // namespace clendo::reel
