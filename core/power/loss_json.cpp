#include "power/loss_json.h"

#include <fmt/format.h>

#include <cmath>

#include "files/json_reading.h"

namespace clendo {
namespace {

using nlohmann::json;

Reading readingFromJson(const json& value, const std::string& where, std::optional<std::string>& problem)
{
    JsonReading in(value, where);
    Reading r;
    r.wavelength = Nanometre(in.number("wavelength_nm", 400, 2000));
    const auto direction = directionNamed(in.text("direction"));
    if (!direction) in.complain("“direction” must be ab or ba");
    r.direction = direction.value_or(Direction::AtoB);
    if (const auto reference = in.numberOrNothing("reference_dbm", -90, 30)) r.reference = DecibelMilliwatt(*reference);
    if (const auto shown = in.numberOrNothing("loss_db", -100, 100))
        r.shown = Decibel(*shown);
    else
        r.power = DecibelMilliwatt(in.number("power_dbm", -90, 30));
    if (const auto scatter = in.numberOrNothing("scatter_db", 0, 100)) r.scatter = Decibel(*scatter);
    if (const auto resolution = in.numberOrNothing("resolution_db", 0, 100)) r.resolution = Decibel(*resolution);
    if (!problem) problem = in.problem();
    return r;
}

}  // namespace

json decibels(const std::optional<Decibel>& value) { return value ? json(std::round(value->value() * 1e6) / 1e6) : json(nullptr); }

Result<LossRequest> lossRequestFromJson(std::string_view text)
{
    const json value = json::parse(text, nullptr, false);
    if (value.is_discarded() || !value.is_object()) return failure(Error::Code::LinkInvalid, "The file is not a link in JSON.");
    JsonReading in(value, "");
    LossRequest out;
    out.task.link = in.text("link");
    out.task.load.fibre = in.text("fiber");
    out.task.load.length = Metre(in.number("length_m", 0, 1e6));
    out.task.load.connections = static_cast<int>(in.number("connections", 2, 1000));
    out.task.load.splices = static_cast<int>(in.numberOrNothing("splices", 0, 10000).value_or(0));
    out.limits = in.text("limits");
    const auto method = referenceMethodNamed(in.text("method"));
    if (!method) in.complain("“method” must be one-cord, two-cord, three-cord or single-ended");
    out.task.method = method.value_or(ReferenceMethod::OneCord);
    if (const json* source = in.find("source")) {
        JsonReading from(*source, "source");
        if (const auto warm = from.numberOrNothing("warm_up_s", 0, 1e9)) out.task.sourceWarmUp = Second(*warm);
        if (from.problem()) in.complain(*from.problem());
    }
    if (const json* launch = in.find("launch")) {
        JsonReading from(*launch, "launch");
        if (from.find("conditioned")) out.task.launchConditioned = from.flagOr("conditioned", false);
        if (const auto loss = from.numberOrNothing("loss_db", 0, 40))
            out.task.launch = LaunchCord{Decibel(*loss), from.flagOr("measured", false), out.task.method != ReferenceMethod::SingleEnded};
        if (from.problem()) in.complain(*from.problem());
    }
    std::optional<std::string> problem = in.problem();
    int n = 0;
    for (const auto& reading : in.list("readings")) out.task.readings.push_back(readingFromJson(reading, fmt::format("reading {}", ++n), problem));
    if (!problem) problem = in.problem();
    if (problem) return failure(Error::Code::LinkInvalid, fmt::format("The link cannot be computed: {}.", *problem));
    return out;
}

json toJson(const LossReport& report)
{
    json results = json::array(), warnings = json::array();
    for (const auto& r : report.results) {
        json one{{"wavelength_nm", r.wavelength.value()},
                 {"loss_ab_db", decibels(r.lossAb)},
                 {"loss_ba_db", decibels(r.lossBa)},
                 {"loss_db", decibels(r.mean)},
                 {"worst_db", decibels(r.worst)},
                 {"margin_db", decibels(r.margin)},
                 {"uncertainty_db", decibels(r.uncertainty)},
                 {"verdict", name(r.verdict)}};
        one["uncertainty"] = json::array();
        for (const auto& part : r.doubts) one["uncertainty"].push_back({{"name", part.name}, {"standard_db", decibels(part.standard)}});
        one["limit_db"] = r.limit ? decibels(r.limit->total) : json(nullptr);
        one["limit_sum"] = r.limit ? json(r.limit->sum) : json(nullptr);
        one["connections_counted"] = r.limit ? json(r.limit->connectionsCounted()) : json(nullptr);
        results.push_back(std::move(one));
    }
    for (const auto& w : report.warnings) warnings.push_back({{"code", w.code}, {"message", w.message}});
    return {{"link", report.link}, {"method", name(report.method)}, {"results", results}, {"verdict", name(report.verdict)}, {"warnings", warnings}};
}

}  // namespace clendo
