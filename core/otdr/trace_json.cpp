#include "otdr/trace_json.h"

#include <algorithm>
#include <cmath>

#include "files/json_numbers.h"
#include "files/json_reading.h"

namespace clendo::otdr {
namespace {

using nlohmann::json;

constexpr double farthest = 1e9;  // m: beyond what any file can state

json spanToJson(const std::optional<Span>& span)
{
    if (!span) return nullptr;
    json out{{"from_m", jsonNumber(span->from.value(), 3)},       {"to_m", jsonNumber(span->to.value(), 3)},
             {"length_m", jsonNumber(span->length().value(), 3)}, {"loss_db", jsonNumber(span->loss, 4)},
             {"db_per_km", jsonNumber(span->attenuation, 4)},     {"orl_db", jsonNumber(span->returnLoss, 3)}};
    if (span->unevenness) out["uneven_db_per_km"] = jsonNumber(span->unevenness->value(), 4);
    return out;
}

template <class Q>
std::optional<Q> quantity(JsonReading& in, std::string_view key, double low, double high)
{
    const auto value = in.numberOrNothing(key, low, high);
    return value ? std::optional<Q>(Q(*value)) : std::nullopt;
}

}  // namespace

json headerToJson(const Trace& t)
{
    return {{"wavelength_nm", jsonNumber(t.wavelength.value(), 1)},
            {"pulse_ns", jsonNumber(t.pulse.value(), 2)},
            {"group_index", jsonNumber(t.groupIndex, 5)},
            {"backscatter_db", jsonNumber(t.backscatter.value(), 1)},
            {"sample_m", jsonNumber(t.spacing().value(), 6)},
            {"points", t.level.size()},
            {"averages", t.averages},
            {"checksum_ok", t.checksumOk ? json(*t.checksumOk) : json(nullptr)},
            {"oddities", t.oddities}};
}

json toJson(const Analysis& a)
{
    json events = json::array();
    for (const auto& e : a.events) {
        json one{{"n", e.number},
                 {"kind", name(e.kind)},
                 {"at_m", jsonNumber(e.at.value(), 3)},
                 {"loss_db", jsonNumber(e.loss, 4)},
                 {"loss_uncertainty_db", jsonNumber(e.lossUncertainty, 4)},
                 {"reflectance_db", jsonNumber(e.reflectance, 2)},
                 {"lead_in_db_per_km", jsonNumber(e.leadIn, 4)},
                 {"saturated", e.saturated}};
        if (e.joinedWithNext) one["joined_with_next"] = true;
        if (e.sectionReturnLoss) one["section_orl_db"] = jsonNumber(e.sectionReturnLoss->value(), 3);
        events.push_back(std::move(one));
    }
    json out{{"events", events}, {"span", spanToJson(a.span)}, {"notes", a.notes}};
    for (const auto& s : a.sections)
        out["sections"].push_back({{"from_m", jsonNumber(s.from.value(), 3)},
                                   {"to_m", jsonNumber(s.to.value(), 3)},
                                   {"db_per_km", jsonNumber(s.attenuation.value(), 4)},
                                   {"excess_db", jsonNumber(s.excess.value(), 4)},
                                   {"excess_uncertainty_db", jsonNumber(s.uncertainty.value(), 4)}});
    if (a.launchFault)
        out["launch_fault"] = {{"at_m", a.events.empty() ? json(nullptr) : jsonNumber(a.events.back().at.value(), 3)}, {"message", *a.launchFault}};
    return out;
}

json storedToJson(const Trace& t)
{
    json events = json::array();
    for (const auto& s : t.stored) {
        const char second = s.code.size() > 1 ? s.code[1] : 'F';
        const bool end = second == 'E' || second == 'D' || second == 'O';
        const bool reflects = !s.code.empty() && s.code[0] != '0';
        const auto kind = end ? EventKind::End : reflects ? EventKind::Reflective : s.loss < Decibel(0) ? EventKind::Gain : EventKind::Loss;
        events.push_back({{"n", s.number},
                          {"kind", name(kind)},
                          {"at_m", jsonNumber(s.at.value(), 3)},
                          {"loss_db", jsonNumber(s.loss.value(), 3)},
                          {"reflectance_db", jsonNumber(s.reflectance, 3)},
                          {"lead_in_db_per_km", jsonNumber(s.leadIn.value(), 3)},
                          {"saturated", !s.code.empty() && s.code[0] == '2'},
                          {"code", s.code}});
    }
    return {{"events", events}, {"span", nullptr}};
}

json toJson(const Bidirectional& both)
{
    json pairs = json::array();
    for (const auto& p : both.pairs)
        pairs.push_back({{"at_m", jsonNumber(p.at.value(), 3)},
                         {"loss_ab_db", jsonNumber(p.lossAb, 4)},
                         {"loss_ba_db", jsonNumber(p.lossBa, 4)},
                         {"loss_db", jsonNumber(p.loss, 4)},
                         {"reflective", p.reflective}});
    return {{"pairs", pairs}, {"span", spanToJson(both.span)}};
}

Result<Analysis> analysisFromJson(const json& value)
{
    JsonReading in(value, "trace");
    Analysis out;
    std::optional<std::string> problem;
    for (const auto& item : in.list("events")) {
        JsonReading e(item, "event");
        Event event;
        event.number = static_cast<int>(e.number("n", 0, 1e6));
        const auto kind = eventKindNamed(e.text("kind"));
        if (!kind) e.complain("unknown kind of event");
        event.kind = kind.value_or(EventKind::Loss);
        event.at = Metre(e.number("at_m", -1e6, farthest));
        event.loss = quantity<Decibel>(e, "loss_db", -100, 100);
        event.lossUncertainty = quantity<Decibel>(e, "loss_uncertainty_db", 0, 1000);
        event.reflectance = quantity<Decibel>(e, "reflectance_db", -200, 10);
        event.leadIn = quantity<DecibelPerKilometre>(e, "lead_in_db_per_km", -1e4, 1e4);
        event.saturated = e.flagOr("saturated", false);
        event.joinedWithNext = e.flagOr("joined_with_next", false);
        event.sectionReturnLoss = quantity<Decibel>(e, "section_orl_db", -100, 200);
        if (!problem) problem = e.problem();
        out.events.push_back(event);
    }
    const bool sections = in.find("sections") != nullptr;  // there are none in records of before they were told
    for (const auto& item : sections ? in.list("sections") : json::array()) {
        JsonReading s(item, "section");
        out.sections.push_back({Metre(s.number("from_m", -1e6, farthest)), Metre(s.number("to_m", -1e6, farthest)),
                                DecibelPerKilometre(s.number("db_per_km", -1e4, 1e4)), Decibel(s.number("excess_db", -100, 100)),
                                Decibel(s.number("excess_uncertainty_db", 0, 1000))});
        if (!problem) problem = s.problem();
    }
    if (const json* span = in.find("span"); span && span->is_object()) {
        JsonReading s(*span, "span");
        Span read;
        read.from = Metre(s.number("from_m", -1e6, farthest));
        read.to = Metre(s.number("to_m", -1e6, farthest));
        read.loss = quantity<Decibel>(s, "loss_db", -100, 100);
        read.attenuation = quantity<DecibelPerKilometre>(s, "db_per_km", -1e4, 1e4);
        read.returnLoss = quantity<Decibel>(s, "orl_db", -100, 200);
        read.unevenness = quantity<DecibelPerKilometre>(s, "uneven_db_per_km", 0, 1e4);
        if (!problem) problem = s.problem();
        out.span = read;
    }
    if (const json* fault = in.find("launch_fault"); fault && fault->is_object()) out.launchFault = JsonReading(*fault, "").textOr("message", "");
    for (const auto& note : in.list("notes"))
        if (note.is_string()) out.notes.push_back(note.get<std::string>());
    if (!problem) problem = in.problem();
    if (problem) return failure(Error::Code::JobDamaged, fmt::format("A stored trace of the job cannot be read ({}).", *problem));
    return out;
}

}  // namespace clendo::otdr
