#include "record/output/certificate_link.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "face/face_json.h"
#include "files/json_numbers.h"
#include "otdr/trace_json.h"
#include "power/link_budget_json.h"
#include "power/loss_json.h"
#include "power/measured_applications.h"
#include "record/journal/time_text.h"
#include "record/rules/completeness.h"
#include "record/rules/plan_match.h"
#include "record/state/loss_task.h"

namespace clendo {
namespace {

using nlohmann::json;

json lookToJson(const CertificateGround& ground, const Look& look, const FaceId& id, std::size_t n)
{
    const FaceClass* faceClass = ground.state.faceClass(id);
    json cleaned = json::array();
    for (const auto& c : look.cleanedBefore) cleaned.push_back({{"method", c.method}, {"strokes", c.strokes}});
    json findings = json::array(), rules = json::array(), overruled = json::array();
    for (const auto& o : look.overruled) overruled.push_back({{"finding", o.finding}, {"as", name(o.as)}, {"reason", o.reason}});
    for (const auto& f : look.seen.measured.findings) findings.push_back(toJson(f, faceClass ? zoneOf(f, *faceClass) : std::nullopt));
    if (look.verdict)
        for (const auto& o : look.verdict->outcomes) rules.push_back(toJson(o));
    return {{"at", timeText(look.at)},
            {"picture_sha256", look.seen.picture},
            {"picture_name", look.seen.pictureName},
            {"picture_file", ground.place(look.seen.picture, fmt::format("{}-{}", id.text(), n), look.seen.pictureName, false)},
            {"um_per_px", look.seen.measured.scale.micrometresPerPixel()},
            {"cleaned_before", cleaned},
            {"findings", findings},
            {"rules", rules},
            {"verdict", !look.verdict       ? "retake"
                        : look.verdict->fit ? "pass"
                                            : "fail"},
            {"near_limit", look.verdict && look.verdict->nearLimit},
            {"frames_combined", look.seen.frames ? json(look.seen.frames->used) : json(nullptr)},
            {"ferrule_seen", look.seen.measured.ferruleSeen ? json(*look.seen.measured.ferruleSeen) : json(nullptr)},
            {"overruled", overruled}};
}

/// What touched a face, in the order of time.
json contactsToJson(const JobState& state, const std::vector<Contact>& all, const FaceId& id)
{
    json out = json::array();
    for (const auto& c : all)
        if (c.from == id || c.to == id) {
            const FaceId& other = c.from == id ? c.to : c.from;
            out.push_back({{"at", timeText(c.at)}, {"with", other.text()}, {"where", state.where(other)}});
        }
    return out;
}

json faceToJson(const CertificateGround& ground, const Link& link, const FaceId& id, const std::vector<Contact>& contacts)
{
    const JobState& state = ground.state;
    const FaceState& face = state.face(id);
    json looks = json::array();
    for (const auto& look : face.looks) looks.push_back(lookToJson(ground, look, id, looks.size() + 1));
    return {{"face", id.text()},
            {"where", link.where(id)},
            {"place", link.place(id.connection)},
            {"condition", name(face.condition)},
            {"cleanings", face.cleanings},
            {"looks", looks},
            {"contacts", contactsToJson(state, contacts, id)}};
}

json partToJson(const Part& part)
{
    json entries = json::array();
    for (const auto& e : part.entries) entries.push_back(e.hex());
    return {{"kind", name(part.kind)},       {"about", part.about},   {"says", part.says.empty() ? json(nullptr) : json(part.says)},
            {"verdict", name(part.verdict)}, {"wanted", part.wanted}, {"not_tested", part.lacks},
            {"entries", std::move(entries)}};
}

json readingsToJson(const CertificateGround& ground, const LinkState& s)
{
    json out = json::array();
    for (const auto& [r, entry, at] : s.readings) {
        const auto known = ground.references.find(r.reference);
        const ReferenceSet* reference = known == ground.references.end() ? nullptr : known->second;
        out.push_back({{"at", timeText(at)},
                       {"entry", entry.hex()},
                       {"wavelength_nm", r.wavelength.value()},
                       {"direction", name(r.direction)},
                       {"power_dbm", r.shown ? json(nullptr) : json(r.power.value())},
                       {"shown_db", decibels(r.shown)},
                       {"reference_entry", r.reference ? json(r.reference.hex()) : json(nullptr)},
                       {"reference_dbm", reference && !reference->zeroed ? json(reference->level.value()) : json(nullptr)},
                       {"reference_with", reference ? json(reference->with) : json::array()}});
    }
    return out;
}

json rowToJson(const LineRow& row)
{
    const auto metres = [](const std::optional<Metre>& at) { return at ? jsonNumber(at->value(), 1) : json(nullptr); };
    const auto orNull = [](const std::string& said) { return said.empty() ? json(nullptr) : json(said); };
    return {{"name", row.name},
            {"kind", row.kind},
            {"planned_m", metres(row.planned)},
            {"found_m", metres(row.found)},
            {"where", orNull(row.where)},
            {"loss_db", decibels(row.loss)},
            {"both_ways_db", decibels(row.bothWays)},
            {"limit_db", decibels(row.limit)},
            {"reflectance_db", decibels(row.reflectance)},
            {"reflectance_limit_db", decibels(row.reflectanceLimit)},
            {"over_limit", row.overLimit()},
            {"reflects_too_much", row.reflectsTooMuch()},
            {"not_measurable", orNull(row.notMeasurable.value_or(""))}};
}

/// The link piece by piece at each wavelength: by the last shots of it.
json linesToJson(const CertificateGround& ground, const LinkState& s, const Link& link)
{
    json out = json::array();
    std::vector<Nanometre> seen;
    for (const auto& filed : s.traces) {
        const Nanometre wavelength = filed.what.wavelength;
        if (std::any_of(seen.begin(), seen.end(), [&](Nanometre w) { return std::abs(w.value() - wavelength.value()) < sameWavelength.value(); }))
            continue;
        seen.push_back(wavelength);
        const auto* ab = latestShot(s, Direction::AtoB, wavelength);
        const auto* ba = latestShot(s, Direction::BtoA, wavelength);
        json rows = json::array();
        for (const auto& row : matchPlan(ground.state, link, (ab ? ab : ba)->what)) rows.push_back(rowToJson(row));
        out.push_back({{"wavelength_nm", wavelength.value()},
                       {"trace_ab_sha256", ab ? json(ab->what.trace) : json(nullptr)},
                       {"trace_ba_sha256", ba ? json(ba->what.trace) : json(nullptr)},
                       {"rows", std::move(rows)}});
    }
    return out;
}

/// The loss against the sets that the job names beside its own.
json otherLimitsToJson(const CertificateGround& ground, const LinkState& s, const Link& link)
{
    json out = json::array();
    const auto sets = ground.state.plan->otherLimits.find(link.cable->fibre);
    if (!s.loss || sets == ground.state.plan->otherLimits.end()) return out;
    const LinkLoad load = lossTaskOf(link, s.loss->method, {}).load;
    for (const auto& set : sets->second) {
        json results = json::array();
        for (const auto& measured : s.loss->results) {
            const LossResult r = against(measured, load, s.loss->method, set);
            results.push_back({{"wavelength_nm", r.wavelength.value()},
                               {"limit_db", r.limit ? decibels(r.limit->total) : json(nullptr)},
                               {"limit_sum", r.limit ? json(r.limit->sum) : json(nullptr)},
                               {"margin_db", decibels(r.margin)},
                               {"uncertainty_db", decibels(r.uncertainty)},
                               {"verdict", name(r.verdict)}});
        }
        out.push_back({{"name", set.name},
                       {"title", set.title},
                       {"version", set.version},
                       {"sha256", set.hash},
                       {"checked", set.checked},
                       {"results", std::move(results)}});
    }
    return out;
}

/// What the link carries as it was measured, of those applications about which that can be said.
json applicationsToJson(const CertificateGround& ground, const LinkState& s, const Link& link)
{
    json out = json::array();
    if (!s.loss) return out;
    const std::vector<Application> all(ground.applications.begin(), ground.applications.end());
    for (const auto& a : measuredApplications(*s.loss, link.cable->fibre, link.cable->length, all))
        if (a.carries) out.push_back(toJson(a));
    return out;
}

}  // namespace

json journalToJson(const JobState& state)
{
    json heads = json::array();
    for (const auto& [device, head] : state.chainEnds) heads.push_back({{"device", device}, {"sequence", head.sequence}, {"entry", head.hash.hex()}});
    return {{"entries", state.entries}, {"last_entry", state.lastEntry ? json(state.lastEntry.hex()) : json(nullptr)}, {"heads", std::move(heads)}};
}

json signatureToJson(const CertificateGround& ground, const SignatureState& s, std::string_view subject)
{
    const auto explained = ground.signatures;
    json out{{"by", s.who},
             {"at", timeText(s.at)},
             {"utc", isoTime(s.at)},
             {"entry", s.entry.hex()},
             {"remark", s.what.remark},
             {"state", s.stands ? "stands" : "overtaken"},
             {"record_sha256", s.what.record.empty() ? json(nullptr) : json(s.what.record)},
             {"record", s.stands && !s.what.record.empty() ? json::parse(signedRecord(ground.state, subject)) : json(nullptr)}};
    const auto known = std::find_if(explained.begin(), explained.end(), [&](const Signature& e) { return e.entry == s.entry; });
    if (s.stands || known == explained.end() || !known->overtaken) return out;
    const auto& overtaken = *known->overtaken;
    out["since"] = overtaken.since ? json(timeText(*overtaken.since)) : json(nullptr);
    out["since_utc"] = overtaken.since ? json(isoTime(*overtaken.since)) : json(nullptr);
    out["by_entry"] = overtaken.by ? json(overtaken.by.hex()) : json(nullptr);
    out["differs"] = json::array();
    for (const auto& d : overtaken.differs) out["differs"].push_back({{"about", d.about}, {"before", d.before}, {"now", d.now}});
    return out;
}

json linkToJson(const CertificateGround& ground, const Link& link)
{
    const JobState& state = ground.state;
    const LinkState& s = state.state(link.id);
    const Completeness all = completeness(state, link);
    json faces = json::array(), traces = json::array(), parts = json::array();
    const auto ids = link.faces();
    const auto contacts = contactsOf(state.events, ids);
    for (const auto& id : ids) faces.push_back(faceToJson(ground, link, id, contacts));
    for (const auto& [t, entry, at] : s.traces) {
        json one = otdr::toJson(t.found);
        one.update(
            {{"direction", name(t.direction)},
             {"wavelength_nm", t.wavelength.value()},
             {"trace_sha256", t.trace},
             {"trace_name", t.traceName},
             {"trace_file", ground.place(t.trace, fmt::format("{}-{}-{:.0f}", link.id, name(t.direction), t.wavelength.value()), t.traceName, true)},
             {"at", timeText(at)},
             {"launch_m", t.cords.launch.value()},
             {"tail_m", t.cords.tail.value()}});
        traces.push_back(std::move(one));
    }
    for (const auto& part : all.parts) parts.push_back(partToJson(part));
    json exceptions = all.exceptions;
    if (s.signature && !s.signature->what.remark.empty()) exceptions.push_back(fmt::format("signed with a remark: {}", s.signature->what.remark));
    const Part* worst = all.worst();
    const auto tier = all.tier();
    return {{"link", link.id},
            {"fibre", link.fibre},
            {"colour", link.colour},
            {"planned_length_m", link.cable->length.value()},
            {"tier", tier ? json(*tier) : json(nullptr)},
            {"faces", faces},
            {"loss", s.loss ? toJson(*s.loss) : json(nullptr)},
            {"readings", readingsToJson(ground, s)},
            {"measured_with", s.measuredWith},
            {"applications", applicationsToJson(ground, s, link)},
            {"other_limits", otherLimitsToJson(ground, s, link)},
            {"traces", traces},
            {"lines", linesToJson(ground, s, link)},
            {"parts", parts},
            {"missing", all.missing()},
            {"not_tested", all.notTested()},
            {"exceptions", exceptions},
            {"verdict", name(all.verdict())},
            {"verdict_because", worst ? json(worst->about) : json(nullptr)},
            {"signature", s.signature ? signatureToJson(ground, *s.signature, link.id) : json(nullptr)},
            {"signed_by", s.signature ? json(s.signature->who) : json(nullptr)},
            {"signed_at", s.signature ? json(timeText(s.signature->at)) : json(nullptr)}};
}

}  // namespace clendo
