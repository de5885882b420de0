#include "sim/control.h"

#include <fmt/format.h>

#include <map>
#include <nlohmann/json.hpp>

#include "files/json_reading.h"

namespace clendo::sim {
namespace {

using nlohmann::json;

json refused(std::string_view code, const std::string& message) { return {{"ok", false}, {"error", {{"code", code}, {"message", message}}}}; }

json answered(const Result<void>& done) { return done ? json{{"ok", true}} : refused(codeName(done.error().code), done.error().message); }

const std::map<std::string, world::Cleaning, std::less<>>& cleanings()
{
    using world::Cleaning;
    static const std::map<std::string, Cleaning, std::less<>> all{
        {"dry", Cleaning::Dry}, {"wet", Cleaning::Wet}, {"wet-then-dry", Cleaning::WetThenDry}, {"fresh-tool", Cleaning::FreshTool}};
    return all;
}

const std::map<std::string, LineFault, std::less<>>& faults()
{
    static const std::map<std::string, LineFault, std::less<>> all{
        {"none", LineFault::None},       {"late", LineFault::Late},     {"half", LineFault::Half},   {"twice", LineFault::Twice},
        {"garbage", LineFault::Garbage}, {"silent", LineFault::Silent}, {"comma", LineFault::Comma}, {"milliwatt", LineFault::Milliwatt},
        {"cut", LineFault::Cut}};
    return all;
}

/// A deed, with what it needs read before anything is done.
Result<void> deed(world::World& world, const std::string& what, JsonReading& in, ControlWish& wish, bool& known)
{
    const auto bad = [&] { return failure(Error::Code::ReadingUnclear, fmt::format("{}.", in.problem().value_or(""))); };
    const auto onFace = [&](auto&& act) -> Result<void> {
        const std::string face = in.text("face");
        return in.problem() ? Result<void>(bad()) : act(face);
    };
    if (what == "touch") return onFace([&](const auto& f) { return world.touch(f); });
    if (what == "drop") return onFace([&](const auto& f) { return world.drop(f); });
    if (what == "cap") return onFace([&](const auto& f) { return world.cap(f, in.flagOr("on", true)); });
    if (what == "part") return onFace([&](const auto& f) { return world.part(f); });
    if (what == "move") return onFace([&](const auto& f) { return world.move(f); });
    if (what == "clean") {
        const auto how = cleanings().find(in.textOr("method", "dry"));
        if (how == cleanings().end()) in.complain("“method” is dry, wet, wet-then-dry or fresh-tool");
        return onFace([&](const auto& f) { return world.clean(f, how->second); });
    }
    if (what == "mate") {
        const std::string a = in.text("a"), b = in.text("b");
        return in.problem() ? Result<void>(bad()) : world.mate(a, b);
    }
    if (what == "connect") {
        const std::string from = in.text("from"), to = in.text("to");
        return in.problem() ? Result<void>(bad()) : world.connect(from, to);
    }
    if (what == "bend") {
        const double at = in.numberOrNothing("at_m", 0, 300000).value_or(1), loss = in.number("loss_1550_db", 0, 40);
        return onFace([&](const auto& f) { return world.bend(f, Metre(at), Decibel(loss)); });
    }
    if (what == "wait") {
        constexpr double longest = 31 * 86400.0;
        const double seconds = in.number("seconds", 0, longest);
        if (in.problem()) return bad();
        world.wait(Second(seconds));
        return {};
    }
    if (what == "fault") {
        const auto kind = faults().find(in.text("kind"));
        wish.instrument = in.text("instrument");
        if (kind == faults().end()) in.complain("“kind” is none, late, half, twice, garbage, silent, comma, milliwatt or cut");
        wish.late = in.numberOrNothing("seconds", 0, 3600).value_or(3);
        if (!in.problem() && !world.instrument(wish.instrument)) in.complain(fmt::format("there is no instrument “{}”", wish.instrument));
        if (in.problem()) return wish.instrument.clear(), bad();
        wish.fault = kind->second;
        return {};
    }
    known = false;
    return {};
}

}  // namespace

std::string control(world::World& world, const std::string& line, ControlWish& wish)
{
    const json asked = json::parse(line, nullptr, false);
    const auto text = [](const json& answer) { return answer.dump(-1, ' ', false, json::error_handler_t::replace); };
    if (!asked.is_object()) return text(refused(codeName(Error::Code::ReadingUnclear), "One JSON object a line: {\"do\": \"state\"}."));
    JsonReading in(asked, "");
    const std::string what = in.text("do");
    if (in.problem()) return text(refused(codeName(Error::Code::ReadingUnclear), *in.problem() + "."));
    if (what == "quit") {
        wish.quit = true;
        return text({{"ok", true}});
    }
    if (what == "state") {
        json out = world.state();
        out["ok"] = true;
        return text(out);
    }
    bool known = true;
    const auto done = deed(world, what, in, wish, known);
    if (!known) return text(refused(codeName(Error::Code::ReadingUnclear), fmt::format("Nobody knows how to do “{}”.", what)));
    json out = answered(done);
    if (done) out["time_s"] = world.now().value();
    return text(out);
}

}  // namespace clendo::sim
