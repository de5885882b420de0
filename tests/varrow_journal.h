#pragma once
#include "files/files.h"
#include "record/fold/fold.h"
#include "record/fold/signed_record.h"
#include "record/journal/filing.h"
#include "record/state/complete_act.h"
#include "record/state/rules.h"
#include "record/state/state.h"

/// A job to test with: the cable of the demo, a journal written line by line, faces with dirt, a shot.
namespace clendo {

inline CablePlan varrowCable(int fibres = 12)
{
    CablePlan c;
    c.id = "VP-04";
    c.placeA = "Tide Hall";
    c.placeB = "Breakwater Hut";
    c.panelA = "TH-R2";
    c.panelB = "BH box";
    c.fibres = fibres;
    c.length = Metre(2400);
    c.splices = {{"manhole 3", Metre(1180)}, {"sea wall", Metre(1905)}};
    return c;
}

/// A reel as it came: 1,000 m of 12 fibres, its marks in feet.
inline reel::Delivery varrowReel(const std::string& name = "R-7")
{
    reel::Delivery d;
    d.reel = name;
    d.ordered = Metre(1000);
    d.fibres = 12;
    d.type = "OS2";
    d.allowed = {{1550, DecibelPerKilometre(0.3)}};
    d.excess = 0.01;
    d.marks = reel::SheathMarks{48210, 44930, reel::MarkUnit::Feet, 5};
    d.jacket = d.environment = "outdoor";
    d.date = "2026-11-27";
    d.supplierLength = Metre(1002);
    d.supplier = {{1550, DecibelPerKilometre(0.19)}};
    d.pricePerMetre = 2.4;
    return d;
}

/// Writes a journal line by line, each line an act of its own a minute after the one before. Readings name the reference that was set last.
class Journal {
public:
    Journal()
    {
        JobSettings job;
        job.name = "Varrow Point";
        set(job);
        add(CablePlanned{varrowCable(2)});
    }
    /// Seconds since 1970-01-01 UTC of the next line.
    [[nodiscard]] std::int64_t now() const { return 1794902400 + 60 * lines_; }
    /// `late`: seconds between the moment when it happened and the moment when it was filed.
    Journal& act(std::vector<Fact> facts, std::int64_t late = 0)
    {
        const std::int64_t at = now() * 1'000'000;
        ++lines_;
        const Act done{who, facts, at - late * 1'000'000, at, "act" + std::to_string(lines_)};
        const auto records = recordsOf(done, end_);
        for (std::size_t i = 0; i < facts.size(); ++i) entries.push_back({records[i], std::move(facts[i])});
        return *this;
    }
    Journal& add(Fact fact)
    {
        if (auto* read = std::get_if<PowerRead>(&fact); read && !read->reference) read->reference = referenceFor(*read);
        return act({std::move(fact)});
    }
    /// All of the job's settings, or those that differ from what holds.
    Journal& set(const JobSettings& job) { return act(entries.empty() ? settingFacts(job) : settingFacts(state().plan->job, job)); }
    Journal& look(const FaceId& face, std::vector<Finding> findings = {})
    {
        FaceSeen seen{face, "sha", "p.png", {}, {}};
        seen.measured.claddingDiameter = Pixel(300);
        seen.measured.findings = std::move(findings);
        return add(seen);
    }
    Journal& blurred(const FaceId& face)
    {
        FaceSeen seen{face, "sha", "p.png", {}, {}};
        seen.measured.retake.push_back(face::RetakeReason::OutOfFocus);
        return add(seen);
    }
    Journal& clean(const FaceId& face, const char* method = "dry") { return add(FaceCleaned{face, method, 1}); }
    Journal& light(double reference, double power, const std::string& link = "VP-04/1", ReferenceMethod method = ReferenceMethod::OneCord)
    {
        for (const auto d : {Direction::AtoB, Direction::BtoA})
            for (const double nm : {1310.0, 1550.0}) {
                add(ReferenceSet{method, Nanometre(nm), d, DecibelMilliwatt(reference)});
                add(PowerRead{link, Nanometre(nm), d, DecibelMilliwatt(power), {}, {}});
            }
        return *this;
    }
    /// A signature bound to what is there now.
    Journal& sign(const std::string& subject, const std::string& remark = {})
    {
        auto bound = boundSignature(state(), subject, remark);
        evidence[bound->sign.record] = bound->record.bytes;
        return add(std::move(completeAct({std::move(bound->sign)}, state()).front()));
    }
    [[nodiscard]] EvidenceSource source() const
    {
        return [this](const std::string& sha) -> Result<std::string> {
            const auto it = evidence.find(sha);
            if (it == evidence.end()) return failure(Error::Code::JobDamaged, "gone");
            return it->second;
        };
    }
    [[nodiscard]] JobState state() const { return fold(entries, rules); }

