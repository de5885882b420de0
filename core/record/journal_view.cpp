#include "record/journal_view.h"

#include <fmt/format.h>

#include <algorithm>

#include "record/ruling.h"

namespace clendo {
namespace {

/// A sentence for each kind of fact.
class Telling {
public:
    explicit Telling(const JobState& state) : state_(state) {}

    std::string operator()(const JobSet& f) const { return fmt::format("Job settings: “{}”, criteria {}, {}", f.name, f.edition, name(f.method)); }
    std::string operator()(const CablePlanned& f) const
    {
        return fmt::format("Planned cable {}: {} fibres, {} to {}, {:.0f} m", f.cable.id, f.cable.fibres, f.cable.placeA, f.cable.placeB,
                           f.cable.length.value());
    }
    std::string operator()(const FaceSeen& f) const
    {
        if (!f.measured.usable()) return fmt::format("Looked at {}: no evidence ({})", where(f.face), name(f.measured.retake.front()));
        const auto n = f.measured.findings.size();
        return fmt::format("Looked at {}: {} finding{}", where(f.face), n == 0 ? "no" : std::to_string(n), n == 1 ? "" : "s");
    }
    std::string operator()(const FaceCleaned& f) const
    {
        return fmt::format("Cleaned {}: {}, {} stroke{}{}", where(f.face), methodWords(f.method), f.strokes, f.strokes == 1 ? "" : "s",
                           f.tool.empty() ? "" : ", with " + f.tool);
    }
    std::string operator()(const Mated& f) const
    {
        return fmt::format("Mated {}{}", where({f.link, f.end, Side::Port}), f.reason.empty() ? "" : fmt::format(", all the same: {}", f.reason));
    }
    std::string operator()(const SleeveCleaned& f) const { return "Cleaned the sleeve of " + where({f.link, f.end, Side::Port}); }
    std::string operator()(const FaceHandled& f) const { return fmt::format("{}: {}", where(f.face), f.how); }
    std::string operator()(const FaceCovered& f) const { return fmt::format("{}: {}", where(f.face), f.how); }
    std::string operator()(const KitKept& f) const { return fmt::format("Kit: {} ({}){}", f.id, f.kind, f.gone ? ", gone" : ""); }
    std::string operator()(const KitProved& f) const { return fmt::format("Kit: {}, {}{}", f.id, f.good ? "" : "not ", f.what); }
    std::string operator()(const KitChecked& f) const
    {
        if (f.open.empty()) return "The kit was looked through: nothing was open";
        return fmt::format("The kit was looked through: {} open{}", f.open.size(), f.reason.empty() ? "" : ", went on: " + f.reason);
    }
    std::string operator()(const Joined& f) const { return fmt::format("{} touched {}", where(f.a), where(f.b)); }
    std::string operator()(const ReferenceSet& f) const
    {
        return fmt::format("Reference at {:.0f} nm, {}: {:.2f} dBm, {}", f.wavelength.value(), way(f.direction), f.level.value(), name(f.method));
    }
    std::string operator()(const ReferenceVoided& f) const { return fmt::format("Reference {} void: {}", way(f.direction), f.reason); }
    std::string operator()(const PowerRead& f) const
    {
        return fmt::format("Read {} at {:.0f} nm, {}: {:.2f} dBm", f.link, f.wavelength.value(), way(f.direction), f.power.value());
    }
    std::string operator()(const TraceShot& f) const
    {
        return fmt::format("Trace of {}, {}, {:.0f} nm: {}", f.link, way(f.direction), f.wavelength.value(), f.traceName);
    }
    std::string operator()(const Signed& f) const { return fmt::format("Signed {}{}", f.subject, f.remark.empty() ? "" : ": " + f.remark); }
    std::string operator()(const Corrected& f) const { return fmt::format("Entry {} no longer counts: {}", f.entry, f.reason); }
    std::string operator()(const FindingOverruled& f) const { return fmt::format("Overruled at {}: {} ({})", where(f.face), name(f.as), f.reason); }
    std::string operator()(const ProfileKept& f) const { return fmt::format("Criteria kept: {}", f.edition); }
    std::string operator()(const ScopeCalibrated& f) const
    {
        return fmt::format("Calibrated {}: {:.4f} µm a pixel", f.scope, f.scale.micrometresPerPixel());
    }
    std::string operator()(const UnknownFact& f) const { return fmt::format("Of a later version: {}", f.kind); }

private:
    [[nodiscard]] std::string where(const FaceId& face) const { return state_.where(face); }
    static const char* way(Direction d) { return d == Direction::AtoB ? "A to B" : "B to A"; }

