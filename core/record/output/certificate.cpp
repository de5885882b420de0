#include "record/output/certificate.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <nlohmann/json.hpp>
#include <set>

#include "files/plain_name.h"
#include "record/journal/time_text.h"
#include "record/output/certificate_link.h"
#include "record/output/certificate_summary.h"
#include "record/state/job_policy.h"

namespace clendo {
namespace {

using nlohmann::json;

/// The methods by which the readings of these links were taken.
json methodsToJson(const json& links)
{
    std::set<std::string> methods;
    for (const auto& link : links)
        if (link["loss"].is_object()) methods.insert(link["loss"]["method"].get<std::string>());
    return methods;
}

/// The job's answers to the questions on which practitioners disagree, as words.
json policyToJson(const JobSettings& job)
{
    json out = json::array();
    for (const auto& row : policyRows()) {
        const std::string answer = answerOf(job, row.key);
        const auto known = std::find_if(row.choices.begin(), row.choices.end(), [&](const auto& choice) { return choice.first == answer; });
        out.push_back(
            {{"question", row.question}, {"answer", known == row.choices.end() ? answer : known->second}, {"default", known == row.choices.begin()}});
    }
    return out;
}

json patchedAt(const CablePlan& cable)
{
    json out = json::array();
    for (const auto& panel : cable.inner) out.push_back({{"panel", panel.name}, {"at_m", panel.at.value()}});
    return out;
}

/// What measures, of the kit.
json instrumentsToJson(const JobState& state, const std::set<std::string>& used)
{
    json out = json::array();
    for (const auto& [id, item] : state.kit) {
        const KitKind* kind = kitKindNamed(state.plan->kitKinds, item.what.kind);
        if (!kind || !kind->calibrated || item.what.gone) continue;
        out.push_back(
            {{"name", id},
             {"measured", used.contains(id)},
             {"kind", kind->title},
             {"serial", item.what.serial.empty() ? json(nullptr) : json(item.what.serial)},
             {"calibrated_until", item.what.calibratedUntil == 0 ? json(nullptr) : json(timeText(item.what.calibratedUntil).substr(0, 10))}});
    }
    return out;
}

/// What was lost of the job before this certificate: a record that is not whole says so.
json lossesToJson(const JobState& state)
{
    json out = json::array();
    for (const auto& l : state.losses) out.push_back({{"at", timeText(l.at)}, {"what", l.what.sentence(state)}});
    return out;
}

json cableToJson(const CertificateGround& ground, const CablePlan& cable, json links)
{
    const JobState& state = ground.state;
    json limits = nullptr;
    if (const LimitSet* l = state.plan->limitsFor(cable))
        limits = {{"name", l->name},     {"title", l->title}, {"version", l->version},
                  {"source", l->source}, {"sha256", l->hash}, {"checked", l->checked}};
    const auto cableSigned = state.signedCables.find(cable.id);
    const auto orNull = [](const std::string& said) { return said.empty() ? json(nullptr) : json(said); };
    return {{"id", cable.id},
            {"from", cable.placeA},
            {"to", cable.placeB},
            {"rack_from", orNull(cable.endA.rack)},
            {"rack_to", orNull(cable.endB.rack)},
            {"fibre", cable.fibre},
            {"connector", cable.connector},
            {"connector_from", cable.connectorAt(End::A)},
            {"connector_to", cable.connectorAt(End::B)},
            {"fibres", cable.fibres},
            {"length_m", cable.length.value()},
            {"splices", cable.splices.size()},
            {"patched_at", patchedAt(cable)},
            {"device_from", orNull(cable.endA.device)},
            {"device_to", orNull(cable.endB.device)},
            {"criteria",
             {{"name", state.plan->criteria.name},
              {"version", state.plan->criteria.version},
              {"class", cable.className},
              {"class_from", cable.classAt(End::A)},
              {"class_to", cable.classAt(End::B)},
              {"sha256", state.plan->criteria.hash},
              {"checked", state.plan->criteria.checked}}},
            {"limits", limits},
            {"reference_methods", methodsToJson(links)},
            {"signature", cableSigned == state.signedCables.end() ? json(nullptr) : signatureToJson(ground, cableSigned->second, cable.id)},
            {"links", std::move(links)}};
}

/// Which pictures and traces a certificate shows, and under which names they lie in its folder.
class EvidencePlaces {
public:
    std::string place(const std::string& sha256, const std::string& stem, const std::string& name, bool isTrace)
    {
        if (const auto known = paths_.find(sha256); known != paths_.end()) return known->second;
        // the same deed may have been filed twice with two pictures: the hash keeps their names apart
        const std::string path = fmt::format("{}/{}-{}.{}", isTrace ? "traces" : "pictures", plainName(stem, longestStem), sha256.substr(0, 8),
                                             isTrace ? "sor" : ending(name));
        all_.push_back({{"sha256", sha256}, {"file", path}, {"name", name}, {"kind", isTrace ? "trace" : "picture"}});
        return paths_.emplace(sha256, path).first->second;
    }
    [[nodiscard]] json all() && { return std::move(all_); }

private:
    static std::string ending(const std::string& name)
    {
        const auto dot = name.rfind('.');
        std::string out = dot == std::string::npos ? "" : name.substr(dot + 1);
        std::transform(out.begin(), out.end(), out.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
        for (const char* known : {"png", "jpg", "jpeg", "tif", "tiff", "bmp"})
            if (out == known) return out;
        return "picture";
    }
    static constexpr std::size_t longestStem = 120;
    std::map<std::string, std::string> paths_;
    json all_ = json::array();
};

/// The job's name, told apart from a cable or a fibre of the same name: their certificates lie side by side.
std::string subjectOfJob(const JobPlan& plan)
{
    const bool taken =
        plan.link(plan.job.name) || std::any_of(plan.cables.begin(), plan.cables.end(), [&](const CablePlan& c) { return c.id == plan.job.name; });
    return taken ? "job " + plan.job.name : plan.job.name;
}

std::map<Digest, const ReferenceSet*> referencesIn(std::span<const Entry> journal)
{
    std::map<Digest, const ReferenceSet*> out;
    for (const auto& e : journal)
        if (const auto* set = std::get_if<ReferenceSet>(&e.fact)) out.emplace(e.hash, set);
    return out;
}

}  // namespace

Result<json> certificate(const JobState& state, const std::string& subject, const CertificateExtras& extras)
{
    EvidencePlaces places;
    const CertificateGround ground{state, extras.signatures, extras.applications, referencesIn(extras.journal),
                                   [&places](const std::string& sha256, const std::string& stem, const std::string& name, bool isTrace) {
                                       return places.place(sha256, stem, name, isTrace);
                                   }};
    json cables = json::array();
    std::set<std::string> used;
    std::string scope = "job";
    for (const auto& cable : state.plan->cables) {
        json links = json::array();
        for (const auto& link : state.plan->links) {
            if (link.cable != &cable || (!subject.empty() && link.id != subject && cable.id != subject)) continue;
            links.push_back(linkToJson(ground, link));
            const auto& with = state.state(link.id).measuredWith;
            used.insert(with.begin(), with.end());
        }
        if (links.empty()) continue;
        if (!subject.empty()) scope = cable.id == subject ? "cable" : "fibre";
        cables.push_back(cableToJson(ground, cable, std::move(links)));
    }
    if (cables.empty())
        return failure(Error::Code::PlanInvalid, subject.empty() ? std::string("The job has no cable yet: plan one first.")
                                                                 : fmt::format("The job has no link or cable “{}”.", subject));
    json out{{"format", "clendo-certificate"},
             {"format_version", 3},
             {"job", state.plan->job.name},
             {"scope", scope},
             {"subject", subject.empty() ? subjectOfJob(*state.plan) : subject},
             {"policy", policyToJson(state.plan->job)},
             {"instruments", instrumentsToJson(state, used)},
             {"records_until", timeText(state.lastEntryAt)},
             {"journal", journalToJson(state)},
             {"losses", lossesToJson(state)},
             {"replaces", nullptr},
             {"cables", std::move(cables)}};
    out["summary"] = certificateSummary(out["cables"]);
    out["evidence"] = std::move(places).all();
    return out;
}

}  // namespace clendo
