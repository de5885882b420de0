#include "criteria/finding.h"

#include <array>
#include <utility>

namespace clendo {
namespace {

template <class E, std::size_t N>
using Names = std::array<std::pair<E, std::string_view>, N>;

constexpr Names<FindingKind, 2> kinds{{{FindingKind::Scratch, "scratch"}, {FindingKind::Defect, "defect"}}};
constexpr Names<Appearance, 9> appearances{{{Appearance::Particle, "particle"},
                                            {Appearance::Pit, "pit"},
                                            {Appearance::Chip, "chip"},
                                            {Appearance::Film, "film"},
                                            {Appearance::Droplet, "droplet"},
                                            {Appearance::Lint, "lint"},
                                            {Appearance::Scratch, "scratch"},
                                            {Appearance::Crack, "crack"},
                                            {Appearance::Other, "other"}}};
constexpr Names<Zone, 4> zones{{{Zone::A, "A"}, {Zone::B, "B"}, {Zone::C, "C"}, {Zone::D, "D"}}};
constexpr Names<CoreKind, 3> cores{{{CoreKind::SingleMode, "SM"}, {CoreKind::Multimode50, "MM50"}, {CoreKind::Multimode62, "MM62.5"}}};

template <class E, std::size_t N>
std::string_view nameIn(const Names<E, N>& names, E value)
{
    for (const auto& [e, text] : names)
        if (e == value) return text;
    return "other";
}

template <class E, std::size_t N>
std::optional<E> valueIn(const Names<E, N>& names, std::string_view wanted)
{
    for (const auto& [e, text] : names)
        if (text == wanted) return e;
    return std::nullopt;
}

}  // namespace

std::string_view name(FindingKind kind) { return nameIn(kinds, kind); }
std::string_view name(Appearance appearance) { return nameIn(appearances, appearance); }
std::string_view name(Zone zone) { return nameIn(zones, zone); }
std::string_view name(CoreKind kind) { return nameIn(cores, kind); }
std::optional<FindingKind> findingKindNamed(std::string_view n) { return valueIn(kinds, n); }
std::optional<Appearance> appearanceNamed(std::string_view n) { return valueIn(appearances, n); }
std::optional<Zone> zoneNamed(std::string_view n) { return valueIn(zones, n); }
std::optional<CoreKind> coreKindNamed(std::string_view n) { return valueIn(cores, n); }

}  // namespace clendo
