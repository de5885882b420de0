#include "batch/cord_certificate.h"

#include <algorithm>
#include <map>
#include <nlohmann/json.hpp>

namespace clendo {

nlohmann::json cordCertificate(std::string_view label, std::span<const SheetRow> looks, const FaceClass& faceClass, const Criteria& criteria,
                               const CleanerCheck& cleaner, std::span<const CordLossRow> losses, std::int64_t at)
{
    std::map<std::string, SheetOutcome> ends;
    for (const auto& look : looks)
        if (const auto outcome = outcomeOf(look); isEvidence(outcome)) ends[look.end] = outcome;
    bool fit = !ends.empty();
    nlohmann::json told = nlohmann::json::array();
    for (const auto& [end, outcome] : ends) {
        fit = fit && isFit(outcome);
        told.push_back({{"end", end.empty() ? nlohmann::json(nullptr) : nlohmann::json(end)}, {"outcome", name(outcome)}});
    }
    nlohmann::json measured = nlohmann::json::array();
    const auto anyLoss = [&](std::string_view verdict) {
        return std::any_of(losses.begin(), losses.end(), [&](const CordLossRow& row) { return row.verdict == verdict; });
    };
    for (const auto& row : losses) {
        measured.push_back({{"end", row.end.empty() ? nlohmann::json(nullptr) : nlohmann::json(row.end)},
                            {"wavelength_nm", row.wavelength.value()},
                            {"loss_db", row.loss ? nlohmann::json(row.loss->value()) : nlohmann::json(nullptr)},
                            {"limit_db", row.limit.value()},
                            {"uncertainty_db", row.uncertainty.value()},
                            {"reference", row.reference},
                            {"verdict", row.verdict}});
    }
    nlohmann::json out = sheetJson(looks, faceClass, criteria);
    out["format"] = "clendo-cord";
    out["cord"] = label;
    out["verdict"] = ends.empty()              ? "not seen"
                     : !fit || anyLoss("fail") ? "fail"
                     : anyLoss("not valid")    ? "not valid"
                     : anyLoss("near limit")   ? "near limit"
                                               : "pass";
    out["ends"] = told;
    out["loss"] = measured;
    out["written_at"] = at;
    out["cleaner"] =
        cleaner.at == 0 ? nlohmann::json(nullptr) : nlohmann::json{{"checked_at", cleaner.at}, {"good", cleaner.good}, {"open", cleaner.open}};
    return out;
}

}  // namespace clendo
