#include "reel/reel_json.h"

#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>

#include "files/json_numbers.h"
#include "files/json_reading.h"

namespace clendo::reel {
namespace {

using nlohmann::json;

constexpr double longest = 1e6;  // m
constexpr double percent = 100;

Result<json> parsed(const std::string& text, const char* what)
{
    auto value = json::parse(text, nullptr, false);
    if (!value.is_object()) return failure(Error::Code::PlanInvalid, fmt::format("This is no {}: one JSON object is wanted.", what));
    return value;
}

tl::unexpected<Error> unclear(const std::string& problem) { return failure(Error::Code::PlanInvalid, problem + "."); }

std::optional<SheathMarks> marksOf(JsonReading& in)
{
    const json* marks = in.find("marks");
    if (!marks || marks->is_null()) return std::nullopt;
    JsonReading m(*marks, "marks");
    SheathMarks out;
    out.outer = m.number("outer", 0, 1e9);
    out.inner = m.number("inner", 0, 1e9);
    const std::string unit = m.textOr("unit", "m");
    if (unit != "m" && unit != "ft") m.complain("“unit” is m or ft");
    out.unit = unit == "ft" ? MarkUnit::Feet : MarkUnit::Metres;
    if (const auto digits = m.numberOrNothing("digits", 3, 9)) out.digits = static_cast<int>(*digits);
    if (m.problem()) in.complain(*m.problem());
    return out;
}

std::map<int, DecibelPerKilometre> attenuationsOf(JsonReading& in)
{
    std::map<int, DecibelPerKilometre> out;
    constexpr double most = 100;  // dB/km
    if (const json* all = in.find("attenuation_db_per_km"); all && all->is_object())
        for (const auto& [wavelength, value] : all->items()) {
            int nm = 0;
            const auto end = wavelength.data() + wavelength.size();
            if (std::from_chars(wavelength.data(), end, nm).ptr != end || !value.is_number() || value.get<double>() <= 0 ||
                value.get<double>() > most)
                in.complain(fmt::format("“attenuation_db_per_km” at “{}” must be a number", wavelength));
            else
                out[nm] = DecibelPerKilometre(value.get<double>());
        }
    return out;
}

void readOrdered(JsonReading& in, Delivery& out)
{
    const json* ordered = in.find("ordered");
    if (!ordered || !ordered->is_object()) return in.complain("“ordered” must say what was ordered");
    JsonReading o(*ordered, "ordered");
    if (const auto length = o.numberOrNothing("length_m", 1, longest)) out.ordered = Metre(*length);
    constexpr double mostFibres = 10000;
    out.fibres = static_cast<int>(o.numberOrNothing("fibres", 1, mostFibres).value_or(1));
    out.type = o.textOr("type", "");
    out.jacket = o.textOr("jacket", "");
    out.environment = o.textOr("environment", "");
    out.pricePerMetre = o.numberOrNothing("price_per_m", 0, 1e6);
    out.allowed = attenuationsOf(o);
    if (o.problem()) in.complain(*o.problem());
}

void readPapers(JsonReading& in, Delivery& out)
{
    const json* papers = in.find("supplier");
    if (!papers || papers->is_null()) return;
    JsonReading p(*papers, "supplier");
    if (const auto length = p.numberOrNothing("length_m", 0, longest)) out.supplierLength = Metre(*length);
    out.supplier = attenuationsOf(p);
    if (p.problem()) in.complain(*p.problem());
}

Delivery readDelivery(JsonReading& in)
{
    Delivery out;
    out.reel = in.text("reel");
    readOrdered(in, out);
    readPapers(in, out);
    out.marks = marksOf(in);
    out.excess = in.numberOrNothing("fibre_excess_percent", 0, 20).value_or(0) / percent;
    out.date = in.textOr("date", "");
    return out;
}

json toJson(const std::map<int, DecibelPerKilometre>& attenuations)
{
    json out = json::object();
    for (const auto& [nm, value] : attenuations) out[std::to_string(nm)] = value.value();
    return out;
}

}  // namespace

Result<Delivery> deliveryFromJson(const json& value)
{
    JsonReading in(value, "");
    Delivery out = readDelivery(in);
    if (in.problem()) return unclear(*in.problem());
    return out;
}

json toJson(const Delivery& d)
{
    json ordered{{"fibres", d.fibres}, {"attenuation_db_per_km", toJson(d.allowed)}};
    if (d.ordered) ordered["length_m"] = d.ordered->value();
    if (d.pricePerMetre) ordered["price_per_m"] = *d.pricePerMetre;
    for (const auto& [key, text] : {std::pair("type", d.type), {"jacket", d.jacket}, {"environment", d.environment}})
        if (!text.empty()) ordered[key] = text;
    json out{{"reel", d.reel}, {"ordered", ordered}, {"fibre_excess_percent", jsonNumber(d.excess * percent, 6)}};
    if (d.marks)
        out["marks"] = {{"outer", d.marks->outer},
                        {"inner", d.marks->inner},
                        {"unit", d.marks->unit == MarkUnit::Feet ? "ft" : "m"},
                        {"digits", d.marks->digits}};
    if (d.supplierLength || !d.supplier.empty()) {
        out["supplier"] = {{"attenuation_db_per_km", toJson(d.supplier)}};
        if (d.supplierLength) out["supplier"]["length_m"] = d.supplierLength->value();
    }
    if (!d.date.empty()) out["date"] = d.date;
    return out;
}

Result<DeliveryRequest> deliveryFromJson(const std::string& text, const SamplingTable& table)
{
    const auto value = parsed(text, "delivery");
    if (!value) return tl::unexpected(value.error());
    JsonReading in(*value, "");
    DeliveryRequest out;
    out.delivery = readDelivery(in);
    out.launch = Metre(in.numberOrNothing("launch_m", 0, longest).value_or(0));
    if (in.find("traces"))
        for (const auto& trace : in.list("traces")) {
            if (trace.is_string())
                out.traces.push_back(trace.get<std::string>());
            else
                in.complain("“traces” must be names of files");
        }
    if (const json* sample = in.find("sample"); sample && sample->is_object()) {
        JsonReading s(*sample, "sample");
        if (s.textOr("plan", "iso-2859-1") != "iso-2859-1") s.complain("“plan” must be iso-2859-1");
        const std::string level = s.textOr("level", "II");
        const double aql = s.number("aql", 0, 100);
        out.seed = static_cast<std::uint32_t>(s.numberOrNothing("seed", 0, 4294967295.0).value_or(1));
        if (s.problem()) return unclear(*s.problem());
        if (in.problem()) return unclear(*in.problem());
        const auto plan = table.plan(out.delivery.fibres, level, aql);
        if (!plan) return tl::unexpected(plan.error());
        out.sample = Sample{*plan, draw(*plan, out.seed)};
    }
    if (in.problem()) return unclear(*in.problem());
    return out;
}

json toJson(const Delivery& d, const std::optional<Sample>& sample, const ReelReport& r)
{
    const ReelLength& l = r.length;
    const auto shortfall = l.shortfall();
    json out{{"reel", d.reel},
             {"by_marks_m", l.marks ? jsonNumber(l.marks->length.value(), 1) : json(nullptr)},
             {"optical_fibre_m", jsonNumber(l.fibre, 1)},
             {"optical_cable_m", l.optical ? jsonNumber(l.optical->length.value(), 1) : json(nullptr)},
             {"length_m", l.best ? jsonNumber(l.best->length.value(), 1) : json(nullptr)},
             {"uncertainty_m", l.best ? jsonNumber(2 * l.best->uncertainty.value(), 1) : json(nullptr)},
             {"shortfall_m", jsonNumber(shortfall, 1)},
             {"shortfall_percent", shortfall ? jsonNumber(percent * (*shortfall / *l.ordered), 2) : json(nullptr)},
             {"significant", l.shorter()},
             {"attenuation", json::array()},
             {"faults", json::array()},
             {"joint", name(r.joint)},
             {"sample", nullptr},
             {"verdict", name(r.verdict)},
             {"why", r.why},
             {"warnings", json::array()}};
    if (d.pricePerMetre && shortfall) out["shortfall_price"] = jsonNumber(*d.pricePerMetre * shortfall->value(), 2);
    for (const auto& a : r.attenuation)
        out["attenuation"].push_back({{"fibre", a.fibre},
                                      {"wavelength_nm", jsonNumber(a.wavelength.value(), 0)},
                                      {"db_per_km", jsonNumber(a.measured.value(), 4)},
                                      {"allowed", jsonNumber(a.allowed, 4)},
                                      {"ok", a.ok()}});
    for (const auto& f : r.faults)
        out["faults"].push_back(
            {{"fibre", f.fibre}, {"at_m", jsonNumber(f.at.value(), 1)}, {"loss_db", jsonNumber(f.loss, 3)}, {"message", f.words}});
    for (const auto& w : r.warnings) out["warnings"].push_back({{"code", w.code}, {"message", w.message}});
    if (!r.kind.empty()) out["fibre_kind"] = r.kind;
    if (sample)
        out["sample"] = {{"lot", sample->plan.lot},
                         {"size", sample->plan.size},
                         {"accept", sample->plan.accept},
                         {"reject", sample->plan.reject},
                         {"fibres", sample->drawn}};
    return out;
}

Result<CuttingWish> cuttingWishFromJson(const std::string& text)
{
    return parsed(text, "cutting plan").and_then([](const json& value) { return cuttingWishFromJson(value); });
}

Result<CuttingWish> cuttingWishFromJson(const json& value)
{
    JsonReading in(value, "");
    CuttingWish out;
    std::optional<std::string> problem;
    for (const auto& item : in.list("reels")) {
        JsonReading r(item, "reel");
        out.reels.push_back({r.text("id"), Metre(r.number("length_m", 0, longest))});
        if (!problem) problem = r.problem();
    }
    for (const auto& item : in.list("runs")) {
        JsonReading r(item, "run");
        out.runs.push_back({r.text("id"), Metre(r.number("length_m", 0, longest)), Metre(r.numberOrNothing("slack_m", 0, longest).value_or(0))});
        if (!problem) problem = r.problem();
    }
    out.jointAllowed = in.flagOr("joint_allowed", false);
    out.keepLeast = Metre(in.numberOrNothing("keep_least_m", 0, longest).value_or(0));
    if (!problem) problem = in.problem();
    if (problem) return unclear(*problem);
    return out;
}

json toJson(const CuttingWish& wish)
{
    json out{{"reels", json::array()}, {"runs", json::array()}, {"joint_allowed", wish.jointAllowed}, {"keep_least_m", wish.keepLeast.value()}};
    for (const auto& reel : wish.reels) out["reels"].push_back({{"id", reel.reel}, {"length_m", reel.length.value()}});
    for (const auto& run : wish.runs) out["runs"].push_back({{"id", run.name}, {"length_m", run.length.value()}, {"slack_m", run.slack.value()}});
    return out;
}

json toJson(const std::vector<ReelCuts>& cuts)
{
    json out = json::array();
    for (const auto& reel : cuts) {
        json of = json::array();
        for (const auto& cut : reel.cuts) of.push_back({{"run", cut.run}, {"length_m", cut.length.value()}});
        out.push_back({{"reel", reel.reel}, {"cuts", of}});
    }
    return out;
}

Result<std::vector<ReelCuts>> reelCutsFromJson(const json& value)
{
    std::vector<ReelCuts> out;
    if (!value.is_array()) return unclear("“cuts” must be a list");
    for (const auto& item : value) {
        JsonReading r(item, "cuts");
        ReelCuts reel{r.text("reel"), {}, {}};
        for (const auto& cut : r.list("cuts")) {
            JsonReading c(cut, "cuts");
            reel.cuts.push_back({c.text("run"), Metre(c.number("length_m", 0, longest))});
            if (c.problem()) r.complain(*c.problem());
        }
        if (r.problem()) return unclear(*r.problem());
        out.push_back(std::move(reel));
    }
    return out;
}

json toJson(const CuttingPlan& plan)
{
    json out{{"assignments", json::array()},
             {"unserved", plan.unserved},
             {"joints", plan.joints},
             {"waste_m", jsonNumber(plan.waste.value(), 2)},
             {"short_of_m", jsonNumber(plan.shortOf.value(), 2)},
             {"optimal", plan.optimal},
             {"gap", jsonNumber(plan.gap, 4)}};
    for (const auto& reel : plan.reels) {
        json runs = json::array(), cuts = json::array();
        for (const auto& cut : reel.cuts) {
            runs.push_back(cut.run);
            cuts.push_back(jsonNumber(cut.length.value(), 2));
        }
        out["assignments"].push_back({{"reel", reel.reel}, {"runs", runs}, {"cuts_m", cuts}, {"left_m", jsonNumber(reel.left.value(), 2)}});
    }
    return out;
}

}  // namespace clendo::reel
