#include "record/rules/trace_naming.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

#include "record/rules/plan_match.h"

namespace clendo {
namespace {

bool sameText(std::string_view a, std::string_view b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                      [](char x, char y) { return std::tolower(static_cast<unsigned char>(x)) == std::tolower(static_cast<unsigned char>(y)); });
}

bool isDigit(char c) { return std::isdigit(static_cast<unsigned char>(c)) != 0; }

/// All of a text as a number of few digits.
std::optional<int> wholeNumber(std::string_view text)
{
    int out = 0;
    constexpr std::size_t most = 6;
    if (text.empty() || text.size() > most || !std::all_of(text.begin(), text.end(), isDigit)) return std::nullopt;
    std::from_chars(text.data(), text.data() + text.size(), out);
    return out;
}

/// One piece of a pattern.
struct Piece {
    enum class Kind { Text, Any, Cable, Fibre, Nm, End };
    Kind kind = Kind::Text;
    std::string_view text{};
    /// How long what it stands for may be, in characters of `rest`.
    [[nodiscard]] std::pair<std::size_t, std::size_t> lengths(std::string_view rest) const
    {
        const auto run = [&](auto is) { return static_cast<std::size_t>(std::find_if_not(rest.begin(), rest.end(), is) - rest.begin()); };
        switch (kind) {
            case Kind::Text:
                return sameText(rest.substr(0, text.size()), text) ? std::pair(text.size(), text.size()) : std::pair<std::size_t, std::size_t>(1, 0);
            case Kind::Any: return {0, rest.size()};
            case Kind::Cable: return {1, rest.size()};
            case Kind::Fibre: return {1, std::min<std::size_t>(4, run(isDigit))};
            case Kind::Nm: return {3, std::min<std::size_t>(4, run(isDigit))};
            case Kind::End: return {1, rest.size()};
        }
        return {1, 0};
    }
};

std::vector<Piece> piecesOf(std::string_view pattern)
{
    static constexpr std::array<std::pair<std::string_view, Piece::Kind>, 5> fields{{{"{cable}", Piece::Kind::Cable},
                                                                                     {"{fibre}", Piece::Kind::Fibre},
                                                                                     {"{nm}", Piece::Kind::Nm},
                                                                                     {"{end}", Piece::Kind::End},
                                                                                     {"*", Piece::Kind::Any}}};
    std::vector<Piece> out;
    while (!pattern.empty()) {
        const auto field = std::find_if(fields.begin(), fields.end(), [&](const auto& f) { return pattern.starts_with(f.first); });
        if (field != fields.end()) {
            out.push_back({field->second, {}});
            pattern.remove_prefix(field->first.size());
            continue;
        }
        std::size_t length = 1;
        while (length < pattern.size() &&
               std::none_of(fields.begin(), fields.end(), [&](const auto& f) { return pattern.substr(length).starts_with(f.first); }))
            ++length;
        out.push_back({Piece::Kind::Text, pattern.substr(0, length)});
        pattern.remove_prefix(length);
    }
    return out;
}

/// Whether a text can name an end: "ab", "B", a place. Digits alone cannot.
bool mayBeEnd(std::string_view text)
{
    return std::any_of(text.begin(), text.end(), [](char c) { return std::isalpha(static_cast<unsigned char>(c)) != 0; });
}

bool mayBeWavelength(std::string_view text)
{
    constexpr int shortest = 600, longest = 1700;  // nm
    const auto nm = wholeNumber(text);
    return nm && *nm >= shortest && *nm <= longest;
}

class NameReader {
public:
    NameReader(std::vector<Piece> pieces, std::string_view stem)
        : pieces_(std::move(pieces)), stem_(stem), failed_(pieces_.size() + 1, std::vector<char>(stem.size() + 1, 0))
    {
    }
    bool read(std::size_t piece, std::size_t at)
    {
        if (piece == pieces_.size()) return at == stem_.size();
        if (failed_[piece][at]) return false;
        const Piece& p = pieces_[piece];
        const auto rest = stem_.substr(at);
        const auto [least, most] = p.lengths(rest);
        const bool longFirst = p.kind == Piece::Kind::Fibre || p.kind == Piece::Kind::Nm || p.kind == Piece::Kind::Cable;
        for (std::size_t step = 0; least <= most && step <= most - least; ++step) {
            const std::size_t length = longFirst ? most - step : least + step;
            const auto text = rest.substr(0, length);
            if (p.kind == Piece::Kind::End && !mayBeEnd(text)) continue;
            if (p.kind == Piece::Kind::Nm && !mayBeWavelength(text)) continue;
            if (!read(piece + 1, at + length)) continue;
            keep(p.kind, text);
            return true;
        }
        failed_[piece][at] = 1;
        return false;
    }
    NameFields fields;

private:
    void keep(Piece::Kind kind, std::string_view text)
    {
        if (kind == Piece::Kind::Cable) fields.cable = std::string(text);
        if (kind == Piece::Kind::End) fields.end = std::string(text);
        if (kind == Piece::Kind::Fibre) fields.fibre = wholeNumber(text);
        if (kind == Piece::Kind::Nm) fields.nm = wholeNumber(text);
    }

