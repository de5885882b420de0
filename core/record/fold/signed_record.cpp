#include "record/fold/signed_record.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "files/files.h"

namespace clendo {
namespace {

using nlohmann::json;

constexpr std::string_view format = "clendo-signed-record";

json line(const std::string& about, const std::string& says) { return {{"about", about}, {"says", says}}; }

json rulesLine(const char* about, const std::string& name, const std::string& version, const std::string& sha256)
{
    json out = line(about, fmt::format("{}, version {}", name, version));
    out["sha256"] = sha256;
    return out;
}

std::string nameOf(const Part& part)
{
    switch (part.kind) {
        case PartKind::Face: return "face: " + part.about;
        case PartKind::Mating: return "mating: " + part.about;
        case PartKind::Joint: return "joint: " + part.about;
        default: return part.about;
    }
}

json partLine(const Part& part)
{
    std::string says = part.says;
    for (const auto& lack : part.lacks) says += fmt::format("{}not tested: {}", says.empty() ? "" : "; ", lack);
    json out = line(nameOf(part), says);
    out["verdict"] = name(part.verdict);
    out["wanted"] = part.wanted;
    json entries = json::array();
    for (const auto& e : part.entries) entries.push_back(e.hex());
    out["entries"] = std::move(entries);
    return out;
}

json linesOf(const JobState& state, const Link& link)
{
    json lines = json::array();
    json plan = line("plan", CablePlanned{*link.cable}.sentence(state));
    plan["sha256"] = sha256(canonicalJson(CablePlanned{*link.cable}.body()));
    lines.push_back(std::move(plan));
    lines.push_back(rulesLine(
        "criteria", fmt::format("{}, class {} at A, {} at B", state.plan->criteria.name, link.cable->classAt(End::A), link.cable->classAt(End::B)),
        state.plan->criteria.version, state.plan->criteria.hash));
    if (const LimitSet* limits = state.plan->limitsFor(*link.cable))
        lines.push_back(rulesLine("limits", limits->title, limits->version, limits->hash));
    const Completeness all = completeness(state, link, Ageing::Left);
    for (const auto& part : all.parts) lines.push_back(partLine(part));
    for (const auto& exception : all.exceptions) lines.push_back(line("exception", exception));
    lines.push_back(line("verdict", std::string(name(all.verdict()))));
    return lines;
}

json linesOf(const JobState& state, const std::string& cable)
{
    json lines = json::array();
    for (const auto& link : state.plan->links) {
        if (link.cable->id != cable) continue;
        json one = line("fibre " + std::to_string(link.fibre), std::string(name(completeness(state, link, Ageing::Left).verdict())));
        one["sha256"] = sha256(signedRecord(state, link.id));
        lines.push_back(std::move(one));
    }
    return lines;
}

/// Lines by what they are about; several of one name, exceptions, stand together.
std::optional<std::map<std::string, json>> linesIn(std::string_view record)
{
    const json document = json::parse(record, nullptr, false);
    if (!document.is_object() || document.value("format", json()) != format || !document.contains("lines") || !document["lines"].is_array())
        return std::nullopt;
    std::map<std::string, json> out;
    for (const auto& l : document["lines"]) {
        if (!l.is_object() || !l.contains("about") || !l["about"].is_string() || !l.contains("says") || !l["says"].is_string()) return std::nullopt;
        auto& into = out[l["about"].get<std::string>()];
        if (into.is_null())
            into = l;
        else
            into["says"] = fmt::format("{}; {}", into["says"].get<std::string>(), l["says"].get<std::string>());
    }
    return out;
}

std::string wordsOf(const json& l)
{
    const std::string says = l["says"].get<std::string>();
    const json verdict = l.value("verdict", json());
    return verdict.is_string() ? fmt::format("{} ({})", says, verdict.get<std::string>()) : says;
}

}  // namespace

std::string signedRecord(const JobState& state, std::string_view subject)
{
    json lines;
    if (const Link* link = state.link(subject))
        lines = linesOf(state, *link);
    else
        lines = linesOf(state, std::string(subject));
    if (lines.empty()) return {};
    return canonicalJson({{"format", format}, {"version", 1}, {"subject", subject}, {"lines", std::move(lines)}});
}

std::optional<BoundSignature> boundSignature(const JobState& state, const std::string& subject, const std::string& remark)
{
    std::string record = signedRecord(state, subject);
    if (record.empty()) return std::nullopt;
    BoundSignature out;
    out.sign.of = subject;
    out.sign.remark = remark;
    out.sign.record = sha256(record);
    out.record = {fmt::format("signed {}.json", subject), std::move(record)};
    return out;
}

std::vector<Difference> differences(std::string_view before, std::string_view now)
{
    const auto was = linesIn(before), is = linesIn(now);
    if (!was || !is) return {{"record", was ? "" : "cannot be read", is ? "" : "cannot be read"}};
    std::vector<Difference> out;
    for (const auto& [about, l] : *was) {
        const auto there = is->find(about);
        if (there == is->end()) {
            out.push_back({about, wordsOf(l), {}});
        } else if (there->second != l) {
            std::string words = wordsOf(there->second);
            if (words == wordsOf(l)) words += l.contains("entries") ? ", from other entries" : ", another version of it";
            out.push_back({about, wordsOf(l), std::move(words)});
        }
    }
    for (const auto& [about, l] : *is)
        if (!was->contains(about)) out.push_back({about, {}, wordsOf(l)});
    return out;
}

}  // namespace clendo
