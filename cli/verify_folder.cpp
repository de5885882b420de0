#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "record/journal/time_text.h"
#include "seal/check_folder.h"

namespace clendo::cli {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;

json orNull(const std::string& said) { return said.empty() ? json(nullptr) : json(said); }

std::string_view standingWord(seal::Standing standing)
{
    switch (standing) {
        case seal::Standing::Known: return "known";
        case seal::Standing::Retired: return "retired";
        case seal::Standing::Unknown: break;
    }
    return "unknown";
}

Result<std::vector<seal::KnownKey>> keysFrom(const std::vector<std::string>& files)
{
    std::vector<seal::KnownKey> out;
    for (const auto& file : files) {
        const auto text = seal::PublicKey::parse(file) ? Result<std::string>(file) : readFile(file);
        auto key = text.and_then([](const std::string& t) { return seal::readPublicKey(t); });
        if (!key) return tl::unexpected(key.error());
        out.push_back(std::move(*key));
    }
    return out;
}

json checkJson(const seal::FolderCheck& check)
{
    json wrong = json::array(), signatures = json::array();
    for (const auto& w : check.wrong) wrong.push_back({{"what", w.what}, {"id", w.id}, {"message", w.message}});
    for (const auto& s : check.signOffs)
        signatures.push_back(
            {{"subject", s.subject}, {"by", s.by}, {"at", s.at}, {"state", s.state}, {"since", orNull(s.since)}, {"by_entry", orNull(s.byEntry)}});
    json out{{"kind", "certificate"},
             {"entries", check.entries},
             {"evidence", check.evidence},
             {"ok", check.ok()},
             {"wrong", wrong},
             {"signatures", signatures},
             {"beside", check.beside},
             {"says", check.sentence()},
             {"key", nullptr},
             {"job", orNull(check.job)},
             {"certificate", orNull(check.subject)},
             {"replaces", nullptr},
             {"written_at", nullptr}};
    if (!check.seal) return out;
    const auto& statement = check.seal->statement;
    out["written_at"] = isoTime(statement.writtenAt);
    if (statement.replaces) out["replaces"] = statement.replaces->hex();
    if (const auto& signer = check.seal->signer)
        out["key"] = {{"public", signer->key.hex()},
                      {"holder", signer->holder},
                      {"good", signer->good},
                      {"standing", standingWord(check.standing)},
                      {"known_as", orNull(check.knownAs)}};
    return out;
}

json verifiedOne(const fs::path& folder, const std::vector<seal::KnownKey>& known, bool mustBeOfThese)
{
    auto check = seal::checkFolder(folder, known);
    if (!check) return {{"kind", "certificate"}, {"ok", false}, {"error", toJson(check.error())}};
    if (mustBeOfThese && check->seal && check->seal->signer && check->standing == seal::Standing::Unknown)
        check->wrong.push_back({"signature", std::string(seal::sealName), "It is signed by another key than those that were named."});
    return checkJson(*check);
}

}  // namespace

json verifiedFolder(const std::string& folder, const std::vector<std::string>& keyFiles)
{
    json out{{"subject", fs::path(folder).lexically_normal().filename().empty()
                             ? fs::path(folder).lexically_normal().parent_path().filename().string()
                             : fs::path(folder).filename().string()}};
    const auto keys = keyFiles.empty() ? Result<std::vector<seal::KnownKey>>(seal::KeyRing::ofUser().known()) : keysFrom(keyFiles);
    if (!keys) {
        out.update({{"kind", "certificate"}, {"ok", false}, {"error", toJson(keys.error())}});
        return out;
    }
    std::vector<fs::path> inside;
    std::error_code none;
    if (!seal::isCertificateFolder(folder))
        for (fs::directory_iterator it(folder, none), end; !none && it != end; it.increment(none))
            if (it->is_directory(none) && seal::isCertificateFolder(it->path())) inside.push_back(it->path());
    if (inside.empty()) {
        out.update(verifiedOne(folder, *keys, !keyFiles.empty()));
        return out;
    }
    std::sort(inside.begin(), inside.end());
    out.update({{"kind", "certificates"}, {"ok", true}, {"certificates", json::array()}});
    for (const auto& one : inside) {
        json said = verifiedOne(one, *keys, !keyFiles.empty());
        said["subject"] = one.filename().string();
        out["ok"] = out["ok"].get<bool>() && said["ok"].get<bool>();
        out["certificates"].push_back(std::move(said));
    }
    return out;
}

}  // namespace clendo::cli
