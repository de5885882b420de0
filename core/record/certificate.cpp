#include "record/certificate.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "face/face_json.h"
#include "files/csv.h"
#include "otdr/trace_json.h"
#include "power/loss_json.h"
#include "record/job_policy.h"

namespace clendo {
namespace {

using nlohmann::json;

json lookToJson(const Try& look, const std::optional<ConnectorCriteria>& criteria)
{
    json cleaned = json::array();
    for (const auto& c : look.cleanedBefore) cleaned.push_back({{"method", c.method}, {"strokes", c.strokes}});
    json findings = json::array(), rules = json::array(), overruled = json::array();
    for (const auto& o : look.overruled) overruled.push_back({{"finding", o.finding}, {"as", name(o.as)}, {"reason", o.reason}});
    for (const auto& f : look.seen.measured.findings) findings.push_back(toJson(f, criteria ? zoneOf(f, *criteria) : std::nullopt));
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
    for (const auto& look : face.tries) looks.push_back(lookToJson(look, state.criteriaFor(link)));
    return {{"face", id.text()},           {"where", link.where(id)}, {"place", link.place(id.end)}, {"condition", name(face.condition)},
            {"cleanings", face.cleanings}, {"looks", looks}};
}

json linkToJson(const JobState& state, const Link& link)
{
    const LinkState& s = state.state(link.id);
    json faces = json::array(), traces = json::array(), missing = json::array();
    for (const auto& id : link.faces()) faces.push_back(faceToJson(state, link, id));
    for (const auto& t : s.traces) {
        json one = otdr::toJson(t.found);
        one.update({{"direction", name(t.direction)},
                    {"wavelength_nm", t.wavelength.value()},
                    {"trace_sha256", t.trace},
                    {"trace_name", t.traceName},
                    {"launch_m", t.cords.launch.value()},
                    {"tail_m", t.cords.tail.value()}});
        traces.push_back(std::move(one));
    }
    for (const End end : {End::A, End::B})
        if (!s.mated.contains(end)) missing.push_back(fmt::format("end {} was not mated", name(end)));
    if (!s.loss) missing.push_back("loss was not read");
    if (s.traces.empty())
        missing.push_back("no trace was shot");
    else if (s.traces.size() == 1)
        missing.push_back("the trace was shot from one end only");
    json exceptions = json::array();
    for (const auto& [end, reason] : s.matedBecause) exceptions.push_back({{"end", name(end)}, {"what", "mated all the same"}, {"reason", reason}});
    std::string verdict = "incomplete";
    if (s.loss && s.mated.size() == 2) verdict = std::string(name(s.loss->verdict));
    return {{"link", link.id},
            {"fibre", link.fibre},
            {"colour", link.colour},
            {"planned_length_m", link.cable->length.value()},
            {"tier", s.traces.empty() ? 1 : 2},
            {"faces", faces},
            {"loss", s.loss ? toJson(*s.loss) : json(nullptr)},
            {"traces", traces},
            {"not_tested", missing},
            {"exceptions", exceptions},
            {"verdict", verdict},
            {"signed_by", s.signedAt ? json(s.signedBy) : json(nullptr)},
            {"signed_at", s.signedAt ? json(timeText(*s.signedAt)) : json(nullptr)}};
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

/// What measures, of the kit.
json instrumentsToJson(const JobState& state)
{
    json out = json::array();
    for (const auto& [id, item] : state.kit) {
        const KitKind* kind = kitKindNamed(state.kitKinds, item.what.kind);
        if (!kind || !kind->calibrated || item.what.gone) continue;
        out.push_back(
            {{"name", id},
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

std::string timeText(std::int64_t seconds)
{
    constexpr std::int64_t latest = 253402300799;  // 9999-12-31
    return fmt::format("{:%Y-%m-%d %H:%M} UTC", fmt::gmtime(static_cast<std::time_t>(std::clamp<std::int64_t>(seconds, 0, latest))));
}

Result<json> certificate(const JobState& state, const std::string& subject)
{
    json links = json::array();
    const CablePlan* cable = nullptr;
    for (const auto& link : state.links) {
        if (link.id != subject && link.cable->id != subject) continue;
        links.push_back(linkToJson(state, link));
        cable = link.cable;
    }
    if (!cable) return failure(Error::Code::PlanInvalid, fmt::format("The job has no link or cable “{}”.", subject));
    json limits = nullptr;
    if (const LimitSet* l = state.limitsFor(*cable))
        limits = {{"name", l->name},     {"title", l->title}, {"version", l->version},
                  {"source", l->source}, {"sha256", l->hash}, {"checked", l->checked}};
    return json{{"format", "clendo-certificate"},
                {"format_version", 1},
                {"job", state.job.name},
                {"subject", subject},
                {"cable",
                 {{"id", cable->id},
                  {"from", cable->placeA},
                  {"to", cable->placeB},
                  {"rack_from", cable->endA.rack.empty() ? json(nullptr) : json(cable->endA.rack)},
                  {"rack_to", cable->endB.rack.empty() ? json(nullptr) : json(cable->endB.rack)},
                  {"fibre", cable->fibre},
                  {"connector", cable->connector},
                  {"fibres", cable->fibres},
                  {"length_m", cable->length.value()},
                  {"splices", cable->splices.size()}}},
                {"criteria",
                 {{"name", state.profile.name},
                  {"version", state.profile.version},
                  {"class", cable->criteria},
                  {"sha256", state.profile.hash},
                  {"checked", state.profile.checked}}},
                {"limits", limits},
                {"reference_method", name(state.job.method)},
                {"policy", policyToJson(state.job)},
                {"instruments", instrumentsToJson(state)},
                {"records_until", timeText(state.lastEntryAt)},
                {"journal", {{"entries", state.entries}, {"last_entry", state.lastEntry ? json(state.lastEntry.hex()) : json(nullptr)}}},
                {"losses", lossesToJson(state)},
                {"links", links}};
}

std::string certificateCsv(const json& certificate)
{
    std::string out =
        "link,fibre,colour,wavelength_nm,loss_ab_db,loss_ba_db,loss_db,worst_db,limit_db,margin_db,connections_counted,verdict,length_m,signed_by,"
        "signed_at\r\n";
    for (const auto& link : certificate["links"]) {
        std::string length;
        if (!link["traces"].empty() && link["traces"].back()["span"].is_object()) length = number(link["traces"].back()["span"]["length_m"]);
        const std::string head =
            fmt::format("{},{},{}", csvField(link["link"].get<std::string>()), link["fibre"].get<int>(), csvField(link["colour"].get<std::string>()));
        const std::string tail = fmt::format("{},{},{}", length, link["signed_by"].is_string() ? csvField(link["signed_by"].get<std::string>()) : "",
                                             link["signed_at"].is_string() ? csvField(link["signed_at"].get<std::string>()) : "");
        if (!link["loss"].is_object()) {
            out += fmt::format("{},,,,,,,,,{},{}\r\n", head, link["verdict"].get<std::string>(), tail);
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
