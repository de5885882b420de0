#include "power/pasted_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <tuple>

#include "files/typed_number.h"

namespace clendo {
namespace {

constexpr std::size_t mostLines = 20000, mostColumns = 100, longestText = 8 << 20;
constexpr DecibelMilliwatt lowestLevel{-90}, highestLevel{30};
constexpr Decibel leastLoss{-10}, greatestLoss{80};
using Kind = PastedColumn::Kind;

std::optional<TypedNumber> numberIn(const std::string& cell, bool comma) { return typedNumber(cell, comma ? Comma::Decimal : Comma::None); }

std::optional<Direction> directionIn(const std::string& text)
{
    std::string said = lowerCase(text);
    std::erase_if(said, [](char c) { return c == ' ' || c == '-' || c == '>' || c == '_'; });
    for (const std::string_view arrow : {"\xE2\x86\x92", "\xE2\x80\x93"})
        if (const auto at = said.find(arrow); at != std::string::npos) said.erase(at, arrow.size());
    const auto has = [&](std::string_view what) { return said.find(what) != std::string::npos; };
    if (said == "a" || said == "ab" || has("atob") || has("sourceata") || has("froma") || has("ab(") || has(")ab") || said.ends_with("ab"))
        return Direction::AtoB;
    if (said == "b" || said == "ba" || has("btoa") || has("sourceatb") || has("fromb") || said.ends_with("ba")) return Direction::BtoA;
    return std::nullopt;
}

std::optional<Nanometre> wavelengthIn(const std::string& text)
{
    for (const int nm : {850, 953, 1300, 1310, 1383, 1490, 1550, 1625})
        if (const auto at = text.find(std::to_string(nm)); at != std::string::npos) {
            const auto digit = [&](std::size_t i) { return i < text.size() && std::isdigit(static_cast<unsigned char>(text[i])) != 0; };
            if ((at == 0 || !digit(at - 1)) && !digit(at + std::to_string(nm).size())) return Nanometre(nm);
        }
    return std::nullopt;
}

std::vector<std::string> split(std::string_view line, char separator)
{
    std::vector<std::string> out{std::string()};
    bool quoted = false;
    for (const char c : line) {
        if (c == '"') quoted = !quoted;
        if (c == separator && !quoted)
            out.emplace_back();
        else if (c != '\r')
            out.back() += c;
    }
    for (auto& cell : out) cell = trimmedText(cell);
    return out;
}

char separatorOf(std::string_view text)
{
    if (text.find('\t') != std::string_view::npos) return '\t';
    return text.find(';') != std::string_view::npos ? ';' : ',';
}

bool hasDecimalComma(const std::vector<std::vector<std::string>>& cells)
{
    std::size_t commas = 0, points = 0;
    for (const auto& row : cells)
        for (const auto& cell : row) {
            const auto between = [&](char sign) {
                const auto at = cell.find(sign);
                return at != std::string::npos && at > 0 && at + 1 < cell.size() && std::isdigit(static_cast<unsigned char>(cell[at - 1])) != 0 &&
                       std::isdigit(static_cast<unsigned char>(cell[at + 1])) != 0;
            };
            commas += between(',') ? 1 : 0;
            points += between('.') ? 1 : 0;
        }
    return commas > points;
}

/// The values of a column below its titles that are numbers.
std::vector<TypedNumber> numbersOf(const PastedTable& table, std::size_t column)
{
    std::vector<TypedNumber> out;
    for (std::size_t i = table.headers; i < table.cells.size(); ++i)
        if (const auto number = numberIn(table.cells[i][column], table.commaDecimal)) out.push_back(*number);
    return out;
}

bool all(const std::vector<TypedNumber>& cells, const std::function<bool(const TypedNumber&)>& is)
{
    return !cells.empty() && std::all_of(cells.begin(), cells.end(), is);
}

Kind kindOf(const PastedTable& table, std::size_t column, const std::string& title, bool fibreFound)
{
    const std::string said = lowerCase(title);
    const auto has = [&](std::string_view what) { return said.find(what) != std::string::npos; };
    const auto numbers = numbersOf(table, column);
    if (numbers.empty()) {
        const bool directions = std::any_of(table.cells.begin() + static_cast<std::ptrdiff_t>(table.headers), table.cells.end(),
                                            [&](const auto& row) { return directionIn(row[column]).has_value(); });
        return directions ? Kind::Direction : Kind::LeftOut;
    }
    const bool whole = all(numbers, [](const TypedNumber& c) { return c.value == std::round(c.value) && c.unit.empty(); });
    if (whole && all(numbers, [](const TypedNumber& c) { return wavelengthIn(std::to_string(std::lround(c.value))).has_value(); }))
        return Kind::Wavelength;
    if (!fibreFound && whole && all(numbers, [](const TypedNumber& c) { return c.value >= 1 && c.value <= 10000; }) &&
        (column == 0 || has("fib") || has("port") || has("no")))
        return Kind::Fibre;
    if (has("limit") || has("margin") || has("length") || has("spare")) return Kind::LeftOut;
    if (has("dbm") || std::any_of(numbers.begin(), numbers.end(), [](const TypedNumber& c) { return c.unit == "dbm"; })) return Kind::Level;
    if (has("loss") || has("db") || std::any_of(numbers.begin(), numbers.end(), [](const TypedNumber& c) { return c.unit == "db"; }))
        return Kind::Loss;
    // bare numbers: levels lie well below zero, losses above
    if (all(numbers, [](const TypedNumber& c) { return c.value < -3; })) return Kind::Level;
    return wavelengthIn(title) || directionIn(title) ? Kind::Loss : Kind::LeftOut;
}

}  // namespace

std::string_view name(Kind kind)
{
    switch (kind) {
        case Kind::LeftOut: return "left out";
        case Kind::Fibre: return "fibre";
        case Kind::Wavelength: return "wavelength";
        case Kind::Direction: return "direction";
        case Kind::Level: return "level, dBm";
        case Kind::Loss: return "loss, dB";
    }
    return "left out";
}

Result<PastedTable> guessTable(std::string_view text)
{
    if (text.size() > longestText)
        return failure(Error::Code::ReadingUnclear, "What was pasted is larger than any table of readings. Copy the cells of one cable.");
    PastedTable out;
    const char separator = separatorOf(text);
    std::size_t width = 0;
    while (!text.empty()) {
        const auto end = text.find('\n');
        auto row = split(text.substr(0, end), separator);
        width = std::max(width, row.size());
        if (out.cells.size() >= mostLines || width > mostColumns)
            return failure(Error::Code::ReadingUnclear,
                           fmt::format("A table has at most {} lines and {} columns. Copy the cells of one cable.", mostLines, mostColumns));
        out.cells.push_back(std::move(row));
        text = end == std::string_view::npos ? std::string_view() : text.substr(end + 1);
    }
    while (!out.cells.empty() && std::all_of(out.cells.back().begin(), out.cells.back().end(), [](const auto& c) { return c.empty(); }))
        out.cells.pop_back();
    for (auto& row : out.cells) row.resize(width);
    out.commaDecimal = separator != ',' && hasDecimalComma(out.cells);
    // titles: lines in which no more than wavelengths are numbers
    const auto isTitle = [&](const std::vector<std::string>& row) {
        return std::none_of(row.begin(), row.end(), [&](const std::string& cell) {
            const auto number = numberIn(cell, out.commaDecimal);
            return number && (number->unit.empty() || number->unit == "db" || number->unit == "dbm") && !wavelengthIn(cell);
        });
    };
    while (out.headers < out.cells.size() && isTitle(out.cells[out.headers])) ++out.headers;
    if (out.headers == out.cells.size())
        return failure(Error::Code::ReadingUnclear,
                       "No line of what was pasted holds a reading. Copy the cells with fibres, levels or losses, and their titles.");
    // a merged cell stands over those to its right: what it says holds for them too, within its line
    std::vector<std::string> titles(width);
    for (std::size_t h = 0; h < out.headers; ++h) {
        std::string over;
        for (std::size_t c = 0; c < width; ++c) {
            const bool merged = out.cells[h][c].empty() && h + 1 < out.headers && c > 0;
            if (!merged) over = out.cells[h][c];
            if (!over.empty()) titles[c] += (titles[c].empty() ? "" : " ") + over;
        }
    }
    bool fibreFound = false;
    for (std::size_t c = 0; c < width; ++c) {
        PastedColumn column;
        column.title = titles[c];
        column.kind = kindOf(out, c, titles[c], fibreFound);
        fibreFound = fibreFound || column.kind == Kind::Fibre;
        if (column.kind == Kind::Level || column.kind == Kind::Loss) {
            column.wavelength = wavelengthIn(titles[c]);
            column.direction = directionIn(titles[c]);
            for (std::string_view rest = titles[c]; !column.direction && !rest.empty();) {  // word by word: "1310 nm A-B (dBm)"
                const auto space = rest.find(' ');
                column.direction = directionIn(std::string(rest.substr(0, space)));
                rest = space == std::string_view::npos ? std::string_view() : rest.substr(space + 1);
            }
        }
        out.columns.push_back(std::move(column));
    }
    return out;
}

TakenTable readTable(const PastedTable& table, Direction usual)
{
    TakenTable out;
    const auto columnOf = [&](Kind kind) -> std::optional<std::size_t> {
        for (std::size_t c = 0; c < table.columns.size(); ++c)
            if (table.columns[c].kind == kind) return c;
        return std::nullopt;
    };
    const auto trouble = [&](std::size_t line, const std::string& what) {
        constexpr std::size_t most = 50;
        if (out.troubles.size() < most) out.troubles.push_back(fmt::format("Line {}: {}.", line + 1, what));
    };
    const auto fibreAt = columnOf(Kind::Fibre), wavelengthAt = columnOf(Kind::Wavelength), directionAt = columnOf(Kind::Direction);
    if (!fibreAt) {
        out.troubles.emplace_back("No column says which fibre it is.");
        return out;
    }
    std::map<std::tuple<int, double, Direction>, std::size_t> seen;
    for (std::size_t i = table.headers; i < table.cells.size(); ++i) {
        const auto& row = table.cells[i];
        const bool empty = std::all_of(row.begin(), row.end(), [](const auto& c) { return c.empty(); });
        if (empty) continue;
        const auto fibre = numberIn(row[*fibreAt], table.commaDecimal);
        if (!fibre || !fibre->unit.empty() || fibre->value < 1 || fibre->value != std::round(fibre->value)) {
            trouble(i, row[*fibreAt].empty() ? std::string("no fibre is named; a merged cell is not carried down")
                                             : fmt::format("“{}” is no fibre", row[*fibreAt]));
            continue;
        }
        for (std::size_t c = 0; c < table.columns.size(); ++c) {
            const auto& column = table.columns[c];
            const bool isLevel = column.kind == Kind::Level;
            if ((!isLevel && column.kind != Kind::Loss) || row[c].empty()) continue;
            const auto number = numberIn(row[c], table.commaDecimal);
            PastedReading reading{static_cast<int>(i) + 1, static_cast<int>(fibre->value), {}, column.direction.value_or(usual), {}, {}};
            const auto wavelength = column.wavelength ? column.wavelength : wavelengthAt ? wavelengthIn(row[*wavelengthAt]) : std::nullopt;
            if (directionAt)
                if (const auto said = directionIn(row[*directionAt])) reading.direction = *said;
            if (!number) {
                trouble(i, fmt::format("“{}” is no number", row[c]));
                continue;
            }
            if (!number->unit.empty() && number->unit != (isLevel ? "dbm" : "db")) {
                trouble(i, fmt::format("“{}” stands in a column of {}", row[c], isLevel ? "levels in dBm" : "losses in dB"));
                continue;
            }
            if (!wavelength) {
                trouble(i, "no wavelength is said of it");
                continue;
            }
            reading.wavelength = *wavelength;
            if (isLevel && (DecibelMilliwatt(number->value) < lowestLevel || DecibelMilliwatt(number->value) > highestLevel)) {
                trouble(i, fmt::format("{} dBm is no level that a meter shows", row[c]));
                continue;
            }
            if (!isLevel && (Decibel(number->value) < leastLoss || Decibel(number->value) > greatestLoss)) {
                trouble(i, fmt::format("{} dB is no loss that a meter shows", row[c]));
                continue;
            }
            if (isLevel)
                reading.level = DecibelMilliwatt(number->value);
            else
                reading.loss = Decibel(number->value);
            const auto [before, fresh] = seen.emplace(std::tuple(reading.fibre, reading.wavelength.value(), reading.direction), i);
            if (!fresh) {
                trouble(
                    i, fmt::format("fibre {} at {:.0f} nm stands in line {} already", reading.fibre, reading.wavelength.value(), before->second + 1));
                continue;
            }
            out.readings.push_back(reading);
        }
    }
    return out;
}

}  // namespace clendo
