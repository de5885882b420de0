#include "plant/plan_csv.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <map>
#include <set>

#include "plant/plan_text.h"

namespace clendo {
namespace {

constexpr std::size_t mostBytes = 4'000'000, mostLines = 2'000;
constexpr int mostFibresInAll = 50'000;  // more than any job, and what a plan still handles

void appendUtf8(std::string& out, unsigned code)
{
    if (code < 0x80) {
        out += static_cast<char>(code);
    } else if (code < 0x800) {
        out += static_cast<char>(0xC0 | (code >> 6));
        out += static_cast<char>(0x80 | (code & 0x3F));
    } else {
        if (code >= 0x10000) {
            out += static_cast<char>(0xF0 | (code >> 18));
            out += static_cast<char>(0x80 | ((code >> 12) & 0x3F));
        } else {
            out += static_cast<char>(0xE0 | (code >> 12));
        }
        out += static_cast<char>(0x80 | ((code >> 6) & 0x3F));
        out += static_cast<char>(0x80 | (code & 0x3F));
    }
}

bool isUtf8(std::string_view text)
{
    for (std::size_t i = 0; i < text.size();) {
        const auto c = static_cast<unsigned char>(text[i]);
        const std::size_t more = c < 0x80 ? 0 : (c >> 5) == 6 ? 1 : (c >> 4) == 14 ? 2 : (c >> 3) == 30 ? 3 : 9;
        if (more == 9 || i + more >= text.size() + (more == 0 ? 1 : 0)) return false;
        for (std::size_t k = 1; k <= more; ++k)
            if ((static_cast<unsigned char>(text[i + k]) >> 6) != 2) return false;
        i += more + 1;
    }
    return true;
}

/// What spreadsheets write, as UTF-8. Windows-1252 beyond Latin-1 has only punctuation, of which the dash matters in port ranges.
std::string asUtf8(std::string_view bytes)
{
    if (bytes.starts_with("\xEF\xBB\xBF")) return std::string(bytes.substr(3));
    if (bytes.starts_with("\xFF\xFE") || bytes.starts_with("\xFE\xFF")) {
        const bool little = bytes[0] == '\xFF';
        const auto unit = [&](std::size_t i) -> unsigned {
            if (i + 1 >= bytes.size()) return 0;
            const unsigned a = static_cast<unsigned char>(bytes[i]), b = static_cast<unsigned char>(bytes[i + 1]);
            return little ? a | (b << 8) : b | (a << 8);
        };
        std::string out;
        for (std::size_t i = 2; i + 1 < bytes.size(); i += 2) {
            const unsigned high = unit(i), low = unit(i + 2);
            if (high >= 0xD800 && high < 0xDC00 && low >= 0xDC00 && low < 0xE000) {
                appendUtf8(out, 0x10000 + ((high - 0xD800) << 10) + (low - 0xDC00));
                i += 2;
            } else {
                appendUtf8(out, high >= 0xD800 && high < 0xE000 ? '?' : high);  // half of a pair is no character
            }
        }
        return out;
    }
    if (isUtf8(bytes)) return std::string(bytes);
    std::string out;
    for (const char c : bytes) {
        const auto code = static_cast<unsigned char>(c);
        appendUtf8(out, code == 0x96 || code == 0x97 ? '-' : code);
    }
    return out;
}

/// Lines of fields; a quoted field may hold the separator, line ends and doubled quotes. An Error names the line of a quote that is never closed.
Result<std::vector<std::pair<int, std::vector<std::string>>>> fieldsOf(const std::string& text, char separator)
{
    std::vector<std::pair<int, std::vector<std::string>>> out;
    std::vector<std::string> row;
    std::string field;
    bool quoted = false;
    int line = 1, began = 1, quotedAt = 1;
    const auto endRow = [&] {
        row.push_back(std::string(trimmed(field)));
        field.clear();
        if (std::any_of(row.begin(), row.end(), [](const auto& f) { return !f.empty(); })) out.emplace_back(began, row);
        row.clear();
        began = line;
    };
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '\n') ++line;
        if (quoted) {
            if (c == '"' && i + 1 < text.size() && text[i + 1] == '"')
                field += '"', ++i;
            else if (c == '"')
                quoted = false;
            else
                field += c;
        } else if (c == '"' && trimmed(field).empty()) {
            quoted = true;
            quotedAt = line;
        } else if (c == separator) {
            row.push_back(std::string(trimmed(field)));
            field.clear();
        } else if (c == '\n' || (c == '\r' && (i + 1 == text.size() || text[i + 1] != '\n'))) {
            endRow();
        } else if (c != '\r') {
            field += c;
        }
    }
    if (quoted)
        return failure(
            Error::Code::PlanInvalid,
            fmt::format("The quote that begins in line {} is never closed. Close it, or take it out, and read the table again.", quotedAt));
    endRow();
    return out;
}

