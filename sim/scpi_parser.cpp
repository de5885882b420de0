#include "sim/scpi_parser.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <utility>

namespace clendo::sim {
namespace {

constexpr std::size_t mostErrors = 16;

char lower(char c) { return static_cast<char>(std::tolower(static_cast<unsigned char>(c))); }

bool sameWord(std::string_view a, std::string_view b)
{
    return a.size() == b.size() && std::equal(a.begin(), a.end(), b.begin(), [](char x, char y) { return lower(x) == lower(y); });
}

std::string_view trimmed(std::string_view text)
{
    const auto isSpace = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; };
    while (!text.empty() && isSpace(text.front())) text.remove_prefix(1);
    while (!text.empty() && isSpace(text.back())) text.remove_suffix(1);
    return text;
}

bool nodeMatches(std::string_view pattern, std::string_view said)
{
    std::string shortForm;
    for (const char c : pattern)
        if (!std::islower(static_cast<unsigned char>(c))) shortForm += c;
    if (said.ends_with('1') && !pattern.ends_with('1')) said.remove_suffix(1);
    return sameWord(said, pattern) || sameWord(said, shortForm);
}

std::string_view takeNode(std::string_view& rest)
{
    const auto colon = rest.find(':');
    const auto node = rest.substr(0, colon);
    rest = colon == std::string_view::npos ? std::string_view() : rest.substr(colon + 1);
    return node;
}

bool nodesMatch(std::string_view pattern, std::string_view said)
{
    if (pattern.empty()) return said.empty();
    if (const auto bracket = pattern.find('['); bracket != std::string_view::npos) {
        const auto close = pattern.find(']', bracket);
        const std::string with = std::string(pattern.substr(0, bracket)) + std::string(pattern.substr(bracket + 1, close - bracket - 1)) +
                                 std::string(pattern.substr(close + 1));
        const std::string without = std::string(pattern.substr(0, bracket)) + std::string(pattern.substr(close + 1));
        return nodesMatch(with, said) || nodesMatch(without, said);
    }
    if (said.empty()) return false;
    const auto wanted = takeNode(pattern), given = takeNode(said);
    return nodeMatches(wanted, given) && nodesMatch(pattern, said);
}

}  // namespace

bool headerMatches(std::string_view pattern, std::string_view said) { return nodesMatch(pattern, said); }

ScpiNumber scpiNumber(std::string_view text, std::string_view unit)
{
    text = trimmed(text);
    if (text.starts_with('+')) text.remove_prefix(1);
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (code != std::errc() || !std::isfinite(value)) return {0, scpi_error::dataType};
    const auto suffix = trimmed(text.substr(static_cast<std::size_t>(end - text.data())));
    if (!suffix.empty() && !sameWord(suffix, unit)) return {0, scpi_error::invalidSuffix};
    return {value, {}};
}

std::optional<bool> scpiBoolean(std::string_view text)
{
    if (sameWord(text, "ON") || text == "1") return true;
    if (sameWord(text, "OFF") || text == "0") return false;
    return std::nullopt;
}

std::string definiteBlock(std::string_view bytes)
{
    constexpr std::size_t sixDigits = 1'000'000;
    return (bytes.size() < sixDigits ? fmt::format("#6{:06}", bytes.size()) : fmt::format("#9{:09}", bytes.size())) + std::string(bytes);
}

ScpiDevice::ScpiDevice(std::string identity, std::vector<ScpiCommand> commands, std::function<void()> reset, std::function<double()> pending)
    : identity_(std::move(identity)), commands_(std::move(commands)), reset_(std::move(reset)), pending_(std::move(pending))
{
}

void ScpiDevice::raise(const ScpiError& error)
{
    // IEEE 488.2, 11.5.1.1: command error 32, execution error 16, device dependent 8
    events_ |= error.number <= -300 ? 8 : error.number <= -200 ? 16 : 32;
    if (errors_.size() < mostErrors)
        errors_.push_back(error);
    else
        errors_.back() = scpi_error::queueOverflow;
}

