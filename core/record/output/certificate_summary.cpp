#include "record/output/certificate_summary.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>
#include <nlohmann/json.hpp>
#include <set>
#include <utility>
#include <vector>

#include "files/json_reading.h"

namespace clendo {
namespace {

using nlohmann::json;

/// From the best to the worst, as rules/completeness.h names them.
constexpr std::array<std::string_view, 6> verdicts{"not asked", "pass", "near limit", "incomplete", "not valid", "fail"};
constexpr std::size_t asked = 1, incomplete = 3;

std::size_t rank(std::string_view verdict)
{
    return static_cast<std::size_t>(std::find(verdicts.begin(), verdicts.end(), verdict) - verdicts.begin());
}

/// What belongs to one line of the summary.
struct LineKind {
    std::string_view name, what;
    std::vector<std::string_view> parts;
};
const std::vector<LineKind>& lineKinds()
{
    static const std::vector<LineKind> all{{"end faces", "every end face seen fit, and mated", {"faces", "mating"}},
                                           {"tier 1", "loss, length and right fibre", {"loss", "length", "right fibre"}},
                                           {"tier 2", "traces, and the joints in them", {"traces", "joints"}}};
    return all;
}

/// The worst of a link's parts of these kinds; 0: none of them was asked for, and nothing is there.
struct OfLink {
    std::size_t worst = 0;
    bool there = false;
    std::vector<std::string> lacks;
};
OfLink worstOf(const json& link, const LineKind& line)
{
    OfLink out;
    for (const auto& part : link["parts"]) {
        if (std::find(line.parts.begin(), line.parts.end(), part["kind"].get<std::string>()) == line.parts.end()) continue;
        out.worst = std::max(out.worst, rank(part["verdict"].get<std::string>()));
        out.there = out.there || part["says"].is_string();
        for (const auto& lack : part["not_tested"]) out.lacks.push_back(lack.get<std::string>());
    }
    return out;
}

std::string counted(std::size_t n, std::size_t of, std::string_view what) { return fmt::format("{} of {} {}", n, of, what); }

json lineToJson(const std::vector<const json*>& links, const LineKind& line)
{
    std::map<std::string_view, std::size_t> count;
    std::size_t asks = 0, tested = 0, untouched = 0;
    for (const auto* link : links) {
        const OfLink of = worstOf(*link, line);
        if (of.worst >= asked) {
            ++asks;
            ++count[verdicts[std::min(of.worst, verdicts.size() - 1)]];
        }
        if (of.there && of.lacks.empty()) ++tested;
        if (!of.there) ++untouched;
    }
    std::vector<std::string> said;
    for (const auto verdict : verdicts)
        if (const auto n = count.find(verdict); n != count.end()) said.push_back(fmt::format("{} {}", n->second, verdict));
    std::string words = asks == 0 ? "not asked for"
                                  : fmt::format("{}: {}", counted(asks, links.size(), links.size() == 1 ? "fibre" : "fibres"), fmt::join(said, ", "));
    if (asks > 0 && untouched == links.size()) words = links.size() == 1 ? "not tested" : "not tested on any fibre";
    return {{"line", line.name},
            {"what", line.what},
            {"asked", asks},
            {"tested", tested},
            {"pass", count["pass"]},
            {"near_limit", count["near limit"]},
            {"fail", count["fail"]},
            {"not_valid", count["not valid"]},
            {"incomplete", count["incomplete"]},
            {"says", words}};
}

std::string sentence(const std::map<std::string, std::size_t>& count, std::size_t all)
{
    const auto of = [&](const char* verdict) {
        const auto it = count.find(verdict);
        return it == count.end() ? std::size_t{0} : it->second;
    };
    if (of("pass") == all)
        return all == 1 ? "The fibre meets everything that was asked of it."
                        : fmt::format("All {} fibres meet everything that was asked of them.", all);
    std::vector<std::string> said;
    const auto say = [&](std::size_t n, const char* one, const char* many) {
        if (n > 0) said.push_back(all == 1 ? std::string(one) : fmt::format("{} {}", n, n == 1 ? one : many));
    };
    say(of("pass"), "meets everything that was asked of it", "meet everything that was asked of them");
    say(of("near limit"), "is within the measuring uncertainty of a limit", "are within the measuring uncertainty of a limit");
    say(of("fail"), "fails", "fail");
    say(of("not valid"), "rests on a reading that is not valid", "rest on readings that are not valid");
    say(of("incomplete") + of("not asked"), "is not tested to the end", "are not tested to the end");
    return all == 1 ? fmt::format("The fibre {}.", said.front()) : fmt::format("Of {} fibres {}.", all, fmt::join(said, ", "));
}

using Parts = std::map<std::pair<std::string, std::string>, std::string>;  ///< verdict by link and what it is about

/// Reads the parts of a certificate of anybody's making.
Parts partsOf(const json& certificate)
{
    Parts out;
    const auto list = [](const json& of, const char* key) -> const json& {
        static const json nothing = json::array();
        const json* found = memberOf(of, key);
        return found && found->is_array() ? *found : nothing;
    };
    const auto word = [](const json& of, const char* key) {
        const json* found = memberOf(of, key);
        return found && found->is_string() ? found->get<std::string>() : std::string();
    };
    for (const auto& cable : list(certificate, "cables"))
        for (const auto& link : list(cable, "links"))
            for (const auto& part : list(link, "parts")) out[{word(link, "link"), word(part, "about")}] = word(part, "verdict");
    return out;
}

std::string_view kindOf(std::size_t before, std::size_t now)
{
    if (now == asked && before > asked) return before == incomplete ? "new" : "repaired";
    if (before == incomplete || before == 0) return "new";
    return now > before ? "worse" : "changed";
}

}  // namespace

json certificateSummary(const json& cables)
{
    std::vector<const json*> links;
    std::map<std::string, std::size_t> count;
    std::size_t overruled = 0, exceptions = 0, standing = 0;
    for (const auto& cable : cables)
        for (const auto& link : cable["links"]) {
            links.push_back(&link);
            ++count[link["verdict"].get<std::string>()];
            exceptions += link["exceptions"].size();
            standing += link["signature"].is_object() && link["signature"]["state"] == "stands" ? 1 : 0;
            for (const auto& face : link["faces"])
                for (const auto& look : face["looks"]) overruled += look["overruled"].size();
        }
    json lines = json::array();
    for (const auto& kind : lineKinds()) lines.push_back(lineToJson(links, kind));
    return {{"fibres", links.size()},    {"verdicts", count},      {"sentence", sentence(count, links.size())},
            {"lines", std::move(lines)}, {"overruled", overruled}, {"exceptions", exceptions},
            {"signed", standing}};
}

json certificateChanges(const json& earlier, const json& fresh)
{
    const json* format = memberOf(earlier, "format");
    if (!format || *format != "clendo-certificate") return nullptr;
    const Parts before = partsOf(earlier), now = partsOf(fresh);
    std::set<Parts::key_type> keys;
    for (const auto* parts : {&before, &now})
        for (const auto& [key, verdict] : *parts) keys.insert(key);
    json out = json::array();
    for (const auto& key : keys) {
        const auto then = before.find(key), there = now.find(key);
        if (then != before.end() && there != now.end() && then->second == there->second) continue;
        const std::string_view kind = there == now.end() ? "gone" : then == before.end() ? "new" : kindOf(rank(then->second), rank(there->second));
        out.push_back({{"link", key.first},
                       {"about", key.second},
                       {"before", then == before.end() ? json(nullptr) : json(then->second)},
                       {"now", there == now.end() ? json(nullptr) : json(there->second)},
                       {"kind", kind}});
    }
    return out;
}

}  // namespace clendo