/// "Place_A" and "place a" are one column.
std::string columnKey(std::string_view head)
{
    std::string key;
    for (const char c : head) key += c == '_' || c == '-' ? ' ' : static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c);
    return key;
}

constexpr std::array<std::string_view, 30> columns{
    "cable",          "place a",   "panel a", "ports a",     "place b",     "panel b",    "ports b",  "fibres",   "fibre",    "connector",
    "in one ferrule", "end faces", "length",  "splices",     "cord a",      "cord b",     "access a", "access b", "rack a",   "rack b",
    "in one tube",    "pins a",    "pins b",  "connector b", "end faces b", "patched at", "device a", "device b", "polarity", "eight of twelve"};

class LineReading {
public:
    explicit LineReading(const std::map<std::string, std::string>& cells) : cells_(cells) {}

    PlanLine run(int line)
    {
        CablePlan c;
        c.id = need("cable");
        c.placeA = need("place a");
        c.placeB = need("place b");
        c.panelA = text("panel a", c.placeA);
        c.panelB = text("panel b", c.placeB);
        c.fibre = text("fibre", c.fibre);
        c.connector = text("connector", c.connector);
        c.ferruleFibres = whole("in one ferrule", 1).value_or(1);
        c.tubeFibres = whole("in one tube", 1).value_or(12);
        c.className = text("end faces", isMultimode(c)        ? (c.ferruleFibres > 1 ? "mm-multi" : "mm-pc")
                                        : c.ferruleFibres > 1 ? "sm-multi-apc"
                                                              : "sm-upc");
        const auto length = parseLength(need("length"));
        if (!length) complain("length", "is no length, for example 2400 m");
        c.length = length.value_or(Metre(1));
        ports(c);
        if (const auto splices = parseSplices(text("splices", "")))
            c.splices = *splices;
        else
            complain("splices", splices.error().message);
        if (auto panels = parsePanels(text("patched at", "")))
            c.inner = std::move(*panels);
        else
            complain("patched at", panels.error().message);
        c.endB.connector = text("connector b", "");
        c.endB.className = text("end faces b", "");
        c.endA.device = text("device a", "");
        c.endB.device = text("device b", "");
        c.endA.cordClass = text("cord a", "");
        c.endB.cordClass = text("cord b", "");
        c.endA.access = access("access a");
        c.endB.access = access("access b");
        c.endA.rack = text("rack a", "");
        c.endB.rack = text("rack b", "");
        c.polarity = text("polarity", c.polarity);
        const std::string eight = text("eight of twelve", "no");
        c.eightOfTwelve = eight == "yes";
        if (eight != "yes" && eight != "no") complain("eight of twelve", "is yes or no");
        c.endA.pins = pins("pins a");
        c.endB.pins = pins("pins b");
        if (trouble_.empty())
            if (const auto ok = check(c); !ok) trouble_ = ok.error().message;
        return trouble_.empty() ? PlanLine{line, std::move(c), {}} : PlanLine{line, {}, trouble_};
    }

private:
    [[nodiscard]] std::string text(std::string_view column, const std::string& fallback) const
    {
        const auto it = cells_.find(std::string(column));
        return it == cells_.end() || it->second.empty() ? fallback : it->second;
    }
    std::string need(std::string_view column)
    {
        std::string value = text(column, "");
        if (value.empty()) complain(column, "is empty");
        return value;
    }
    void complain(std::string_view column, std::string_view what)
    {
        if (trouble_.empty()) trouble_ = fmt::format("Column “{}”: {}{}.", column, cell(column), what);
        while (trouble_.ends_with("..")) trouble_.pop_back();
    }
    [[nodiscard]] std::string cell(std::string_view column) const
    {
        const std::string value = text(column, "");
        return value.empty() ? "" : fmt::format("“{}” ", value);
    }
    std::optional<int> whole(std::string_view column, int least)
    {
        const std::string value = text(column, "");
        if (value.empty()) return std::nullopt;
        int n = 0;
        const auto parsed = std::from_chars(value.data(), value.data() + value.size(), n);
        if (parsed.ec == std::errc{} && parsed.ptr == value.data() + value.size() && n >= least) return n;
        complain(column, "is no whole number");
        return std::nullopt;
    }
    Access access(std::string_view column)
    {
        const auto found = accessNamed(text(column, "adapter"));
        if (!found) complain(column, "must be adapter, device or hardened");
        return found.value_or(Access::Adapter);
    }
    std::optional<Side> pins(std::string_view column)
    {
        const std::string value = text(column, "");
        const auto side = sideNamed(value);
        if (!side && !value.empty()) complain(column, "must be cord, port or empty");
        return side;
    }
    void ports(CablePlan& c)
    {
        std::optional<int> count = whole("fibres", 1);
        for (const auto& [column, end] : {std::pair<std::string_view, CableEnd*>{"ports a", &c.endA}, {"ports b", &c.endB}}) {
            const std::string value = text(column, "");
            if (value.empty()) continue;
            const auto range = parsePorts(value);
            if (!range) {
                complain(column, "is no range of ports, for example 1-24");
                continue;
            }
            const int fibres = (range->second - range->first + 1) * c.ferruleFibres;
            if (range->first != range->second || !count) {
                if (count && *count != fibres) complain(column, fmt::format("holds {} fibres, elsewhere the line says {}", fibres, *count));
                count = fibres;
            }
            end->firstPort = range->first;
        }
        if (!count) complain("fibres", "is empty, and so are the ports");
        c.fibres = count.value_or(1);
    }

