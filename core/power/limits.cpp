#include "power/limits.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include "files/files.h"
#include "files/json_reading.h"
#include "power/applications.h"

namespace clendo {
namespace {

using nlohmann::json;

struct MethodRow {
    ReferenceMethod method;
    std::string_view name, oldNames;
    int endConnections, referencePairs;
};
constexpr std::array<MethodRow, 4> methods{{{ReferenceMethod::OneCord, "one-cord", "526-14-A method B, 526-7 method A.1", 2, 0},
                                            {ReferenceMethod::TwoCord, "two-cord", "526-14-A method A, 526-7 method A.2", 1, 1},
                                            {ReferenceMethod::ThreeCord, "three-cord", "526-14-A method C, 526-7 method A.3", 0, 2},
                                            {ReferenceMethod::SingleEnded, "single-ended", "cord into a large-area meter", 1, 0}}};

const MethodRow& row(ReferenceMethod method)
{
    return *std::find_if(methods.begin(), methods.end(), [&](const MethodRow& r) { return r.method == method; });
}

/// The shipped sets; anything else is taken for a path, so that a name never reaches outside data/.
constexpr std::array<std::string_view, 4> shipped{"generic-sm", "generic-mm", "iso-link-sm", "iso-link-mm"};
constexpr std::string_view applicationPrefix = "application:";

Result<LimitSet> applicationLimits(std::string_view wanted, std::string_view fibre, const RuleFiles& rules)
{
    const auto applications = loadApplications(rules);
    if (!applications) return tl::unexpected(applications.error());
    const auto it = std::find_if(applications->begin(), applications->end(), [&](const Application& a) { return a.name == wanted; });
    if (it == applications->end())
        return failure(Error::Code::LimitsUnknown, fmt::format("There is no application “{}” in data/limits/applications.json.", wanted));
    const ApplicationChannel* channel = it->on(fibre);
    if (!channel) return failure(Error::Code::LimitsUnknown, fmt::format("No channel loss is known for {} on {} fibre.", wanted, fibre));
    auto base = loadLimits(fibre.starts_with("OM") ? "generic-mm" : "generic-sm", fibre, rules);
    if (!base) return base;
    base->name = fmt::format("{}{}", applicationPrefix, wanted);
    base->title = fmt::format("{} on {}", wanted, fibre);
    base->total = channel->loss;
    if (const auto bytes = rules.shipped("limits/applications.json")) base->hash = sha256(*bytes);
    return base;
}

/// A set that gives none (a client's own) has those of single-mode practice.
void readUncertainty(JsonReading& in, UncertaintyFigures& out)
{
    constexpr UncertaintyFigures usual{Decibel(0.05), Decibel(0.02), Decibel(0.05), Decibel(0.03), Decibel(0.08), Decibel(0.25), Decibel(0.02), 2};
    const json* given = in.find("uncertainty");
    if (!given) {
        out = usual;
        return;
    }
    JsonReading from(*given, "uncertainty");
    const auto one = [&](const char* key, Decibel otherwise) { return Decibel(from.numberOrNothing(key, 0, 20).value_or(otherwise.value())); };
    out = {one("mating_db", usual.mating),
           one("detector_db", usual.detector),
           one("source_drift_db", usual.sourceDrift),
           one("linearity_db", usual.linearity),
           one("launch_conditioned_db", usual.launchConditioned),
           one("launch_unknown_db", usual.launchUnknown),
           one("temperature_db", usual.temperature),
           from.numberOrNothing("coverage", 1, 4).value_or(usual.coverage)};
    if (from.problem()) in.complain(*from.problem());
}

}  // namespace

std::vector<std::string> applicationNames(const RuleFiles& rules)
{
    std::vector<std::string> out;
    if (const auto applications = loadApplications(rules))
        for (const auto& application : *applications) out.push_back(application.name);
    return out;
}

std::string_view name(ReferenceMethod method) { return row(method).name; }
std::string_view oldNames(ReferenceMethod method) { return row(method).oldNames; }
int endConnectionsHeld(ReferenceMethod method) { return row(method).endConnections; }
int referencePairs(ReferenceMethod method) { return row(method).referencePairs; }

std::optional<ReferenceMethod> referenceMethodNamed(std::string_view text)
{
    const auto it = std::find_if(methods.begin(), methods.end(), [&](const MethodRow& r) { return r.name == text; });
    return it == methods.end() ? std::nullopt : std::optional(it->method);
}

Result<LimitSet> parseLimits(std::string_view text)
{
    const json value = json::parse(text, nullptr, false);
    if (value.is_discarded()) return failure(Error::Code::LimitsUnknown, "The limits file is not JSON. Compare it with the files in data/limits.");
    JsonReading in(value, "");
    if (in.textOr("format", "") != "clendo-limits")
        return failure(Error::Code::LimitsUnknown, "This file holds no loss limits (its “format” is not “clendo-limits”).");
    LimitSet out;
    out.name = in.text("name");
    out.title = in.text("title");
    out.source = in.text("source");
    out.version = in.text("version");
    out.checked = in.flagOr("checked", false);
    out.connection = Decibel(in.number("connection_db", 0, 20));
    out.endConnection = Decibel(in.number("end_connection_db", 0, 20));
    out.splice = Decibel(in.number("splice_db", 0, 20));
    out.referencePair = Decibel(in.number("reference_pair_db", 0, 20));
    readUncertainty(in, out.uncertainty);
    if (const auto flat = in.numberOrNothing("reflectance_db", -100, 0)) out.reflectance = Decibel(*flat);
    if (const auto angled = in.numberOrNothing("angled_reflectance_db", -100, 0)) out.angledReflectance = Decibel(*angled);
    if (const auto total = in.numberOrNothing("total_db", 0, 100)) out.total = Decibel(*total);
    const json* table = in.find("attenuation_db_per_km");
    if (!table || !table->is_object())
        in.complain("“attenuation_db_per_km” must hold fibres");
    else
        for (const auto& [fibre, row] : table->items())
            for (const auto& [wavelength, figure] : row.items()) {
                int nm = 0;
                const auto parsed = std::from_chars(wavelength.data(), wavelength.data() + wavelength.size(), nm);
                if (parsed.ec != std::errc{} || parsed.ptr != wavelength.data() + wavelength.size() || !figure.is_number() ||
                    figure.get<double>() < 0)
                    in.complain(fmt::format("attenuation of {} at “{}” must be a number", fibre, wavelength));
                else
                    out.attenuation[fibre][nm] = DecibelPerKilometre(figure.get<double>());
            }
    if (in.problem()) return failure(Error::Code::LimitsUnknown, fmt::format("The limits file cannot be used: {}.", *in.problem()));
    out.hash = sha256(text);
    return out;
}

Result<LimitSet> loadLimits(std::string_view wanted, std::string_view fibre, const RuleFiles& rules)
{
    if (wanted.starts_with(applicationPrefix)) return applicationLimits(wanted.substr(applicationPrefix.size()), fibre, rules);
    const bool known = std::find(shipped.begin(), shipped.end(), wanted) != shipped.end();
    const auto text = known ? rules.shipped(fmt::format("limits/{}.json", wanted)) : rules.own(std::string(wanted));
    return text.and_then([](const std::string& bytes) { return parseLimits(bytes); });
}

Result<Budget> budget(const LinkLoad& load, ReferenceMethod method, Nanometre wavelength, const LimitSet& limits)
{
    const auto fibre = limits.attenuation.find(load.fibre);
    const int nm = static_cast<int>(std::lround(wavelength.value()));
    if (fibre == limits.attenuation.end() || !fibre->second.contains(nm))
        return failure(Error::Code::LimitsUnknown,
                       fmt::format("The limits “{}” have no attenuation for {} fibre at {} nm. Choose other limits or enter the client's own.",
                                   limits.name, load.fibre, nm));
    const int held = endConnectionsHeld(method);
    Budget out;
    out.attenuation = fibre->second.at(nm);
    out.length = load.length;
    out.endConnections = std::min(held, std::max(0, load.connections - 2 + held));
    out.innerConnections = std::max(0, load.connections - 2 + held) - out.endConnections;
    out.splices = load.splices;
    out.fibre = out.attenuation * load.length;
    out.connections = limits.connection * out.innerConnections + limits.endConnection * out.endConnections;
    out.spliceLoss = limits.splice * load.splices;
    out.fixedTotal = limits.total.has_value();
    out.total = limits.total.value_or(out.fibre + out.connections + out.spliceLoss);
    if (out.fixedTotal) {
        out.sum = fmt::format("{:.2f} dB, given by {}", out.total.value(), limits.title);
        return out;
    }
    out.sum = fmt::format("{:.3f} km × {:.2f} dB/km", load.length.value() / 1000, out.attenuation.value());
    const bool alike = limits.connection == limits.endConnection;
    if (alike && out.connectionsCounted() > 0)
        out.sum += fmt::format(" + {} connections × {:.2f} dB", out.connectionsCounted(), limits.connection.value());
    if (!alike && out.endConnections > 0)
        out.sum += fmt::format(" + {} end connections × {:.2f} dB", out.endConnections, limits.endConnection.value());
    if (!alike && out.innerConnections > 0)
        out.sum += fmt::format(" + {} inner connections × {:.2f} dB", out.innerConnections, limits.connection.value());
    if (out.splices > 0) out.sum += fmt::format(" + {} splices × {:.2f} dB", out.splices, limits.splice.value());
    out.sum += fmt::format(" = {:.2f} dB", out.total.value());
    return out;
}

}  // namespace clendo
