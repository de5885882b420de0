#include "seal/check_folder.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "files/json_reading.h"

namespace clendo::seal {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;

constexpr std::size_t largestSeal = std::size_t{64} << 20, largestFile = std::size_t{1} << 30;
constexpr std::size_t mostBeside = 1000;

bool isEvidence(const SealedFile& file) { return file.path.starts_with("pictures/") || file.path.starts_with("traces/"); }

std::string textOr(const json& value, std::string_view key)
{
    const json* v = memberOf(value, key);
    return v && v->is_string() ? v->get<std::string>() : std::string();
}

class FolderChecking {
public:
    FolderChecking(const fs::path& folder, const CheckProgress& progress) : folder_(folder), progress_(progress) {}

    Result<FolderCheck> run(const std::vector<KnownKey>& known)
    {
        const auto text = readFile(folder_ / sealName, largestSeal);
        if (!text && !isCertificateFolder(folder_))
            return failure(Error::Code::CertificateInvalid,
                           fmt::format("“{}” holds no certificate. Choose the folder that has “{}” in it.", folder_.string(), sealName));
        auto seal = text.and_then([](const std::string& t) { return readSeal(t); });
        if (!seal) {
            const std::string gone =
                fmt::format("“{}” is missing. Whether anything else was changed cannot be told; ask for the folder again.", sealName);
            std::error_code none;
            out_.wrong.push_back({"signature", std::string(sealName), fs::exists(folder_ / sealName, none) ? seal.error().message : gone});
            return std::move(out_);
        }
        out_.seal = std::move(*seal);
        out_.subject = out_.seal->statement.subject;
        out_.job = out_.seal->statement.job;
        signature(known);
        for (const auto& f : out_.seal->statement.files) all_ += f.bytes;
        for (const auto& f : out_.seal->statement.files)
            if (!check(f)) return failure(Error::Code::CertificateInvalid, "Stopped: the certificate was not checked to its end.");
        lookBeside();
        return std::move(out_);
    }

private:
    void signature(const std::vector<KnownKey>& known)
    {
        const auto& signer = out_.seal->signer;
        if (!signer)
            out_.wrong.push_back(
                {"signature", std::string(sealName), "No key signed this certificate: whoever has the folder can change it, and nobody could tell."});
        else if (!signer->good)
            out_.wrong.push_back(
                {"signature", std::string(sealName),
                 fmt::format("The signature is not that of the key {} over what stands here: one of the two was changed.", signer->key.spoken())});
        if (!signer) return;
        out_.standing = standingOf(known, signer->key, out_.seal->statement.writtenAt);
        if (const KnownKey* key = find(known, signer->key)) out_.knownAs = key->holder.empty() ? signer->holder : key->holder;
    }

    bool check(const SealedFile& f)
    {
        if (progress_ && !progress_(read_, std::max<std::size_t>(all_, 1))) return false;
        read_ += f.bytes;
        out_.evidence += isEvidence(f) ? 1 : 0;
        const std::string what = isEvidence(f) ? "evidence" : f.path == out_.seal->statement.body ? "record" : "file";
        const std::string id = isEvidence(f) ? f.sha256.hex() : f.path;
        std::error_code none;
        if (!fs::exists(folder_ / f.path, none)) {
            out_.wrong.push_back({what, id, fmt::format("“{}” is missing.", f.path)});
            return true;
        }
        const auto bytes = readFile(folder_ / f.path, largestFile);
        if (!bytes)
            out_.wrong.push_back({what, id, bytes.error().message});
        else if (bytes->size() < f.bytes)
            out_.wrong.push_back({what, id, fmt::format("“{}” was changed: it has {} bytes instead of {}.", f.path, bytes->size(), f.bytes)});
        else if (digestOf(*bytes) != f.sha256)
            out_.wrong.push_back({what, id, fmt::format("“{}” was changed: it is not the file over which the signature was given.", f.path)});
        else if (what == "record")
            readRecord(*bytes);
        return true;
    }

    void readRecord(const std::string& text)
    {
        const json body = json::parse(text, nullptr, false);
        const json* journal = memberOf(body, "journal");
        if (const json* entries = journal ? memberOf(*journal, "entries") : nullptr; entries && entries->is_number_unsigned())
            out_.entries = entries->get<std::size_t>();
        if (const json* cables = memberOf(body, "cables"); cables && cables->is_array())
            for (const auto& cable : *cables) {
                signOff(cable, "id");
                if (const json* links = memberOf(cable, "links"); links && links->is_array())
                    for (const auto& link : *links) signOff(link, "link");
            }
    }

    void signOff(const json& of, std::string_view name)
    {
        const json* s = memberOf(of, "signature");
        if (!s || !s->is_object()) return;
        const std::string subject = textOr(of, name);
        out_.signOffs.push_back({subject, textOr(*s, "by"), textOr(*s, "utc"), textOr(*s, "state"), textOr(*s, "since_utc"), textOr(*s, "by_entry")});
    }

    void lookBeside()
    {
        std::error_code none;
        for (fs::recursive_directory_iterator it(folder_, none), end; !none && it != end && out_.beside.size() < mostBeside; it.increment(none)) {
            if (it->is_directory(none)) continue;
            const std::string path = fs::relative(it->path(), folder_, none).generic_string();
            if (path != sealName && !out_.seal->statement.file(path)) out_.beside.push_back(path);
        }
    }

    const fs::path& folder_;
    const CheckProgress& progress_;
    FolderCheck out_;
    std::size_t read_ = 0, all_ = 0;
};

}  // namespace

Result<FolderCheck> checkFolder(const fs::path& folder, const std::vector<KnownKey>& known, const CheckProgress& progress)
{
    return FolderChecking(folder, progress).run(known);
}

bool isCertificateFolder(const fs::path& folder)
{
    std::error_code none;
    if (fs::exists(folder / sealName, none)) return true;
    // the signature may have been taken away: what is left still says what it was
    for (fs::directory_iterator it(folder, none), end; !none && it != end; it.increment(none)) {
        if (it->path().extension() != ".json") continue;
        const auto text = readFile(it->path(), largestFile);
        if (text && text->find("\"clendo-certificate\"") != std::string::npos) return true;
    }
    return false;
}

std::string FolderCheck::sentence() const
{
    if (!wrong.empty()) return wrong.size() == 1 ? wrong.front().message : fmt::format("{} And {} more.", wrong.front().message, wrong.size() - 1);
    const auto& signer = *seal->signer;
    const std::string unchanged = fmt::format("Nothing was changed since the key {} signed it", signer.key.spoken());
    switch (standing) {
        case Standing::Known: return fmt::format("{}; that key is known here as {}’s.", unchanged, knownAs);
        case Standing::Retired:
            return fmt::format("{}; that key is known here, and was no longer in use when this was written, by the writer’s own clock. Ask {}.",
                               unchanged, knownAs);
        case Standing::Unknown: break;
    }
    return fmt::format("{}. It says to be {}’s, and nobody here has compared it yet: ask them to read you their key, by another way than this came.",
                       unchanged, signer.holder);
}

}  // namespace clendo::seal
