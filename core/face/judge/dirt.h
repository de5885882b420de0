#pragma once
#include <optional>
#include <span>
#include <string>
#include <string_view>

#include "criteria/finding.h"

namespace clendo::face {

/// What a crowded face looks most like. A guess from shapes, sizes and contrast, not a measurement: what is said of it is hedged.
enum class DirtKind {
    Touched,      ///< droplets and smears, as of skin
    Dust,         ///< many small spots, as dust of the room leaves them; pits look alike until a cleaning tells
    DriedLiquid,  ///< broad faint patches, as alcohol that dried by itself leaves them
    Lint,         ///< fibres of cloth, with or without specks
    GroundIn,     ///< scratches, as grit leaves them, or what stayed at its place through a cleaning
    Mixed
};
std::string_view name(DirtKind kind);

/// The mix of what lies on a crowded face.
struct Dirt {
    DirtKind kind = DirtKind::Mixed;
    int things = 0, specks = 0, droplets = 0, patches = 0, lint = 0, scratches = 0;
    int stayed = 0;  ///< of the things: at their place through the last cleaning
};

/// Of a face with at least five things on it, on glass and ferrule, what kind of dirt it is; else nothing: its findings speak for themselves.
/// `stayed`: how many of them are known to have stayed at their place through a cleaning.
std::optional<Dirt> dirtOf(std::span<const Finding> findings, int stayed = 0);

/// "As after a touch by a finger", "as of dust in the room".
std::string_view looksLike(DirtKind kind);
/// "Crowded: 5 specks, 9 droplets, as after a touch by a finger."
std::string sentenceOf(const Dirt& dirt);

}  // namespace clendo::face
