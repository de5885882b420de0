#pragma once
#include <string>
#include <vector>

#include "acquisition/acquisition.h"

namespace clendo {

/// What is to be read next.
struct WantedReading {
    std::string link;
    Nanometre wavelength;
    auto operator<=>(const WantedReading&) const = default;
};

/// Who sets the source's wavelength. An operator does it once for the whole run, the line for each fibre.
enum class Switching { ByLine, ByOperator };

/// The readings of a run in the order in which hands and wavelengths are moved least: by line each fibre at all wavelengths, going up and down in
/// turn, so that one does not change with the fibre; by an operator all fibres at one wavelength, then back at the next.
std::vector<WantedReading> readingOrder(const std::vector<std::string>& links, const std::vector<Nanometre>& wavelengths, Switching switching);

/// Goes along a run of readings while hands move the cords: each is taken when the light is steady, and the next fibre only after the light was seen
/// to go away or to change as by another connection. Pure.
class AutoMeasure {
public:
    /// `rule`: of which the wavelength is put in.
    AutoMeasure(std::vector<WantedReading> run, const AcquisitionRule& rule, Switching switching);
    struct Taken {
        WantedReading what;
        AcquiredPower power;
    };
    /// A sample that came; the reading that it completed, if any.
    std::optional<Taken> add(const PowerSample& sample);
    /// Null: all is read.
    [[nodiscard]] const WantedReading* wanted() const { return next_ < run_.size() ? &run_[next_] : nullptr; }
    [[nodiscard]] AcquisitionState state(std::int64_t now) const { return acquisition_.state(now); }
    /// Whether the last fibre is still plugged in, as far as the light says.
    [[nodiscard]] bool waitsForChange(std::int64_t now) const { return acquisition_.state(now) == AcquisitionState::Taken; }
    /// An operator has to set the source to the wavelength that is wanted, and say so: nothing is read before.
    [[nodiscard]] bool waitsForOperator() const { return held_; }
    void sourceIsSet();
    [[nodiscard]] std::size_t done() const { return next_; }
    [[nodiscard]] std::size_t all() const { return run_.size(); }
    /// Leaves the one that is wanted out: a dark fibre, a port that cannot be reached.
    void skip();

private:
    std::vector<WantedReading> run_;
    AcquisitionRule rule_;
    Acquisition acquisition_;
    Switching switching_;
    std::size_t next_ = 0;
    bool held_ = false;

    void goOn(const std::string& from);
};

}  // namespace clendo
