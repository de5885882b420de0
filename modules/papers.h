#pragma once
#include "report/certificate/between_looks.h"
#include "report/certificate/cord.h"
#include "report/certificate/delivery.h"
#include "report/labels.h"
#include "report/reel_report.h"

namespace clendo {

/// What writes on paper; loaded when the first certificate is written.
struct Papers {
    Result<PlacedFiles> (*writeCertificates)(const std::vector<nlohmann::json>&, const EvidenceSource&, const QString& folder,
                                             const Delivery&) = nullptr;
    Result<PlacedFiles> (*writeCord)(const nlohmann::json&, const std::string& csv, const QString& folder, const seal::SigningKey*) = nullptr;
    Result<PlacedFiles> (*writeBetweenLooks)(const BetweenLooks&, const JobState&, const EvidenceSource&, const QString& folder,
                                             const seal::SigningKey*, std::int64_t now) = nullptr;
    Result<PlacedFiles> (*writeReelReport)(const JobState&, const std::string& reel, const EvidenceSource&, const QString& folder,
                                           const seal::SigningKey*, std::int64_t now) = nullptr;
    Result<std::string> (*labelSheet)(const std::vector<Label>&, std::int64_t now) = nullptr;
    Result<std::string> (*keySheet)(const seal::KeyFile&, std::int64_t now) = nullptr;
};
/// Safe from any thread; loads once.
Result<Papers> papers();

}  // namespace clendo
