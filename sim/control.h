#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "world/world.h"

namespace clendo::sim {

/// How the line to an instrument can be spoiled: for tests of what listens to it.
enum class LineFault { None, Late, Half, Twice, Garbage, Silent, Comma, Milliwatt, Cut };

/// What a hand at the control port wants that the world alone cannot do.
struct ControlWish {
    bool quit = false;
    std::string instrument{};  ///< whose line is to be spoiled; empty: none
    LineFault fault = LineFault::None;
    double late = 0;  ///< seconds
};

/// Does what one line of the control port says ({"do": "mate", "a": ..., "b": ...}) and answers with one line: {"ok": true, ...} or {"ok": false,
/// "error": {"code", "message"}}. Never throws, whatever the line is.
std::string control(world::World& world, const std::string& line, ControlWish& wish);

}  // namespace clendo::sim
