// Facts out of the bodies that a job file holds. Every body is taken as hostile.
#include <algorithm>

#include "face/face_json.h"
#include "files/json_reading.h"
#include "otdr/trace_json.h"
#include "record/facts.h"

namespace clendo {
namespace {

using nlohmann::json;

/// Reads facts; remembers the first thing that is wrong.
class FactReading {
public:
    explicit FactReading(FlatJson::Value body) : in_(body, "") {}

    JobSet jobSet()
    {
        JobSet f;
        f.name = in_.text("name");
        f.edition = in_.text("edition");
        f.limits = in_.text("limits");
        f.method = method();
        f.wavelengths.clear();
        for (const auto nm : in_.list("wavelengths_nm"))
            if (nm.is_number_integer() && nm.get<int>() > 400 && nm.get<int>() < 2000)
                f.wavelengths.push_back(nm.get<int>());
            else
                in_.complain("wavelengths must be whole nanometres");
        f.attempts = static_cast<int>(in_.number("attempts", 1, 100));
        f.stopAtFirstBad = in_.flagOr("stop_at_first_bad", false);
        if (const auto policies = in_.find("policies"); policies && policies->is_object())
            for (const auto answer : *policies)
                if (answer.is_string() && f.policies.size() < 100) f.policies.emplace(answer.key(), answer.get<std::string>());
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
        c.tubeFibres = static_cast<int>(in_.numberOrNothing("tube_fibres", 1, 100000).value_or(12));
        c.length = Metre(in_.number("length_m", 0, 1e7));
        for (const auto item : in_.list("splices")) {
            FlatReading s(item, "splice");
            c.splices.push_back({s.text("name"), Metre(s.number("at_m", 0, 1e7))});
            if (s.problem()) in_.complain(*s.problem());
        }
        c.endA = cableEnd("end_a");
        c.endB = cableEnd("end_b");
        if (const auto ok = check(c); !ok) in_.complain(ok.error().message);
        return {c};
    }
    FaceSeen seen()
    {
        FaceSeen f;
        f.face = face();
        f.picture = in_.text("picture");
        f.pictureName = in_.text("picture_name");
        if (auto measured = measurementFromJson(in_.find("measured").value_or(FlatJson::Value())))
            f.measured = std::move(*measured);
        else
            in_.complain(measured.error().message);
        return f;
    }
    FaceCleaned cleaned() { return {face(), in_.text("method"), static_cast<int>(in_.number("strokes", 1, 1000)), in_.textOr("tool", "")}; }
    Mated mated() { return {in_.text("link"), end(), in_.textOr("reason", "")}; }
    SleeveCleaned sleeve() { return {in_.text("link"), end()}; }
    FaceHandled handled() { return {face(), in_.text("how")}; }
    FaceCovered covered() { return {face(), in_.text("how")}; }
    KitKept kit()
    {
        return {in_.text("id"),
                in_.text("kind"),
                texts("connectors"),
                in_.textOr("serial", ""),
                static_cast<std::int64_t>(in_.numberOrNothing("calibrated_until", 0, 1e12).value_or(0)),
                static_cast<int>(in_.numberOrNothing("most", 0, 1e6).value_or(0)),
                in_.textOr("criteria", ""),
                in_.flagOr("gone", false)};
    }
    KitProved proved() { return {in_.text("id"), in_.text("what"), in_.flagOr("good", true)}; }
    KitChecked checked() { return {texts("open"), in_.textOr("reason", "")}; }
    Joined joined() { return {face("a"), face("b")}; }
    ReferenceSet reference()
    {
        return {method(), Nanometre(in_.number("wavelength_nm", 400, 2000)), direction(), DecibelMilliwatt(in_.number("level_dbm", -90, 30))};
    }
    ReferenceVoided voided() { return {direction(), in_.text("reason")}; }
    PowerRead power()
    {
        return {in_.text("link"), Nanometre(in_.number("wavelength_nm", 400, 2000)), direction(), DecibelMilliwatt(in_.number("power_dbm", -90, 30))};
    }
    TraceShot trace(const json& body)
    {
        TraceShot f;
        f.link = in_.text("link");
        f.direction = direction();
        f.trace = in_.text("trace");
        f.traceName = in_.text("trace_name");
        f.wavelength = Nanometre(in_.number("wavelength_nm", 0, 5000));
        f.cords = {Metre(in_.number("launch_m", 0, 1e6)), Metre(in_.number("tail_m", 0, 1e6))};
        if (auto analysis = otdr::analysisFromJson(body.value("found", json())))
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
        if (const auto as = overrulingNamed(in_.text("as")))
            f.as = *as;
        else
            in_.complain("“as” must be not-real, scratch, defect or missed");
        f.reason = in_.text("reason");
        f.place = {Micrometre(in_.number("x_um", -500, 500)), Micrometre(in_.number("y_um", -500, 500))};
        f.size = Micrometre(in_.number("size_um", 0, 500));
        return f;
    }

