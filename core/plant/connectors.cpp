#include "plant/connectors.h"

#include <algorithm>

#include "files/json_reading.h"
#include "files/shipped_text.h"

namespace clendo {

using nlohmann::json;

bool ConnectorFamily::holds(int count) const { return std::find(fibres.begin(), fibres.end(), count) != fibres.end(); }

Result<std::vector<ConnectorFamily>> parseConnectors(std::string_view text)
{
    const json value = json::parse(text, nullptr, false);
    JsonReading in(value, "");
    if (!value.is_object() || in.textOr("format", "") != "clendo-connectors")
        return failure(Error::Code::PlanInvalid, "The file of connector families is not readable. Compare it with data/plant/connectors.json.");
    std::vector<ConnectorFamily> out;
    for (const auto& item : in.list("families")) {
        JsonReading f(item, "family");
        ConnectorFamily family{f.text("name"), {}, {}, f.flagOr("keyed", true), f.flagOr("hardened", false)};
        if (const auto mm = f.numberOrNothing("ferrule_mm", 0.1, 20)) family.ferrule = Micrometre(*mm * 1000);
        for (const auto& n : f.list("fibres"))
            if (n.is_number_integer() && n.get<int>() > 0 && n.get<int>() <= 1000)
                family.fibres.push_back(n.get<int>());
            else
                f.complain("“fibres” must be whole numbers from 1 to 1000");
        if (f.problem()) in.complain(*f.problem());
        out.push_back(std::move(family));
    }
    if (in.problem()) return failure(Error::Code::PlanInvalid, "The connector families cannot be read: " + *in.problem() + ".");
    return out;
}

Result<std::vector<ConnectorFamily>> loadConnectors(const std::filesystem::path& dataFolder)
{
    return shippedText(dataFolder, "plant/connectors.json").and_then([](const std::string& text) { return parseConnectors(text); });
}

const ConnectorFamily* familyNamed(const std::vector<ConnectorFamily>& families, std::string_view name)
{
    const auto it = std::find_if(families.begin(), families.end(), [&](const ConnectorFamily& f) { return f.name == name; });
    return it == families.end() ? nullptr : &*it;
}

}  // namespace clendo
