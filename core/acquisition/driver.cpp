#include "acquisition/driver.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "files/json_reading.h"

namespace clendo {
namespace {

const std::set<std::string, std::less<>>& known(InstrumentKind kind)
{
    static const std::set<std::string, std::less<>> meter{"read",     "set_wavelength", "ask_wavelength", "set_unit",
                                                          "ask_tone", "ask_relative",   "absolute"};
    static const std::set<std::string, std::less<>> source{"set_wavelength", "ask_wavelength", "on",   "off",
                                                           "ask_on",         "continuous",     "tone", "ask_tone"};
    return kind == InstrumentKind::Meter ? meter : source;
}

/// A reason why a command cannot be sent; nothing: it can.
std::optional<std::string> wrongWith(const std::string& does, const std::string& text)
{
    constexpr std::size_t longest = 200;
    if (text.empty() || text.size() > longest) return fmt::format("“{}” must have 1 to {} letters", does, longest);
    if (std::any_of(text.begin(), text.end(), [](char c) { return static_cast<unsigned char>(c) < 32; }))
        return fmt::format("“{}” must be one line", does);
    const std::string_view wanted = does == "set_wavelength" ? "{nm}" : does == "tone" ? "{hz}" : "";
    for (auto at = text.find('{'); at != std::string::npos; at = text.find('{', at + 1))
        if (wanted.empty() || text.compare(at, wanted.size(), wanted) != 0) return fmt::format("“{}” has a placeholder that nobody fills", does);
    if (does == "set_wavelength" && text.find("{nm}") == std::string::npos) return std::string("“set_wavelength” needs {nm}");
    return std::nullopt;
}

}  // namespace

std::string_view name(InstrumentKind kind) { return kind == InstrumentKind::Meter ? "meter" : "source"; }

std::optional<std::string> Driver::command(std::string_view does, double number) const
{
    const auto it = commands.find(does);
    if (it == commands.end()) return std::nullopt;
    std::string out = it->second;
    for (const std::string_view placeholder : {"{nm}", "{hz}"})
        if (const auto at = out.find(placeholder); at != std::string::npos) out.replace(at, placeholder.size(), fmt::format("{:g}", number));
    return out;
}

Result<Driver> parseDriver(std::string_view text)
{
    const auto wrong = [](const std::string& what) {
        return failure(Error::Code::DriverInvalid, fmt::format("The driver cannot be used: {}. Compare it with the files in data/drivers.", what));
    };
    const auto root = nlohmann::json::parse(text, nullptr, false);
    if (!root.is_object()) return wrong("it is no JSON object");
    JsonReading in(root, "");
    if (in.textOr("format", "") != "clendo-driver" || in.numberOrNothing("format_version", 1, 1) != 1.0)
        return wrong("it is not marked as a Clendo driver of version 1");
    Driver out;
    out.name = in.text("name");
    out.version = in.textOr("version", "");
    const std::string kind = in.text("kind");
    if (kind != "source" && kind != "meter") in.complain("“kind” is source or meter");
    out.kind = kind == "source" ? InstrumentKind::Source : InstrumentKind::Meter;
    out.identify = in.textOr("identify", out.identify);
    out.like = in.textOr("like", "*");
    out.lineEnd = in.textOr("line_end", out.lineEnd);
    if (out.lineEnd != "\n" && out.lineEnd != "\r\n" && out.lineEnd != "\r") in.complain("“line_end” is LF, CR or CR LF");
    out.timeoutMs = static_cast<int>(in.numberOrNothing("timeout_ms", 50, 60000).value_or(out.timeoutMs));
    out.everyMs = static_cast<int>(in.numberOrNothing("every_ms", 10, 10000).value_or(out.everyMs));
    out.baud = static_cast<int>(in.numberOrNothing("baud", 300, 4000000).value_or(out.baud));
    out.floor = DecibelMilliwatt(in.numberOrNothing("floor_dbm", -110, 0).value_or(out.floor.value()));
    out.unit = in.textOr("unit", out.unit);
    if (out.unit != "dBm" && out.unit != "W" && out.unit != "mW") in.complain("“unit” is dBm, W or mW");
    for (const auto& [key, into] : {std::pair("overload", &out.overload), {"no_light", &out.noLight}})
        if (in.find(key)) {
            for (const auto& code : in.list(key)) {
                if (!code.is_string())
                    in.complain(fmt::format("“{}” must be a list of texts", key));
                else
                    into->push_back(code.get<std::string>());
            }
        }
    const auto* commands = in.find("commands");
    if (!commands || !commands->is_object()) {
        in.complain("“commands” must be an object");
    } else {
        for (const auto& [does, command] : commands->items()) {
            if (!known(out.kind).contains(does))
                in.complain(fmt::format("nobody knows the command “{}” of a {}", does, kind));
            else if (!command.is_string())
                in.complain(fmt::format("“{}” must be a text", does));
            else if (const auto trouble = wrongWith(does, command.get<std::string>()))
                in.complain(*trouble);
            else
                out.commands[does] = command.get<std::string>();
        }
        if (out.kind == InstrumentKind::Meter && !out.commands.contains("read")) in.complain("a meter needs the command “read”");
    }
    if (in.problem()) return wrong(*in.problem());
    return out;
}

bool matches(const Driver& driver, std::string_view identity)
{
    // what stands between the stars, in its order
    std::string_view like = driver.like, rest = identity;
    bool anchored = true;
    while (!like.empty()) {
        const auto star = like.find('*');
        const auto piece = like.substr(0, star);
        const auto at = rest.find(piece);
        if (at == std::string_view::npos || (anchored && at != 0)) return false;
        rest = rest.substr(at + piece.size());
        if (star == std::string_view::npos) return rest.empty();
        like = like.substr(star + 1);
        anchored = false;
        if (like.empty()) return true;
    }
    return rest.empty();
}

std::vector<Driver> shippedDrivers(const RuleFiles& rules)
{
    std::vector<Driver> out;
    for (const char* file : {"drivers/scpi-meter.json", "drivers/scpi-source.json"})
        if (const auto text = rules.shipped(file))
            if (auto driver = parseDriver(*text)) out.push_back(std::move(*driver));
    return out;
}

}  // namespace clendo
