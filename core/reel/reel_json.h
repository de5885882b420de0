#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "reel/cutting_plan.h"
#include "reel/reel_report.h"

namespace clendo::reel {

// As docs/cli.md describes `clendo-cli reel` and `cut`.

/// A delivery as it was asked about, with the files of its traces and the wish for a sample.
struct DeliveryRequest {
    Delivery delivery;
    std::vector<std::string> traces;  ///< as they stand in the file
    std::uint32_t seed = 1;
};
/// `table`: for the sample's plan, where one is wanted.
Result<DeliveryRequest> deliveryFromJson(const std::string& text, const SamplingTable& table);
nlohmann::json toJson(const Delivery& delivery, const ReelReport& report);

Result<CuttingWish> cuttingWishFromJson(const std::string& text);
nlohmann::json toJson(const CuttingPlan& plan);

}  // namespace clendo::reel
