#include "report/certificate/delivery.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "files/files.h"
#include "files/plain_name.h"
#include "record/output/certificate_csv.h"
#include "record/output/certificate_summary.h"
#include "report/certificate/html_index.h"
#include "report/certificate/pages.h"

namespace clendo {
namespace {

using nlohmann::json;

std::size_t linksOf(const json& certificate)
{
    std::size_t out = 0;
    for (const auto& cable : certificate["cables"]) out += cable["links"].size();
    return out;
}

/// The record of the certificate that lies there already, of the same job; null: there is none, or none that can be read.
struct Earlier {
    json body;
    Digest sha256;
};
std::optional<Earlier> earlierAt(const QString& folder, const std::string& stem, const json& fresh)
{
    const auto text = readFile((folder + QLatin1Char('/') + QString::fromStdString(stem) + QStringLiteral(".json")).toStdString());
    if (!text) return std::nullopt;
    json body = json::parse(*text, nullptr, false);
    if (!body.is_object() || body.value("format", json()) != "clendo-certificate" || body.value("job", json()) != fresh["job"]) return std::nullopt;
    return Earlier{std::move(body), digestOf(*text)};
}

class OneDelivery {
public:
    OneDelivery(const json& certificate, const EvidenceSource& evidence, const Delivery& how, const std::function<bool()>& goesOn)
        : body_(certificate), evidence_(evidence), how_(how), goesOn_(goesOn)
    {
    }

    Result<seal::Statement> write(FolderWriter& out, const std::string& stem, const QString& before)
    {
        const auto earlier = earlierAt(before, stem, body_);
        if (earlier) body_["replaces"] = {{"record_sha256", earlier->sha256.hex()}, {"changes", certificateChanges(earlier->body, body_)}};
        if (auto ok = how_.evidence ? addEvidence(out) : leaveEvidence(); !ok) return tl::unexpected(ok.error());
        PageChoice choice{how_.fibrePages, std::nullopt, how_.now};
        if (how_.key) choice.signer = {how_.key->holder(), how_.key->publicKey(), true};
        const auto pdf = certificatePdf(body_, evidence_, choice, goesOn_);
        if (!pdf) return tl::unexpected(pdf.error());
        for (const auto& [ending, bytes] : {std::pair<const char*, std::string>{".json", canonicalJson(body_)}, {".csv", certificateCsv(body_)}})
            if (auto ok = out.add(stem + ending, bytes); !ok) return tl::unexpected(ok.error());
        if (auto ok = out.add(stem + ".pdf", *pdf); !ok) return tl::unexpected(ok.error());
        const auto page = htmlIndex(body_, stem, choice);
        if (!page) return tl::unexpected(page.error());
        if (auto ok = out.add("index.html", *page); !ok) return tl::unexpected(ok.error());
        seal::Statement statement{body_["subject"].get<std::string>(), body_["job"].get<std::string>(), how_.now, stem + ".json", {}};
        if (earlier) statement.replaces = earlier->sha256;
        for (const auto& head : body_["journal"]["heads"])
            statement.heads.push_back({head["device"].get<std::string>(), head["sequence"].get<std::int64_t>(),
                                       Digest::parse(head["entry"].get<std::string>()).value_or(Digest{})});
        return statement;
    }

private:
    /// Pictures and traces as they came. One that is missing from the job is said to be, and stops nothing.
    Result<void> addEvidence(FolderWriter& out)
    {
        for (auto& one : body_["evidence"]) {
            const auto bytes = evidence_(one["sha256"].get<std::string>());
            one["enclosed"] = bytes.has_value();
            if (!bytes) continue;
            if (auto ok = out.add(one["file"].get<std::string>(), *bytes); !ok) return ok;
        }
        return {};
    }
    Result<void> leaveEvidence()
    {
        for (auto& one : body_["evidence"]) one["enclosed"] = false;
        return {};
    }

    json body_;
    const EvidenceSource& evidence_;
    const Delivery& how_;
    const std::function<bool()>& goesOn_;
};

}  // namespace

Result<PlacedFiles> writeCertificates(const std::vector<json>& certificates, const EvidenceSource& evidence, const QString& folder,
                                      const Delivery& delivery)
{
    int done = 0, all = 0;
    for (const auto& certificate : certificates) all += static_cast<int>(linksOf(certificate));
    const std::function<bool()> goesOn = [&] { return !delivery.progress || delivery.progress(done++, all); };
    std::vector<Placed> placed;
    for (const auto& certificate : certificates)
        placed.push_back({certificate["subject"].get<std::string>(), [&](FolderWriter& out, const std::string& stem, const QString& before) {
                              return OneDelivery(certificate, evidence, delivery, goesOn).write(out, stem, before);
                          }});
    return placeCertificates(placed, folder, delivery.key);
}

}  // namespace clendo
