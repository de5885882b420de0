#include "face/judge/dirt.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

namespace clendo::face {
namespace {

constexpr Micrometre broad{14}, patchFrom{6}, fibreFrom{25};
constexpr double faint = 0.3;

/// A droplet or a patch: what is wet, or was.
bool isPatch(const Finding& f)
{
    return f.appearance == Appearance::Film || (f.appearance == Appearance::Particle && f.size >= patchFrom && std::abs(f.contrast) < faint) ||
           (f.appearance == Appearance::Droplet && f.size >= broad && std::abs(f.contrast) < faint);
}

/// The kind by the counts. The shares were chosen on faces drawn by benchmarks/drawn-set; docs/end-faces.md says how often they are right elsewhere.
DirtKind kindOf(const Dirt& d)
{
    constexpr double most = 0.75, many = 0.3, some = 0.25;
    const double all = d.things;
    if (d.stayed >= 3 && d.stayed >= 0.6 * all) return DirtKind::GroundIn;
    const int wet = d.droplets + d.patches;
    if (d.scratches >= 3 && d.scratches >= some * all) return wet < 3 ? DirtKind::GroundIn : DirtKind::Mixed;
    if (wet >= 3 && wet >= many * all) return d.droplets <= 1 ? DirtKind::DriedLiquid : DirtKind::Touched;
    if (d.lint > 0 && (d.lint >= some * all || d.lint + d.specks >= most * all)) return DirtKind::Lint;
    return d.specks >= most * all ? DirtKind::Dust : DirtKind::Mixed;
}

}  // namespace

std::string_view name(DirtKind kind)
{
    switch (kind) {
        case DirtKind::Touched: return "touch";
        case DirtKind::Dust: return "dust";
        case DirtKind::DriedLiquid: return "dried liquid";
        case DirtKind::Lint: return "lint";
        case DirtKind::GroundIn: return "ground-in grit";
        case DirtKind::Mixed: return "mixed dirt";
    }
    return "";
}

std::optional<Dirt> dirtOf(std::span<const Finding> findings, int stayed)
{
    constexpr int crowd = 5;
    Dirt d;
    d.things = static_cast<int>(findings.size());
    d.stayed = stayed;
    if (d.things < crowd) return std::nullopt;
    for (const Finding& f : findings) {
        if (f.kind == FindingKind::Scratch || f.appearance == Appearance::Crack)
            ++d.scratches;
        else if (isPatch(f))
            ++d.patches;
        else if (f.appearance == Appearance::Droplet)
            ++d.droplets;
        else if (f.appearance == Appearance::Lint && f.length >= fibreFrom)
            ++d.lint;
        else if (f.appearance == Appearance::Particle || f.appearance == Appearance::Pit)
            ++d.specks;
    }
    d.kind = kindOf(d);
    return d;
}

std::string_view looksLike(DirtKind kind)
{
    switch (kind) {
        case DirtKind::Touched: return "as after a touch by a finger";
        case DirtKind::Dust: return "as of dust in the room; pits and small droplets look alike";
        case DirtKind::DriedLiquid: return "as after alcohol that dried by itself";
        case DirtKind::Lint: return "as after a cloth or a wipe";
        case DirtKind::GroundIn: return "as after grit was ground in by mating";
        case DirtKind::Mixed: return "of several kinds; no one cause is told";
    }
    return "";
}

std::string sentenceOf(const Dirt& d)
{
    std::vector<std::string> parts;
    const auto part = [&](int n, const char* one, const char* more) {
        if (n > 0) parts.push_back(fmt::format("{} {}", n, n == 1 ? one : more));
    };
    part(d.specks, "speck", "specks");
    part(d.droplets, "droplet", "droplets");
    part(d.patches, "faint patch", "faint patches");
    part(d.lint, "fibre of lint", "fibres of lint");
    part(d.scratches, "scratch", "scratches");
    const int other = d.things - d.specks - d.droplets - d.patches - d.lint - d.scratches;
    part(other, "thing of no such kind", "things of no such kind");
    const std::string stayed = d.stayed > 0 ? fmt::format("; {} stayed at {} place through cleaning", d.stayed, d.stayed == 1 ? "its" : "their") : "";
    return fmt::format("Crowded: {}{}, {}.", fmt::join(parts, ", "), stayed, looksLike(d.kind));
}

}  // namespace clendo::face
