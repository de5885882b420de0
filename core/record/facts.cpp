#include "record/facts.h"

#include <algorithm>
#include <array>

#include "face/face_json.h"
#include "files/json_reading.h"
#include "otdr/trace_json.h"

namespace clendo {
namespace {

constexpr std::array<std::string_view, 4> overrulings{"not-real", "scratch", "defect", "missed"};  // in the order of As

using nlohmann::json;

template <class... Cases>
struct Overloaded : Cases... {
    using Cases::operator()...;
};
template <class... Cases>
Overloaded(Cases...) -> Overloaded<Cases...>;

json cableToJson(const CablePlan& c)
{
    json splices = json::array();
    for (const auto& s : c.splices) splices.push_back({{"name", s.name}, {"at_m", s.at.value()}});
    return {{"id", c.id},
            {"place_a", c.placeA},
            {"place_b", c.placeB},
            {"panel_a", c.panelA},
            {"panel_b", c.panelB},
            {"fibre", c.fibre},
            {"connector", c.connector},
            {"criteria", c.criteria},
            {"fibres", c.fibres},
            {"ferrule_fibres", c.ferruleFibres},
            {"length_m", c.length.value()},
            {"splices", splices}};
}

/// Reads facts; remembers the first thing that is wrong.
class FactReading {
public:
    explicit FactReading(const json& body) : in_(body, "") {}

    JobSet jobSet()
    {
        JobSet f;
        f.name = in_.text("name");
        f.edition = in_.text("edition");
        f.limits = in_.text("limits");
        f.method = method();
        f.wavelengths.clear();
        for (const auto& nm : in_.list("wavelengths_nm"))
            if (nm.is_number_integer() && nm.get<int>() > 400 && nm.get<int>() < 2000)
                f.wavelengths.push_back(nm.get<int>());
            else
                in_.complain("wavelengths must be whole nanometres");
        f.attempts = static_cast<int>(in_.number("attempts", 1, 100));
        f.stopAtFirstBad = in_.flagOr("stop_at_first_bad", false);
        f.launchCord = Metre(in_.number("launch_m", 0, 1e5));
        f.tailCord = Metre(in_.number("tail_m", 0, 1e5));
        return f;
    }
    CablePlanned cable()
    {
        CablePlan c;
        c.id = in_.text("id");
        c.placeA = in_.text("place_a");
        c.placeB = in_.text("place_b");
        c.panelA = in_.text("panel_a");
        c.panelB = in_.text("panel_b");
        c.fibre = in_.text("fibre");
        c.connector = in_.text("connector");
        c.criteria = in_.text("criteria");
        c.fibres = static_cast<int>(in_.number("fibres", 1, 100000));
        c.ferruleFibres = static_cast<int>(in_.numberOrNothing("ferrule_fibres", 1, 1000).value_or(1));
        c.length = Metre(in_.number("length_m", 0, 1e7));
        for (const auto& item : in_.list("splices")) {
            JsonReading s(item, "splice");
            c.splices.push_back({s.text("name"), Metre(s.number("at_m", 0, 1e7))});
            if (s.problem()) in_.complain(*s.problem());
        }
        if (const auto ok = check(c); !ok) in_.complain(ok.error().message);
        return {c};
    }
    FaceSeen seen()
    {
        FaceSeen f;
        f.face = face();
        f.picture = in_.text("picture");
        f.pictureName = in_.text("picture_name");
        const json* m = in_.find("measured");
        if (auto measured = measurementFromJson(m ? *m : json()))
            f.measured = std::move(*measured);
        else
            in_.complain(measured.error().message);
        return f;
    }
    FaceCleaned cleaned() { return {face(), in_.text("method"), static_cast<int>(in_.number("strokes", 1, 1000))}; }
    Mated mated() { return {in_.text("link"), in_.text("end") == "B" ? End::B : End::A}; }
    ReferenceSet reference()
    {
        return {method(), Nanometre(in_.number("wavelength_nm", 400, 2000)), direction(), DecibelMilliwatt(in_.number("level_dbm", -90, 30))};
    }
    ReferenceVoided voided() { return {direction(), in_.text("reason")}; }
    PowerRead power()
    {
        return {in_.text("link"), Nanometre(in_.number("wavelength_nm", 400, 2000)), direction(), DecibelMilliwatt(in_.number("power_dbm", -90, 30))};
    }
    TraceShot trace()
    {
        TraceShot f;
        f.link = in_.text("link");
        f.direction = direction();
        f.trace = in_.text("trace");
        f.traceName = in_.text("trace_name");
        f.wavelength = Nanometre(in_.number("wavelength_nm", 0, 5000));
        f.cords = {Metre(in_.number("launch_m", 0, 1e6)), Metre(in_.number("tail_m", 0, 1e6))};
        const json* found = in_.find("found");
        if (auto analysis = otdr::analysisFromJson(found ? *found : json()))
            f.found = std::move(*analysis);
        else
            in_.complain(analysis.error().message);
        return f;
    }
    Signed signedOff() { return {in_.text("subject"), in_.textOr("remark", "")}; }
    Corrected corrected() { return {static_cast<std::int64_t>(in_.number("entry", 1, 1e15)), in_.text("reason")}; }