    const std::map<std::string, std::string>& cells_;
    std::string trouble_;
};

}  // namespace

Result<std::vector<PlanLine>> readPlanCsv(std::string_view bytes)
{
    const auto bad = [](std::string sentence) { return failure(Error::Code::PlanInvalid, std::move(sentence)); };
    if (bytes.size() > mostBytes) return bad("This table is larger than any plan: is it the right file?");
    const std::string text = asUtf8(bytes);
    if (text.find('\0') != std::string::npos) return bad("This file is no table of text. Save the sheet as CSV.");
    const std::string head = text.substr(0, text.find('\n'));
    char separator = ',';
    for (const char c : {';', '\t'})
        if (std::count(head.begin(), head.end(), c) > std::count(head.begin(), head.end(), separator)) separator = c;
    const auto fieldRows = fieldsOf(text, separator);
    if (!fieldRows) return tl::unexpected(fieldRows.error());
    const auto& rows = *fieldRows;
    if (rows.empty()) return bad("The table is empty.");
    if (rows.size() > mostLines) return bad(fmt::format("The table has more than {} lines: is it the right file?", mostLines));
    std::vector<std::string> keys;
    for (const auto& name : rows.front().second) keys.push_back(columnKey(name));
    for (const std::string_view needed : {"cable", "place a", "place b", "length"})
        if (std::find(keys.begin(), keys.end(), needed) == keys.end())
            return bad(fmt::format("The first line must name the columns; “{}” is missing. An example can be saved from the same dialog.", needed));
    std::vector<PlanLine> out;
    std::set<std::string> ids;
    int fibres = 0;
    for (std::size_t n = 1; n < rows.size(); ++n) {
        const auto& [line, fields] = rows[n];
        if (fields.size() > keys.size()) {
            out.push_back(
                {line,
                 {},
                 fmt::format("The line has {} fields, the head {}. A field with the separator in it needs quotes.", fields.size(), keys.size())});
            continue;
        }
        std::map<std::string, std::string> cells;
        for (std::size_t k = 0; k < fields.size(); ++k) cells[keys[k]] = fields[k];
        PlanLine read = LineReading(cells).run(line);
        if (read.cable && !ids.insert(read.cable->id).second) read = {line, {}, fmt::format("Cable {} stands in the table twice.", read.cable->id)};
        if (read.cable && (fibres += read.cable->fibres) > mostFibresInAll)
            return bad(fmt::format("The table plans more than {} fibres: is it the right file? Cut it into several jobs.", mostFibresInAll));
        out.push_back(std::move(read));
    }
    return out;
}

std::string planCsvExample()
{
    std::string out;
    for (const auto& c : columns) out += fmt::format("{}{}", out.empty() ? "" : ",", c);
    return out +
           "\nVP-04,Tide Hall,TH-R2,1-12,Breakwater Hut,BH box,1-12,12,OS2,LC,1,sm-upc,2400 m,1180 manhole 3; 1905 sea "
           "wall,,,adapter,adapter,R2,,12,,,,,,,,,\n";
}

}  // namespace clendo
