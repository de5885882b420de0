#include "seal/statement.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

#include "files/canonical_json.h"
#include "files/hex.h"
#include "files/json_reading.h"

namespace clendo::seal {
namespace {

using nlohmann::json;

constexpr std::string_view sealFormat = "clendo-seal";
constexpr std::size_t mostFiles = 200'000, longestPath = 240, longestText = 2000;
constexpr double mostBytes = 1e12;
constexpr int deepest = 8;

json toJson(const Statement& s, const SigningKey* key)
{
    json files = json::array(), heads = json::array();
    for (const auto& f : s.files) files.push_back({{"path", f.path}, {"bytes", f.bytes}, {"sha256", f.sha256.hex()}});
    for (const auto& h : s.heads) heads.push_back({{"device", h.device}, {"sequence", h.sequence}, {"entry", h.entry.hex()}});
    return {{"subject", s.subject},
            {"job", s.job},
            {"written_at", s.writtenAt},
            {"record", s.body},
            {"files", std::move(files)},
            {"heads", std::move(heads)},
            {"replaces", s.replaces ? json(s.replaces->hex()) : json(nullptr)},
            {"holder", key ? json(key->holder()) : json(nullptr)},
            {"public_key", key ? json(key->publicKey().hex()) : json(nullptr)}};
}

/// One place for all that reading a statement can find wrong.
class StatementReading {
public:
    explicit StatementReading(const json& value) : in_(value, "statement") {}

    Statement read()
    {
        Statement out;
        out.subject = text("subject");
        out.job = text("job");
        out.writtenAt = static_cast<std::int64_t>(in_.number("written_at", 0, 1e11));
        out.body = text("record");
        readFiles(out);
        for (const auto& one : in_.list("heads")) {
            JsonReading of(one, "heads");
            Statement::Head head{of.text("device"), static_cast<std::int64_t>(of.number("sequence", 0, 1e15)), digest(of, "entry")};
            pass(of);
            out.heads.push_back(std::move(head));
        }
        if (const json* replaces = in_.find("replaces"); replaces && !replaces->is_null()) out.replaces = digest(in_, "replaces");
        return out;
    }
    JsonReading& in() { return in_; }

private:
    void readFiles(Statement& out)
    {
        const json& files = in_.list("files");
        if (files.size() > mostFiles) return in_.complain("“files” are too many");
        std::set<std::string> seen;
        for (const auto& one : files) {
            JsonReading of(one, "files");
            SealedFile file{of.text("path"), static_cast<std::size_t>(of.number("bytes", 0, mostBytes)), digest(of, "sha256")};
            if (!plainPath(file.path)) of.complain("a path leads out of the folder");
            if (!seen.insert(file.path).second) of.complain("a path stands there twice");
            pass(of);
            out.files.push_back(std::move(file));
        }
        if (!out.file(out.body)) in_.complain("“record” is none of the files");
    }
    std::string text(std::string_view key)
    {
        auto out = in_.text(key);
        if (out.size() > longestText) in_.complain("a text is too long");
        return out;
    }
    static Digest digest(JsonReading& from, std::string_view key)
    {
        const auto out = Digest::parse(from.text(key));
        if (!out) from.complain("a hash must be 64 hexadecimal digits");
        return out.value_or(Digest{});
    }
    void pass(const JsonReading& of)
    {
        if (of.problem()) in_.complain(*of.problem());
    }

    JsonReading in_;
};

tl::unexpected<Error> noSeal(const std::string& why)
{
    return failure(
        Error::Code::CertificateInvalid,
        fmt::format("“{}” cannot be used: {}. Whether anything else was changed cannot be told; ask for the folder again.", sealName, why));
}

}  // namespace

const SealedFile* Statement::file(std::string_view path) const
{
    const auto it = std::find_if(files.begin(), files.end(), [&](const SealedFile& f) { return f.path == path; });
    return it == files.end() ? nullptr : &*it;
}

Digest Statement::record() const
{
    const SealedFile* f = file(body);
    return f ? f->sha256 : Digest{};
}

bool plainPath(std::string_view path)
{
    if (path.empty() || path.size() > longestPath || path.front() == '/' || path.back() == '/') return false;
    const auto plain = [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
               std::string_view("-_=+./").find(c) != std::string_view::npos;
    };
    if (!std::all_of(path.begin(), path.end(), plain) || std::count(path.begin(), path.end(), '/') > 1) return false;
    if (path == sealName) return false;
    // no name begins with a dot: nothing hidden, and neither "." nor ".."
    return path.front() != '.' && path.find("/.") == std::string_view::npos && path.find("//") == std::string_view::npos;
}

std::string sealText(const Statement& statement, const SigningKey* key)
{
    const json said = toJson(statement, key);
    const json signature = key ? json(toHex(key->sign(canonicalJson(said)))) : json(nullptr);
    return canonicalJson({{"format", sealFormat}, {"format_version", 1}, {"statement", said}, {"signature", signature}}) + "\n";
}

Result<Seal> readSeal(std::string_view text)
{
    const auto shallow = [](int depth, json::parse_event_t, const json&) { return depth <= deepest; };
    const json value = json::parse(text, shallow, false);
    if (!value.is_object()) return noSeal("it is no JSON, or ends too early");
    JsonReading in(value, "");
    if (in.textOr("format", "") != sealFormat) return noSeal("its format is another one");
    if (in.number("format_version", 1, 1e6) > 1) return noSeal("it was written by a newer version, which has to be used");
    const json* said = in.find("statement");
    constexpr std::size_t members = 4;
    if (in.problem() || !said || !said->is_object() || value.size() != members) return noSeal("something is missing of it, or does not belong there");
    StatementReading reading(*said);
    Seal out{reading.read(), std::nullopt};
    if (const json* key = reading.in().find("public_key"); key && !key->is_null()) {
        const auto known = PublicKey::parse(reading.in().text("public_key"));
        if (!known) reading.in().complain("“public_key” must be 64 hexadecimal digits");
        Seal::Signer signer{reading.in().text("holder"), known.value_or(PublicKey{}), false};
        SignatureBytes bytes{};
        const json* signature = in.find("signature");
        if (signature && signature->is_string() && fromHex(signature->get<std::string>(), bytes))
            signer.good = signer.key.holds(canonicalJson(*said), bytes);
        out.signer = std::move(signer);
    } else if (const json* signature = in.find("signature"); signature && !signature->is_null()) {
        reading.in().complain("it is signed, and does not say by which key");
    }
    if (reading.in().problem()) return noSeal(*reading.in().problem());
    // white space, members that are not known, another order: whoever wrote this was not Clendo
    if (canonicalJson(value) + "\n" != text) return noSeal("it is not as it was written");
    return out;
}

}  // namespace clendo::seal