    FindingOverruled overruled()
    {
        FindingOverruled f;
        f.face = face();
        f.look = static_cast<std::int64_t>(in_.number("look", 1, 1e15));
        f.finding = static_cast<int>(in_.number("finding", 0, 1e6));
        const auto as = std::find(overrulings.begin(), overrulings.end(), in_.text("as"));
        if (as == overrulings.end())
            in_.complain("“as” must be not-real, scratch, defect or missed");
        else
            f.as = static_cast<FindingOverruled::As>(as - overrulings.begin());
        f.reason = in_.text("reason");
        f.place = {Micrometre(in_.number("x_um", -500, 500)), Micrometre(in_.number("y_um", -500, 500))};
        f.size = Micrometre(in_.number("size_um", 0, 500));
        return f;
    }

    ProfileKept profile() { return {in_.text("edition"), in_.text("text")}; }
    ScopeCalibrated calibrated() { return {in_.text("scope"), Scale(in_.number("um_per_pixel", 0.01, 10))}; }

    [[nodiscard]] const std::optional<std::string>& problem() const { return in_.problem(); }

private:
    FaceId face()
    {
        auto id = FaceId::parse(in_.text("face"));
        if (!id) in_.complain("“face” must look like VP-04/7/A/port");
        return id.value_or(FaceId{});
    }
    ReferenceMethod method()
    {
        const auto m = referenceMethodNamed(in_.text("method"));
        if (!m) in_.complain("unknown reference method");
        return m.value_or(ReferenceMethod::OneCord);
    }
    Direction direction()
    {
        const auto d = directionNamed(in_.text("direction"));
        if (!d) in_.complain("“direction” must be ab or ba");
        return d.value_or(Direction::AtoB);
    }