    std::vector<Piece> pieces_;
    std::string_view stem_;
    std::vector<std::vector<char>> failed_;
};

/// From which end, as a name says it: "ab", "ba", the end where the instrument stood, or its place or panel.
std::optional<Direction> directionOf(std::string_view end, const CablePlan& cable)
{
    for (const auto& [word, direction] : {std::pair(std::string_view("ab"), Direction::AtoB), std::pair(std::string_view("ba"), Direction::BtoA),
                                          std::pair(std::string_view("a"), Direction::AtoB), std::pair(std::string_view("b"), Direction::BtoA)})
        if (sameText(end, word)) return direction;
    const bool isA = sameText(end, cable.placeA) || sameText(end, cable.panelA), isB = sameText(end, cable.placeB) || sameText(end, cable.panelB);
    if (isA == isB) return std::nullopt;
    return isA ? Direction::AtoB : Direction::BtoA;
}

const CablePlan* cableNamed(const JobPlan& plan, std::string_view id)
{
    const auto it = std::find_if(plan.cables.begin(), plan.cables.end(), [&](const CablePlan& c) { return sameText(c.id, id); });
    return it == plan.cables.end() ? nullptr : &*it;
}

/// From which end by the places in the header.
std::optional<Direction> byHeader(const otdr::Trace& trace, const std::string& placeA, const std::string& placeB)
{
    if (placeA == placeB) return std::nullopt;
    if (trace.locationA == placeA || (trace.locationA.empty() && trace.locationB == placeB)) return Direction::AtoB;
    if (trace.locationA == placeB || (trace.locationA.empty() && trace.locationB == placeA)) return Direction::BtoA;
    return std::nullopt;
}

/// The fibre that a header's text names: "7", "007", or with the cable before it: "VP-04/7".
std::optional<int> fibreOf(std::string_view text, std::string_view cable)
{
    if (text.size() > cable.size() && sameText(text.substr(0, cable.size()), cable) && text[cable.size()] == '/')
        text.remove_prefix(cable.size() + 1);
    return wholeNumber(text);
}

}  // namespace

std::optional<NameFields> readName(std::string_view pattern, std::string_view stem)
{
    constexpr std::size_t longest = 255;
    if (pattern.size() > longest || stem.size() > longest) return std::nullopt;
    NameReader reader(piecesOf(pattern), stem);
    if (!reader.read(0, 0)) return std::nullopt;
    return reader.fields;
}

const std::vector<std::string>& usualPatterns()
{
    static const std::vector<std::string> patterns{"{cable}-{fibre}-{nm}-{end}",
                                                   "{cable}-{fibre}-{end}-{nm}",
                                                   "{cable}_{fibre}_{nm}_{end}",
                                                   "{cable}_{fibre}_{end}_{nm}",
                                                   "{cable}-{fibre}-{end}",
                                                   "{cable}_{fibre}_{end}",
                                                   "{cable}-{fibre}-{nm}",
                                                   "{cable}_{fibre}_{nm}",
                                                   "{fibre}-{nm}-{end}",
                                                   "{fibre}_{nm}_{end}",
                                                   "{fibre}-{end}",
                                                   "{fibre}_{end}",
                                                   "{cable}-{fibre}",
                                                   "{cable}_{fibre}",
                                                   "*{fibre}"};
    return patterns;
}

std::string patternFor(const std::vector<std::string>& stems, const JobPlan& plan)
{
    const std::string* best = &usualPatterns().front();
    std::size_t most = 0;
    for (const auto& pattern : usualPatterns()) {
        std::size_t told = 0;
        for (const auto& stem : stems) {
            const auto fields = readName(pattern, stem);
            if (!fields || !fields->fibre) continue;
            const CablePlan* cable = fields->cable ? cableNamed(plan, *fields->cable) : plan.cables.size() == 1 ? &plan.cables.front() : nullptr;
            if (!cable || *fields->fibre < 1 || *fields->fibre > cable->fibres) continue;
            if (fields->end && !directionOf(*fields->end, *cable)) continue;
            // the end is worth as much as the fibre: without it each one has to be asked
            told += 1 + (fields->cable ? 1 : 0) + (fields->end ? 1 : 0);
        }
        if (told <= most) continue;
        most = told;
        best = &pattern;
    }
    return *best;
}

