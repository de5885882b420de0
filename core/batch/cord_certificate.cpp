#include "batch/cord_certificate.h"

#include <map>
#include <nlohmann/json.hpp>

namespace clendo {

nlohmann::json cordCertificate(std::string_view label, std::span<const SheetRow> looks, const FaceClass& faceClass, const Criteria& criteria,
                               const CleanerCheck& cleaner, std::int64_t at)
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
    nlohmann::json out = sheetJson(looks, faceClass, criteria);
    out["format"] = "clendo-cord";
    out["cord"] = label;
    out["verdict"] = ends.empty() ? "not seen" : fit ? "pass" : "fail";
    out["ends"] = told;
    out["written_at"] = at;
    out["cleaner"] =
        cleaner.at == 0 ? nlohmann::json(nullptr) : nlohmann::json{{"checked_at", cleaner.at}, {"good", cleaner.good}, {"open", cleaner.open}};
    return out;
}

}  // namespace clendo
