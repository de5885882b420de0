#include "power/loss.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "power/loss_verdict.h"

namespace clendo {
namespace {

// Practice, not from a standard.
constexpr Decibel gainTolerated{0.1};        // a "gain" beyond the drift allowed between checks proves a bad reference
constexpr DecibelMilliwatt meterFloor{-65};  // below this most field meters show their own noise
constexpr double impossibleAttenuation = 4;  // times the limit per km: the length cannot explain the loss

using Warnings = std::vector<LossWarning>;

/// The last reading of each wavelength and direction: what was read before it is superseded, and warns no more.
std::vector<Reading> readingsThatCount(const LossTask& task)
{
    std::vector<Reading> out;
    for (auto r = task.readings.rbegin(); r != task.readings.rend(); ++r)
        if (std::none_of(out.begin(), out.end(), [&](const Reading& o) { return o.wavelength == r->wavelength && o.direction == r->direction; }))
            out.push_back(*r);
    std::reverse(out.begin(), out.end());
    return out;
}

void warnOfReadings(const LossTask& task, Warnings& warnings)
{
    std::set<double> wavelengths;
    std::set<Direction> directions;
    for (const Reading& r : readingsThatCount(task)) {
        wavelengths.insert(r.wavelength.value());
        directions.insert(r.direction);
        if (!r.loss())
            warnings.push_back({"no_reference", fmt::format("No trustworthy reference at {:.0f} nm, {}: set it anew and read again.",
                                                            r.wavelength.value(), name(r.direction))});
        if (!r.shown && r.power <= meterFloor)
            warnings.push_back({"meter_floor", fmt::format("{:.2f} dBm is at the meter's floor: no light came through, or the wrong fibre is lit.",
                                                           r.power.value())});
    }
    if (wavelengths.size() == 1)
        warnings.push_back({"one_wavelength", "Only one wavelength was read: the longer one shows bends, the shorter one mismatch. Read both."});
    if (directions.size() == 1) warnings.push_back({"one_direction", "Only one direction was read."});
    if (task.sourceWarmUp && *task.sourceWarmUp < task.warmUpWanted)
        warnings.push_back(
            {"source_cold",
             fmt::format("The source had warmed up for {:.0f} min of {:.0f}: its power still drifts. Set the reference again when it is warm.",
                         task.sourceWarmUp->value() / 60, task.warmUpWanted.value() / 60)});
}

/// Whether figures have no more than a tenth of a decibel: rounded, where a meter shows hundredths.
bool isRounded(double value) { return std::abs(value * 10 - std::round(value * 10)) < 1e-6; }

/// How the readings were made, as far as the figures tell.
void warnOfHabits(const LossTask& task, const LimitSet& limits, Warnings& warnings)
{
    constexpr std::size_t fewest = 3;  // that a meter shows so many tenths by chance: one in a thousand
    const auto readings = readingsThatCount(task);
    std::size_t typed = 0, rounded = 0;
    for (const auto& r : readings) {
        if (!r.scatter) {
            ++typed;
            rounded += isRounded(r.shown ? r.shown->value() : r.power.value()) ? 1 : 0;
        }
        // nobody measures a round number of dBm twice
        const bool nominal = r.reference && r.referenceTyped && std::abs(r.reference->value() - std::round(r.reference->value())) < 1e-9;
        const auto same = std::count_if(readings.begin(), readings.end(), [&](const Reading& o) { return o.reference == r.reference; });
        if (nominal && same == static_cast<std::ptrdiff_t>(readings.size()) && readings.size() > 1 && &r == &readings.front())
            warnings.push_back(
                {"nominal_reference",
                 fmt::format(
                     "{:.0f} dBm as reference of every reading looks like the source's nominal power, not like something measured. A reference is "
                     "measured through the cord; set it again.",
                     r.reference->value())});
        if (!r.scatter && r.reference && r.power.value() > 0 && r.reference->value() < 0)
            warnings.push_back(
                {"sign_turned", fmt::format("{:.2f} dBm is more light than the reference. Was a minus left out, or a loss in dB typed as a level?",
                                            r.power.value())});
    }
    if (typed >= fewest && rounded == typed)
        warnings.push_back({"rounded", "All readings are whole tenths: type what the meter shows, and let nothing be rounded before the end."});
    if (task.launchConditioned && !*task.launchConditioned)
        warnings.push_back({"launch_not_conditioned",
                            "Multimode, and nobody said what conditioned the launch: encircled flux, or at least the mandrel for this core on the "
                            "source cord. Say it with "
                            "the reference."});
    const auto with = std::find_if(readings.begin(), readings.end(), [](const Reading& r) { return r.launch.has_value(); });
    if (with == readings.end()) return;
    const LaunchCord& launch = *with->launch;
    if (!launch.measured)
        warnings.push_back(
            {"launch_not_measured",
             "A launch cord's loss was subtracted that nobody measured: that is no measurement. Measure it, or set the reference through it."});
    if (launch.loss > limits.referencePair)
        warnings.push_back(
            {"launch_cord_bad",
             fmt::format("The launch cord loses {:.2f} dB, more than the {:.2f} dB of a reference-grade pair: clean or replace it first.",
                         launch.loss.value(), limits.referencePair.value())});
    if (launch.inReference)
        warnings.push_back(
            {"launch_counted_twice", "The reference was set through the launch cord, and its loss is subtracted once more: leave one of them out."});
}

void warnOfLoss(const LossResult& result, const LossTask& task, Warnings& warnings)
{
    if (!result.worst || !result.limit) return;
    const Decibel least = std::min(result.lossAb.value_or(*result.worst), result.lossBa.value_or(*result.worst));
    if (least < Decibel(0))
        warnings.push_back(
            {"gain",
             fmt::format(
                 "A passive link cannot gain {:.2f} dB at {:.0f} nm: the reference is bad (dirty cord, cord moved, source cold). Set it again.",
                 -least.value(), result.wavelength.value())});
    // a third of the attenuation allowed is less than any fibre has
    if (least >= Decibel(0) && task.load.length > Metre(1000) && least < result.limit->fibre / 3)
        warnings.push_back(
            {"loss_below_fibre", fmt::format("{:.2f} dB at {:.0f} nm is less than {:.0f} m of fibre alone lose: is it the right fibre and length?",
                                             least.value(), result.wavelength.value(), task.load.length.value())});
    if (*result.worst > result.limit->connections + result.limit->spliceLoss + result.limit->fibre * impossibleAttenuation)
        warnings.push_back(
            {"loss_not_explained",
             fmt::format("{:.2f} dB at {:.0f} nm cannot come from the length and the planned joints: look for a bend, a break or a dirty face.",
                         result.worst->value(), result.wavelength.value())});
    if (result.lossAb && result.lossBa && std::abs((*result.lossAb - *result.lossBa).value()) > 0.5)
        warnings.push_back({"directions_differ", fmt::format("The directions differ by {:.2f} dB at {:.0f} nm: check the reference of each end.",
                                                             std::abs((*result.lossAb - *result.lossBa).value()), result.wavelength.value())});
}

LossVerdict verdictOf(const LossResult& r)
{
    if (!r.founded || !r.worst || !r.limit) return LossVerdict::NotValid;
    return judgeLoss(*r.worst, std::min(r.lossAb.value_or(*r.worst), r.lossBa.value_or(*r.worst)), r.limit->total, r.uncertainty);
}

/// What the uncertainty of a loss of this task at a wavelength depends on.
LossConditions conditionsOf(const LossTask& task, Nanometre wavelength)
{
    LossConditions out{task.method, task.load.fibre.starts_with("OM"), task.launchConditioned, {}, {}};
    for (const auto& r : readingsThatCount(task)) {
        if (r.wavelength == wavelength && r.launch) out.launchTakenOff = true;
        if (r.wavelength == wavelength && r.scatter) {
            out.scatter = std::max(out.scatter.value_or(Decibel(0)), *r.scatter);
            // samples that were all alike show no step: then it is not known, and not nothing
            if (r.resolution && *r.resolution > Decibel(0)) out.resolution = std::max(out.resolution.value_or(Decibel(0)), *r.resolution);
        }
    }
    return out;
}

LossResult resultAt(Nanometre wavelength, const LossTask& task, const LimitSet& limits, Warnings& warnings)
{
    LossResult out;
    out.wavelength = wavelength;
    bool referencedAb = true, referencedBa = true, assumedAb = false, assumedBa = false;
    for (const auto& reading : task.readings) {  // the last reading of a direction counts
        if (reading.wavelength != wavelength) continue;
        const bool ab = reading.direction == Direction::AtoB;
        const auto loss = reading.loss();
        (ab ? assumedAb : assumedBa) = reading.launch && !reading.launch->measured;
        (ab ? referencedAb : referencedBa) = loss.has_value();
        (ab ? out.lossAb : out.lossBa) = loss;
    }
    if (out.lossAb && out.lossBa) {
        out.mean = (*out.lossAb + *out.lossBa) / 2;
        out.worst = std::max(*out.lossAb, *out.lossBa);
    } else if (out.lossAb || out.lossBa) {
        out.mean = out.worst = out.lossAb ? *out.lossAb : *out.lossBa;
    }
    out.conditions = conditionsOf(task, wavelength);
    out.doubts = contributions(out.conditions, limits);
    out.uncertainty = expanded(out.doubts, limits);
    const auto limit = budget(task.load, task.method, wavelength, limits);
    if (limit)
        out.limit = *limit;
    else
        warnings.push_back({std::string(codeName(limit.error().code)), limit.error().message});
    if (out.limit && out.worst) out.margin = out.limit->total - *out.worst;
    out.founded = referencedAb && referencedBa && !assumedAb && !assumedBa;
    out.verdict = verdictOf(out);
    return out;
}

/// The worst of two verdicts for the whole: not valid, fail, near limit, pass.
LossVerdict worse(LossVerdict a, LossVerdict b)
{
    const auto rank = [](LossVerdict v) {
        switch (v) {
            case LossVerdict::Pass: return 0;
            case LossVerdict::NearLimit: return 1;
            case LossVerdict::Fail: return 2;
            case LossVerdict::NotValid: return 3;
        }
        return 3;
    };
    return rank(a) >= rank(b) ? a : b;
}

}  // namespace

std::string_view name(Direction direction) { return direction == Direction::AtoB ? "ab" : "ba"; }

std::optional<Direction> directionNamed(std::string_view text)
{
    if (text == "ab") return Direction::AtoB;
    if (text == "ba") return Direction::BtoA;
    return std::nullopt;
}

std::string_view name(LossVerdict verdict)
{
    switch (verdict) {
        case LossVerdict::Pass: return "pass";
        case LossVerdict::Fail: return "fail";
        case LossVerdict::NearLimit: return "near limit";
        case LossVerdict::NotValid: return "not valid";
    }
    return "not valid";
}

LossVerdict judgeLoss(Decibel loss, Decibel least, Decibel limit, Decibel uncertainty)
{
    if (least < -gainTolerated) return LossVerdict::NotValid;
    const Decibel margin = limit - loss;
    if (std::abs(margin.value()) < uncertainty.value()) return LossVerdict::NearLimit;
    return margin >= Decibel(0) ? LossVerdict::Pass : LossVerdict::Fail;
}

LossResult against(LossResult measured, const LinkLoad& load, ReferenceMethod method, const LimitSet& limits)
{
    measured.doubts = contributions(measured.conditions, limits);
    measured.uncertainty = expanded(measured.doubts, limits);
    const auto limit = budget(load, method, measured.wavelength, limits);
    measured.limit = limit ? std::optional(*limit) : std::nullopt;
    measured.margin = measured.limit && measured.worst ? std::optional(measured.limit->total - *measured.worst) : std::nullopt;
    measured.verdict = verdictOf(measured);
    return measured;
}

LossReport computeLoss(const LossTask& given, const LimitSet& limits)
{
    LossTask task = given;
    for (auto& reading : task.readings)
        if (!reading.launch) reading.launch = task.launch;
    LossReport report;
    report.link = task.link;
    report.method = task.method;
    warnOfReadings(task, report.warnings);
    warnOfHabits(task, limits, report.warnings);
    std::set<Nanometre> wavelengths;
    for (const auto& reading : task.readings) wavelengths.insert(reading.wavelength);
    for (const auto wavelength : wavelengths) {
        report.results.push_back(resultAt(wavelength, task, limits, report.warnings));
        warnOfLoss(report.results.back(), task, report.warnings);
    }
    if (!report.results.empty()) report.verdict = LossVerdict::Pass;
    for (const auto& result : report.results) report.verdict = worse(report.verdict, result.verdict);
    return report;
}

}  // namespace clendo
