#include <fmt/format.h>

#include <chrono>
#include <fstream>
#include <iostream>
#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "record/journal/time_text.h"
#include "seal/known_keys.h"

namespace clendo::cli {
namespace {

using nlohmann::json;

struct KeyArguments {
    std::string holder, passphrase, out, key;
    std::int64_t until = -1;
};

std::int64_t now() { return std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch()).count(); }

json keyJson(const seal::KeyFile& key)
{
    return {{"holder", key.holder}, {"public", key.publicKey.hex()}, {"spoken", key.publicKey.spoken()}, {"made_at", isoTime(key.madeAt)}};
}

Result<json> made(const KeyArguments& a)
{
    const auto passphrase = passphraseFrom(a.passphrase);
    if (!passphrase) return tl::unexpected(passphrase.error());
    if (passphrase->size() < seal::shortestPassphrase)
        return failure(Error::Code::PassphraseWrong,
                       fmt::format("A passphrase has {} letters or more. Choose a longer one.", seal::shortestPassphrase));
    const auto key = seal::SigningKey::make(a.holder);
    return key.sealedFile(*passphrase, now())
        .and_then([](const std::string& text) { return seal::readKeyFile(text); })
        .and_then([&](const seal::KeyFile& file) {
            const auto kept = a.out.empty() ? seal::KeyRing::ofUser().keep(file) : writeFile(a.out, file.text);
            return kept.map([&] { return keyJson(file); });
        });
}

Result<json> known(const KeyArguments& a)
{
    const auto text = seal::PublicKey::parse(a.key) ? Result<std::string>(a.key) : readFile(a.key);
    return text.and_then([](const std::string& t) { return seal::readPublicKey(t); }).and_then([&](seal::KnownKey key) {
        if (!a.holder.empty()) key.holder = a.holder;
        if (a.until >= 0) key.until = a.until;
        return seal::KeyRing::ofUser().know(key).map([&] { return json{{"public", key.key.hex()}, {"holder", key.holder}}; });
    });
}

void say(const Result<json>& answer, Outcome& outcome)
{
    if (!answer) outcome.status = 1;
    print(answer ? *answer : json{{"error", toJson(answer.error())}});
}

}  // namespace

Result<std::string> passphraseFrom(const std::string& file)
{
    std::string line;
    std::ifstream opened;
    if (file != "-") opened.open(file);
    std::istream& in = file == "-" ? std::cin : opened;
    if (!std::getline(in, line) || line.empty())
        return failure(Error::Code::PassphraseWrong, fmt::format("There is no passphrase in “{}”: it is the first line of that file.", file));
    return line;
}

void addKeyCommands(CLI::App& program, Outcome& outcome)
{
    auto* key = program.add_subcommand("key", "Make, list and exchange the keys that sign certificates");
    key->require_subcommand(1);
    auto arguments = std::make_shared<KeyArguments>();
    auto* make = key->add_subcommand("make", "Make a key, and keep it sealed with a passphrase");
    make->add_option("--holder", arguments->holder, "whose key it is: a person or a firm")->required();
    make->add_option("--passphrase-file", arguments->passphrase, "its first line is the passphrase; - for standard input")->required();
    make->add_option("--out", arguments->out, "keep it in this file instead of with the user's keys");
    make->callback([arguments, &outcome] { say(made(*arguments), outcome); });
    auto* list = key->add_subcommand("list", "The user's own keys, the newest first, and those that are known");
    list->callback([&outcome] {
        json own = json::array(), others = json::array();
        const auto ring = seal::KeyRing::ofUser();
        for (const auto& k : ring.own()) own.push_back(keyJson(k));
        for (const auto& k : ring.known())
            others.push_back({{"holder", k.holder}, {"public", k.key.hex()}, {"until", k.until ? json(*k.until) : json(nullptr)}});
        say(json{{"own", own}, {"known", others}}, outcome);
    });
    auto* know = key->add_subcommand("know", "Take a public key for known, after comparing it with its holder");
    know->add_option("key", arguments->key, "a file, or 64 hexadecimal digits")->required();
    know->add_option("--holder", arguments->holder, "whose it is, as it is known here");
    know->add_option("--until", arguments->until, "it is not used any longer from then on, seconds since 1970");
    know->callback([arguments, &outcome] { say(known(*arguments), outcome); });
}

}  // namespace clendo::cli
