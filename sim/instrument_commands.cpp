// What the simulated instruments understand.
#include "sim/instrument_commands.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <optional>

#include "otdr/sor_writer.h"
#include "pictures/decode.h"

namespace clendo::sim {
namespace {

using Now = std::function<world::World&()>;
constexpr const char* overload = "9.91E37";
constexpr const char* noLight = "-9.9E37";  // SCPI's negative infinity: the logarithm of nothing

template <class Unit>
Unit& unitOf(const Now& now, const std::string& name)
{
    return std::get<Unit>(now().instrument(name)->unit);
}

/// A number with a unit, from low to high, that is put somewhere.
std::function<ScpiAnswer(const std::string&)> number(std::string unit, double low, double high, std::function<void(double)> put)
{
    return [=](const std::string& text) {
        const auto read = scpiNumber(text, unit);
        if (read.error) return ScpiAnswer::failed(*read.error);
        if (read.value < low || read.value > high) return ScpiAnswer::failed(scpi_error::outOfRange);
        put(read.value);
        return ScpiAnswer{};
    };
}

std::function<ScpiAnswer(const std::string&)> boolean(std::function<void(bool)> put)
{
    return [=](const std::string& text) {
        const auto on = scpiBoolean(text);
        if (!on) return ScpiAnswer::failed(scpi_error::illegalValue);
        put(*on);
        return ScpiAnswer{};
    };
}

std::vector<ScpiCommand> sourceCommands(const Now& now, const std::string& name)
{
    const auto source = [=]() -> world::Source& { return unitOf<world::Source>(now, name); };
    constexpr double slowest = 1, fastest = 5000, usual = 270;  // Hz
    return {
        {"SOURce:POWer:STATe", boolean([=](bool on) {
             auto& s = source();
             if (on && !s.on) s.onSince = now().now();
             s.on = on;
         }),
         [=] { return ScpiAnswer::of(source().on ? "1" : "0"); }},
        {"SOURce:POWer", {}, [=] { return ScpiAnswer::of(fmt::format("{:.2f}", source().lights.at(source().wavelength.value()).value())); }},
        {"SOURce:WAVelength",
         [=](const std::string& text) {
             const auto read = scpiNumber(text, "NM");
             if (read.error) return ScpiAnswer::failed(*read.error);
             if (!source().lights.contains(read.value)) return ScpiAnswer::failed(scpi_error::outOfRange);
             source().wavelength = Nanometre(read.value);
             return ScpiAnswer{};
         },
         [=] { return ScpiAnswer::of(fmt::format("{:.0f}", source().wavelength.value())); }},
        {"SOURce:AM:STATe", boolean([=](bool on) { source().toneHz = on ? usual : 0; }),
         [=] { return ScpiAnswer::of(source().toneHz > 0 ? "1" : "0"); }},
        {"SOURce:AM[:INTernal]:FREQuency", number("HZ", slowest, fastest, [=](double hz) { source().toneHz = hz; }),
         [=] { return ScpiAnswer::of(fmt::format("{:.0f}", source().toneHz)); }},
    };
}

std::vector<ScpiCommand> meterCommands(const Now& now, const std::string& name)
{
    const auto meter = [=]() -> world::Meter& { return unitOf<world::Meter>(now, name); };
    const auto seen = [=] { return *now().power(name); };
    const auto reading = [=] {
        const auto power = seen();
        if (power.kind == world::PowerSeen::Kind::Overload) return ScpiAnswer::of(overload);
        if (power.kind == world::PowerSeen::Kind::NoLight) return ScpiAnswer::of(meter().watts && !meter().relative ? "0.0" : noLight);
        if (meter().relative) return ScpiAnswer::of(fmt::format("{:.2f}", (power.level - meter().zero).value()));
        if (meter().watts) return ScpiAnswer::of(fmt::format("{:.4E}", std::pow(10, power.level.value() / 10 - 3)));
        return ScpiAnswer::of(fmt::format("{:.2f}", power.level.value()));
    };
    return {
        {"SENSe:POWer:WAVelength", number("NM", 800, 1700, [=](double nm) { meter().wavelength = Nanometre(nm); }),
         [=] { return ScpiAnswer::of(fmt::format("{:.0f}", meter().wavelength.value())); }},
        {"SENSe:POWer:UNIT",
         [=](const std::string& text) {
             if (headerMatches("DBM", text))
                 meter().watts = false;
             else if (headerMatches("W", text))
                 meter().watts = true;
             else
                 return ScpiAnswer::failed(scpi_error::illegalValue);
             return ScpiAnswer{};
         },
         [=] { return ScpiAnswer::of(meter().watts ? "W" : "DBM"); }},
        {"READ:POWer", {}, reading},
        {"FETCh:POWer", {}, reading},
        {"SENSe:AM:FREQuency", {}, [=] { return ScpiAnswer::of(fmt::format("{:.0f}", seen().toneHz)); }},
        {"SENSe:POWer:REFerence:STATe", boolean([=](bool on) { meter().relative = on; }),
         [=] { return ScpiAnswer::of(meter().relative ? "1" : "0"); }},
        {"SENSe:POWer:REFerence",
         [=](const std::string& text) {
             if (headerMatches("TOREF", text)) {
                 const auto power = seen();
                 if (power.kind != world::PowerSeen::Kind::Level) return ScpiAnswer::failed(scpi_error::settingsConflict);
                 meter().zero = power.level;
                 return ScpiAnswer{};
             }
             const auto read = scpiNumber(text, "DBM");
             if (read.error) return ScpiAnswer::failed(*read.error);
             meter().zero = DecibelMilliwatt(read.value);
             return ScpiAnswer{};
         },
         [=] { return ScpiAnswer::of(fmt::format("{:.2f}", meter().zero.value())); }},
    };
}

std::vector<ScpiCommand> scopeCommands(const Now& now, const std::string& name)
{
    const auto scope = [=]() -> world::Scope& { return unitOf<world::Scope>(now, name); };
    constexpr double wheelReach = 25;  // um
    struct Scene {
        std::string face;
        std::size_t changes = 0;
        std::optional<world::Microscope> scope;
    };
    const auto scene = std::make_shared<Scene>();
    return {
        {"DISPlay:DATA",
         {},
         [=] {
             if (scope().face.empty()) return ScpiAnswer::failed(scpi_error::execution);
             world::Handling hand;
             hand.defocus = scope().focus;
             hand.seed = static_cast<std::uint32_t>(std::llround(now().now().value() * 1000));
             if (!scene->scope || scene->face != scope().face || scene->changes != now().changes()) {
                 auto drawn = now().microscope(scope().face);
                 if (!drawn) return ScpiAnswer::failed(scpi_error::execution);
                 *scene = {scope().face, now().changes(), std::move(*drawn)};
             }
             return ScpiAnswer::of(definiteBlock(encodePng(scene->scope->frame(hand))));
         }},
        {"FOCus", number("UM", -wheelReach, wheelReach, [=](double um) { scope().focus = Micrometre(um); }),
         [=] { return ScpiAnswer::of(fmt::format("{:.1f}", scope().focus.value())); }},
    };
}

std::vector<ScpiCommand> otdrCommands(const Now& now, const std::string& name)
{
    const auto otdr = [=]() -> world::Otdr& { return unitOf<world::Otdr>(now, name); };
    const auto plain = [](double value) { return ScpiAnswer::of(fmt::format("{:.0f}", value)); };
    return {
        {"SENSe:WAVelength", number("NM", 850, 1650, [=](double nm) { otdr().wavelength = Nanometre(nm); }),
         [=] { return plain(otdr().wavelength.value()); }},
        {"SENSe:PULSe", number("NS", 3, 20000, [=](double ns) { otdr().pulse = Nanosecond(ns); }), [=] { return plain(otdr().pulse.value()); }},
        {"SENSe:RANGe", number("M", 100, 200000, [=](double m) { otdr().range = Metre(m); }), [=] { return plain(otdr().range.value()); }},
        {"SENSe:AVERage", number("S", 1, 300, [=](double s) { otdr().averaging = Second(s); }), [=] { return plain(otdr().averaging.value()); }},
        {"INITiate",
         [=](const std::string&) {
             otdr().begin(now().now());
             return ScpiAnswer{};
         },
         {},
         true},
        {"TRACe:DATA:SOR",
         {},
         [=] {
             if (!otdr().shot || otdr().ready > now().now()) return ScpiAnswer::failed(scpi_error::settingsConflict);
             const auto trace = now().trace(name);
             return trace ? ScpiAnswer::of(definiteBlock(otdr::writeSor(*trace))) : ScpiAnswer::failed(scpi_error::execution);
         }},
    };
}

}  // namespace

ScpiDevice deviceOf(const std::string& name, const Now& now)
{
    const auto& unit = *now().instrument(name);
    const std::string kind = kindOf(unit);
    const std::string identity = fmt::format("CLENDO,SIMULATED {},{},1", kind, unit.serial.empty() ? "0" : unit.serial);
    auto commands = kind == "source"  ? sourceCommands(now, name)
                    : kind == "meter" ? meterCommands(now, name)
                    : kind == "scope" ? scopeCommands(now, name)
                                      : otdrCommands(now, name);
    const auto reset = [=] {
        auto& it = now().instrument(name)->unit;
        if (auto* source = std::get_if<world::Source>(&it)) {
            source->on = false;
            source->toneHz = 0;
            source->wavelength = Nanometre(source->lights.begin()->first);
        } else if (auto* meter = std::get_if<world::Meter>(&it)) {
            meter->wavelength = Nanometre(1310);
            meter->watts = meter->relative = false;
        } else if (auto* otdr = std::get_if<world::Otdr>(&it)) {
            *otdr = {};
        } else {
            std::get<world::Scope>(it).focus = Micrometre(0);
        }
    };
    const auto pending = [=] {
        const auto* otdr = std::get_if<world::Otdr>(&now().instrument(name)->unit);
        return otdr ? std::max(0.0, (otdr->ready - now().now()).value()) : 0;
    };
    return {identity, std::move(commands), reset, pending};
}

}  // namespace clendo::sim