    ProfileKept profile() { return {in_.text("edition"), in_.text("text")}; }
    ScopeCalibrated calibrated() { return {in_.text("scope"), Scale(in_.number("um_per_pixel", 0.01, 10))}; }

    [[nodiscard]] const std::optional<std::string>& problem() const { return in_.problem(); }

private:
    /// What a job of an earlier version does not say is as it was then: port 1, cords like the cable, behind an adapter.
    CableEnd cableEnd(std::string_view key)
    {
        const auto found = in_.find(key);
        if (!found || found->is_null()) return {};
        FlatReading e(*found, std::string(key));
        CableEnd end{static_cast<int>(e.number("first_port", 1, 9999)), e.textOr("cord_criteria", ""), e.textOr("cord_fibre", ""), Access::Adapter,
                     e.textOr("rack", "")};
        if (const auto access = accessNamed(e.textOr("access", "adapter")))
            end.access = *access;
        else
            e.complain("“access” must be adapter, device or hardened");
        if (const auto pins = e.textOr("pins", ""); !pins.empty()) {
            end.pins = sideNamed(pins);
            if (!end.pins) e.complain("“pins” must be cord or port");
        }
        if (e.problem()) in_.complain(*e.problem());
        return end;
    }
    std::vector<std::string> texts(std::string_view key)
    {
        std::vector<std::string> out;
        for (const auto item : in_.list(key))
            if (item.is_string())
                out.push_back(item.get<std::string>());
            else
                in_.complain(fmt::format("“{}” must be a list of texts", key));
        return out;
    }
    End end() { return in_.text("end") == "B" ? End::B : End::A; }
    FaceId face(std::string_view key = "face")
    {
        auto id = FaceId::parse(in_.text(key));
        if (!id) in_.complain(fmt::format("“{}” must look like VP-04/7/A/port", key));
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

    FlatReading in_;
};

}  // namespace

Result<Fact> factFrom(std::string_view kind, std::string_view text)
{
    thread_local FlatJson doc;  // a hundred thousand entries one after another: it keeps its room
    if (!doc.read(text) || !doc.root().is_object())
        return failure(Error::Code::JobDamaged, "An entry of the job is not readable.", std::string(kind));
    FactReading in(doc.root());
    const auto read = [&]() -> Fact {
        if (kind == "job_set") return in.jobSet();
        if (kind == "cable_planned") return in.cable();
        if (kind == "face_seen") return in.seen();
        if (kind == "face_cleaned") return in.cleaned();
        if (kind == "mated") return in.mated();
        if (kind == "reference_set") return in.reference();
        if (kind == "reference_voided") return in.voided();
        if (kind == "power_read") return in.power();
        if (kind == "trace_shot") return in.trace(json::parse(text, nullptr, false));
        if (kind == "signed") return in.signedOff();
        if (kind == "corrected") return in.corrected();
        if (kind == "finding_overruled") return in.overruled();
        if (kind == "sleeve_cleaned") return in.sleeve();
        if (kind == "face_handled") return in.handled();
        if (kind == "face_covered") return in.covered();
        if (kind == "kit_kept") return in.kit();
        if (kind == "kit_proved") return in.proved();
        if (kind == "kit_checked") return in.checked();
        if (kind == "joined") return in.joined();
        if (kind == "profile_kept") return in.profile();
        if (kind == "scope_calibrated") return in.calibrated();
        return UnknownFact{std::string(kind), std::string(text)};
    };
    Fact fact = read();
    if (in.problem()) return failure(Error::Code::JobDamaged, fmt::format("An entry of the job ({}) cannot be read: {}.", kind, *in.problem()));
    return fact;
}

}  // namespace clendo
