#include "power/uncertainty.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace clendo {
namespace {

/// Standard uncertainty of what lies anywhere between two bounds (JCGM 100:2008, 4.3.7).
Decibel rectangular(Decibel halfWidth) { return halfWidth / std::numbers::sqrt3; }

/// Matings of the link against test cords that a reading makes, and those that stood in its reference.
int matings(ReferenceMethod method) { return (method == ReferenceMethod::SingleEnded ? 1 : 2) + referencePairs(method); }

}  // namespace

std::vector<Contribution> contributions(const LossConditions& c, const LimitSet& limits)
{
    using Kind = Contribution::Kind;
    const UncertaintyFigures& figures = limits.uncertainty;
    std::vector<Contribution> out;
    const auto add = [&](Kind kind, std::string name, Decibel standard) {
        constexpr Decibel worthSaying{1e-4};
        if (standard > worthSaying) out.push_back({kind, std::move(name), standard});
    };
    const int n = matings(c.method), pairs = referencePairs(c.method);
    const int ofLink = n - pairs;
    add(Kind::Matings, fmt::format("{} mating{}, {:.2f} dB each", n, n == 1 ? "" : "s", figures.mating.value()),
        figures.mating * std::sqrt(double(ofLink) / c.repeats + pairs));
    add(Kind::Detector, "cord in the meter, twice", figures.detector * std::numbers::sqrt2);
    // what stood in the reference lost anything up to the most that such a pair may
    add(Kind::ReferencePairs, fmt::format("{} reference-grade pair{} in the reference", pairs, pairs == 1 ? "" : "s"),
        rectangular(limits.referencePair / 2) * std::sqrt(double(pairs)));
    // its proof and its place in the link are a mating each, and two readings of the meter
    if (c.launchTakenOff)
        add(Kind::LaunchCord, "launch cord taken off", Decibel(std::hypot(figures.mating.value(), figures.detector.value()) * std::numbers::sqrt2));
    add(Kind::Source, "source, since the reference", rectangular(figures.sourceDrift));
    add(Kind::Linearity, "linearity of the meter", rectangular(figures.linearity));
    const Decibel resolution = c.resolution.value_or(Decibel(0.01));
    add(Kind::Resolution,
        c.resolution ? "resolution of the meter"
        : c.scatter  ? "resolution, taken as a hundredth"
                     : "typed to a hundredth",
        rectangular(resolution / 2) * std::numbers::sqrt2);
    if (c.scatter) add(Kind::Scatter, "scatter of the samples", *c.scatter);
    if (c.multimode)
        add(Kind::Launch, c.launchConditioned.value_or(false) ? "launch, conditioned" : "launch, not conditioned",
            c.launchConditioned.value_or(false) ? figures.launchConditioned : figures.launchUnknown);
    add(Kind::Temperature, "temperature", rectangular(figures.temperature));
    std::stable_sort(out.begin(), out.end(), [](const Contribution& a, const Contribution& b) { return a.standard > b.standard; });
    return out;
}

Decibel expanded(const std::vector<Contribution>& parts, const LimitSet& limits)
{
    double squares = 0;
    for (const auto& part : parts) squares += part.standard.value() * part.standard.value();
    return Decibel(limits.uncertainty.coverage * std::sqrt(squares));
}

std::string uncertaintyWords(const std::vector<Contribution>& parts, Decibel whole)
{
    std::string out = fmt::format("±{:.2f} dB", whole.value());
    for (std::size_t i = 0; i < parts.size(); ++i) out += fmt::format("{}{} {:.3f}", i == 0 ? ": " : ", ", parts[i].name, parts[i].standard.value());
    return out;
}

std::optional<std::string> whatWouldSettleIt(Decibel margin, const LossConditions& conditions, const LimitSet& limits)
{
    const auto now = contributions(conditions, limits);
    const Decibel doubt = expanded(now, limits);
    const double distance = std::abs(margin.value());
    if (distance >= doubt.value() || now.empty()) return std::nullopt;
    if (conditions.multimode && !conditions.launchConditioned.value_or(false)) {
        LossConditions better = conditions;
        better.launchConditioned = true;
        const Decibel then = expanded(contributions(better, limits), limits);
        return fmt::format(
            "Condition the launch (encircled flux, or the mandrel), set the reference and read again: the doubt falls from {:.2f} to {:.2f} dB.",
            doubt.value(), then.value());
    }
    constexpr int most = 5;
    for (int repeats = conditions.repeats + 1; repeats <= most; ++repeats) {
        LossConditions better = conditions;
        better.repeats = repeats;
        const Decibel then = expanded(contributions(better, limits), limits);
        if (distance >= then.value())
            return fmt::format(
                "Part the link's connectors, look, mate and read {} more time{}; the mean of {} is uncertain by {:.2f} dB instead of {:.2f}.",
                repeats - conditions.repeats, repeats - conditions.repeats == 1 ? "" : "s", repeats, then.value(), doubt.value());
    }
    if (conditions.method != ReferenceMethod::OneCord && conditions.method != ReferenceMethod::SingleEnded) {
        LossConditions better = conditions;
        better.method = ReferenceMethod::OneCord;
        const Decibel then = expanded(contributions(better, limits), limits);
        return fmt::format("With a one-cord reference, where the meter takes the connector, the doubt is {:.2f} dB instead of {:.2f}.", then.value(),
                           doubt.value());
    }
    return fmt::format("No repeat settles it: {} is the larger part. Clean both ends and mend what loses most.", now.front().name);
}

}  // namespace clendo
