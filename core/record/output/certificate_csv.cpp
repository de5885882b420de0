#include "record/output/certificate_csv.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "files/csv.h"

namespace clendo {
namespace {

using nlohmann::json;

std::string number(const json& value) { return value.is_number() ? fmt::format("{:.3f}", value.get<double>()) : std::string(); }

void addRows(const json& link, std::string& out)
{
    std::string length;
    if (!link["traces"].empty() && link["traces"].back()["span"].is_object()) length = number(link["traces"].back()["span"]["length_m"]);
    const std::string head =
        fmt::format("{},{},{}", csvField(link["link"].get<std::string>()), link["fibre"].get<int>(), csvField(link["colour"].get<std::string>()));
    const auto field = [&](const json& value) { return value.is_string() ? csvField(value.get<std::string>()) : std::string(); };
    const std::string tail =
        fmt::format("{},{},{},{},{},{}", length, field(link["signed_by"]), field(link["signed_at"]),
                    link["signature"].is_object() ? field(link["signature"]["state"]) : "", field(link["verdict"]), field(link["verdict_because"]));
    if (!link["loss"].is_object()) {
        out += fmt::format("{},,,,,,,,,,{}\r\n", head, tail);
        return;
    }
    for (const auto& r : link["loss"]["results"])
        out += fmt::format("{},{:.0f},{},{},{},{},{},{},{},{},{}\r\n", head, r["wavelength_nm"].get<double>(), number(r["loss_ab_db"]),
                           number(r["loss_ba_db"]), number(r["loss_db"]), number(r["worst_db"]), number(r["limit_db"]), number(r["margin_db"]),
                           r["connections_counted"].is_number() ? r["connections_counted"].dump() : "", r["verdict"].get<std::string>(), tail);
}

}  // namespace

std::string certificateCsv(const json& certificate)
{
    std::string out =
        "link,fibre,colour,wavelength_nm,loss_ab_db,loss_ba_db,loss_db,worst_db,limit_db,margin_db,connections_counted,verdict,length_m,signed_by,"
        "signed_at,signature,link_verdict,verdict_because\r\n";
    for (const auto& cable : certificate["cables"])
        for (const auto& link : cable["links"]) addRows(link, out);
    return out;
}

}  // namespace clendo
