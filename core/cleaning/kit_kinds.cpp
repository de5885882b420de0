#include "cleaning/kit_kinds.h"

#include <algorithm>

#include "files/json_reading.h"
#include "files/shipped_text.h"

namespace clendo {

using nlohmann::json;

Result<std::vector<KitKind>> parseKitKinds(std::string_view text)
{
    const json value = json::parse(text, nullptr, false);
    JsonReading in(value, "");
    if (!value.is_object() || in.textOr("format", "") != "clendo-kit")
        return failure(Error::Code::PlanInvalid, "The file of kit kinds is not readable. Compare it with data/cleaning/kit.json.");
    std::vector<KitKind> out;
    for (const auto& item : in.list("kinds")) {
        JsonReading k(item, "kind");
        const auto texts = [&](std::string_view key) {
            std::vector<std::string> list;
            for (const auto& t : k.list(key))
                if (t.is_string()) list.push_back(t.get<std::string>());
            return list;
        };
        out.push_back({k.text("kind"), k.text("title"), texts("cleans"), k.textOr("way", ""), k.textOr("counts", ""),
                       static_cast<int>(k.numberOrNothing("most", 0, 1e6).value_or(0)), k.flagOr("calibrated", false),
                       k.flagOr("by_connector", false), k.flagOr("port", false), texts("proofs")});
        if (k.problem()) in.complain(*k.problem());
    }
    if (in.problem()) return failure(Error::Code::PlanInvalid, "The kit kinds cannot be read: " + *in.problem() + ".");
    return out;
}

Result<std::vector<KitKind>> loadKitKinds(const std::filesystem::path& dataFolder)
{
    return shippedText(dataFolder, "cleaning/kit.json").and_then([](const std::string& text) { return parseKitKinds(text); });
}

const KitKind* kitKindNamed(const std::vector<KitKind>& kinds, std::string_view kind)
{
    const auto it = std::find_if(kinds.begin(), kinds.end(), [&](const KitKind& k) { return k.kind == kind; });
    return it == kinds.end() ? nullptr : &*it;
}

}  // namespace clendo
