#include "record/output/certificate.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "face/face_json.h"
#include "files/csv.h"
#include "otdr/trace_json.h"
#include "power/loss_json.h"
#include "record/journal/time_text.h"
#include "record/rules/completeness.h"
#include "record/state/job_policy.h"

namespace clendo {
namespace {

using nlohmann::json;

json lookToJson(const Look& look, const FaceClass* faceClass)
{
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
            {"um_per_px", look.seen.measured.scale.micrometresPerPixel()},
            {"cleaned_before", cleaned},
            {"findings", findings},
            {"rules", rules},
            {"verdict", !look.verdict       ? "retake"
                        : look.verdict->fit ? "pass"
                                            : "fail"},
            {"near_limit", look.verdict && look.verdict->nearLimit},
            {"overruled", overruled}};
}

json faceToJson(const JobState& state, const Link& link, const FaceId& id)
{
    const FaceState& face = state.face(id);
    json looks = json::array();
    for (const auto& look : face.looks) looks.push_back(lookToJson(look, state.faceClass(id)));
    return {{"face", id.text()},           {"where", link.where(id)}, {"place", link.place(id.connection)}, {"condition", name(face.condition)},
            {"cleanings", face.cleanings}, {"looks", looks}};
}

json partToJson(const Part& part)
{
    json entries = json::array();
    for (const auto& e : part.entries) entries.push_back(e.hex());
    return {{"kind", name(part.kind)},       {"about", part.about},   {"says", part.says.empty() ? json(nullptr) : json(part.says)},
            {"verdict", name(part.verdict)}, {"wanted", part.wanted}, {"not_tested", part.lacks},
            {"entries", std::move(entries)}};
}

json signatureToJson(const JobState& state, const SignatureState& s, std::string_view subject, std::span<const Signature> explained)
{
    json out{{"by", s.who},
             {"at", timeText(s.at)},
             {"entry", s.entry.hex()},
             {"remark", s.what.remark},
             {"state", s.stands ? "stands" : "overtaken"},
             {"record_sha256", s.what.record.empty() ? json(nullptr) : json(s.what.record)},
             {"record", s.stands && !s.what.record.empty() ? json::parse(signedRecord(state, subject)) : json(nullptr)}};
    const auto known = std::find_if(explained.begin(), explained.end(), [&](const Signature& e) { return e.entry == s.entry; });
    if (s.stands || known == explained.end() || !known->overtaken) return out;
    const auto& overtaken = *known->overtaken;
    out["since"] = overtaken.since ? json(timeText(*overtaken.since)) : json(nullptr);
    out["by_entry"] = overtaken.by ? json(overtaken.by.hex()) : json(nullptr);
    out["differs"] = json::array();
    for (const auto& d : overtaken.differs) out["differs"].push_back({{"about", d.about}, {"before", d.before}, {"now", d.now}});
    return out;
}

json linkToJson(const JobState& state, const Link& link, std::span<const Signature> signatures)
{
    const LinkState& s = state.state(link.id);
    const Completeness all = completeness(state, link);
    json faces = json::array(), traces = json::array(), parts = json::array();
    for (const auto& id : link.faces()) faces.push_back(faceToJson(state, link, id));
    for (const auto& [t, entry, at] : s.traces) {
        json one = otdr::toJson(t.found);
        one.update({{"direction", name(t.direction)},
                    {"wavelength_nm", t.wavelength.value()},
                    {"trace_sha256", t.trace},
                    {"trace_name", t.traceName},
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
            {"measured_with", s.measuredWith},
            {"traces", traces},
            {"parts", parts},
            {"missing", all.missing()},
            {"not_tested", all.notTested()},
            {"exceptions", exceptions},
            {"verdict", name(all.verdict())},
            {"verdict_because", worst ? json(worst->about) : json(nullptr)},
            {"signature", s.signature ? signatureToJson(state, *s.signature, link.id, signatures) : json(nullptr)},
            {"signed_by", s.signature ? json(s.signature->who) : json(nullptr)},
            {"signed_at", s.signature ? json(timeText(s.signature->at)) : json(nullptr)}};
}

/// The methods by which the readings of these links were taken.
json methodsToJson(const json& links)
{
    std::set<std::string> methods;
    for (const auto& link : links)
        if (link["loss"].is_object()) methods.insert(link["loss"]["method"].get<std::string>());
    return methods;
}

/// The job's answers to the questions on which practitioners disagree, as words.
json policyToJson(const JobSettings& job)
{
    json out = json::array();
    for (const auto& row : policyRows()) {
        const std::string answer = answerOf(job, row.key);
        const auto known = std::find_if(row.choices.begin(), row.choices.end(), [&](const auto& choice) { return choice.first == answer; });
        out.push_back(
            {{"question", row.question}, {"answer", known == row.choices.end() ? answer : known->second}, {"default", known == row.choices.begin()}});
    }
    return out;
}

json patchedAt(const CablePlan& cable)
{
    json out = json::array();
    for (const auto& panel : cable.inner) out.push_back({{"panel", panel.name}, {"at_m", panel.at.value()}});
    return out;
}

/// What measures, of the kit.
json instrumentsToJson(const JobState& state, const std::set<std::string>& used)
{
    json out = json::array();
    for (const auto& [id, item] : state.kit) {
        const KitKind* kind = kitKindNamed(state.plan->kitKinds, item.what.kind);
        if (!kind || !kind->calibrated || item.what.gone) continue;
        out.push_back(
            {{"name", id},
             {"measured", used.contains(id)},
             {"kind", kind->title},
             {"serial", item.what.serial.empty() ? json(nullptr) : json(item.what.serial)},
             {"calibrated_until", item.what.calibratedUntil == 0 ? json(nullptr) : json(timeText(item.what.calibratedUntil).substr(0, 10))}});
    }
    return out;
}

/// What was lost of the job before this certificate: a record that is not whole says so.
json lossesToJson(const JobState& state)
{
    json out = json::array();
    for (const auto& l : state.losses) out.push_back({{"at", timeText(l.at)}, {"what", l.what.sentence(state)}});
    return out;
}

std::string number(const json& value) { return value.is_number() ? fmt::format("{:.3f}", value.get<double>()) : std::string(); }

}  // namespace

Result<json> certificate(const JobState& state, const std::string& subject, std::span<const Signature> signatures)
{
    json links = json::array();
    const CablePlan* cable = nullptr;
    std::set<std::string> used;
    for (const auto& link : state.plan->links) {
        if (link.id != subject && link.cable->id != subject) continue;
        links.push_back(linkToJson(state, link, signatures));
        const auto& with = state.state(link.id).measuredWith;
        used.insert(with.begin(), with.end());
        cable = link.cable;
    }
    if (!cable) return failure(Error::Code::PlanInvalid, fmt::format("The job has no link or cable “{}”.", subject));
    json limits = nullptr;
    if (const LimitSet* l = state.plan->limitsFor(*cable))
        limits = {{"name", l->name},     {"title", l->title}, {"version", l->version},
                  {"source", l->source}, {"sha256", l->hash}, {"checked", l->checked}};
    const auto cableSigned = state.signedCables.find(cable->id);
    return json{
        {"format", "clendo-certificate"},
        {"format_version", 2},
        {"job", state.plan->job.name},
        {"subject", subject},
        {"cable",
         {{"id", cable->id},
          {"from", cable->placeA},
          {"to", cable->placeB},
          {"rack_from", cable->endA.rack.empty() ? json(nullptr) : json(cable->endA.rack)},
          {"rack_to", cable->endB.rack.empty() ? json(nullptr) : json(cable->endB.rack)},
          {"fibre", cable->fibre},
          {"connector", cable->connector},
          {"connector_from", cable->connectorAt(End::A)},
          {"connector_to", cable->connectorAt(End::B)},
          {"fibres", cable->fibres},
          {"length_m", cable->length.value()},
          {"splices", cable->splices.size()},
          {"patched_at", patchedAt(*cable)},
          {"device_from", cable->endA.device.empty() ? json(nullptr) : json(cable->endA.device)},
          {"device_to", cable->endB.device.empty() ? json(nullptr) : json(cable->endB.device)}}},
        {"criteria",
         {{"name", state.plan->criteria.name},
          {"version", state.plan->criteria.version},
          {"class", cable->className},
          {"class_from", cable->classAt(End::A)},
          {"class_to", cable->classAt(End::B)},
          {"sha256", state.plan->criteria.hash},
          {"checked", state.plan->criteria.checked}}},
        {"limits", limits},
        {"reference_methods", methodsToJson(links)},
        {"policy", policyToJson(state.plan->job)},
        {"instruments", instrumentsToJson(state, used)},
        {"records_until", timeText(state.lastEntryAt)},
        {"journal", {{"entries", state.entries}, {"last_entry", state.lastEntry ? json(state.lastEntry.hex()) : json(nullptr)}}},
        {"losses", lossesToJson(state)},
        {"signature", cableSigned == state.signedCables.end() ? json(nullptr) : signatureToJson(state, cableSigned->second, cable->id, signatures)},
        {"links", links}};
}

std::string certificateCsv(const json& certificate)
{
    std::string out =
        "link,fibre,colour,wavelength_nm,loss_ab_db,loss_ba_db,loss_db,worst_db,limit_db,margin_db,connections_counted,verdict,length_m,signed_by,"
        "signed_at,signature,link_verdict,verdict_because\r\n";
    for (const auto& link : certificate["links"]) {
        std::string length;
        if (!link["traces"].empty() && link["traces"].back()["span"].is_object()) length = number(link["traces"].back()["span"]["length_m"]);
        const std::string head =
            fmt::format("{},{},{}", csvField(link["link"].get<std::string>()), link["fibre"].get<int>(), csvField(link["colour"].get<std::string>()));
        const auto field = [&](const json& value) { return value.is_string() ? csvField(value.get<std::string>()) : std::string(); };
        const std::string tail = fmt::format("{},{},{},{},{},{}", length, field(link["signed_by"]), field(link["signed_at"]),
                                             link["signature"].is_object() ? field(link["signature"]["state"]) : "", field(link["verdict"]),
                                             field(link["verdict_because"]));
        if (!link["loss"].is_object()) {
            out += fmt::format("{},,,,,,,,,,{}\r\n", head, tail);
            continue;
        }
        for (const auto& r : link["loss"]["results"])
            out += fmt::format("{},{:.0f},{},{},{},{},{},{},{},{},{}\r\n", head, r["wavelength_nm"].get<double>(), number(r["loss_ab_db"]),
                               number(r["loss_ba_db"]), number(r["loss_db"]), number(r["worst_db"]), number(r["limit_db"]), number(r["margin_db"]),
                               r["connections_counted"].is_number() ? r["connections_counted"].dump() : "", r["verdict"].get<std::string>(), tail);
    }
    return out;
}

}  // namespace clendo
