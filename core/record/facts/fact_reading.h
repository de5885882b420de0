#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "files/digest.h"
#include "files/json_reading.h"
#include "plant/plan.h"
#include "power/loss.h"

namespace clendo {

/// What two journals cannot both say otherwise: "setting", "attempts". Empty: nothing.
struct Claim {
    std::string what, subject;
    auto operator<=>(const Claim&) const = default;
};

/// Reads the body of a fact, which is taken as hostile; remembers the first thing that is wrong. What facts have in common is read here.
class FactReading : public FlatReading {
public:
    /// `body` is the document of `text`.
    FactReading(FlatJson::Value body, std::string_view text) : FlatReading(body, ""), text_(text) {}

    [[nodiscard]] int whole(std::string_view key, double low, double high) { return static_cast<int>(number(key, low, high)); }
    [[nodiscard]] int wholeOr(std::string_view key, double low, double high, int fallback)
    {
        const auto found = numberOrNothing(key, low, high);
        return found ? static_cast<int>(*found) : fallback;
    }
    [[nodiscard]] std::vector<std::string> texts(std::string_view key);
    /// Under the key "end".
    [[nodiscard]] Connection connection();
    [[nodiscard]] FaceId face(std::string_view key = "face");
    [[nodiscard]] ReferenceMethod method();
    [[nodiscard]] Direction direction();
    [[nodiscard]] Nanometre wavelength() { return Nanometre(number("wavelength_nm", 400, 2000)); }
    /// The hash of an entry.
    [[nodiscard]] Digest entry(std::string_view key);
    /// The same, none where the key is missing or null.
    [[nodiscard]] Digest entryOrNone(std::string_view key);
    /// The whole body once more, for what reads nlohmann's documents.
    [[nodiscard]] nlohmann::json document() const { return nlohmann::json::parse(text_, nullptr, false); }

private:
    std::string_view text_;
};

}  // namespace clendo
