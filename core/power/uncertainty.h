#pragma once
#include <optional>
#include <string>
#include <vector>

#include "power/limits.h"

namespace clendo {

/// One source of doubt in a loss.
struct Contribution {
    enum class Kind { Matings, Detector, ReferencePairs, Source, Linearity, Resolution, Scatter, Launch, LaunchCord, Temperature };
    Kind kind = Kind::Matings;
    std::string name;  ///< for people: "3 matings, 0.05 dB each"
    Decibel standard;  ///< standard uncertainty
};

/// What is known of one loss for its uncertainty.
struct LossConditions {
    ReferenceMethod method = ReferenceMethod::OneCord;
    bool multimode = false;
    std::optional<bool> launchConditioned{};
    std::optional<Decibel> scatter{}, resolution{};  ///< nothing: typed, to a hundredth
    bool launchTakenOff = false;                     ///< the measured loss of a launch cord is in it
    int repeats = 1;                                 ///< readings with the link's connectors mated anew, of which this is the mean
};

/// After the Guide to the expression of uncertainty in measurement (JCGM 100:2008, 5.1.2): independent contributions, root of the sum of squares.
/// Figures are those of the limit set (data/limits). The largest comes first.
std::vector<Contribution> contributions(const LossConditions& conditions, const LimitSet& limits);
/// Of all, times the coverage factor of the limit set (2: about 95 of 100, JCGM 100:2008, 6.3.3).
Decibel expanded(const std::vector<Contribution>& contributions, const LimitSet& limits);
/// "0.17 dB (k = 2: 95 of 100): 2 matings 0.07, ..."
std::string uncertaintyWords(const std::vector<Contribution>& contributions, Decibel expanded);

/// What would shrink the doubt most, so that a loss with this margin could be told; nothing where no repeat would settle it.
std::optional<std::string> whatWouldSettleIt(Decibel margin, const LossConditions& conditions, const LimitSet& limits);

}  // namespace clendo
