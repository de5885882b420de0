#pragma once
#include <nlohmann/json_fwd.hpp>

#include "report/certificate/printed.h"

namespace clendo {

/// Draws the traces of one of a link's lines over each other, the one from B turned round, in the range of the fibre and not of noise or spikes, with
/// what was found marked and numbered; below it the line piece by piece. Moves down by what it took.
void drawLine(pdf::Page& page, const nlohmann::json& line, const PrintedLink& printed);

}  // namespace clendo
