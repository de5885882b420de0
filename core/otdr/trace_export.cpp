#include "otdr/trace_export.h"

#include <fmt/format.h>

#include <iterator>
#include <nlohmann/json.hpp>

#include "otdr/trace_json.h"

namespace clendo::otdr {
namespace {

template <class Q>
std::string field(const std::optional<Q>& value, int digits)
{
    return value ? fmt::format("{:.{}f}", value->value(), digits) : std::string();
}

}  // namespace

std::string pointsCsv(const Trace& trace)
{
    std::string out = "distance_m,level_db\n";
    out.reserve(20 * trace.level.size());
    for (std::size_t i = 0; i < trace.level.size(); ++i) {
        fmt::format_to(std::back_inserter(out), "{:.3f},", trace.distance[i]);
        if (!trace.dark[i]) fmt::format_to(std::back_inserter(out), "{:.3f}", trace.level[i]);
        out += '\n';
    }
    return out;
}

std::string eventsCsv(const Analysis& found)
{
    std::string out = "n,kind,at_m,loss_db,loss_uncertainty_db,reflectance_db,saturated,lead_in_db_per_km,joined_with_next\n";
    for (const auto& e : found.events)
        out += fmt::format("{},{},{:.3f},{},{},{},{},{},{}\n", e.number, name(e.kind), e.at.value(), field(e.loss, 4), field(e.lossUncertainty, 4),
                           field(e.reflectance, 2), e.saturated ? "yes" : "no", field(e.leadIn, 4), e.joinedWithNext ? "yes" : "no");
    return out;
}

std::string everythingJson(const Trace& trace, const Analysis& found)
{
    nlohmann::json out = headerToJson(trace);
    out.update(toJson(found));
    nlohmann::json metres = nlohmann::json::array(), levels = nlohmann::json::array();
    for (std::size_t i = 0; i < trace.level.size(); ++i) {
        metres.push_back(trace.distance[i]);
        levels.push_back(trace.dark[i] ? nlohmann::json(nullptr) : nlohmann::json(trace.level[i]));
    }
    out["points_m"] = std::move(metres);
    out["points_db"] = std::move(levels);
    return out.dump(1) + "\n";
}

}  // namespace clendo::otdr
