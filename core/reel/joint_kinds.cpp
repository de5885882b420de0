#include "reel/joint_kinds.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "files/json_reading.h"

namespace clendo::reel {
namespace {

using nlohmann::json;

constexpr double perMetre = 1000;  // mm
constexpr std::uintmax_t largest = 1 << 20;

std::vector<JointStep> stepsOf(JsonReading& in)
{
    std::vector<JointStep> out;
    for (const auto& step : in.list("steps")) {
        JsonReading s(step, "steps");
        out.push_back({s.text("id"), s.text("do"), s.textOr("caution", "")});
        if (s.problem()) in.complain(*s.problem());
    }
    if (out.empty()) in.complain("“steps” are missing");
    return out;
}

JointKind kindOf(JsonReading& in)
{
    JointKind out;
    out.id = in.text("id");
    out.title = in.text("title");
    out.source = in.textOr("source", "");
    const auto length = [&](const char* key) -> std::optional<Metre> {
        const auto mm = in.numberOrNothing(key, 0, 10'000);
        return mm ? std::optional(Metre(*mm / perMetre)) : std::nullopt;
    };
    out.strip = length("strip_mm");
    out.cleave = length("cleave_mm");
    out.wayRound = in.textOr("way_round", "");
    out.seated = in.textOr("seated", "");
    out.uses = static_cast<int>(in.numberOrNothing("uses", 0, 1e6).value_or(0));
    if (const auto loss = in.numberOrNothing("loss_db", 0, 30)) out.loss = Decibel(*loss);
    out.steps = stepsOf(in);
    return out;
}

}  // namespace

std::string figuresOf(const JointKind& kind)
{
    std::vector<std::string> parts;
    if (kind.strip) parts.push_back(fmt::format("strip {:.0f} mm", kind.strip->value() * perMetre));
    if (kind.cleave) parts.push_back(fmt::format("cleave to {:.0f} mm", kind.cleave->value() * perMetre));
    if (kind.uses == 1) parts.emplace_back("used once");
    if (kind.uses > 1) parts.push_back(fmt::format("good for {} uses", kind.uses));
    if (kind.loss) parts.push_back(fmt::format("about {:.1f} dB", kind.loss->value()));
    return fmt::format("{}", fmt::join(parts, ", "));
}

const JointKind* JointKinds::find(std::string_view id) const
{
    const auto it = std::find_if(all.begin(), all.end(), [&](const JointKind& k) { return k.id == id; });
    return it == all.end() ? nullptr : &*it;
}

JointKinds jointKinds(const std::vector<std::filesystem::path>& folders)
{
    JointKinds out;
    std::vector<JointStep> before;
    for (const auto& folder : folders) {
        std::error_code none;
        for (auto it = std::filesystem::directory_iterator(folder, none), end = decltype(it)(); !none && it != end; it.increment(none)) {
            const auto& file = *it;
            if (file.path().extension() != ".json") continue;
            const std::string name = file.path().filename().string();
            const auto refuse = [&](const std::string& why) { out.troubles.push_back(fmt::format("{} cannot be used: {}.", name, why)); };
            std::error_code unknown;
            if (const auto size = file.file_size(unknown); unknown || size > largest) {
                refuse("it is no small text file");
                continue;
            }
            const auto text = readFile(file.path());
            const json value = text ? json::parse(*text, nullptr, false) : json();
            JsonReading in(value, "");
            const std::string format = in.textOr("format", "");
            if (format == "clendo-joint-preparation") {
                auto steps = stepsOf(in);
                if (!in.problem()) before = std::move(steps);
            } else if (format == "clendo-joint") {
                JointKind kind = kindOf(in);
                if (!in.problem()) {
                    std::erase_if(out.all, [&](const JointKind& k) { return k.id == kind.id; });
                    out.all.push_back(std::move(kind));
                }
            } else {
                in.complain("“format” is clendo-joint");
            }
            if (in.problem()) refuse(*in.problem());
        }
    }
    for (auto& kind : out.all) kind.steps.insert(kind.steps.begin(), before.begin(), before.end());
    std::sort(out.all.begin(), out.all.end(), [](const auto& a, const auto& b) { return a.title < b.title; });
    std::sort(out.troubles.begin(), out.troubles.end());
    return out;
}

}  // namespace clendo::reel
