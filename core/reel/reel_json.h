#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "reel/cuts.h"
#include "reel/reel_report.h"

namespace clendo::reel {

// As docs/cli.md describes `clendo-cli reel` and `cut`.

/// A delivery as it was asked about, with the files of its traces and the wish for a sample.
struct DeliveryRequest {
    Delivery delivery;
    std::optional<Sample> sample;
    Metre launch;                     ///< 0: none
    std::vector<std::string> traces;  ///< as they stand in the file
    std::uint32_t seed = 1;
};
/// `table`: for the sample's plan, where one is wanted.
Result<DeliveryRequest> deliveryFromJson(const std::string& text, const SamplingTable& table);
nlohmann::json toJson(const Delivery& delivery, const std::optional<Sample>& sample, const ReelReport& report);

/// What was ordered, the marks and the supplier's papers alone, as they stand in such a file; and back.
nlohmann::json toJson(const Delivery& delivery);
Result<Delivery> deliveryFromJson(const nlohmann::json& value);

Result<CuttingWish> cuttingWishFromJson(const std::string& text);
nlohmann::json toJson(const CuttingPlan& plan);

/// A wish, and cuts that somebody chose, as a journal keeps them; and back.
nlohmann::json toJson(const CuttingWish& wish);
Result<CuttingWish> cuttingWishFromJson(const nlohmann::json& value);
nlohmann::json toJson(const std::vector<ReelCuts>& cuts);
Result<std::vector<ReelCuts>> reelCutsFromJson(const nlohmann::json& value);

}  // namespace clendo::reel
