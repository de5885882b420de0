#include "record/fold/signatures.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "files/files.h"
#include "record/fold/fold.h"
#include "record/journal/losses.h"
#include "record/state/rules.h"

namespace clendo {
namespace {

/// Settings that change a verdict; the name of the job and the like do not.
bool changesVerdicts(const SettingSet& setting) { return setting.key != "name" && setting.key != "attempts" && setting.key != "stop_at_first_bad"; }

/// "VP-04/1/A/port" is about "VP-04" and "VP-04/1".
bool isAbout(const std::string& id, const std::string& subject)
{
    return id.starts_with(subject) && (id.size() == subject.size() || id[subject.size()] == '/');
}

/// Entries behind a signature, or filed on another device before it was heard of: what the signer did not know.
class Unknown {
public:
    explicit Unknown(const Signed& sign) : ends_(sign.ends) {}
    [[nodiscard]] bool operator()(const Entry& e) const
    {
        const auto end = ends_.find(e.device);
        return end == ends_.end() || e.sequence > end->second.sequence;
    }

private:
    const ChainHeads& ends_;
};

/// The record of a signature's subject from what the signer knew and the first `count` of the entries that came to it.
std::string recordWith(std::span<const Entry> journal, const std::vector<const Entry*>& came, std::size_t count, const Signed& sign,
                       const Digest& entry, const Rules& rules)
{
    const Unknown unknown(sign);
    std::vector<Entry> known;
    std::size_t n = 0;
    for (const Entry& e : journal)
        if (!unknown(e) || e.hash == entry || (n < count && &e == came[n] && ++n > 0)) known.push_back(e);
    return signedRecord(fold(known, rules), sign.of);
}

/// Which entry made the record of its subject another one than was signed.
void explain(Signature& signature, const Signed& sign, std::span<const Entry> journal, const JobState& state, const Rules& rules)
{
    const Unknown unknown(sign);
    std::vector<const Entry*> came;
    for (const Entry& e : journal)
        if (unknown(e) && e.hash != signature.entry && !std::holds_alternative<Signed>(e.fact)) came.push_back(&e);
    // what is about the subject, its rules and plan comes first to mind; only where it does not explain it all others are asked
    std::vector<const Entry*> likely;
    std::copy_if(came.begin(), came.end(), std::back_inserter(likely), [&](const Entry* e) { return mayOvertake(*e, sign.of, journal, state); });
    const auto differsWith = [&](const std::vector<const Entry*>& candidates, std::size_t count) {
        return sha256(recordWith(journal, candidates, count, sign, signature.entry, rules)) != signature.record;
    };
    if (differsWith(came, 0)) return;  // even from what the signer knew
    for (const auto* candidates : {&likely, &came}) {
        const auto differs = [&](std::size_t count) { return differsWith(*candidates, count); };
        if (!differs(candidates->size())) continue;
        std::size_t same = 0, other = candidates->size();
        while (other - same > 1) {
            const std::size_t middle = (same + other) / 2;
            (differs(middle) ? other : same) = middle;
        }
        const Entry& by = *(*candidates)[other - 1];
        signature.overtaken->since = by.at();
        signature.overtaken->by = by.hash;
        return;
    }
}

}  // namespace

bool mayOvertake(const Entry& entry, const std::string& subject, std::span<const Entry> journal, const JobState& state)
{
    if (std::holds_alternative<Signed>(entry.fact)) return false;
    if (const auto* correction = std::get_if<Corrected>(&entry.fact)) {
        const auto target = std::find_if(journal.begin(), journal.end(), [&](const Entry& e) { return e.hash == correction->entry; });
        return target != journal.end() && !std::holds_alternative<Corrected>(target->fact) && mayOvertake(*target, subject, journal, state);
    }
    if (const auto* setting = std::get_if<SettingSet>(&entry.fact)) return changesVerdicts(*setting);
    if (const auto* kept = std::get_if<CriteriaKept>(&entry.fact)) return kept->edition == state.plan->job.edition;
    if (const auto* planned = std::get_if<CablePlanned>(&entry.fact)) {
        const Link* link = state.link(subject);
        return planned->cable.id == (link ? link->cable->id : subject);
    }
    return isAbout(subjectOf(entry.fact), subject) || isAbout(otherSubjectOf(entry.fact), subject);
}

std::vector<Signature> signaturesIn(std::span<const Entry> journal, const JobState& state, const Rules& rules, const EvidenceSource& evidence,
                                    const std::string& subject)
{
    const auto corrected = correctedEntries(journal);
    std::vector<Signature> out;
    for (std::size_t i = 0; i < journal.size(); ++i) {
        const Entry& entry = journal[i];
        const auto* sign = std::get_if<Signed>(&entry.fact);
        if (!sign || corrected.contains(entry.hash) || (!subject.empty() && !isAbout(sign->of, subject) && !isAbout(subject, sign->of))) continue;
        Signature& s = out.emplace_back(Signature{sign->of, entry.who, entry.at(), entry.hash, sign->record, sign->remark, {}});
        if (s.record.empty()) {
            const auto later = journal.subspan(i + 1);
            // what was filed after it and taken back again changes nothing
            const auto by = std::find_if(later.begin(), later.end(), [&](const Entry& e) {
                if (corrected.contains(e.hash) || !mayOvertake(e, s.subject, journal, state)) return false;
                const auto* correction = std::get_if<Corrected>(&e.fact);
                return !correction || std::none_of(later.begin(), later.end(), [&](const Entry& l) { return l.hash == correction->entry; });
            });
            if (by != later.end()) s.overtaken = {by->at(), by->hash, {}};
            continue;
        }
        const std::string now = signedRecord(state, s.subject);
        if (sha256(now) == s.record) continue;
        s.overtaken.emplace();
        if (evidence)
            if (const auto was = evidence(s.record)) s.overtaken->differs = differences(*was, now);
        explain(s, *sign, journal, state, rules);
    }
    return out;
}

std::vector<Signature> signaturesIn(std::span<const Entry> journal, const JobState& state, const Rules& rules, const EvidenceSource& evidence)
{
    return signaturesIn(journal, state, rules, evidence, {});
}

void overtakeUnbound(JobState& state, std::span<const Entry> journal, const Corrections& corrected)
{
    std::vector<std::pair<std::string, SignatureState*>> unbound;
    std::vector<std::string> links;
    for (const auto& [id, of] : state.linkStates)
        if (of.signature && of.signature->what.record.empty()) links.push_back(id);
    for (const auto& id : links) unbound.emplace_back(id, &*state.linkStates.change(id).signature);
    for (auto& [id, signature] : state.signedCables)
        if (signature.what.record.empty()) unbound.emplace_back(id, &signature);
    if (unbound.empty()) return;
    for (const Entry& e : journal) {
        if (!changesEarlier(e.fact) || corrected.contains(e.hash)) continue;
        const auto* correction = std::get_if<Corrected>(&e.fact);
        const auto target =
            correction ? std::find_if(journal.begin(), journal.end(), [&](const Entry& t) { return t.hash == correction->entry; }) : journal.end();
        for (auto& [id, signature] : unbound) {
            const bool takesBackLater = target != journal.end() && target->at() >= signature->at;
            if (signature->stands && e.at() > signature->at && !takesBackLater && mayOvertake(e, id, journal, state)) signature->stands = false;
        }
    }
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
