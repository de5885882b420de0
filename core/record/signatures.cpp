#include "record/signatures.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <unordered_map>

#include "record/journal/acts.h"
#include "record/journal/losses.h"

namespace clendo {
namespace {

/// Settings that change a verdict; the name of the job and the like do not.
bool changesVerdicts(const SettingSet& setting) { return setting.key != "name" && setting.key != "attempts" && setting.key != "stop_at_first_bad"; }

/// Signatures that still stand, by what they were given for, while the journal goes on.
class Standing {
public:
    explicit Standing(const JobState& state) : state_(state) {}

    void add(Signature& signature, std::size_t place) { bySubject_[signature.subject].push_back({&signature, place}); }

    /// `by` counts against signatures over what `fact` is about, and that were given behind the place `after`.
    void overtake(const Fact& fact, const Entry& by, std::size_t after = 0)
    {
        if (std::holds_alternative<Signed>(fact) || std::holds_alternative<Corrected>(fact)) return;
        const auto* setting = std::get_if<SettingSet>(&fact);
        const auto* kept = std::get_if<ProfileKept>(&fact);
        if ((setting && changesVerdicts(*setting)) || (kept && kept->edition == state_.job.edition)) {
            for (auto& [subject, signatures] : bySubject_) take(signatures, by, after);
            return;
        }
        if (const auto* planned = std::get_if<CablePlanned>(&fact)) overtakeLinksOf(planned->cable.id, by, after);
        for (const auto& subject : {subjectOf(fact), otherSubjectOf(fact)})
            for (auto end = subject.find('/');; end = subject.find('/', end + 1)) {  // "VP-04/1/A/port" is about "VP-04" and "VP-04/1"
                if (const auto found = bySubject_.find(subject.substr(0, end)); found != bySubject_.end()) take(found->second, by, after);
                if (end == std::string::npos) break;
            }
    }

private:
    struct Given {
        Signature* signature;
        std::size_t place;
    };
    static void take(std::vector<Given>& signatures, const Entry& by, std::size_t after)
    {
        std::erase_if(signatures, [&](const Given& s) {
            if (s.place < after) return false;
            s.signature->overtaken = {by.at(), by.hash};
            return true;
        });
    }
    void overtakeLinksOf(const std::string& cable, const Entry& by, std::size_t after)
    {
        for (auto& [subject, signatures] : bySubject_)
            if (const Link* link = state_.link(subject); link && link->cable->id == cable) take(signatures, by, after);
    }

    const JobState& state_;
    std::map<std::string, std::vector<Given>> bySubject_;
};

}  // namespace

std::vector<Signature> signaturesIn(std::span<const Entry> journal, const JobState& state)
{
    const auto corrected = correctedEntries(journal);
    std::unordered_map<Digest, std::size_t, DigestHash> places;
    std::vector<Signature> out;
    out.reserve(static_cast<std::size_t>(std::count_if(
        journal.begin(), journal.end(), [](const Entry& e) { return std::holds_alternative<Signed>(e.fact); })));  // they stay where they are
    Standing standing(state);
    for (std::size_t i = 0; i < journal.size(); ++i) {
        const Entry& entry = journal[i];
        places.emplace(entry.hash, i);
        if (corrected.contains(entry.hash)) continue;
        if (const auto* correction = std::get_if<Corrected>(&entry.fact)) {
            // what was filed after a signature and taken back again changes nothing
            if (const auto target = places.find(correction->entry); target != places.end())
                standing.overtake(journal[target->second].fact, entry, target->second);
        } else if (const auto* sign = std::get_if<Signed>(&entry.fact)) {
            standing.add(out.emplace_back(Signature{sign->of, entry.who, entry.at(), entry.hash, {}}), i);
        } else {
            standing.overtake(entry.fact, entry);
        }
    }
    return out;
}

std::vector<Wrong> missingUnderSignatures(std::span<const Entry> journal, std::span<const LossesNoted> known)
{
    ChainHeads farthest;  // of all signatures
    for (const Entry& e : journal)
        if (const auto* sign = std::get_if<Signed>(&e.fact))
            for (const auto& [device, end] : sign->ends)
                if (auto& far = farthest[device]; end.sequence > far.sequence) far = end;
    std::vector<Wrong> out;
    for (const auto& [device, end] : farthest) {
        const bool there = std::any_of(journal.begin(), journal.end(), [&, &wanted = end](const Entry& e) { return e.hash == wanted.hash; });
        if (!there && !isNoted(known, {device, end.sequence, end.sequence}))
            out.push_back({"entry", end.hash.hex(),
                           fmt::format("A signature was given when entry {} of device {} was there; it is missing.", end.sequence, device)});
    }
    return out;
}

}  // namespace clendo
