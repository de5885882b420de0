#include "face/judge/focus_advice.h"

#include <algorithm>
#include <vector>

namespace clendo::face {
namespace {

constexpr Second trendOver{1.2};          // a turn of the wheel shows within this
constexpr Micrometre trendMatters{0.15};  // less is noise

/// How the blur changed over the last moments; nothing where the edge was seen too rarely.
std::optional<Micrometre> trend(std::span<const FocusSample> samples)
{
    std::vector<Micrometre> blurs;
    for (const auto& s : samples)
        if (s.blur && samples.back().at - s.at <= trendOver) blurs.push_back(*s.blur);
    if (blurs.size() < 4) return std::nullopt;
    const std::size_t half = blurs.size() / 2;
    Micrometre early, late;
    for (std::size_t i = 0; i < half; ++i) {
        early += blurs[i];
        late += blurs[blurs.size() - 1 - i];
    }
    return (late - early) / double(half);
}

}  // namespace

std::string_view sentenceOf(FocusAdvice advice)
{
    switch (advice) {
        case FocusAdvice::Sharp: return "Sharp. Taking a picture takes what the last second showed.";
        case FocusAdvice::KeepTurning: return "Turn the focus slowly until the cladding's edge is a thin line.";
        case FocusAdvice::TurnBack: return "Turn the other way: it is getting blurred.";
        case FocusAdvice::DoNotForce:
            return "It does not come into focus. Do not force the wheel: check that the tip is the right one, sits straight and is clean; then the "
                   "port.";
        case FocusAdvice::FindTheFibre: return "No whole fibre in the picture. Bring it to the middle.";
        case FocusAdvice::Light: return "The light is wrong: too dark or too bright to judge.";
        case FocusAdvice::HoldStill: return "Hold still for a moment.";
    }
    return {};
}

FocusAdvice adviseFocus(std::span<const FocusSample> samples, Second patience)
{
    if (samples.empty()) return FocusAdvice::FindTheFibre;
    const FocusSample& now = samples.back();
    if (!now.reason) return FocusAdvice::Sharp;
    if (now.reason == RetakeReason::TooDark || now.reason == RetakeReason::TooBright) return FocusAdvice::Light;
    const auto sharp = std::find_if(samples.rbegin(), samples.rend(), [](const FocusSample& s) { return !s.reason; });
    if (sharp != samples.rend() && now.at - sharp->at < Second(0.7)) return FocusAdvice::HoldStill;
    const Second since = now.at - (sharp != samples.rend() ? sharp->at : samples.front().at);
    if (since >= patience) return FocusAdvice::DoNotForce;
    if (now.reason == RetakeReason::OutOfFocus) {
        const auto change = trend(samples);
        return change && *change > trendMatters ? FocusAdvice::TurnBack : FocusAdvice::KeepTurning;
    }
    return FocusAdvice::FindTheFibre;
}

}  // namespace clendo::face
