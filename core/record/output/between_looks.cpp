#include "record/output/between_looks.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <nlohmann/json.hpp>

#include "record/journal/acts.h"
#include "record/journal/time_text.h"
#include "record/output/certificate_link.h"

namespace clendo {
namespace {

using nlohmann::json;

class Telling {
public:
    Telling(const JobState& state, std::span<const Entry> journal, const FaceId& face)
        : state_(state), journal_(journal), face_(face), corrected_(correctedEntries(journal))
    {
    }

    Result<BetweenLooks> run()
    {
        const auto& looks = state_.face(face_).looks;
        const auto isBad = [](const Look& l) { return l.verdict && !l.verdict->fit; };
        const auto isFit = [](const Look& l) { return l.verdict && l.verdict->fit; };
        const auto lastBad = std::find_if(looks.rbegin(), looks.rend(), isBad);
        if (lastBad == looks.rend())
            return failure(Error::Code::StepRefused, fmt::format("{} was never found bad: there is nothing to settle.", state_.where(face_)));
        const auto lastFit = std::find_if(lastBad, looks.rend(), isFit);
        // it was found bad at the first of the bad looks that follow each other
        const auto first = std::find_if(lastFit.base(), looks.end(), isBad);
        BetweenLooks out;
        out.face = face_;
        out.where = state_.where(face_);
        out.bad = deedOf(first->entry);
        out.badPicture = first->seen.picture;
        for (const auto& o : first->verdict->outcomes)
            if (!o.met)
                out.broken.push_back(fmt::format("zone {}, {}: {} counted, {} allowed", name(o.rule.zone), name(o.rule.kind), o.counted,
                                                 o.rule.allowed.value_or(0) == 0 ? std::string("none") : std::to_string(*o.rule.allowed)));
        if (lastFit != looks.rend()) {
            out.fit = deedOf(lastFit->entry);
            out.fitPicture = lastFit->seen.picture;
        }
        out.between = between(out);
        out.sentence = sentence(out);
        return out;
    }

private:
    [[nodiscard]] std::size_t place(const Digest& entry) const
    {
        const auto it = std::find_if(journal_.begin(), journal_.end(), [&](const Entry& e) { return e.hash == entry; });
        return static_cast<std::size_t>(it - journal_.begin());
    }
    [[nodiscard]] BetweenLooks::Deed deedOf(const Digest& entry) const
    {
        const std::size_t at = place(entry);
        return at < journal_.size() ? deedOf(journal_[at]) : BetweenLooks::Deed{};
    }
    [[nodiscard]] BetweenLooks::Deed deedOf(const Entry& e) const { return {e.at(), e.who, e.hash, sentenceOf(e.fact, state_), {}, {}}; }

    /// Whether an entry is about this face itself, or the pair that it belongs to.
    [[nodiscard]] bool isOfFace(const Entry& e) const
    {
        const std::string subject = subjectOf(e.fact);
        return subject == face_.text() || otherSubjectOf(e.fact) == face_.text() ||
               subject == fmt::format("{}/{}", face_.link, face_.connection.text());
    }

    /// By its place in the journal, or by when it happened: what was filed late, or by another device, is not left out.
    std::vector<BetweenLooks::Deed> between(const BetweenLooks& b) const
    {
        const std::size_t from = b.fit ? place(b.fit->entry) + 1 : 0, to = place(b.bad.entry);
        const std::int64_t since = b.fit ? b.fit->at : std::numeric_limits<std::int64_t>::min();
        std::vector<Contact> contacts = contactsOf(state_.events, {face_});
        std::vector<BetweenLooks::Deed> out;
        for (std::size_t i = 0; i < journal_.size(); ++i) {
            const Entry& e = journal_[i];
            const bool inPlace = i >= from && i<to, inTime = e.at()> since && e.at() < b.bad.at;
            if (!inPlace && !inTime) continue;
            if (corrected_.contains(e.hash)) continue;
            const auto met = std::find_if(contacts.begin(), contacts.end(), [&](const Contact& c) { return c.at == e.at() && didTouch(e, c); });
            if (met == contacts.end() && !isOfFace(e)) continue;
            auto deed = deedOf(e);
            if (met != contacts.end()) {
                addTouch(deed, *met);
                contacts.erase(met);
            }
            out.push_back(std::move(deed));
        }
        std::stable_sort(out.begin(), out.end(), [](const auto& x, const auto& y) { return x.at < y.at; });
        return out;
    }

