#include "record/facts/looks.h"

#include <algorithm>
#include <array>

#include "face/face_json.h"
#include "face/judge/judge_look.h"
#include "record/state/fact_effects.h"
#include "record/state/reference_cords.h"

namespace clendo {
namespace {

constexpr std::array<std::string_view, 4> overrulings{"not-real", "scratch", "defect", "missed"};  // in the order of As

/// What a person saw and the measurement did not.
Finding missedFinding(const FindingOverruled& said, const std::vector<Finding>& findings)
{
    Finding f;
    for (const auto& other : findings) f.id = std::max(f.id, other.id);
    ++f.id;
    f.centre = said.place;
    f.size = f.width = f.length = said.size;
    f.nearest = std::max(Micrometre(0), said.place.radius() - said.size * 0.5);
    f.farthest = said.place.radius() + said.size * 0.5;
    return f;
}

}  // namespace

std::string_view name(FindingOverruled::As as) { return overrulings[static_cast<std::size_t>(as)]; }

std::optional<FindingOverruled::As> overrulingNamed(std::string_view name)
{
    const auto it = std::find(overrulings.begin(), overrulings.end(), name);
    return it == overrulings.end() ? std::nullopt : std::optional(static_cast<FindingOverruled::As>(it - overrulings.begin()));
}

nlohmann::json FaceSeen::body() const
{
    nlohmann::json out{{"face", face.text()}, {"picture", picture}, {"picture_name", pictureName}, {"measured", measurementToJson(measured)}};
    addMadeBy(out, made);
    if (frames) out["frames"] = {{"taken", frames->taken}, {"used", frames->used}, {"best", frames->best}};
    return out;
}

FaceSeen FaceSeen::read(FactReading& in)
{
    FaceSeen f;
    f.face = in.face();
    f.picture = in.text("picture");
    f.pictureName = in.text("picture_name");
    if (auto measured = measurementFromJson(in.find("measured").value_or(FlatJson::Value())))
        f.measured = std::move(*measured);
    else
        in.complain(measured.error().message);
    f.made = readMadeBy(in);
    if (const auto frames = in.find("frames"); frames && frames->is_object()) {
        FlatReading of(*frames, "frames");
        FramesCombined combined{static_cast<int>(of.number("taken", 1, 1000)), static_cast<int>(of.number("used", 1, 1000)), of.text("best")};
        if (of.problem()) in.complain(*of.problem());
        if (combined.used > combined.taken) in.complain("more frames were used than taken");
        f.frames = std::move(combined);
    }
    return f;
}

void FaceSeen::complete(const JobState& state) { made = judgedBy(state.plan->criteria); }

std::string FaceSeen::sentence(const JobState& state) const
{
    if (!measured.usable()) return fmt::format("Looked at {}: no evidence ({})", state.where(face), name(measured.retake.front()));
    const auto n = measured.findings.size();
    const std::string from = frames ? fmt::format(", in a picture combined from {} frames", frames->used) : "";
    return fmt::format("Looked at {}: {} finding{}{}", state.where(face), n == 0 ? "no" : std::to_string(n), n == 1 ? "" : "s", from);
}

void FaceSeen::apply(FactEffects& effects, const EntryHead& entry) const
{
    const JobState& state = effects.state();
    disturbed(effects, face, "was looked at");
    FaceState& of = effects.touch(face);
    Look look{entry.hash, entry.at(), {}, *this, {}, {}, std::move(of.cleanedSince), {}};
    of.cleanedSince.clear();
    if (const auto faceClass = state.faceClass(face)) {
        auto judged = face::judgeLook(measured, *faceClass, state.plan->criteria);
        look.verdict = std::move(judged.verdict);
        look.reasons = std::move(judged.reasons);
    }
    if (look.verdict) {
        of.handled.clear();
        of.covered.clear();
        if (of.mated) effects.open(face);  // a face that is looked at is not in its partner
        look.event = effects.event(look.verdict->fit ? FaceEvent::Kind::SeenFit : FaceEvent::Kind::SeenBad, face, {}, entry);
    } else {
        of.cleanedSince = look.cleanedBefore;  // a bad picture shows nothing: the face is still unseen since
    }
    of.looks.push_back(std::move(look));
}

nlohmann::json FindingOverruled::body() const
{
    return {{"face", face.text()}, {"look", look.hex()},      {"finding", finding},      {"as", name(as)},
            {"reason", reason},    {"x_um", place.x.value()}, {"y_um", place.y.value()}, {"size_um", size.value()}};
}

FindingOverruled FindingOverruled::read(FactReading& in)
{
    FindingOverruled f;
    f.face = in.face();
    f.look = in.entry("look");
    f.finding = in.whole("finding", 0, 1e6);
    if (const auto as = overrulingNamed(in.text("as")))
        f.as = *as;
    else
        in.complain("“as” must be not-real, scratch, defect or missed");
    f.reason = in.text("reason");
    f.place = {Micrometre(in.number("x_um", -500, 500)), Micrometre(in.number("y_um", -500, 500))};
    f.size = Micrometre(in.number("size_um", 0, 500));
    return f;
}

Claim FindingOverruled::claim() const
{
    if (as == As::Missed) return {};  // two people may both have missed something
    return {"overruling", fmt::format("finding {} of look {}", finding, look.brief())};
}

std::string FindingOverruled::sentence(const JobState& state) const
{
    return fmt::format("Overruled at {}: {} ({})", state.where(face), name(as), reason);
}

void FindingOverruled::apply(FactEffects& effects, const EntryHead& entry) const
{
    FaceState& of = effects.touch(face);
    const auto seen = std::find_if(of.looks.begin(), of.looks.end(), [&](const Look& t) { return t.entry == look; });
    if (seen == of.looks.end() || !seen->verdict) return;
    auto& findings = seen->seen.measured.findings;
    const auto found = std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.id == finding; });
    JobState& state = effects.state();
    if (as == As::Missed) {
        findings.push_back(missedFinding(*this, findings));
    } else if (found == findings.end()) {
        state.troubles.push_back(fmt::format("Entry {} overrules a finding that is not in the look; it changes nothing.", entry.hash.brief()));
        return;
    } else if (as == As::NotReal) {
        findings.erase(found);
    } else {
        found->kind = as == As::Scratch ? FindingKind::Scratch : FindingKind::Defect;
        found->appearance = as == As::Scratch ? Appearance::Scratch : Appearance::Other;
    }
    seen->overruled.push_back(*this);
    if (const auto faceClass = state.faceClass(face)) seen->verdict = judge(findings, *faceClass, state.plan->criteria);
    // what the look says of dirt is what the person says
    if (seen->event) effects.lookSays(*seen->event, seen->verdict->fit);
}

}  // namespace clendo