    const JobState& state_;
};

struct SubjectOf {
    std::string operator()(const FaceSeen& f) const { return f.face.text(); }
    std::string operator()(const FaceCleaned& f) const { return f.face.text(); }
    std::string operator()(const FaceHandled& f) const { return f.face.text(); }
    std::string operator()(const FaceCovered& f) const { return f.face.text(); }
    std::string operator()(const FindingOverruled& f) const { return f.face.text(); }
    std::string operator()(const Joined& f) const { return f.a.text(); }
    std::string operator()(const Mated& f) const { return fmt::format("{}/{}", f.link, name(f.end)); }
    std::string operator()(const SleeveCleaned& f) const { return fmt::format("{}/{}", f.link, name(f.end)); }
    std::string operator()(const PowerRead& f) const { return f.link; }
    std::string operator()(const TraceShot& f) const { return f.link; }
    std::string operator()(const Signed& f) const { return f.subject; }
    std::string operator()(const CablePlanned& f) const { return f.cable.id; }
    template <class Other>
    std::string operator()(const Other&) const
    {
        return {};
    }
};

std::string lower(std::string_view text)
{
    std::string out(text);
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c + 32);
    return out;
}

std::vector<std::string> wordsIn(std::string_view text)
{
    std::vector<std::string> out;
    const std::string low = lower(text);
    for (std::size_t i = 0; i < low.size();) {
        const auto end = std::min(low.find(' ', i), low.size());
        if (end > i) out.push_back(low.substr(i, end - i));
        i = end + 1;
    }
    return out;
}

}  // namespace

std::string sentenceOf(const Entry& entry, const JobState& state) { return std::visit(Telling(state), entry.fact); }

std::string_view kindWords(const Fact& fact)
{
    const auto kind = kindOf(fact);
    static const std::map<std::string_view, std::string_view> words{{"job_set", "settings"},
                                                                    {"cable_planned", "plan"},
                                                                    {"face_seen", "look"},
                                                                    {"face_cleaned", "cleaning"},
                                                                    {"sleeve_cleaned", "cleaning"},
                                                                    {"mated", "mating"},
                                                                    {"face_handled", "handling"},
                                                                    {"face_covered", "handling"},
                                                                    {"joined", "touch"},
                                                                    {"kit_kept", "kit"},
                                                                    {"kit_proved", "kit"},
                                                                    {"kit_checked", "kit"},
                                                                    {"reference_set", "reference"},
                                                                    {"reference_voided", "reference"},
                                                                    {"power_read", "reading"},
                                                                    {"trace_shot", "trace"},
                                                                    {"signed", "signature"},
                                                                    {"corrected", "correction"},
                                                                    {"finding_overruled", "overruling"},
                                                                    {"profile_kept", "criteria"},
                                                                    {"scope_calibrated", "calibration"}};
    const auto it = words.find(kind);
    return it == words.end() ? std::string_view("other") : it->second;
}

std::string subjectOf(const Fact& fact) { return std::visit(SubjectOf{}, fact); }

std::vector<std::size_t> journalMatches(std::span<const Entry> entries, const JobState& state, const JournalFilter& filter)
{
    const auto words = wordsIn(filter.words);
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < entries.size(); ++i) {
        const Entry& e = entries[i];
        if (!filter.who.empty() && e.who != filter.who) continue;
        if (!filter.kind.empty() && kindWords(e.fact) != filter.kind) continue;
        if (!filter.subject.empty()) {
            const auto* joined = std::get_if<Joined>(&e.fact);
            const std::string subject = subjectOf(e.fact);
            const auto begins = [&](const std::string& id) {  // "VP-04/1" begins "VP-04/1/A/port" and not "VP-04/10/A/port"
                return id.starts_with(filter.subject) && (id.size() == filter.subject.size() || id[filter.subject.size()] == '/');
            };
            if (!begins(subject) && !(joined && begins(joined->b.text()))) continue;
        }
        if (!words.empty()) {
            const std::string all = lower(fmt::format("{} {} {}", sentenceOf(e, state), kindWords(e.fact), e.who));
            if (!std::all_of(words.begin(), words.end(), [&](const auto& w) { return all.find(w) != std::string::npos; })) continue;
        }
        out.push_back(i);
    }
    return out;
}

std::vector<std::size_t> clockSetBack(std::span<const Entry> entries)
{
    std::vector<std::size_t> out;
    for (std::size_t i = 1; i < entries.size(); ++i)
        if (entries[i].at < entries[i - 1].at) out.push_back(i);
    return out;
}

}  // namespace clendo
