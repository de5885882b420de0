#include "power/polarity_json.h"

#include <fmt/format.h>

#include "files/json_reading.h"

namespace clendo {
namespace {

using nlohmann::json;

constexpr int mostFibres = 10000;

std::optional<int> fibreIn(const json& value)
{
    if (!value.is_number_integer()) return std::nullopt;
    const auto fibre = value.get<std::int64_t>();
    return fibre >= 1 && fibre <= mostFibres ? std::optional(static_cast<int>(fibre)) : std::nullopt;
}

/// A count; 0 where it is none, which was complained about.
int count(JsonReading& in, std::string_view key)
{
    const double n = in.number(key, 1, mostFibres);
    if (n != std::floor(n)) in.complain(fmt::format("“{}” must be a whole number", key));
    return static_cast<int>(n);
}

}  // namespace

Result<PolarityMap> polarityMapFromJson(std::string_view text)
{
    const json value = json::parse(text, nullptr, false);
    if (value.is_discarded() || !value.is_object()) return failure(Error::Code::PlanInvalid, "The file is not a map of fibres in JSON.");
    JsonReading in(value, "");
    PolarityMap out;
    out.cable = in.text("cable");
    out.fibres = count(in, "fibres");
    out.group = in.find("group") ? count(in, "group") : out.fibres;
    const auto expected = polarityNamed(in.text("expected"));
    if (!expected) in.complain("“expected” must be straight, reversed or pairs");
    out.expected = expected.value_or(Polarity::Straight);
    int n = 0;
    for (const auto& way : in.list("seen")) {
        ++n;
        const auto from = way.is_array() && way.size() == 2 ? fibreIn(way[0]) : std::nullopt;
        const auto to = from && !way[1].is_null() ? fibreIn(way[1]) : std::nullopt;
        if (!from || (!to && !way[1].is_null())) {
            in.complain(fmt::format("way {} of “seen” must be [fibre at A, fibre at B or null]", n));
            break;
        }
        out.seen.push_back({*from, to});
    }
    if (in.problem()) return failure(Error::Code::PlanInvalid, fmt::format("The map cannot be read: {}.", *in.problem()));
    return out;
}

json toJson(const PolarityMap& map, const PolarityReport& report)
{
    json faults = json::array();
    for (const auto& fault : report.faults) faults.push_back({{"kind", name(fault.kind)}, {"fibres", fault.fibres}, {"message", fault.message}});
    return {{"cable", map.cable}, {"ok", report.ok}, {"proven", report.proven}, {"unseen", report.unseen}, {"faults", faults}};
}

}  // namespace clendo
