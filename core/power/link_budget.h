#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "power/applications.h"
#include "power/limits.h"

namespace clendo {

/// One part of a link that is not built yet.
struct LinkElement {
    enum class Kind { Fibre, Connection, Splice, Other };
    Kind kind = Kind::Connection;
    std::string fibre{};                   ///< of a fibre
    Metre length{};                        ///< of a fibre
    std::optional<Decibel> loss{};         ///< as a rule; nothing: by kind. Of Other it is needed: a splitter, an attenuator
    std::optional<Decibel> spread{};       ///< one standard deviation
    std::optional<Decibel> reflectance{};  ///< of a joint, where it is known
};

/// What a link is planned to be.
struct LinkPlan {
    std::string link;
    ReferenceMethod method = ReferenceMethod::OneCord;  ///< by which it will be measured: the limit counts as many of its end connections
    std::vector<LinkElement> elements;
    std::vector<Nanometre> wavelengths;  ///< empty: those at which such a fibre is tested
};

/// What joints and fibres lose as a rule: data/plant/joints.json and data/fibres/fibres.json.
struct TypicalLosses {
    Decibel connection, connectionSpread, splice, spliceSpread;
    Decibel connectionReflectance;
    double fibreSpreadShare = 0;
    std::map<std::string, std::map<int, DecibelPerKilometre>> fibres;  ///< by fibre, by wavelength in nm
};
Result<TypicalLosses> loadTypicalLosses(const RuleFiles& rules);

/// How spreads are put together.
enum class Statistics { RootOfSquares, MonteCarlo };
std::string_view name(Statistics statistics);  ///< "root of squares", "monte carlo"

/// What a link will lose at one wavelength. Nothing: no figure is known.
struct WavelengthBudget {
    Nanometre wavelength;
    std::optional<Decibel> limit;       ///< of a measurement, counting the connections that it holds
    std::optional<Decibel> worst;       ///< every part at the most that it may lose, all connections counted; of given figures two spreads above
    std::optional<Decibel> typical;     ///< the sum of what parts lose as a rule
    std::optional<Decibel> typicalP95;  ///< 95 of 100 such links lose less
    std::optional<Decibel> least;       ///< the least that it can lose: fibre as a rule, joints nothing, given figures two spreads below
};

/// Whether a link carries an application, by its worst case.
struct ApplicationBudget {
    enum class Limit { None, Loss, Length, LeastLoss, Reflectance };
    std::string name, confidence;
    std::optional<bool> carries;   ///< nothing: its loss is not known at each wavelength, and nothing that is known forbids it
    std::optional<Decibel> spare;  ///< the least: how much more it may lose; where it loses too little, how much is missing, negative
    Limit limitedBy = Limit::None;
};
std::string_view name(ApplicationBudget::Limit limit);  ///< "loss", "length", "least-loss", "reflectance"

struct LinkBudget {
    std::string link, fibre;
    Metre length;
    int connections = 0, splices = 0, connectionsCounted = 0;
    Statistics statistics = Statistics::RootOfSquares;
    std::vector<WavelengthBudget> wavelengths;
    std::vector<ApplicationBudget> applications;  ///< those that have a channel on such a fibre
};

/// Sums a plan by the limits, by what is usual, and against each application. Monte Carlo draws losses from gamma distributions (joints lose never
/// less than nothing, and a few lose much), the same ones at each call. Errors: LinkInvalid for a plan without fibre, or of single-mode and
/// multimode.
Result<LinkBudget> planBudget(const LinkPlan& plan, const LimitSet& limits, const TypicalLosses& typical,
                              const std::vector<Application>& applications, Statistics statistics);

}  // namespace clendo