    /// Whether a touch is what an entry of the same moment did: by its own faces, or by the link at whose port a cord was.
    [[nodiscard]] static bool didTouch(const Entry& e, const Contact& c)
    {
        if (const auto* j = std::get_if<Joined>(&e.fact)) return (j->a == c.from && j->b == c.to) || (j->a == c.to && j->b == c.from);
        const auto of = [&c](const std::string& link) { return c.from.link == link || c.to.link == link; };
        if (const auto* m = std::get_if<Mated>(&e.fact)) return of(m->link) && c.from.connection == m->connection && c.to.connection == m->connection;
        if (const auto* r = std::get_if<PowerRead>(&e.fact)) return of(r->link);
        if (const auto* t = std::get_if<TraceShot>(&e.fact)) return of(t->link);
        return false;
    }

    void addTouch(BetweenLooks::Deed& deed, const Contact& c) const
    {
        const FaceId& other = c.from == face_ ? c.to : c.from;
        deed.met = state_.where(other);
        deed.metBefore = knownOf(other, c.at);
    }

    /// What was known of another face at a time.
    [[nodiscard]] std::string knownOf(const FaceId& other, std::int64_t at) const
    {
        const Look* last = nullptr;
        for (const auto& look : state_.face(other).looks)
            if (look.verdict && look.at <= at) last = &look;
        if (!last) return "never seen before";
        return fmt::format("seen {} {}", last->verdict->fit ? "fit" : "bad", timeText(last->at));
    }

    [[nodiscard]] std::string sentence(const BetweenLooks& b) const
    {
        const auto touches = std::count_if(b.between.begin(), b.between.end(), [](const auto& d) { return !d.met.empty(); });
        const auto unseen = std::count_if(b.between.begin(), b.between.end(), [](const auto& d) { return d.metBefore == "never seen before"; });
        std::string out =
            b.fit ? fmt::format("{} was last seen fit {} by {}, and found bad {} by {}.", b.where, timeText(b.fit->at), b.fit->who,
                                timeText(b.bad.at), b.bad.who)
                  : fmt::format("{} was found bad {} by {}; nobody had seen it fit before in this job.", b.where, timeText(b.bad.at), b.bad.who);
        out += touches == 0 ? fmt::format(" No touch was filed {}.", b.fit ? "between" : "before")
                            : fmt::format(" {} touch{} filed {}, {} of them by a face that nobody had seen.", touches,
                                          touches == 1 ? " was" : "es were", b.fit ? "between" : "before", unseen);
        return out + " What nobody filed is not here: this names what is known, and nobody as guilty.";
    }

    const JobState& state_;
    std::span<const Entry> journal_;
    const FaceId face_;
    const Corrections corrected_;
};

json deedToJson(const BetweenLooks::Deed& d)
{
    return {{"at", timeText(d.at)},
            {"utc", isoTime(d.at)},
            {"who", d.who},
            {"entry", d.entry.hex()},
            {"says", d.says},
            {"met", d.met.empty() ? json(nullptr) : json(d.met)},
            {"met_known", d.metBefore.empty() ? json(nullptr) : json(d.metBefore)}};
}

}  // namespace

Result<BetweenLooks> betweenLooks(const JobState& state, std::span<const Entry> journal, const FaceId& face)
{
    return Telling(state, journal, face).run();
}

json toJson(const BetweenLooks& b, const JobState& state)
{
    json between = json::array();
    for (const auto& d : b.between) between.push_back(deedToJson(d));
    return {{"format", "clendo-between-looks"},
            {"format_version", 1},
            {"job", state.plan->job.name},
            {"subject", b.face.text()},
            {"where", b.where},
            {"says", b.sentence},
            {"fit", b.fit ? deedToJson(*b.fit) : json(nullptr)},
            {"fit_picture_sha256", b.fit ? json(b.fitPicture) : json(nullptr)},
            {"bad", deedToJson(b.bad)},
            {"bad_picture_sha256", b.badPicture},
            {"broken", b.broken},
            {"between", between},
            {"journal", journalToJson(state)},
            {"losses", state.losses.size()}};
}

}  // namespace clendo
