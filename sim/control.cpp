#include "sim/control.h"

#include <fmt/format.h>

#include <map>
#include <nlohmann/json.hpp>

#include "files/json_reading.h"
#include "world/deeds.h"

namespace clendo::sim {
namespace {

using nlohmann::json;

json refused(std::string_view code, const std::string& message) { return {{"ok", false}, {"error", {{"code", code}, {"message", message}}}}; }

json answered(const Result<void>& done) { return done ? json{{"ok", true}} : refused(codeName(done.error().code), done.error().message); }

const std::map<std::string, LineFault, std::less<>>& faults()
{
    static const std::map<std::string, LineFault, std::less<>> all{
        {"none", LineFault::None},   {"late", LineFault::Late},           {"half", LineFault::Half},
        {"twice", LineFault::Twice}, {"garbage", LineFault::Garbage},     {"silent", LineFault::Silent},
        {"comma", LineFault::Comma}, {"milliwatt", LineFault::Milliwatt}, {"cut", LineFault::Cut}};
    return all;
}

/// The line to an instrument is to be spoiled.
Result<void> spoil(const world::World& world, JsonReading& in, ControlWish& wish)
{
    const auto kind = faults().find(in.text("kind"));
    const std::string instrument = in.text("instrument");
    if (kind == faults().end()) in.complain("“kind” is none, late, half, twice, garbage, silent, comma, milliwatt or cut");
    const double late = in.numberOrNothing("seconds", 0, 3600).value_or(3);
    if (!in.problem() && !world.instrument(instrument)) in.complain(fmt::format("there is no instrument “{}”", instrument));
    if (in.problem()) return failure(Error::Code::ReadingUnclear, fmt::format("{}.", *in.problem()));
    wish.instrument = instrument;
    wish.fault = kind->second;
    wish.late = late;
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
    const auto known = what == "fault" ? std::optional(spoil(world, in, wish)) : world::doDeed(world, asked);
    if (!known) return text(refused(codeName(Error::Code::ReadingUnclear), fmt::format("Nobody knows how to do “{}”.", what)));
    const auto& done = *known;
    json out = answered(done);
    if (done) out["time_s"] = world.now().value();
    return text(out);
}

}  // namespace clendo::sim
