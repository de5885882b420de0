#pragma once
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "files/rule_files.h"
#include "result/result.h"
#include "units/units.h"

namespace clendo {

/// How many cords were in place when the reference was taken; single-ended: the meter takes the far connector itself.
enum class ReferenceMethod { OneCord, TwoCord, ThreeCord, SingleEnded };

std::string_view name(ReferenceMethod method);  ///< "one-cord"
std::optional<ReferenceMethod> referenceMethodNamed(std::string_view name);
/// How many of the link's two end connections a reading by this method holds: 2, 1, 0, 1.
int endConnectionsHeld(ReferenceMethod method);
/// What people still call it: "526-14-A method B, 526-7 method A.1".
std::string_view oldNames(ReferenceMethod method);
/// Reference-grade pairs that already stood in the reference: 0, 1, 2, 0. The uncertainty grows by them.
int referencePairs(ReferenceMethod method);

/// What a loss is uncertain by, term by term. Standard uncertainties, or half of the width within which it lies.
struct UncertaintyFigures {
    Decibel mating;                            ///< of one mating from the next, standard
    Decibel detector;                          ///< of a cord put into a meter, standard
    Decibel sourceDrift;                       ///< half width, between reference and reading
    Decibel linearity;                         ///< half width, of a meter over the loss
    Decibel launchConditioned, launchUnknown;  ///< multimode, standard
    Decibel temperature;                       ///< half width
    double coverage = 2;                       ///< by which the combined is multiplied
};

/// What a link may lose, from a file under data/limits.
struct LimitSet {
    std::string name, title, source, version, hash;
    bool checked = false;
    Decibel connection;     ///< inner connections
    Decibel endConnection;  ///< connections at the link's ends, against test cords
    Decibel splice;
    Decibel referencePair;  ///< largest loss of two reference-grade connectors mated
    /// Reflectance of a connection at most, of flat and of angled faces; nothing: the file does not say.
    std::optional<Decibel> reflectance{}, angledReflectance{};
    UncertaintyFigures uncertainty;
    std::map<std::string, std::map<int, DecibelPerKilometre>> attenuation;  ///< by fibre, by wavelength in nm
    std::optional<Decibel> total;                                           ///< a client's own or an application's limit: counts instead of the sum
};

/// What the limit counts, term by term.
struct Budget {
    DecibelPerKilometre attenuation;
    Metre length;
    int innerConnections = 0, endConnections = 0, splices = 0;
    Decibel fibre, connections, spliceLoss, total;
    bool fixedTotal = false;  ///< the total was given, not summed

    [[nodiscard]] int connectionsCounted() const { return innerConnections + endConnections; }
    /// "2.400 km x 0.50 dB/km + 2 connections x 0.75 dB + 2 splices x 0.30 dB = 3.30 dB"
    std::string sum;
};

/// The installed link that is measured. `connections` counts mated pairs, both ends included.
struct LinkLoad {
    std::string fibre = "OS2";
    Metre length;
    int connections = 2;
    int splices = 0;
};

/// A shipped set by name ("generic-sm", ...), "application:NAME", or the path of a file.
Result<LimitSet> loadLimits(std::string_view name, std::string_view fibre, const RuleFiles& rules);
/// The applications whose limits are known, for "application:NAME".
std::vector<std::string> applicationNames(const RuleFiles& rules);
Result<LimitSet> parseLimits(std::string_view json);

/// The limit that counts the same connections as the method. An Error where the set has no figure for fibre and wavelength.
Result<Budget> budget(const LinkLoad& load, ReferenceMethod method, Nanometre wavelength, const LimitSet& limits);

}  // namespace clendo