    JsonReading in_;
};

}  // namespace

std::string_view name(FindingOverruled::As as) { return overrulings[static_cast<std::size_t>(as)]; }

std::string_view kindOf(const Fact& fact)
{
    return std::visit(
        Overloaded{
            [](const JobSet&) -> std::string_view { return "job_set"; }, [](const CablePlanned&) -> std::string_view { return "cable_planned"; },
            [](const FaceSeen&) -> std::string_view { return "face_seen"; }, [](const FaceCleaned&) -> std::string_view { return "face_cleaned"; },
            [](const Mated&) -> std::string_view { return "mated"; }, [](const ReferenceSet&) -> std::string_view { return "reference_set"; },
            [](const ReferenceVoided&) -> std::string_view { return "reference_voided"; },
            [](const PowerRead&) -> std::string_view { return "power_read"; }, [](const TraceShot&) -> std::string_view { return "trace_shot"; },
            [](const Signed&) -> std::string_view { return "signed"; }, [](const Corrected&) -> std::string_view { return "corrected"; },
            [](const FindingOverruled&) -> std::string_view { return "finding_overruled"; },
            [](const ProfileKept&) -> std::string_view { return "profile_kept"; },
            [](const ScopeCalibrated&) -> std::string_view { return "scope_calibrated"; },
            [](const UnknownFact& f) -> std::string_view { return f.kind; }},
        fact);
}

json bodyOf(const Fact& fact)
{
    return std::visit(
        Overloaded{
            [](const JobSet& f) -> json {
                return {{"name", f.name},
                        {"edition", f.edition},
                        {"limits", f.limits},
                        {"method", name(f.method)},
                        {"wavelengths_nm", f.wavelengths},
                        {"attempts", f.attempts},
                        {"stop_at_first_bad", f.stopAtFirstBad},
                        {"launch_m", f.launchCord.value()},
                        {"tail_m", f.tailCord.value()}};
            },
            [](const CablePlanned& f) -> json { return cableToJson(f.cable); },
            [](const FaceSeen& f) -> json {
                return {
                    {"face", f.face.text()}, {"picture", f.picture}, {"picture_name", f.pictureName}, {"measured", measurementToJson(f.measured)}};
            },
            [](const FaceCleaned& f) -> json {
                return {{"face", f.face.text()}, {"method", f.method}, {"strokes", f.strokes}};
            },
            [](const Mated& f) -> json {
                return {{"link", f.link}, {"end", name(f.end)}};
            },
            [](const ReferenceSet& f) -> json {
                return {{"method", name(f.method)},
                        {"wavelength_nm", f.wavelength.value()},
                        {"direction", name(f.direction)},
                        {"level_dbm", f.level.value()}};
            },
            [](const ReferenceVoided& f) -> json {
                return {{"direction", name(f.direction)}, {"reason", f.reason}};
            },
            [](const PowerRead& f) -> json {
                return {{"link", f.link}, {"wavelength_nm", f.wavelength.value()}, {"direction", name(f.direction)}, {"power_dbm", f.power.value()}};
            },
            [](const TraceShot& f) -> json {
                return {{"link", f.link},
                        {"direction", name(f.direction)},
                        {"trace", f.trace},
                        {"trace_name", f.traceName},
                        {"wavelength_nm", f.wavelength.value()},
                        {"launch_m", f.cords.launch.value()},
                        {"tail_m", f.cords.tail.value()},
                        {"found", otdr::toJson(f.found)}};
            },
            [](const Signed& f) -> json {
                return {{"subject", f.subject}, {"remark", f.remark}};
            },
            [](const Corrected& f) -> json {
                return {{"entry", f.entry}, {"reason", f.reason}};
            },
            [](const FindingOverruled& f) -> json {
                return {{"face", f.face.text()},     {"look", f.look},           {"finding", f.finding},
                        {"as", name(f.as)},          {"reason", f.reason},       {"x_um", f.place.x.value()},
                        {"y_um", f.place.y.value()}, {"size_um", f.size.value()}};
            },
            [](const ProfileKept& f) -> json {
                return {{"edition", f.edition}, {"text", f.text}};
            },
            [](const ScopeCalibrated& f) -> json {
                return {{"scope", f.scope}, {"um_per_pixel", f.scale.micrometresPerPixel()}};
            },
            [](const UnknownFact& f) -> json { return f.body; }},
        fact);
}

Result<Fact> factFrom(std::string_view kind, std::string_view text)
{
    const json body = json::parse(text, nullptr, false);
    if (!body.is_object()) return failure(Error::Code::JobDamaged, "An entry of the job is not readable.", std::string(kind));
    FactReading in(body);
    const auto read = [&]() -> Fact {
        if (kind == "job_set") return in.jobSet();
        if (kind == "cable_planned") return in.cable();
        if (kind == "face_seen") return in.seen();
        if (kind == "face_cleaned") return in.cleaned();
        if (kind == "mated") return in.mated();
        if (kind == "reference_set") return in.reference();
        if (kind == "reference_voided") return in.voided();
        if (kind == "power_read") return in.power();
        if (kind == "trace_shot") return in.trace();
        if (kind == "signed") return in.signedOff();
        if (kind == "corrected") return in.corrected();
        if (kind == "finding_overruled") return in.overruled();
        if (kind == "profile_kept") return in.profile();
        if (kind == "scope_calibrated") return in.calibrated();
        return UnknownFact{std::string(kind), body};
    };
    Fact fact = read();
    if (in.problem()) return failure(Error::Code::JobDamaged, fmt::format("An entry of the job ({}) cannot be read: {}.", kind, *in.problem()));
    return fact;
}

}  // namespace clendo