std::optional<ScpiAnswer> ScpiDevice::common(std::string_view header, std::string_view parameter, bool query)
{
    const auto is = [&](std::string_view name, bool asked) { return query == asked && sameWord(header, name); };
    const auto mask = [&](int& into) {
        const auto number = scpiNumber(parameter, "");
        if (number.error) return ScpiAnswer::failed(*number.error);
        if (number.value < 0 || number.value > 255) return ScpiAnswer::failed(scpi_error::outOfRange);
        into = static_cast<int>(number.value);
        return ScpiAnswer{};
    };
    if (is("*IDN", true)) return ScpiAnswer::of(identity_);
    if (is("*OPC", true)) return ScpiAnswer{"1", {}, pending_()};
    if (is("*TST", true)) return ScpiAnswer::of("0");
    if (is("*ESR", true)) return ScpiAnswer::of(std::to_string(std::exchange(events_, 0)));
    if (is("*ESE", true)) return ScpiAnswer::of(std::to_string(eventMask_));
    if (is("*SRE", true)) return ScpiAnswer::of(std::to_string(serviceMask_));
    if (is("*STB", true)) return ScpiAnswer::of(std::to_string((errors_.empty() ? 0 : 4) + ((events_ & eventMask_) != 0 ? 32 : 0)));
    if (is("*ESE", false)) return mask(eventMask_);
    if (is("*SRE", false)) return mask(serviceMask_);
    if (is("*WAI", false)) return ScpiAnswer{};
    if (is("*OPC", false)) return events_ |= 1, ScpiAnswer{};
    if (is("*CLS", false)) return events_ = 0, errors_.clear(), ScpiAnswer{};
    if (is("*RST", false)) return reset_(), ScpiAnswer{};
    return std::nullopt;
}

ScpiAnswer ScpiDevice::unit(std::string_view text, std::string& path)
{
    text = trimmed(text);
    if (text.empty()) return {};
    const auto space = std::find_if(text.begin(), text.end(), [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; });
    std::string header(text.begin(), space);
    const std::string parameter(trimmed(text.substr(static_cast<std::size_t>(space - text.begin()))));
    const bool query = header.ends_with('?');
    if (query) header.pop_back();
    if (header.starts_with('*')) {
        if (auto answer = common(header, parameter, query)) return *answer;
        return ScpiAnswer::failed(scpi_error::undefinedHeader);
    }
    if (headerMatches("SYSTem:ERRor[:NEXT]", header.starts_with(':') ? std::string_view(header).substr(1) : header) && query) {
        if (errors_.empty()) return ScpiAnswer::of("0,\"No error\"");
        const ScpiError first = errors_.front();
        errors_.pop_front();
        return ScpiAnswer::of(fmt::format("{},\"{}\"", first.number, first.text));
    }
    if (query && headerMatches("SYSTem:VERSion", header)) return ScpiAnswer::of("1999.0");
    // what follows a semicolon begins where the last header ended, without its last node (SCPI-99 volume 1, 6.2.4)
    std::vector<std::string> tried;
    if (header.starts_with(':'))
        tried.push_back(header.substr(1));
    else {
        if (!path.empty()) tried.push_back(path + ":" + header);
        tried.push_back(header);
    }
    for (const auto& full : tried)
        for (const auto& command : commands_) {
            if (!headerMatches(command.header, full)) continue;
            const auto last = full.rfind(':');
            path = last == std::string::npos ? std::string() : full.substr(0, last);
            if (query) return command.query ? command.query() : ScpiAnswer::failed(scpi_error::undefinedHeader);
            if (!command.set) return ScpiAnswer::failed(scpi_error::undefinedHeader);
            if (command.takesNone && !parameter.empty()) return ScpiAnswer::failed(scpi_error::notAllowed);
            if (!command.takesNone && parameter.empty()) return ScpiAnswer::failed(scpi_error::missing);
            return command.set(parameter);
        }
    return ScpiAnswer::failed(scpi_error::undefinedHeader);
}

ScpiAnswer ScpiDevice::line(std::string_view text)
{
    ScpiAnswer out;
    std::string path;
    while (true) {
        const auto semicolon = text.find(';');
        const auto answer = unit(text.substr(0, semicolon), path);
        out.after = std::max(out.after, answer.after);
        if (answer.error) {
            raise(*answer.error);
            break;  // what follows an error in a line is not done
        }
        if (!answer.bytes.empty()) out.bytes += (out.bytes.empty() ? "" : ";") + answer.bytes;
        if (semicolon == std::string_view::npos) break;
        text = text.substr(semicolon + 1);
    }
    return out;
}

}  // namespace clendo::sim
