#pragma once
#include <nlohmann/json_fwd.hpp>

#include "power/loss.h"

namespace clendo {

/// A link with its readings as docs/cli.md describes it, and the name of its limits.
struct LossRequest {
    LossTask task;
    std::string limits;
};
Result<LossRequest> lossRequestFromJson(std::string_view text);
nlohmann::json toJson(const LossReport& report);

/// To a millionth of a dB; null where it is not known.
nlohmann::json decibels(const std::optional<Decibel>& value);

}  // namespace clendo
