#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "result/result.h"

namespace clendo {

/// Which fibre at B belongs to fibre n at A (ANSI/TIA-568.3 methods A, B and C, end to end).
enum class Polarity { Straight, Reversed, Pairs };
std::string_view name(Polarity polarity);  ///< "straight", "reversed", "pairs"
std::optional<Polarity> polarityNamed(std::string_view name);

/// Light into a fibre at A, and at which fibre at B it came out.
struct LightWay {
    int in = 1;
    std::optional<int> out;  ///< nothing: nowhere
};

/// What was seen of a cable's fibres, in part or whole. Fibres count from 1.
struct PolarityMap {
    std::string cable;
    int fibres = 0;
    int group = 0;  ///< fibres of a ribbon, tube or ferrule; the last group may be smaller
    Polarity expected = Polarity::Straight;
    std::vector<LightWay> seen;  ///< of several of one input the last counts
    std::vector<int> unused{};   ///< fibres that carry no light: nobody has to see them

    /// The fibre at B where `in` belongs.
    [[nodiscard]] int belongs(int in) const { return belongs(in, expected); }
    [[nodiscard]] int belongs(int in, Polarity polarity) const;
};

enum class PolarityFaultKind { CrossedPair, Shifted, ReversedGroup, SwappedGroups, OtherPolarity, Dark, Doubled, Mixed };
std::string_view name(PolarityFaultKind kind);  ///< "crossed-pair", "shifted", ...

/// One thing that is wrong, and what to open first.
struct PolarityFault {
    PolarityFaultKind kind = PolarityFaultKind::Mixed;
    std::vector<int> fibres;  ///< inputs at A, rising; of Doubled all whose light comes out at the one fibre, the right one included
    std::string message;
};

struct PolarityReport {
    bool ok = false;                    ///< every fibre was seen where it belongs
    int proven = 0;                     ///< fibres that were seen where they belong
    int unseen = 0;                     ///< fibres into which no light was sent
    std::vector<PolarityFault> faults;  ///< by their first fibre
};

/// Finds the fewest faults that leave the fewest fibres unexplained; of equally many the one that claims less. A fibre that is not where it belongs
/// is in exactly one. What is named was seen: a crossed pair only where both of its fibres were. Errors: PlanInvalid names what makes no sense.
Result<PolarityReport> explain(const PolarityMap& map);

}  // namespace clendo
