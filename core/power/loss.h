#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "power/limits.h"
#include "power/uncertainty.h"

namespace clendo {

enum class Direction { AtoB, BtoA };
std::string_view name(Direction direction);  ///< "ab", "ba"
std::optional<Direction> directionNamed(std::string_view name);

/// A launch cord behind the reference, whose loss is taken off what is read.
struct LaunchCord {
    Decibel loss;
    bool measured = false;     ///< and not assumed
    bool inReference = false;  ///< the reference was set through it: its loss would be taken off twice
};

/// One power read through the link, with the reference that it belongs to.
struct Reading {
    Nanometre wavelength;
    Direction direction = Direction::AtoB;
    std::optional<DecibelMilliwatt> reference;  ///< nothing: none was set, or it is no longer good
    DecibelMilliwatt power;
    std::optional<Decibel> shown{};  ///< the loss itself, of a meter that was set to zero on its reference; then the two levels are not asked
    std::optional<Decibel> scatter{}, resolution{};  ///< of the samples of which it was made; nothing: it was typed
    std::optional<LaunchCord> launch{};
    bool referenceTyped = true;  ///< the reference was no instrument's on a line

    /// The loss that it says; nothing where it rests on no reference.
    [[nodiscard]] std::optional<Decibel> loss() const
    {
        if (!shown && !reference) return std::nullopt;
        return (shown ? *shown : *reference - power) - (launch ? launch->loss : Decibel(0));
    }
};

struct LossTask {
    std::string link;
    LinkLoad load;
    ReferenceMethod method = ReferenceMethod::OneCord;
    std::optional<Second> sourceWarmUp;
    std::vector<Reading> readings;
    Second warmUpWanted{600};                 ///< a source's default where its maker says nothing
    std::optional<bool> launchConditioned{};  ///< multimode: encircled flux or mandrel confirmed; nothing: not asked
    std::optional<LaunchCord> launch{};       ///< of all readings that say nothing of it themselves
};

enum class LossVerdict { Pass, Fail, NearLimit, NotValid };
std::string_view name(LossVerdict verdict);  ///< "pass", "fail", "near limit", "not valid"

/// One wavelength, both directions.
struct LossResult {
    Nanometre wavelength;
    std::optional<Decibel> lossAb, lossBa;
    std::optional<Decibel> mean, worst;  ///< of the directions there are
    std::optional<Budget> limit;
    std::optional<Decibel> margin;       ///< limit less the worst direction
    Decibel uncertainty;                 ///< expanded, as the margin is compared with
    LossConditions conditions{};         ///< on which it depends
    std::vector<Contribution> doubts{};  ///< of which it is made, the largest first
    bool founded = false;                ///< every reading rests on a reference, and nothing that nobody measured was taken off
    LossVerdict verdict = LossVerdict::NotValid;
};

struct LossWarning {
    std::string code, message;
};

struct LossReport {
    std::string link;
    ReferenceMethod method = ReferenceMethod::OneCord;  ///< by which the readings were taken
    std::vector<LossResult> results;
    LossVerdict verdict = LossVerdict::NotValid;
    std::vector<LossWarning> warnings;
};

/// Loss = reference - power, judged on the worst direction against a limit that counts the same connections as the
/// method; plausibility is told as warnings. Nothing is rounded. Pure.
LossReport computeLoss(const LossTask& task, const LimitSet& limits);

/// A loss as it was measured, against another set of limits: limit, doubt, margin and verdict are that set's. What was not valid stays so; without a
/// figure for its fibre and wavelength there is no limit.
LossResult against(LossResult measured, const LinkLoad& load, ReferenceMethod method, const LimitSet& limits);

/// A level as a person types it or an instrument says it: "-8.63 dBm", "-8,63", "−8.63dBm", "137 uW". A bare number is
/// taken as dBm. Errors: no number, "dB" (a ratio is no level), a level no instrument can show (outside -90..+30 dBm).
Result<DecibelMilliwatt> parsePower(std::string_view text);
/// What a meter shows that was set to zero on the reference: "-1.62 dB", "1,62". `lossIsNegative`: its sign convention. Errors as of parsePower(); a
/// level in dBm is none.
Result<Decibel> parseRelative(std::string_view text, bool lossIsNegative);

}  // namespace clendo
