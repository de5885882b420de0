#pragma once
#include <cstdint>
#include <deque>
#include <optional>
#include <string_view>

#include "units/units.h"

namespace clendo {

/// What a power meter said at one moment.
struct PowerSample {
    enum class Kind { Level, Overload, NoLight, Unclear };  ///< NoLight: under the meter's range. Unclear: an answer that is no level
    std::int64_t at = 0;                                    ///< microseconds, of any clock that does not go back
    Kind kind = Kind::Level;
    DecibelMilliwatt power{};  ///< of a Level
    Nanometre wavelength{};    ///< to which the meter is set
    bool tone = false;         ///< the light is modulated
};

/// When samples become one reading.
struct AcquisitionRule {
    Nanometre wavelength;               ///< that is wanted
    Decibel within{0.02};               ///< the span in which all samples lie
    std::int64_t lasting = 1'000'000;   ///< microseconds for which they do
    std::size_t fewest = 5;             ///< samples in that time
    DecibelMilliwatt floor{-65};        ///< at or below it the meter shows its own noise
    std::int64_t patience = 2'000'000;  ///< microseconds without a sample after which nothing is known any more
    Decibel parted{3};                  ///< a level that fell or rose by this since the last reading is of another connection
};

/// Why there is no reading yet, or that there is one.
enum class AcquisitionState { Silent, WrongWavelength, Tone, Overload, NoLight, Unclear, Unsteady, Steady, Taken };
std::string_view name(AcquisitionState state);  ///< "silent", "wrong wavelength", ...

/// One reading out of many samples.
struct AcquiredPower {
    DecibelMilliwatt power;  ///< of the mean in milliwatts
    Decibel scatter;         ///< standard deviation of the samples
    Decibel resolution;      ///< the least step between two samples; 0: they were all alike
    std::size_t samples = 0;
    std::int64_t from = 0, to = 0;  ///< microseconds
};

/// Makes one reading of a stream of samples: steady long enough, at the right wavelength, of continuous light, over the meter's floor. What was taken
/// is not taken again: the light must go away, or change as by another connection, first. Pure: knows no clock but that of the samples.
class Acquisition {
public:
    explicit Acquisition(const AcquisitionRule& rule) : rule_(rule) {}

    /// A sample that is older than the last one is left out.
    void add(const PowerSample& sample);
    /// `now`: by the clock of the samples.
    [[nodiscard]] AcquisitionState state(std::int64_t now) const;
    /// The reading, where the state is Steady; after that it is Taken until the connection changes.
    std::optional<AcquiredPower> take(std::int64_t now);
    /// Another wavelength or rule: nothing that came before counts, and the same connection may be read again.
    void restart(const AcquisitionRule& rule);
    /// What is plugged in now is not what is wanted: nothing is taken until the light goes away or is another connection's.
    void holdUntilChanged();
    /// The wavelength alone; whether what is plugged in was taken stays as it is.
    void setWavelength(Nanometre wavelength);

private:
    [[nodiscard]] bool spans() const;

    AcquisitionRule rule_;
    std::deque<PowerSample> steady_;  ///< levels within the span, up to the newest
    std::optional<PowerSample> last_;
    std::optional<DecibelMilliwatt> taken_;
};

}  // namespace clendo
