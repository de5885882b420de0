#include "face/face_json.h"

#include <cmath>

#include "face/judge/dirt.h"
#include "files/json_reading.h"

namespace clendo {

using nlohmann::json;

double rounded(double value, int digits)
{
    const double factor = std::pow(10, digits);
    return std::round(value * factor) / factor;
}

json toJson(const Finding& f, std::optional<Zone> zone)
{
    return {{"id", f.id},
            {"kind", name(f.kind)},
            {"appearance", name(f.appearance)},
            {"zone", zone ? json(name(*zone)) : json(nullptr)},
            {"center_um", {rounded(f.centre.x.value(), 2), rounded(f.centre.y.value(), 2)}},
            {"size_um", rounded(f.size.value(), 2)},
            {"width_um", rounded(f.width.value(), 2)},
            {"length_um", rounded(f.length.value(), 2)},
            {"contrast", rounded(f.contrast, 3)}};
}

json toJson(const RuleOutcome& o)
{
    json out{{"zone", name(o.rule.zone)}, {"kind", name(o.rule.kind)}, {"counted", o.counted}, {"met", o.met}, {"findings", o.findings}};
    if (!o.rule.allowed)
        out["allowed"] = "no limit";
    else if (*o.rule.allowed == 0)
        out["allowed"] = "none";
    else
        out["allowed"] = *o.rule.allowed;
    out[o.rule.lowerIncluded ? "from_um" : "over_um"] = o.rule.lower.value();
    out["up_to_um"] = o.rule.upper ? json(o.rule.upper->value()) : json(nullptr);
    return out;
}

json toJson(const face::FaceMeasurement& m, const face::LookVerdict& judged, const FaceClass& faceClass, const Criteria& criteria)
{
    const auto& verdict = judged.verdict;
    const bool located = m.claddingDiameter > Pixel(0);
    json out{
        {"fiber", m.fibre}, {"usable", judged.reasons.empty()}, {"reasons", json::array()}, {"findings", json::array()}, {"rules", json::array()}};
    out["center_px"] = located ? json{rounded(m.centre.x.value(), 2), rounded(m.centre.y.value(), 2)} : json(nullptr);
    out["cladding_diameter_px"] = located ? json(rounded(m.claddingDiameter.value(), 2)) : json(nullptr);
    out["um_per_px"] = located ? json(rounded(m.scale.micrometresPerPixel(), 6)) : json(nullptr);
    out["scale_source"] = !located ? json(nullptr) : json(m.scaleSource == face::ScaleSource::Cladding ? "cladding" : "calibration");
    out["core"] = {{"kind", m.core ? json(name(*m.core)) : json(nullptr)},
                   {"diameter_um", m.coreDiameter ? json(m.coreDiameter->value()) : json(nullptr)},
                   {"inferred", m.coreInferred}};
    out["guide"] = m.guide == face::Guide::NotSeen ? json(nullptr) : json(name(m.guide));
    out["focus"] = located ? json(rounded(m.focus, 2)) : json(nullptr);
    out["blur_um"] = located ? json(rounded(m.blur.value(), 2)) : json(nullptr);
    out["resolves_um"] = located ? json(rounded(face::resolves(m, criteria).value(), 2)) : json(nullptr);
    out["ferrule_seen"] = m.ferruleSeen ? json(rounded(*m.ferruleSeen, 3)) : json(nullptr);
    out["reasons"] = judged.reasons;
    out["making"] = json::array();
    for (const auto fault : m.making) out["making"].push_back({{"fault", face::name(fault)}, {"means", face::sentenceOf(fault)}});
    for (const auto& f : m.findings) {
        out["findings"].push_back(toJson(f, zoneOf(f, faceClass)));
        out["findings"].back()["uncertainty_um"] = rounded(sizeUncertainty(f, criteria).value(), 2);
    }
    const auto dirt = face::dirtOf(m.findings);
    if (m.row > 1) out["row"] = m.row;
    out["dirt"] = dirt ? json{{"kind", face::name(dirt->kind)}, {"things", dirt->things}, {"means", face::sentenceOf(*dirt)}} : json(nullptr);
    if (verdict)
        for (const auto& o : verdict->outcomes) out["rules"].push_back(toJson(o));
    out["verdict"] = !verdict ? "retake" : verdict->fit ? "pass" : "fail";
    out["near_limit"] = verdict && verdict->nearLimit;
    return out;
}

json measurementToJson(const face::FaceMeasurement& m)
{
    json findings = json::array(), retake = json::array();
    for (const auto& f : m.findings) {
        json one = toJson(f, std::nullopt);
        one.erase("zone");
        one["nearest_um"] = rounded(f.nearest.value(), 3);
        one["farthest_um"] = rounded(f.farthest.value(), 3);
        for (const auto& p : f.outline) one["outline_um"].push_back({rounded(p.x.value(), 2), rounded(p.y.value(), 2)});
        findings.push_back(std::move(one));
    }
    for (const auto reason : m.retake) retake.push_back(face::name(reason));
    json out{{"fibre", m.fibre},
             {"centre_px", {m.centre.x.value(), m.centre.y.value()}},
             {"cladding_px", m.claddingDiameter.value()},
             {"um_per_px", m.scale.micrometresPerPixel()},
             {"core", m.core ? json(name(*m.core)) : json(nullptr)},
             {"focus", m.focus},
             {"blur_um", m.blur.value()},
             {"retake", retake},
             {"findings", findings}};
    // what is as usual is not said: most of a long journal is looks, and all of it is read at every opening
    if (m.scaleSource == face::ScaleSource::Calibration) out["scale_source"] = "calibration";
    if (m.coreInferred) out["core_inferred"] = true;
    if (m.guide != face::Guide::NotSeen) out["guide"] = name(m.guide);
    for (const auto fault : m.making) out["making"].push_back(face::name(fault));
    if (m.ferruleSeen) out["ferrule_seen"] = rounded(*m.ferruleSeen, 3);
    if (m.row > 1) out["row"] = m.row;
    if (m.light) out["light"] = rounded(*m.light, 3);
    if (m.lonePixels > 0) out["lone_pixels"] = m.lonePixels;
    if (m.offset) out["offset_um"] = rounded(m.offset->value(), 2);
    return out;
}

namespace {

constexpr std::size_t mostOutline = 200;  // points

Finding findingFromJson(FlatJson::Value value, std::optional<std::string>& problem)
{
    FlatReading in(value, "finding");
    Finding f;
    f.id = static_cast<int>(in.number("id", 0, 1e6));
    const auto kind = findingKindNamed(in.text("kind"));
    const auto appearance = appearanceNamed(in.text("appearance"));
    if (!kind || !appearance) in.complain("unknown kind or appearance");
    f.kind = kind.value_or(FindingKind::Defect);
    f.appearance = appearance.value_or(Appearance::Other);
    const FlatJson::Value centre = in.list("center_um");
    if (centre.size() == 2 && centre[0].is_number() && centre[1].is_number())
        f.centre = {Micrometre(centre[0].get<double>()), Micrometre(centre[1].get<double>())};
    else
        in.complain("“center_um” must hold two numbers");
    f.size = Micrometre(in.number("size_um", 0, 1e5));
    f.width = Micrometre(in.number("width_um", 0, 1e5));
    f.length = Micrometre(in.number("length_um", 0, 1e5));
    f.nearest = Micrometre(in.number("nearest_um", 0, 1e5));
    f.farthest = Micrometre(in.number("farthest_um", 0, 1e5));
    f.contrast = in.number("contrast", -10, 1e4);
    if (const auto outline = in.find("outline_um"); outline && outline->is_array() && outline->size() <= mostOutline)
        for (const auto point : *outline)
            if (point.size() == 2 && point[0].is_number() && point[1].is_number())
                f.outline.push_back({Micrometre(point[0].get<double>()), Micrometre(point[1].get<double>())});
    if (!problem) problem = in.problem();
    return f;
}

}  // namespace

Result<face::FaceMeasurement> measurementFromJson(FlatJson::Value value)
{
    FlatReading in(value, "measurement");
    std::optional<std::string> problem;
    face::FaceMeasurement m;
    m.fibre = static_cast<int>(in.number("fibre", 1, 10000));
    const FlatJson::Value centre = in.list("centre_px");
    if (centre.size() == 2 && centre[0].is_number() && centre[1].is_number())
        m.centre = {Pixel(centre[0].get<double>()), Pixel(centre[1].get<double>())};
    m.claddingDiameter = Pixel(in.number("cladding_px", 0, 1e6));
    m.scale = Scale(in.number("um_per_px", 0, 1e4));
    m.scaleSource = in.textOr("scale_source", "cladding") == "calibration" ? face::ScaleSource::Calibration : face::ScaleSource::Cladding;
    m.core = coreKindNamed(in.textOr("core", ""));
    m.coreInferred = in.flagOr("core_inferred", false);
    m.focus = in.number("focus", 0, 1);
    m.blur = Micrometre(in.number("blur_um", 0, 1e5));
    const std::string guide = in.textOr("guide", std::string(face::name(face::Guide::NotSeen)));
    for (const auto known : {face::Guide::Hole, face::Guide::Pin})
        if (guide == face::name(known)) m.guide = known;
    for (const auto word : in.list("retake"))
        for (const auto reason : {face::RetakeReason::NoFibre, face::RetakeReason::CutOff, face::RetakeReason::OutOfFocus,
                                  face::RetakeReason::TooBright, face::RetakeReason::TooDark, face::RetakeReason::TooSmall})
            if (word == face::name(reason)) m.retake.push_back(reason);
    if (in.find("making"))
        for (const auto word : in.list("making"))
            for (const auto fault : {face::MakingFault::WideHole, face::MakingFault::OffCentre, face::MakingFault::Proud,
                                     face::MakingFault::RaggedRim, face::MakingFault::Unpolished})
                if (word == face::name(fault)) m.making.push_back(fault);
    for (const auto f : in.list("findings")) m.findings.push_back(findingFromJson(f, problem));
    m.ferruleSeen = in.numberOrNothing("ferrule_seen", 0, 1);
    m.row = static_cast<int>(in.numberOrNothing("row", 1, 100).value_or(1));
    m.light = in.numberOrNothing("light", 0, 2);
    m.lonePixels = static_cast<int>(in.numberOrNothing("lone_pixels", 0, 1e8).value_or(0));
    if (const auto offset = in.numberOrNothing("offset_um", 0, 100)) m.offset = Micrometre(*offset);
    if (!problem) problem = in.problem();
    if (problem) return failure(Error::Code::JobDamaged, fmt::format("An entry of the job cannot be read ({}).", *problem));
    return m;
}

}  // namespace clendo