TracePlace placeOf(const JobPlan& plan, const otdr::Trace& header, const std::optional<NameFields>& name)
{
    TracePlace out;
    const auto doubt = [&](std::string words) {
        if (out.doubt.empty()) out.doubt = std::move(words);
    };
    const CablePlan* inHeader = header.cable.empty() ? nullptr : cableNamed(plan, header.cable);
    const CablePlan* inName = name && name->cable ? cableNamed(plan, *name->cable) : nullptr;
    const CablePlan* cable = inHeader ? inHeader : inName;
    if (inHeader && inName && inHeader != inName)
        doubt(fmt::format("The file says cable {}, its name {}.", inHeader->id, inName->id));
    else if (!cable && name && name->cable)
        doubt(fmt::format("The plan has no cable {}.", *name->cable));
    else if (!header.cable.empty() && !inHeader)
        doubt(fmt::format("The file says cable {}, which the plan does not have.", header.cable));
    if (!cable && plan.cables.size() == 1) cable = &plan.cables.front();
    if (!cable) {
        doubt("Neither the file nor its name says which cable.");
        return out;
    }
    const auto fibreInHeader = fibreOf(header.fibre, cable->id);
    const auto fibreInName = name ? name->fibre : std::nullopt;
    const auto fibre = fibreInHeader ? fibreInHeader : fibreInName;
    if (fibreInHeader && fibreInName && *fibreInHeader != *fibreInName)
        doubt(fmt::format("The file says fibre {}, its name {}.", *fibreInHeader, *fibreInName));
    if (!fibre)
        doubt("Neither the file nor its name says which fibre.");
    else if (const auto link =
                 std::find_if(plan.links.begin(), plan.links.end(), [&](const Link& l) { return l.cable == cable && l.fibre == *fibre; });
             link != plan.links.end())
        out.link = link->id;
    else
        doubt(fmt::format("Cable {} has no fibre {}.", cable->id, *fibre));
    const auto endInHeader = byHeader(header, cable->placeA, cable->placeB);
    const auto endInName = name && name->end ? directionOf(*name->end, *cable) : std::nullopt;
    out.direction = endInHeader ? endInHeader : endInName;
    if (endInHeader && endInName && *endInHeader != *endInName)
        doubt("The places in the file and its name say different ends.");
    else if (!out.direction)
        doubt("Neither the file nor its name says from which end.");
    const double nm = header.wavelength.value();
    if (name && name->nm && std::abs(nm - *name->nm) >= sameWavelength.value())
        doubt(fmt::format("The file was shot at {:.0f} nm, its name says {} nm.", nm, *name->nm));
    constexpr double multimodeUpTo = 1305, singleModeFrom = 1240;
    if (isMultimode(*cable) ? nm > multimodeUpTo + sameWavelength.value() : nm < singleModeFrom)
        doubt(fmt::format("{:.0f} nm is no wavelength of {} fibre.", nm, cable->fibre));
    return out;
}

std::optional<Direction> shotFrom(const otdr::Trace& trace, const std::string& fileName, const std::string& placeA, const std::string& placeB)
{
    if (const auto header = byHeader(trace, placeA, placeB)) return header;
    std::optional<Direction> out;
    std::string word;
    for (const char c : fileName + ".") {
        if (std::isalnum(static_cast<unsigned char>(c))) {
            word += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
            continue;
        }
        if (const auto way = directionNamed(word)) {
            if (out && *out != *way) return std::nullopt;  // it says both
            out = way;
        }
        word.clear();
    }
    return out;
}

std::optional<int> fibreOnReel(const otdr::Trace& header, std::string_view stem, std::string_view reel, int fibres)
{
    const auto onIt = [fibres](std::optional<int> fibre) { return fibre && *fibre >= 1 && *fibre <= fibres; };
    if (const auto said = fibreOf(header.fibre, reel); onIt(said)) return said;
    if (sameText(stem, reel)) return std::nullopt;  // the number in it is the reel's own
    for (const auto& pattern : usualPatterns())
        if (const auto fields = readName(pattern, stem); fields && onIt(fields->fibre) && (!fields->cable || sameText(*fields->cable, reel)))
            return fields->fibre;
    return std::nullopt;
}

}  // namespace clendo
