#include "record/rules/completeness.h"

#include <fmt/format.h>

#include <algorithm>

#include "record/rules/link_face_parts.h"
#include "record/rules/link_light_parts.h"

namespace clendo {

std::string_view name(PartKind kind)
{
    switch (kind) {
        case PartKind::Face: return "faces";
        case PartKind::Mating: return "mating";
        case PartKind::Loss: return "loss";
        case PartKind::RightFibre: return "right fibre";
        case PartKind::Length: return "length";
        case PartKind::Trace: return "traces";
        case PartKind::Joint: return "joints";
    }
    return "faces";
}

std::string_view name(PartVerdict verdict)
{
    switch (verdict) {
        case PartVerdict::NotAsked: return "not asked";
        case PartVerdict::Pass: return "pass";
        case PartVerdict::NearLimit: return "near limit";
        case PartVerdict::Incomplete: return "incomplete";
        case PartVerdict::NotValid: return "not valid";
        case PartVerdict::Fail: return "fail";
    }
    return "incomplete";
}

PartVerdict Completeness::verdict() const
{
    PartVerdict out = PartVerdict::Pass;
    for (const auto& part : parts) out = std::max(out, part.verdict);
    return out;
}

const Part* Completeness::worst() const
{
    const PartVerdict all = verdict();
    if (all <= PartVerdict::Pass) return nullptr;
    return &*std::find_if(parts.begin(), parts.end(), [&](const Part& p) { return p.verdict == all; });
}

std::vector<std::string> Completeness::missing() const
{
    std::vector<std::string> out;
    for (const auto& part : parts)
        if (part.wanted) out.insert(out.end(), part.lacks.begin(), part.lacks.end());
    return out;
}

std::vector<std::string> Completeness::notTested() const
{
    std::vector<std::string> out;
    for (const auto& part : parts) out.insert(out.end(), part.lacks.begin(), part.lacks.end());
    return out;
}

bool Completeness::complete(PartKind kind) const
{
    return std::none_of(parts.begin(), parts.end(), [&](const Part& p) { return p.kind == kind && p.wanted && !p.lacks.empty(); });
}

PartVerdict Completeness::verdict(PartKind kind) const
{
    PartVerdict out = PartVerdict::NotAsked;
    for (const auto& part : parts)
        if (part.kind == kind) out = std::max(out, part.verdict);
    return out;
}

std::optional<int> Completeness::tier() const
{
    const auto tested = [&](PartKind kind) {
        bool any = false;
        for (const auto& part : parts) {
            if (part.kind != kind) continue;
            if (!part.lacks.empty()) return false;
            any = true;
        }
        return any;
    };
    if (!tested(PartKind::Loss) || !tested(PartKind::RightFibre) || !tested(PartKind::Length)) return std::nullopt;
    return tested(PartKind::Trace) ? 2 : 1;
}

static bool isOfLight(PartKind kind)
{
    using enum PartKind;
    return kind == Loss || kind == RightFibre || kind == Length || kind == Trace || kind == Joint;
}

Completeness completeness(const JobState& state, const Link& link, Ageing ageing)
{
    Completeness out;
    addFaceParts(out, state, link, ageing);
    addMatingParts(out, state, link);
    addLossParts(out, state, link);
    addRightFibre(out, state, link);
    addLength(out, state, link);
    addTraceParts(out, state, link);
    addJointParts(out, state, link);
    if (!link.cable->carriesLight(link.fibre))
        for (auto& part : out.parts)
            if (isOfLight(part.kind)) part.wanted = false;
    for (auto& part : out.parts)
        if (part.wanted && !part.lacks.empty()) part.verdict = std::max(part.verdict, PartVerdict::Incomplete);
    return out;
}

LightDone lightDone(const Completeness& all)
{
    return {all.complete(PartKind::Loss), all.complete(PartKind::RightFibre), all.complete(PartKind::Length), all.complete(PartKind::Trace)};
}

Result<void> maySign(const JobState& state, const Link& link)
{
    const auto missing = completeness(state, link).missing();
    if (missing.empty()) return {};
    return failure(Error::Code::StepRefused, fmt::format("Fibre {} is not finished. Missing: {}.", link.fibre, fmt::join(missing, "; ")));
}

Result<void> maySign(const JobState& state, const CablePlan& cable)
{
    for (const auto& link : state.plan->links) {
        if (link.cable->id != cable.id) continue;
        const auto& signature = state.state(link.id).signature;
        if (!signature || !signature->stands)
            return failure(Error::Code::StepForbidden,
                           fmt::format("Not yet: fibre {} is {}. The cable is signed when the signatures of all its fibres stand.", link.fibre,
                                       signature ? "signed, but overtaken" : "not signed"));
    }
    return {};
}

}  // namespace clendo
