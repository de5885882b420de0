#include "world/deeds.h"

#include <fmt/format.h>

#include <map>
#include <nlohmann/json.hpp>

#include "files/json_reading.h"

namespace clendo::world {

std::optional<Cleaning> cleaningNamed(std::string_view name)
{
    static const std::map<std::string, Cleaning, std::less<>> all{
        {"dry", Cleaning::Dry}, {"wet", Cleaning::Wet}, {"wet-then-dry", Cleaning::WetThenDry}, {"fresh-tool", Cleaning::FreshTool}};
    const auto it = all.find(name);
    return it == all.end() ? std::nullopt : std::optional(it->second);
}

std::optional<Result<void>> doDeed(World& world, const nlohmann::json& deed)
{
    JsonReading in(deed, "");
    const std::string what = in.textOr("do", "");
    const auto bad = [&] { return failure(Error::Code::ReadingUnclear, fmt::format("{}.", in.problem().value_or(""))); };
    const auto onFace = [&](auto&& act) -> Result<void> {
        const std::string face = in.text("face");
        return in.problem() ? Result<void>(bad()) : act(face);
    };
    const auto onTwo = [&](const char* first, const char* second, auto&& act) -> Result<void> {
        const std::string a = in.text(first), b = in.text(second);
        return in.problem() ? Result<void>(bad()) : act(a, b);
    };
    if (what == "touch") return onFace([&](const auto& f) { return world.touch(f); });
    if (what == "drop") return onFace([&](const auto& f) { return world.drop(f); });
    if (what == "part") return onFace([&](const auto& f) { return world.part(f); });
    if (what == "move") return onFace([&](const auto& f) { return world.move(f); });
    if (what == "cap") {
        const bool on = in.flagOr("on", true);
        return onFace([&](const auto& f) { return world.cap(f, on); });
    }
    if (what == "clean") {
        const auto how = cleaningNamed(in.textOr("method", "dry"));
        if (!how) in.complain("“method” is dry, wet, wet-then-dry or fresh-tool");
        return onFace([&](const auto& f) { return world.clean(f, *how); });
    }
    if (what == "mate") return onTwo("a", "b", [&](const auto& a, const auto& b) { return world.mate(a, b); });
    if (what == "connect") return onTwo("from", "to", [&](const auto& from, const auto& to) { return world.connect(from, to); });
    if (what == "bend") {
        const double at = in.numberOrNothing("at_m", 0, 300000).value_or(1), loss = in.number("loss_1550_db", 0, 40);
        return onFace([&](const auto& f) { return world.bend(f, Metre(at), Decibel(loss)); });
    }
    if (what == "shoot") {
        const std::string name = in.text("instrument");
        const auto unit = world.instrument(name);
        auto* otdr = unit ? std::get_if<Otdr>(&unit->unit) : nullptr;
        if (!otdr) in.complain(fmt::format("there is no OTDR “{}”", name));
        const auto set = [&](const char* key, double low, double high, auto& to) {
            using Quantity = std::remove_reference_t<decltype(to)>;
            if (const auto value = in.numberOrNothing(key, low, high)) to = Quantity(*value);
        };
        Otdr wanted = otdr ? *otdr : Otdr();
        set("wavelength_nm", 850, 1650, wanted.wavelength);
        set("pulse_ns", 3, 20000, wanted.pulse);
        set("range_m", 100, 200000, wanted.range);
        set("seconds", 1, 300, wanted.averaging);
        if (in.problem()) return bad();
        *otdr = wanted;
        otdr->begin(world.now());
        return Result<void>();
    }
    if (what == "wait") {
        constexpr double longest = 31 * 86400.0;
        const double seconds = in.number("seconds", 0, longest);
        if (in.problem()) return bad();
        world.wait(Second(seconds));
        return Result<void>();
    }
    return std::nullopt;
}

}  // namespace clendo::world
