#include "power/link_budget_json.h"

#include <fmt/format.h>

#include <algorithm>

#include "files/json_reading.h"
#include "power/loss_json.h"

namespace clendo {
namespace {

using nlohmann::json;
using Kind = LinkElement::Kind;

LinkElement elementFromJson(const json& value, const std::string& where, std::optional<std::string>& problem)
{
    JsonReading in(value, where);
    LinkElement out;
    const std::string kind = in.text("kind");
    if (kind == "fibre") {
        out.kind = Kind::Fibre;
        out.fibre = in.text("fiber");
        out.length = Metre(in.number("length_m", 0, 1e6));
    } else {
        out.kind = kind == "connection" ? Kind::Connection : kind == "splice" ? Kind::Splice : Kind::Other;
        if (kind != "connection" && kind != "splice" && kind != "splitter" && kind != "attenuator" && kind != "other")
            in.complain("“kind” must be fibre, connection, splice, splitter, attenuator or other");
    }
    const auto optional = [&](const char* key, double low, double high) {
        const auto read = in.numberOrNothing(key, low, high);
        return read ? std::optional(Decibel(*read)) : std::nullopt;
    };
    out.loss = optional("loss_db", 0, 100);
    out.spread = optional("sigma_db", 0, 100);
    out.reflectance = optional("reflectance_db", -100, 0);
    if (out.spread && !out.loss) in.complain("“sigma_db” needs its “loss_db”");
    if (out.kind == Kind::Other && !out.loss) in.complain("“loss_db” must be a number from 0 to 100");
    if (!problem) problem = in.problem();
    return out;
}

}  // namespace

Result<BudgetRequest> budgetRequestFromJson(std::string_view text)
{
    constexpr std::size_t mostElements = 1000;
    const json value = json::parse(text, nullptr, false);
    if (value.is_discarded() || !value.is_object()) return failure(Error::Code::LinkInvalid, "The file is not a link in JSON.");
    JsonReading in(value, "");
    BudgetRequest out;
    out.plan.link = in.text("link");
    out.limits = in.text("limits");
    const auto method = referenceMethodNamed(in.textOr("method", "one-cord"));
    if (!method) in.complain("“method” must be one-cord, two-cord, three-cord or single-ended");
    out.plan.method = method.value_or(ReferenceMethod::OneCord);
    if (in.find("wavelengths_nm"))
        for (const auto& nm : in.list("wavelengths_nm")) {
            const double wavelength = nm.is_number() ? nm.get<double>() : 0;
            if (!(wavelength >= 400 && wavelength <= 2000)) in.complain("“wavelengths_nm” must be numbers from 400 to 2000");
            out.plan.wavelengths.emplace_back(wavelength);
        }
    std::optional<std::string> problem = in.problem();
    if (in.find("elements")) {
        for (const auto& element : in.list("elements"))
            if (out.plan.elements.size() < mostElements)
                out.plan.elements.push_back(elementFromJson(element, fmt::format("element {}", out.plan.elements.size() + 1), problem));
            else
                in.complain(fmt::format("more than {} “elements”", mostElements));
    } else {
        const int connections = static_cast<int>(in.number("connections", 0, 1000));
        const int splices = static_cast<int>(in.numberOrNothing("splices", 0, 10000).value_or(0));
        out.plan.elements.assign(static_cast<std::size_t>(connections), LinkElement{});
        out.plan.elements.resize(out.plan.elements.size() + static_cast<std::size_t>(splices), LinkElement{Kind::Splice});
    }
    const bool hasFibre = std::any_of(out.plan.elements.begin(), out.plan.elements.end(), [](const LinkElement& e) { return e.kind == Kind::Fibre; });
    if (!hasFibre) out.plan.elements.push_back({Kind::Fibre, in.text("fiber"), Metre(in.number("length_m", 0, 1e6))});
    for (const auto& e : out.plan.elements)
        if (e.kind == Kind::Fibre && out.fibre.empty()) out.fibre = e.fibre;
    if (!problem) problem = in.problem();
    if (problem) return failure(Error::Code::LinkInvalid, fmt::format("The link cannot be planned: {}.", *problem));
    return out;
}

json toJson(const ApplicationBudget& a)
{
    return {{"name", a.name},
            {"carries", a.carries ? json(*a.carries) : json(nullptr)},
            {"spare_db", decibels(a.spare)},
            {"limited_by", a.limitedBy == ApplicationBudget::Limit::None ? json(nullptr) : json(name(a.limitedBy))},
            {"confidence", a.confidence}};
}

json toJson(const LinkBudget& budget)
{
    json wavelengths = json::array(), applications = json::array();
    for (const auto& w : budget.wavelengths)
        wavelengths.push_back({{"wavelength_nm", w.wavelength.value()},
                               {"limit_db", decibels(w.limit)},
                               {"worst_db", decibels(w.worst)},
                               {"typical_db", decibels(w.typical)},
                               {"typical_p95_db", decibels(w.typicalP95)},
                               {"least_db", decibels(w.least)}});
    for (const auto& a : budget.applications) applications.push_back(toJson(a));
    return {{"link", budget.link},
            {"fiber", budget.fibre},
            {"length_m", budget.length.value()},
            {"connections_counted", budget.connectionsCounted},
            {"statistics", name(budget.statistics)},
            {"wavelengths", wavelengths},
            {"applications", applications}};
}

}  // namespace clendo
