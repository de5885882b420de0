#include <fmt/format.h>

#include <charconv>

#include "files/json_reading.h"
#include "power/link_budget.h"

namespace clendo {
namespace {

using nlohmann::json;

/// A member, or null: a reader keeps a reference to what it reads.
const json& memberOrNull(const json& file, const char* key)
{
    static const json null;
    const json* member = memberOf(file, key);
    return member ? *member : null;
}

void readJoint(const json& file, const char* kind, Decibel& typical, Decibel& spread, std::optional<std::string>& problem)
{
    JsonReading in(memberOrNull(file, kind), kind);
    typical = Decibel(in.number("typical_db", 0, 20));
    spread = Decibel(in.number("spread_db", 0, 20));
    if (!problem) problem = in.problem();
}

void readFibres(const json& kinds, TypicalLosses& out, std::optional<std::string>& problem)
{
    for (const auto& [kind, figures] : kinds.items()) {
        JsonReading in(figures, kind);
        std::map<int, DecibelPerKilometre> row;
        const json* wavelengths = in.find("wavelengths");
        if (wavelengths && wavelengths->is_object())
            for (const auto& [wavelength, of] : wavelengths->items()) {
                int nm = 0;
                std::from_chars(wavelength.data(), wavelength.data() + wavelength.size(), nm);
                JsonReading figure(of, wavelength);
                row[nm] = DecibelPerKilometre(figure.number("typical_db_per_km", 0, 100));
                if (!problem) problem = figure.problem();
            }
        for (const auto& fibre : in.list("fibres"))
            if (fibre.is_string()) out.fibres[fibre.get<std::string>()] = row;
        if (!problem) problem = in.problem();
    }
}

}  // namespace

Result<TypicalLosses> loadTypicalLosses(const RuleFiles& rules)
{
    const auto joints = rules.shipped("plant/joints.json");
    if (!joints) return tl::unexpected(joints.error());
    const auto fibres = rules.shipped("fibres/fibres.json");
    if (!fibres) return tl::unexpected(fibres.error());
    const json file = json::parse(*joints, nullptr, false), fibreFile = json::parse(*fibres, nullptr, false);
    TypicalLosses out;
    std::optional<std::string> problem;
    if (!file.is_object()) problem = "joints.json is no object";
    if (!fibreFile.is_object() || !fibreFile.contains("kinds") || !fibreFile["kinds"].is_object()) problem = "fibres.json holds no kinds";
    if (!problem) {
        readJoint(file, "connection", out.connection, out.connectionSpread, problem);
        readJoint(file, "splice", out.splice, out.spliceSpread, problem);
        JsonReading connection(memberOrNull(file, "connection"), "connection");
        out.connectionReflectance = Decibel(connection.number("reflectance_db", -100, 0));
        JsonReading in(file, "");
        out.fibreSpreadShare = in.number("fibre_spread_share", 0, 1);
        for (const auto* reading : {&connection, &in})
            if (!problem) problem = reading->problem();
        readFibres(fibreFile["kinds"], out, problem);
    }
    if (problem)
        return failure(Error::Code::LimitsUnknown, fmt::format("What joints lose as a rule cannot be read: {}. Install Clendo again.", *problem));
    return out;
}

}  // namespace clendo
