#include "record/journal/chain.h"

#include <algorithm>

#include "files/canonical_json.h"
#include "record/journal/losses.h"

namespace clendo {
namespace {

using Chains = std::map<std::string, std::vector<const EntryHead*>, std::less<>>;

/// The chains of all devices that have entries or a head.
Chains chainsOf(const EntryHeads& entries, const ChainHeads& heads)
{
    Chains out;
    for (const auto& [device, head] : heads) out.try_emplace(device);
    std::vector<const EntryHead*>* chain = nullptr;  // mostly one device files many entries in a row
    for (const auto* e : entries) {
        if (!chain || chain->back()->device != e->device) chain = &out[e->device];
        chain->push_back(e);
    }
    const auto before = [](auto* a, auto* b) { return a->sequence < b->sequence; };
    for (auto& [device, all] : out)
        if (!std::is_sorted(all.begin(), all.end(), before)) std::stable_sort(all.begin(), all.end(), before);
    return out;
}

/// Gaps of one chain up to the sequence number that its head says.
std::vector<LossesNoted::Gap> gapsOf(const std::string& device, const std::vector<const EntryHead*>& chain, std::int64_t last)
{
    std::vector<LossesNoted::Gap> out;
    std::int64_t next = 1;
    for (const auto* e : chain) {
        if (e->sequence > next) out.push_back({device, next, e->sequence - 1});
        next = std::max(next, e->sequence + 1);
    }
    if (last >= next) out.push_back({device, next, last});
    return out;
}

std::vector<LossesNoted::Gap> gapsOf(const Chains& chains, const ChainHeads& heads, std::span<const LossesNoted> known)
{
    std::vector<LossesNoted::Gap> out;
    for (const auto& [device, chain] : chains) {
        const auto head = heads.find(device);
        for (auto& gap : gapsOf(device, chain, head == heads.end() ? 0 : head->second.sequence))
            if (!isNoted(known, gap)) out.push_back(std::move(gap));
    }
    return out;
}

/// What is wrong with an entry, given those that stand before it in its chain (several where the chain was forked).
std::optional<std::string> troubleOf(const EntryHead& e, std::span<const EntryHead* const> before, const EntryHead* twin)
{
    if (twin) return fmt::format("Two entries claim place {} in the chain of device {}.", e.sequence, e.device);
    if (e.sequence == 1) return e.previous ? std::optional<std::string>("The first entry of a chain names one before it.") : std::nullopt;
    if (before.empty()) return std::nullopt;  // a gap, told as such
    const auto named = std::find_if(before.begin(), before.end(), [&](auto* b) { return b->hash == e.previous; });
    if (named == before.end()) return "It does not follow the entry before it in its chain: one of the two was replaced.";
    if ((*named)->filed >= e.filed) return "It was filed before the entry that it follows.";
    return std::nullopt;
}

void appendCanonical(std::string& out, const EntryHead& e, std::string_view kind, std::string_view body)
{
    const auto text = [&](std::string_view key, std::string_view value) { (out += key) += canonicalText(value); };
    const auto number = [&](std::string_view key, std::int64_t value) { (out += key) += fmt::format_int(value).str(); };
    text(R"({"act":)", e.act);
    (out += R"(,"body":)") += body;
    text(R"(,"device":)", e.device);
    number(R"(,"filed":)", e.filed);
    number(R"(,"happened":)", e.happened);
    text(R"(,"kind":)", kind);
    out += R"(,"previous":)";
    if (e.previous)
        ((out += '"') += e.previous.hex()) += '"';
    else
        out += "null";
    number(R"(,"sequence":)", e.sequence);
    text(R"(,"who":)", e.who);
    out += '}';
}

}  // namespace

std::string canonicalEntry(const EntryRecord& entry)
{
    std::string out;
    appendCanonical(out, entry, entry.kind, entry.body);
    return out;
}

Digest hashOf(const EntryRecord& entry) { return hashOf(entry, entry.kind, entry.body); }

Digest hashOf(const EntryHead& entry, std::string_view kind, std::string_view body)
{
    thread_local std::string text;  // a hundred thousand entries one after another: it keeps its room
    text.clear();
    appendCanonical(text, entry, kind, body);
    return digestOf(text);
}

ChainHeads headsOf(const EntryHeads& entries)
{
    ChainHeads out;
    for (const auto* e : entries)
        if (auto& head = out[e->device]; e->sequence > head.sequence) head = {e->sequence, e->hash};
    return out;
}

std::vector<Wrong> checkChains(const EntryHeads& entries, const ChainHeads& heads, std::span<const LossesNoted> known)
{
    std::vector<Wrong> out;
    const Chains chains = chainsOf(entries, heads);
    for (const auto& gap : gapsOf(chains, heads, known))
        out.push_back({"entry", fmt::format("{}/{}", gap.device, gap.from),
                       gap.from == gap.to ? fmt::format("Entry {} of device {} is missing.", gap.from, gap.device)
                                          : fmt::format("Entries {} to {} of device {} are missing.", gap.from, gap.to, gap.device)});
    for (const auto& [device, chain] : chains) {
        const auto head = heads.find(device);
        for (std::size_t i = 0; i < chain.size(); ++i) {
            std::size_t first = i, begin = i;  // of its sequence number, and of the one before
            while (first > 0 && chain[first - 1]->sequence == chain[i]->sequence) --first;
            begin = first;
            while (begin > 0 && chain[begin - 1]->sequence == chain[i]->sequence - 1) --begin;
            if (auto trouble = troubleOf(*chain[i], std::span(chain).subspan(begin, first - begin), i > first ? chain[first] : nullptr))
                out.push_back({"entry", chain[i]->hash.hex(), std::move(*trouble)});
        }
        if (head == heads.end()) {
            out.push_back({"file", "", fmt::format("The job does not know how far the chain of device {} goes.", device)});
        } else if (!chain.empty() && chain.back()->sequence >= head->second.sequence) {
            const auto same = std::any_of(chain.begin(), chain.end(), [&](auto* e) { return e->hash == head->second.hash; });
            if (!same || chain.back()->sequence != head->second.sequence)
                out.push_back(
                    {"file", head->second.hash.hex(), fmt::format("The end of the chain of device {} is not the one that the job says.", device)});
        }
    }
    return out;
}

std::vector<LossesNoted::Gap> gapsIn(const EntryHeads& entries, const ChainHeads& heads, std::span<const LossesNoted> known)
{
    return gapsOf(chainsOf(entries, heads), heads, known);
}

}  // namespace clendo
