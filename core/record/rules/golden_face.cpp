#include "record/rules/golden_face.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <ctime>
#include <optional>

#include "face/judge/compare_looks.h"

namespace clendo {
namespace {

using Of = ScopeFigure::Of;
using Verdict = ScopeFigure::Verdict;

constexpr std::int64_t day = 86400, aheadDays = 30;
constexpr std::size_t fewestBefore = 3, mostBefore = 30;

/// How far a figure may lie from what is usual, and what it means where it does not.
struct Limits {
    Of of;
    const char* what;
    double down, up;  ///< factors of what is usual
    double slack;     ///< in its own unit, that is never too much
    const char* means;
};
// sizes follow the scale: 1.5 % of 5 um is the rounding of a figure; blur by a third hides things of 2 um; a lamp that fades makes noise of dirt
constexpr Limits all[] = {{Of::Scale, "scale", 1 / 1.015, 1.015, 0,
                           "Another tip or zoom, or a lens that moved: calibrate it again before anything is judged by its scale."},
                          {Of::Resolution, "blur", 0, 1.3, 0.12,
                           "It shows less than it did: clean the tip and the lens, focus again; do not judge small things until it is as before."},
                          {Of::Light, "light", 0.65, 1.5, 0,
                           "The lamp or the exposure is not as before: set it as it was, or faint dirt looks stronger or weaker than it is."},
                          {Of::LonePixels, "lone pixels", 0, 2, 20,
                           "The camera has new pixels that are always bright or dark; they are left out, and more of them hide more."}};

double figure(Of of, const face::FaceMeasurement& m)
{
    switch (of) {
        case Of::Scale: return m.scale.micrometresPerPixel();
        case Of::Resolution: return m.blur.value();
        case Of::Light: return m.light.value_or(0);
        case Of::LonePixels: return m.lonePixels;
    }
    return 0;
}

std::string inUnit(Of of, double value)
{
    switch (of) {
        case Of::Scale: return fmt::format("{:.4f} µm per pixel", value);
        case Of::Resolution: return fmt::format("{:.2f} µm", value);
        case Of::Light: return fmt::format("{:.0f} % of white", 100 * value);
        case Of::LonePixels: return fmt::format("{:.0f}", value);
    }
    return {};
}

double median(std::vector<double> v)
{
    const auto middle = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
    std::nth_element(v.begin(), middle, v.end());
    return *middle;
}

struct Seen {
    double days, value;
};

/// The pace of a drift, per day; nothing where it is not clear.
std::optional<double> driftOf(const std::vector<Seen>& seen)
{
    constexpr std::size_t fewest = 5;
    constexpr double clear = 3, leastDays = 3;
    if (seen.size() < fewest || seen.back().days - seen.front().days < leastDays) return std::nullopt;
    std::vector<double> slopes;
    for (std::size_t i = 0; i < seen.size(); ++i)
        for (std::size_t k = i + 1; k < seen.size(); ++k)
            if (seen[k].days > seen[i].days) slopes.push_back((seen[k].value - seen[i].value) / (seen[k].days - seen[i].days));
    if (slopes.empty()) return std::nullopt;
    const double slope = median(slopes);
    std::vector<double> rest, off;
    for (const Seen& s : seen) rest.push_back(s.value - slope * s.days);
    const double level = median(rest);
    for (const double r : rest) off.push_back(std::abs(r - level));
    const double whole = std::abs(slope) * (seen.back().days - seen.front().days);
    return whole > 0 && whole > clear * 1.4826 * median(off) ? std::optional(slope) : std::nullopt;
}

bool within(const Limits& limits, double usual, double value)
{
    return (value >= usual * limits.down || usual - value <= limits.slack) && (value <= usual * limits.up || value - usual <= limits.slack);
}

/// A figure of the last look against those before it, and the sentence where something is to be done.
std::pair<ScopeFigure, std::string> compared(const Limits& limits, const std::vector<const Look*>& looks)
{
    std::vector<Seen> seen;
    std::vector<double> before;
    for (const Look* look : looks) {
        const double value = figure(limits.of, look->seen.measured);
        seen.push_back({double(look->at - looks.front()->at) / double(day), value});
        if (look != looks.back()) before.push_back(value);
    }
    ScopeFigure out{limits.of, median(before), seen.back().value, Verdict::Known, {}};
    out.words = fmt::format("{} {}, usually {}", limits.what, inUnit(out.of, out.now), inUnit(out.of, out.usual));
    if (!within(limits, out.usual, out.now)) {
        out.verdict = Verdict::Off;
        return {out, fmt::format("{}. {}", out.words, limits.means)};
    }
    if (const auto drift = driftOf(seen)) {
        // against its first days, or what drifts slowly is always usual
        std::vector<double> first;
        for (std::size_t i = 0; i < fewestBefore; ++i) first.push_back(seen[i].value);
        const double began = median(first);
        for (std::int64_t d = 0; d <= aheadDays; ++d)
            if (!within(limits, began, out.now + *drift * double(d))) {
                out.verdict = Verdict::Drifting;
                const std::time_t at = looks.back()->at + d * day;
                return {out, fmt::format("{} drifts: {} at first, {} now; at this pace it is off by {:%Y-%m-%d}.", limits.what, inUnit(out.of, began),
                                         inUnit(out.of, out.now), fmt::gmtime(at))};
            }
    }
    return {out, {}};
}

GoldenFace golden(const JobState& state, const KitItem& item, std::int64_t now)
{
    GoldenFace out;
    const std::string& name = item.what.id;
    out.face = {name, End::A, Side::Cord};
    std::vector<const Look*> looks;
    const FaceState& face = state.face(out.face);
    for (const Look& look : face.looks)
        if (look.seen.measured.usable() && look.seen.measured.light) looks.push_back(&look);
    out.looks = static_cast<int>(looks.size());
    const auto say = [&](const std::string& what) { out.troubles.push_back(fmt::format("Golden face {}: {}", name, what)); };
    if (looks.empty()) {
        say("it was never looked at. Look at it each day before the first face.");
        return out;
    }
    out.last = looks.back()->at;
    if (now - out.last >= day) {
        const std::time_t last = out.last;
        say(fmt::format("not looked at since {:%Y-%m-%d}. Look at it before the first face.", fmt::gmtime(last)));
    }
    if (looks.size() <= fewestBefore) {
        say(fmt::format("{} of {} looks that make what is usual.", looks.size(), fewestBefore + 1));
        return out;
    }
    looks.erase(looks.begin(), looks.end() - static_cast<std::ptrdiff_t>(std::min(looks.size(), mostBefore + 1)));
    const auto changes = face::compareLooks(looks[looks.size() - 2]->seen.measured.findings, looks.back()->seen.measured.findings);
    constexpr int many = 3;
    if (const int fresh = changes.count(face::Fate::New); fresh >= many)
        say(fmt::format("{} things are on it that were not. Clean it and look again: its figures count when it is as it was.", fresh));
    for (const Limits& limits : all) {
        auto [figure, sentence] = compared(limits, looks);
        out.figures.push_back(std::move(figure));
        if (!sentence.empty()) say(sentence);
    }
    return out;
}

}  // namespace

std::vector<GoldenFace> goldenFaces(const JobState& state, std::int64_t now)
{
    std::vector<GoldenFace> out;
    for (const auto& [id, item] : state.kit)
        if (item.what.kind == goldenKind && !item.what.gone) out.push_back(golden(state, item, now));
    return out;
}

}  // namespace clendo
