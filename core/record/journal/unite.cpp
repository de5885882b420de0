#include "record/journal/unite.h"

#include <algorithm>
#include <iterator>
#include <map>
#include <nlohmann/json.hpp>
#include <unordered_set>

#include "record/journal/order.h"

namespace clendo {
namespace {

/// What one journal says that the other does not know, by what it is about.
struct Said {
    struct Value {
        const EntryRecord* entry = nullptr;
        std::string value;  ///< canonical: equal values do not contradict
    };
    std::map<Claim, Value> values;                                              ///< by what and subject; the last one counts
    std::map<std::pair<std::string, std::int64_t>, const EntryRecord*> places;  ///< in the chains of devices
    std::vector<std::pair<Digest, const EntryRecord*>> corrects, restsOn;       ///< entries that these are about
};

std::vector<const EntryRecord*> onlyIn(std::span<const EntryRecord> here, std::span<const EntryRecord> there)
{
    std::unordered_set<Digest, DigestHash> known;
    for (const auto& e : there) known.insert(e.hash);
    std::vector<const EntryRecord*> out;
    for (const auto& e : here)
        if (!known.contains(e.hash)) out.push_back(&e);
    std::sort(out.begin(), out.end(), [](auto* a, auto* b) { return filedBefore(*a, *b); });
    return out;
}

Said saidBy(const std::vector<const EntryRecord*>& entries)
{
    std::unordered_set<Digest, DigestHash> corrected;
    std::vector<std::pair<const EntryRecord*, Fact>> facts;
    Said out;
    for (const auto* e : entries) {
        out.places.emplace(std::pair(e->device, e->sequence), e);
        auto fact = factFrom(e->kind, e->body);
        if (!fact) continue;
        if (const auto* c = std::get_if<Corrected>(&*fact)) {
            corrected.insert(c->entry);
            out.corrects.emplace_back(c->entry, e);
        }
        facts.emplace_back(e, std::move(*fact));
    }
    for (const auto& [e, fact] : facts) {
        if (corrected.contains(e->hash)) continue;
        if (const auto claim = claimOf(fact); !claim.what.empty()) out.values[claim] = {e, e->body};
        if (const Digest on = restsOn(fact)) out.restsOn.emplace_back(on, e);
    }
    return out;
}

std::vector<std::string> hashes(const EntryRecord& a, const EntryRecord& b)
{
    std::vector<std::string> out{a.hash.hex(), b.hash.hex()};
    std::sort(out.begin(), out.end());
    return out;
}

/// An entry that one side took back and on which the other side rests something.
void addTakenBack(const Said& taker, const Said& user, std::vector<Contradiction>& out)
{
    for (const auto& [corrected, by] : taker.corrects)
        for (const auto& [on, e] : user.restsOn)
            if (on == corrected)
                out.push_back({"correction", hashes(*by, *e),
                               fmt::format("Entry {} was taken back in one journal, and in the other an entry rests on it.", corrected.brief())});
}

}  // namespace

std::vector<EntryRecord> unite(std::span<const EntryRecord> a, std::span<const EntryRecord> b)
{
    std::vector<EntryRecord> out(a.begin(), a.end());
    out.insert(out.end(), b.begin(), b.end());
    std::sort(out.begin(), out.end(), filedBefore);
    out.erase(std::unique(out.begin(), out.end(), [](const auto& x, const auto& y) { return x.hash == y.hash; }), out.end());
    return out;
}

std::vector<Contradiction> contradictions(std::span<const EntryRecord> a, std::span<const EntryRecord> b)
{
    const Said left = saidBy(onlyIn(a, b)), right = saidBy(onlyIn(b, a));
    std::vector<Contradiction> out;
    for (const auto& [place, e] : left.places)
        if (const auto twin = right.places.find(place); twin != right.places.end())
            out.push_back(
                {"chain", hashes(*e, *twin->second),
                 fmt::format("Both journals have an entry {} of device {}: one of them was worked on from an old copy.", place.second, place.first)});
    for (const auto& [claim, value] : left.values) {
        const auto other = right.values.find(claim);
        if (other == right.values.end() || other->second.value == value.value) continue;
        out.push_back({claim.what, hashes(*value.entry, *other->second.entry),
                       fmt::format("Both journals say what “{}” is ({}), and not the same.", claim.subject, claim.what)});
    }
    addTakenBack(left, right, out);
    addTakenBack(right, left, out);
    std::sort(out.begin(), out.end());
    return out;
}

bool sameJob(std::span<const EntryRecord> a, std::span<const EntryRecord> b)
{
    if (a.empty() || b.empty()) return true;
    return std::min_element(a.begin(), a.end(), filedBefore)->hash == std::min_element(b.begin(), b.end(), filedBefore)->hash;
}

}  // namespace clendo
