#include "seal/known_keys.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "files/files.h"
#include "files/json_reading.h"

namespace clendo::seal {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;

constexpr std::string_view listName = "known-keys.json", ownEnding = ".clendo-key";
constexpr std::size_t largestKey = 64 * 1024, largestList = 8 << 20;

json toJson(const KnownKey& k) { return {{"public", k.key.hex()}, {"holder", k.holder}, {"until", k.until ? json(*k.until) : json(nullptr)}}; }

std::optional<KnownKey> knownFrom(const json& value)
{
    JsonReading in(value, "");
    KnownKey out{PublicKey::parse(in.text("public")).value_or(PublicKey{}), in.textOr("holder", ""), std::nullopt};
    if (const auto until = in.numberOrNothing("until", 0, 1e11)) out.until = static_cast<std::int64_t>(*until);
    return in.problem() || out.key == PublicKey{} ? std::nullopt : std::optional(out);
}

}  // namespace

const KnownKey* find(const std::vector<KnownKey>& known, const PublicKey& key)
{
    const auto it = std::find_if(known.begin(), known.end(), [&](const KnownKey& k) { return k.key == key; });
    return it == known.end() ? nullptr : &*it;
}

Standing standingOf(const std::vector<KnownKey>& known, const PublicKey& key, std::int64_t at)
{
    const KnownKey* k = find(known, key);
    if (!k) return Standing::Unknown;
    return k->until && at >= *k->until ? Standing::Retired : Standing::Known;
}

KeyRing KeyRing::ofUser()
{
    const char* data = std::getenv("XDG_DATA_HOME");
    const char* home = std::getenv("HOME");
    const fs::path base = data && *data == '/' ? fs::path(data) : fs::path(home ? home : "/") / ".local/share";
    return KeyRing(base / "clendo/keys");
}

std::vector<KeyFile> KeyRing::own() const
{
    std::vector<KeyFile> out;
    std::error_code none;
    for (fs::directory_iterator it(folder_, none), end; !none && it != end; it.increment(none)) {
        if (it->path().extension() != ownEnding) continue;
        if (auto key = readFile(it->path(), largestKey).and_then([](const std::string& text) { return readKeyFile(text); }))
            out.push_back(std::move(*key));
    }
    std::sort(out.begin(), out.end(),
              [](const KeyFile& a, const KeyFile& b) { return std::tie(b.madeAt, b.publicKey) < std::tie(a.madeAt, a.publicKey); });
    return out;
}

Result<void> KeyRing::keep(const KeyFile& key) const
{
    std::error_code error;
    fs::create_directories(folder_, error);
    fs::permissions(folder_, fs::perms::owner_all, error);
    const fs::path path = folder_ / (key.publicKey.hex().substr(0, 16) + std::string(ownEnding));
    return writeFile(path, key.text).map([&] {
        std::error_code ignored;  // sealed as it is, it need not be anybody else's to read
        fs::permissions(path, fs::perms::owner_read | fs::perms::owner_write, ignored);
    });
}

bool KeyRing::listIsWhole() const
{
    const auto text = readFile(folder_ / listName, largestList);
    const json value = text ? json::parse(*text, nullptr, false) : json();
    const json* keys = memberOf(value, "keys");
    return keys && keys->is_array() && std::all_of(keys->begin(), keys->end(), [](const json& one) { return knownFrom(one).has_value(); });
}

std::vector<KnownKey> KeyRing::listed() const
{
    std::vector<KnownKey> out;
    const auto text = readFile(folder_ / listName, largestList);
    const json value = text ? json::parse(*text, nullptr, false) : json();
    if (const json* keys = memberOf(value, "keys"); keys && keys->is_array())
        for (const auto& one : *keys)
            if (auto key = knownFrom(one)) out.push_back(std::move(*key));
    return out;
}

std::vector<KnownKey> KeyRing::known() const
{
    auto out = listed();
    for (const auto& key : own())
        if (!find(out, key.publicKey)) out.push_back({key.publicKey, key.holder, std::nullopt});
    return out;
}

Result<void> KeyRing::know(const KnownKey& key) const
{
    std::error_code error;
    fs::create_directories(folder_, error);
    if (fs::exists(folder_ / listName, error) && !listIsWhole())
        return failure(Error::Code::KeyInvalid, fmt::format("The list of known keys, “{}”, is damaged, and nothing is written over it. Move it away.",
                                                            (folder_ / listName).string()));
    auto all = listed();
    std::erase_if(all, [&](const KnownKey& k) { return k.key == key.key; });
    all.push_back(key);
    json keys = json::array();
    for (const auto& k : all) keys.push_back(toJson(k));
    return writeFile(folder_ / listName, canonicalJson({{"format", "clendo-known-keys"}, {"format_version", 1}, {"keys", keys}}) + "\n");
}

std::string publicKeyText(const PublicKey& key, const std::string& holder)
{
    return canonicalJson({{"format", "clendo-public-key"}, {"format_version", 1}, {"public", key.hex()}, {"holder", holder}}) + "\n";
}

Result<KnownKey> readPublicKey(std::string_view text)
{
    while (!text.empty() && (text.back() == '\n' || text.back() == ' ' || text.back() == '\r')) text.remove_suffix(1);
    if (const auto bare = PublicKey::parse(text)) return KnownKey{*bare, {}, std::nullopt};
    const json value = text.size() > largestKey ? json() : json::parse(text, nullptr, false);
    if (auto key = value.is_object() ? knownFrom(value) : std::nullopt) {
        key->until.reset();  // what a stranger's file says of its end is not known here
        return std::move(*key);
    }
    return failure(Error::Code::KeyInvalid, "This is no public key: a file that Clendo exported, or 64 hexadecimal digits, is wanted.");
}

}  // namespace clendo::seal