    std::vector<Entry> entries;
    std::map<std::string, std::string> evidence;
    std::string who = "technician 1";
    Rules rules{dataFolder()};

private:
    [[nodiscard]] Digest referenceFor(const PowerRead& read) const
    {
        Digest out;
        for (const auto& e : entries) {
            const auto* set = std::get_if<ReferenceSet>(&e.fact);
            if (set && set->direction == read.direction && set->wavelength == read.wavelength) out = e.hash;
        }
        return out;
    }

    std::int64_t lines_ = 0;
    ChainEnd end_{"device1", {}, {}};
};

inline std::vector<Digest> hashesOf(const std::vector<EntryRecord>& journal)
{
    std::vector<Digest> out;
    for (const auto& e : journal) out.push_back(e.hash);
    return out;
}

inline std::vector<EntryRecord> recordsOfJournal(const Journal& j)
{
    std::vector<EntryRecord> out;
    for (const auto& e : j.entries) out.push_back(recordOf(e).value());
    return out;
}

inline Finding dirt(double x, double size = 7, int id = 1)
{
    Finding f;
    f.id = id;
    f.kind = FindingKind::Defect;
    f.appearance = Appearance::Particle;
    f.centre = {Micrometre(x), Micrometre(0)};
    f.size = f.width = f.length = Micrometre(size);
    f.nearest = Micrometre(std::abs(x) - size / 2);
    f.farthest = Micrometre(std::abs(x) + size / 2);
    f.contrast = -0.5;
    return f;
}

inline const FaceId cordA{"VP-04/1", End::A, Side::Cord}, portA{"VP-04/1", End::A, Side::Port}, cordB{"VP-04/1", End::B, Side::Cord},
    portB{"VP-04/1", End::B, Side::Port};

inline Journal mated()
{
    Journal j;
    j.look(cordA).look(portA).add(SleeveCleaned{"VP-04/1", End::A}).add(Mated{"VP-04/1", End::A});
    j.look(cordB).look(portB).add(SleeveCleaned{"VP-04/1", End::B}).add(Mated{"VP-04/1", End::B});
    return j;
}

inline TraceShot shot(Direction direction = Direction::AtoB, double spliceLoss = 0.1, double nm = 1550)
{
    using otdr::Event;
    using otdr::EventKind;
    TraceShot s{"VP-04/1", direction, "tracesha", "t.sor", Nanometre(nm), {Metre(150), Metre(150)}, {}, {}};
    const auto event = [&](EventKind kind, double at, std::optional<double> loss) {
        Event e;
        e.number = static_cast<int>(s.found.events.size()) + 1;
        e.kind = kind;
        e.at = Metre(direction == Direction::AtoB ? at : 2700 - at);
        if (loss) e.loss = Decibel(*loss);
        if (kind == EventKind::Reflective) e.reflectance = Decibel(-50);
        return e;
    };
    auto& events = s.found.events;
    events = {event(EventKind::Reflective, 150, 0.3), event(EventKind::Loss, 1332, spliceLoss), event(EventKind::Loss, 2056, 0.05),
              event(EventKind::Loss, 2300, 0.2), event(EventKind::Reflective, 2551, 0.4)};
    if (direction == Direction::BtoA) std::reverse(events.begin(), events.end());
    Event launch;
    launch.kind = EventKind::Launch;
    events.insert(events.begin(), launch);
    Event end;
    end.kind = EventKind::End;
    end.at = Metre(2700);
    events.push_back(end);
    const bool forward = direction == Direction::AtoB;  // the connectors at 150 and 2551 m from A's panel, seen from either end
    s.found.span = otdr::Span{Metre(forward ? 150 : 149), Metre(forward ? 2551 : 2550), Decibel(1.4), DecibelPerKilometre(0.2), Decibel(38)};
    return s;
}

/// Everything that the job asks of VP-04/1, done and well.
inline Journal finished()
{
    Journal j = mated();
    j.light(-7, -8.5).add(LightSeen{"VP-04", 1, 1});
    for (const double nm : {1310.0, 1550.0})
        for (const Direction d : {Direction::AtoB, Direction::BtoA}) j.add(shot(d, 0.1, nm));
    return j;
}

}  // namespace clendo
