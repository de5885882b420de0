#include "record/facts.h"

#include <algorithm>
#include <array>

#include "face/face_json.h"
#include "files/json_reading.h"
#include "otdr/trace_json.h"

namespace clendo {
namespace {

constexpr std::array<std::string_view, 4> overrulings{"not-real", "scratch", "defect", "missed"};  // in the order of As

using nlohmann::json;

template <class... Cases>
struct Overloaded : Cases... {
    using Cases::operator()...;
};
template <class... Cases>
Overloaded(Cases...) -> Overloaded<Cases...>;

json endToJson(const CableEnd& e)
{
    json out{
        {"first_port", e.firstPort}, {"cord_criteria", e.cordCriteria}, {"cord_fibre", e.cordFibre}, {"access", name(e.access)}, {"rack", e.rack}};
    if (e.pins) out["pins"] = name(*e.pins);
    return out;
}

json cableToJson(const CablePlan& c)
{
    json splices = json::array();
    for (const auto& s : c.splices) splices.push_back({{"name", s.name}, {"at_m", s.at.value()}});
    return {{"id", c.id},
            {"place_a", c.placeA},
            {"place_b", c.placeB},
            {"panel_a", c.panelA},
            {"panel_b", c.panelB},
            {"fibre", c.fibre},
            {"connector", c.connector},
            {"criteria", c.criteria},
            {"fibres", c.fibres},
            {"ferrule_fibres", c.ferruleFibres},
            {"tube_fibres", c.tubeFibres},
            {"length_m", c.length.value()},
            {"splices", splices},
            {"end_a", endToJson(c.endA)},
            {"end_b", endToJson(c.endB)}};
}

}  // namespace

std::string_view name(FindingOverruled::As as) { return overrulings[static_cast<std::size_t>(as)]; }

std::optional<FindingOverruled::As> overrulingNamed(std::string_view name)
{
    const auto it = std::find(overrulings.begin(), overrulings.end(), name);
    return it == overrulings.end() ? std::nullopt : std::optional(static_cast<FindingOverruled::As>(it - overrulings.begin()));
}

std::string_view kindOf(const Fact& fact)
{
    return std::visit(Overloaded{[](const JobSet&) -> std::string_view { return "job_set"; },
                                 [](const CablePlanned&) -> std::string_view { return "cable_planned"; },
                                 [](const FaceSeen&) -> std::string_view { return "face_seen"; },
                                 [](const FaceCleaned&) -> std::string_view { return "face_cleaned"; },
                                 [](const Mated&) -> std::string_view { return "mated"; },
                                 [](const ReferenceSet&) -> std::string_view { return "reference_set"; },
                                 [](const ReferenceVoided&) -> std::string_view { return "reference_voided"; },
                                 [](const PowerRead&) -> std::string_view { return "power_read"; },
                                 [](const TraceShot&) -> std::string_view { return "trace_shot"; },
                                 [](const Signed&) -> std::string_view { return "signed"; },
                                 [](const Corrected&) -> std::string_view { return "corrected"; },
                                 [](const FindingOverruled&) -> std::string_view { return "finding_overruled"; },
                                 [](const ProfileKept&) -> std::string_view { return "profile_kept"; },
                                 [](const ScopeCalibrated&) -> std::string_view { return "scope_calibrated"; },
                                 [](const SleeveCleaned&) -> std::string_view { return "sleeve_cleaned"; },
                                 [](const FaceHandled&) -> std::string_view { return "face_handled"; },
                                 [](const FaceCovered&) -> std::string_view { return "face_covered"; },
                                 [](const KitKept&) -> std::string_view { return "kit_kept"; },
                                 [](const KitProved&) -> std::string_view { return "kit_proved"; },
                                 [](const KitChecked&) -> std::string_view { return "kit_checked"; },
                                 [](const Joined&) -> std::string_view { return "joined"; },
                                 [](const UnknownFact& f) -> std::string_view { return f.kind; }},
                      fact);
}

json bodyOf(const Fact& fact)
{
    return std::visit(
        Overloaded{
            [](const JobSet& f) -> json {
                return {{"name", f.name},
                        {"edition", f.edition},
                        {"limits", f.limits},
                        {"method", name(f.method)},
                        {"wavelengths_nm", f.wavelengths},
                        {"attempts", f.attempts},
                        {"stop_at_first_bad", f.stopAtFirstBad},
                        {"policies", f.policies},
                        {"launch_m", f.launchCord.value()},
                        {"tail_m", f.tailCord.value()}};
            },
            [](const CablePlanned& f) -> json { return cableToJson(f.cable); },
            [](const FaceSeen& f) -> json {
                return {
                    {"face", f.face.text()}, {"picture", f.picture}, {"picture_name", f.pictureName}, {"measured", measurementToJson(f.measured)}};
            },
            [](const FaceCleaned& f) -> json {
                return {{"face", f.face.text()}, {"method", f.method}, {"strokes", f.strokes}, {"tool", f.tool}};
            },
            [](const Mated& f) -> json {
                return {{"link", f.link}, {"end", name(f.end)}, {"reason", f.reason}};
            },
            [](const SleeveCleaned& f) -> json {
                return {{"link", f.link}, {"end", name(f.end)}};
            },
            [](const FaceHandled& f) -> json {
                return {{"face", f.face.text()}, {"how", f.how}};
            },
            [](const FaceCovered& f) -> json {
                return {{"face", f.face.text()}, {"how", f.how}};
            },
            [](const KitKept& f) -> json {
                return {{"id", f.id},
                        {"kind", f.kind},
                        {"connectors", f.connectors},
                        {"serial", f.serial},
                        {"calibrated_until", f.calibratedUntil},
                        {"most", f.most},
                        {"criteria", f.criteria},
                        {"gone", f.gone}};
            },
            [](const KitProved& f) -> json {
                return {{"id", f.id}, {"what", f.what}, {"good", f.good}};
            },
            [](const KitChecked& f) -> json {
                return {{"open", f.open}, {"reason", f.reason}};
            },
            [](const Joined& f) -> json {
                return {{"a", f.a.text()}, {"b", f.b.text()}};
            },
            [](const ReferenceSet& f) -> json {
                return {{"method", name(f.method)},
                        {"wavelength_nm", f.wavelength.value()},
                        {"direction", name(f.direction)},
                        {"level_dbm", f.level.value()}};
            },
            [](const ReferenceVoided& f) -> json {
                return {{"direction", name(f.direction)}, {"reason", f.reason}};
            },
            [](const PowerRead& f) -> json {
                return {{"link", f.link}, {"wavelength_nm", f.wavelength.value()}, {"direction", name(f.direction)}, {"power_dbm", f.power.value()}};
            },
            [](const TraceShot& f) -> json {
                return {{"link", f.link},
                        {"direction", name(f.direction)},
                        {"trace", f.trace},
                        {"trace_name", f.traceName},
                        {"wavelength_nm", f.wavelength.value()},
                        {"launch_m", f.cords.launch.value()},
                        {"tail_m", f.cords.tail.value()},
                        {"found", otdr::toJson(f.found)}};
            },
            [](const Signed& f) -> json {
                return {{"subject", f.subject}, {"remark", f.remark}};
            },
            [](const Corrected& f) -> json {
                return {{"entry", f.entry}, {"reason", f.reason}};
            },
            [](const FindingOverruled& f) -> json {
                return {{"face", f.face.text()},     {"look", f.look},           {"finding", f.finding},
                        {"as", name(f.as)},          {"reason", f.reason},       {"x_um", f.place.x.value()},
                        {"y_um", f.place.y.value()}, {"size_um", f.size.value()}};
            },
            [](const ProfileKept& f) -> json {
                return {{"edition", f.edition}, {"text", f.text}};
            },
            [](const ScopeCalibrated& f) -> json {
                return {{"scope", f.scope}, {"um_per_pixel", f.scale.micrometresPerPixel()}};
            },
            [](const UnknownFact& f) -> json { return json::parse(f.body, nullptr, false); }},
        fact);
}

}  // namespace clendo
