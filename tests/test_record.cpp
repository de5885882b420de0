#include <QtTest>

#include "files/files.h"
#include "record/certificate.h"
#include "record/plan_match.h"
#include "record/round.h"
#include "record/ruling.h"

using namespace clendo;

namespace {

/// Writes a journal line by line.
class Journal {
public:
    Journal()
    {
        JobSet job;
        job.name = "Varrow Point";
        add(job);
        CablePlan c;
        c.id = "VP-04";
        c.placeA = "Tide Hall";
        c.placeB = "Breakwater Hut";
        c.panelA = "TH-R2";
        c.panelB = "BH box";
        c.fibres = 2;
        c.length = Metre(2400);
        c.splices = {{"manhole 3", Metre(1180)}, {"sea wall", Metre(1905)}};
        add(CablePlanned{c});
    }
    Journal& add(Fact fact)
    {
        entries.push_back({static_cast<std::int64_t>(entries.size()) + 1, 1794902400 + 60 * static_cast<std::int64_t>(entries.size()), "technician 1",
                           std::move(fact)});
        return *this;
    }
    Journal& look(const FaceId& face, std::vector<Finding> findings = {})
    {
        FaceSeen seen{face, "sha", "p.png", {}};
        seen.measured.claddingDiameter = Pixel(300);
        seen.measured.findings = std::move(findings);
        return add(seen);
    }
    Journal& blurred(const FaceId& face)
    {
        FaceSeen seen{face, "sha", "p.png", {}};
        seen.measured.retake.push_back(face::RetakeReason::OutOfFocus);
        return add(seen);
    }
    Journal& clean(const FaceId& face, const char* method = "dry") { return add(FaceCleaned{face, method, 1}); }
    Journal& light(double reference, double power, const std::string& link = "VP-04/1", ReferenceMethod method = ReferenceMethod::OneCord)
    {
        for (const auto d : {Direction::AtoB, Direction::BtoA})
            for (const double nm : {1310.0, 1550.0}) {
                add(ReferenceSet{method, Nanometre(nm), d, DecibelMilliwatt(reference)});
                add(PowerRead{link, Nanometre(nm), d, DecibelMilliwatt(power)});
            }
        return *this;
    }
    [[nodiscard]] JobState state() const { return fold(entries, rules); }

    std::vector<Entry> entries;
    Rules rules{dataFolder()};
};

Finding dirt(double x, double size = 7, int id = 1)
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

const FaceId cordA{"VP-04/1", End::A, Side::Cord}, portA{"VP-04/1", End::A, Side::Port}, cordB{"VP-04/1", End::B, Side::Cord},
    portB{"VP-04/1", End::B, Side::Port};

Journal mated()
{
    Journal j;
    j.look(cordA).look(portA).add(Mated{"VP-04/1", End::A}).look(cordB).look(portB).add(Mated{"VP-04/1", End::B});
    return j;
}

TraceShot shot(Direction direction = Direction::AtoB, double spliceLoss = 0.1)
{
    using otdr::Event;
    using otdr::EventKind;
    TraceShot s{"VP-04/1", direction, "tracesha", "t.sor", Nanometre(1550), {Metre(150), Metre(150)}, {}};
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
    s.found.span = otdr::Span{Metre(150), Metre(2551), Decibel(1.4), DecibelPerKilometre(0.2), Decibel(38)};
    return s;
}

}  // namespace

class TestRecord : public QObject {
    Q_OBJECT
private slots:
    void everyFactSurvivesTheFile()
    {
        Journal j = mated();
        j.clean(cordA, "wet-then-dry")
            .light(-7, -8.5)
            .add(shot())
            .add(ReferenceVoided{Direction::BtoA, "cord moved"})
            .add(Signed{"VP-04/1", "well"})
            .add(Corrected{3, "wrong face"});
        j.look(portB, {dirt(30)});
        for (const auto& entry : j.entries) {
            const auto back = factFrom(kindOf(entry.fact), bodyOf(entry.fact).dump());
            QVERIFY2(back.has_value(), back ? "" : back.error().message.c_str());
            QCOMPARE(bodyOf(*back), bodyOf(entry.fact));
            QCOMPARE(back->index(), entry.fact.index());
        }
    }
    void aKindOfTomorrowIsKept()
    {
        const auto fact = factFrom("reel_accepted", R"({"reel": 7})");
        QVERIFY(fact && std::holds_alternative<UnknownFact>(*fact));
        QCOMPARE(std::string(kindOf(*fact)), std::string("reel_accepted"));
        QCOMPARE(bodyOf(*fact).dump(), std::string(R"({"reel":7})"));
    }
    void damagedEntriesAreErrors_data()
    {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("body");
        QTest::newRow("no JSON") << "mated"
                                 << "{";
        QTest::newRow("a list") << "mated"
                                << "[]";
        QTest::newRow("face without a name") << "face_cleaned"
                                             << R"({"face":"x","method":"dry","strokes":1})";
        QTest::newRow("no strokes") << "face_cleaned"
                                    << R"({"face":"VP/1/A/cord","method":"dry"})";
        QTest::newRow("power of the sun") << "power_read"
                                          << R"({"link":"a","wavelength_nm":1310,"direction":"ab","power_dbm":1e9})";
        QTest::newRow("bad direction") << "reference_set"
                                       << R"({"method":"one-cord","wavelength_nm":1310,"direction":"up","level_dbm":-7})";
        QTest::newRow("cable of -5 fibres")
            << "cable_planned"
            << R"({"id":"a","place_a":"x","place_b":"y","panel_a":"","panel_b":"","fibre":"OS2","connector":"LC","criteria":"sm-upc","fibres":-5,"length_m":3,"splices":[]})";
        QTest::newRow("look without measurement") << "face_seen"
                                                  << R"({"face":"VP/1/A/cord","picture":"s","picture_name":"n"})";
        QTest::newRow("trace without events")
            << "trace_shot"
            << R"({"link":"a","direction":"ab","trace":"","trace_name":"","wavelength_nm":1,"launch_m":0,"tail_m":0,"found":{}})";
    }
    void damagedEntriesAreErrors()
    {
        QFETCH(QString, kind);
        QFETCH(QString, body);
        const auto fact = factFrom(kind.toStdString(), body.toStdString());
        QVERIFY(!fact);
        QVERIFY(fact.error().code == Error::Code::JobDamaged);
    }

    void theStateOfAFace()
    {
        Journal j;
        const auto is = [&](FaceCondition c) { return j.state().face(cordA).condition == c; };
        QVERIFY(is(FaceCondition::NotSeen));
        j.look(cordA, {dirt(30)});
        QVERIFY(is(FaceCondition::Work));
        j.clean(cordA);
        QVERIFY(is(FaceCondition::Stale));
        j.blurred(cordA);
        QVERIFY(is(FaceCondition::Stale));  // a bad picture is no look
        j.look(cordA, {dirt(44, 3)});
        QVERIFY(is(FaceCondition::Fit));
        QCOMPARE(j.state().face(cordA).tries.size(), std::size_t{3});
        QCOMPARE(j.state().face(cordA).tries[2].cleanedBefore.size(), std::size_t{1});
        QCOMPARE(j.state().face(cordA).cleanings, 1);
    }
    void whatStaysThroughTwoMethodsIsDamage()
    {
        Journal stays, moves;
        stays.look(cordA, {dirt(30)}).clean(cordA, "dry").look(cordA, {dirt(30.5)}).clean(cordA, "wet-then-dry").look(cordA, {dirt(30.2)});
        moves.look(cordA, {dirt(30)}).clean(cordA, "dry").look(cordA, {dirt(-20)}).clean(cordA, "wet-then-dry").look(cordA, {dirt(41)});
        QVERIFY(stays.state().face(cordA).condition == FaceCondition::Damaged);
        QVERIFY(moves.state().face(cordA).condition == FaceCondition::Work);
        Journal oneMethod;
        oneMethod.look(cordA, {dirt(30)}).clean(cordA).look(cordA, {dirt(30)}).clean(cordA).look(cordA, {dirt(30)});
        QVERIFY(oneMethod.state().face(cordA).condition == FaceCondition::Work);
    }
    void nothingIsMatedThatWasNotSeenFit()
    {
        Journal j;
        const auto refusal = [&]() -> QString {
            const JobState s = j.state();
            const auto ok = mayMate(s, *s.link("VP-04/1"), End::A);
            return ok ? QString() : QString::fromStdString(ok.error().message);
        };
        QVERIFY(refusal().contains("not looked at"));
        j.look(cordA);
        QVERIFY(refusal().contains("TH-R2 port 1 was not looked at"));
        j.look(portA, {dirt(30)});
        QVERIFY(refusal().contains("needs cleaning"));
        j.clean(portA);
        QVERIFY(refusal().contains("not looked at again"));
        j.look(portA);
        QVERIFY(refusal().isEmpty());
        j.add(Mated{"VP-04/1", End::A});
        QVERIFY(j.state().state("VP-04/1").mated.contains(End::A));
        j.clean(portA);  // it was opened
        QVERIFY(!j.state().state("VP-04/1").mated.contains(End::A));
    }
    void aCorrectionTakesBackAndKeeps()
    {
        Journal j;
        j.look(cordA, {dirt(30)});
        const auto id = j.entries.back().id;
        j.add(Corrected{id, "wrong face"});
        QVERIFY(j.state().face(cordA).condition == FaceCondition::NotSeen);
        QCOMPARE(j.entries.size(), std::size_t{4});
    }
    void lossFollowsReferenceAndMethod()
    {
        Journal j;
        j.light(-7, -8.5);
        QVERIFY(qAbs(j.state().state("VP-04/1").loss->results[0].worst->value() - 1.5) < 1e-9);
        QVERIFY(j.state().state("VP-04/1").loss->verdict == LossVerdict::Pass);
        QVERIFY(qAbs(j.state().state("VP-04/1").loss->results[0].limit->total.value() - 3.3) < 1e-9);
        // a reading keeps the reference that was good when it was taken
        j.add(ReferenceVoided{Direction::AtoB, "cord taken off"});
        QVERIFY(j.state().state("VP-04/1").loss->verdict == LossVerdict::Pass);
        j.add(PowerRead{"VP-04/2", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8.5)});
        QVERIFY(j.state().state("VP-04/2").loss->verdict == LossVerdict::NotValid);
        // another method: other connections are held, older readings do not mix with it
        j.light(-7, -7.9, "VP-04/1", ReferenceMethod::ThreeCord);
        QVERIFY(qAbs(j.state().state("VP-04/1").loss->results[0].limit->total.value() - 1.8) < 1e-9);
        QVERIFY(qAbs(j.state().state("VP-04/1").loss->results[0].worst->value() - 0.9) < 1e-9);
    }
    void signingNeedsMatedEndsAndALoss()
    {
        Journal j;
        const auto refusal = [&] {
            const JobState s = j.state();
            const auto ok = maySign(s, *s.link("VP-04/1"));
            return ok ? QString() : QString::fromStdString(ok.error().message);
        };
        QVERIFY(refusal().contains("end A") && refusal().contains("no loss"));
        j = mated();
        QVERIFY(refusal().contains("no loss") && !refusal().contains("end A"));
        j.add(PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8.5)});
        QVERIFY(refusal().contains("reference"));
        j.light(-7, -8.5);
        QVERIFY(refusal().isEmpty());
        j.add(Signed{"VP-04/1", ""});
        QCOMPARE(j.state().state("VP-04/1").signedBy, std::string("technician 1"));
    }
    void theRoundWalksByPlace()
    {
        Journal j;
        Round r = roundOf(j.state());
        QCOMPARE(r.all, 2 * 2 * 3 + 2 + 2 * 3);
        QCOMPARE(r.done, 0);
        QCOMPARE(r.left.front().place, std::string("Tide Hall"));
        QVERIFY(r.left.front().kind == StepKind::Look);
        std::vector<std::string> places;
        for (const auto& step : r.left)
            if (places.empty() || places.back() != step.place) places.push_back(step.place);
        QCOMPARE(places, (std::vector<std::string>{"Tide Hall", "Breakwater Hut", "Both ends"}));
        j.look(cordA, {dirt(30)});
        r = roundOf(j.state());
        QVERIFY(r.left.front().kind == StepKind::Clean);
        QVERIFY(r.left.front().carry.find("tape") != std::string::npos);
        j.clean(cordA);
        QVERIFY(roundOf(j.state()).left.front().title.starts_with("Look again"));
        j.look(cordA);
        QCOMPARE(roundOf(j.state()).done, 1);
        QVERIFY(roundOf(j.state()).left.front().face == portA);
        QVERIFY(roundOf(JobState()).left.empty());
    }
    void theRulingNamesWhatBrokeTheRule()
    {
        Journal j;
        j.look(portA, {dirt(33, 6.2)});
        const JobState s = j.state();
        const Ruling r = faceRuling(s, *s.link("VP-04/1"), portA);
        QVERIFY(r.tone == Tone::Work);
        QCOMPARE(QString::fromStdString(r.sentence),
                 QStringLiteral("A particle of 6.2 µm in the cladding, zone B. The rule allows none (other over 5 µm)."));
        QCOMPARE(std::count_if(r.rows.begin(), r.rows.end(), [](const RulingRow& row) { return !row.met; }), std::ptrdiff_t{1});
        QVERIFY(r.actions.front().kind == ActionKind::Clean);
        QVERIFY(r.actions.size() <= 3);
    }
    void theFirstActionIsTheNextThingToDo()
    {
        Journal j;
        const auto first = [&] {
            const JobState s = j.state();
            return faceRuling(s, *s.link("VP-04/1"), portA).actions.front().kind;
        };
        QVERIFY(first() == ActionKind::TakePicture);
        j.blurred(portA);
        QVERIFY(first() == ActionKind::TakePicture);
        j.look(portA);
        QVERIFY(first() == ActionKind::NextStep);
        j.look(cordA);
        QVERIFY(first() == ActionKind::Mate);
        j.add(Mated{"VP-04/1", End::A});
        QVERIFY(first() == ActionKind::NextStep);
        const JobState s = j.state();
        QVERIFY(lossRuling(s, *s.link("VP-04/1")).actions.front().kind == ActionKind::SetReference);
        QVERIFY(traceRuling(s, *s.link("VP-04/1")).actions.front().kind == ActionKind::OpenTrace);
        QVERIFY(emptyJobRuling().actions.front().kind == ActionKind::PlanCable);
    }
    void cleaningGetsStrongerAndStops()
    {
        Journal j;
        j.look(cordA, {dirt(30)});
        std::vector<std::string> methods;
        for (int n = 0; n < 5; ++n) {
            const auto advice = adviceFor(j.state().face(cordA));
            methods.push_back(advice.method);
            j.clean(cordA, methods.back().c_str()).look(cordA, {dirt(20.0 + 9 * n)});
        }
        QCOMPARE(methods, (std::vector<std::string>{"dry", "dry", "wet-then-dry", "fresh-tool", "fresh-tool"}));
        const JobState s = j.state();
        const Ruling r = faceRuling(s, *s.link("VP-04/1"), cordA);
        QVERIFY(QString::fromStdString(r.headline).startsWith("Stop cleaning"));
        QVERIFY(r.tone == Tone::Damaged);
    }
    void lossRulingsShowTheSum()
    {
        Journal j;
        j.light(-7, -8.5);
        JobState s = j.state();
        QVERIFY(QString::fromStdString(lossRuling(s, *s.link("VP-04/1")).sentence)
                    .contains("2.400 km × 0.50 dB/km + 2 connections × 0.75 dB + 2 splices × 0.30 dB = 3.30 dB"));
        Journal over;
        over.light(-7, -11);
        s = over.state();
        QVERIFY(lossRuling(s, *s.link("VP-04/1")).tone == Tone::Damaged);
    }
    void plannedAndFoundAreMatched()
    {
        Journal j;
        j.add(shot(Direction::AtoB, 0.45)).add(shot(Direction::BtoA, 0.35));
        const JobState s = j.state();
        for (const auto& trace : s.state("VP-04/1").traces) {
            const auto rows = matchPlan(s, *s.link("VP-04/1"), trace);
            QCOMPARE(rows.size(), std::size_t{5});
            QCOMPARE(rows[1].name, std::string("splice manhole 3"));
            QVERIFY(qAbs(rows[1].found->value() - 1332) < 0.5);
            QVERIFY(qAbs(rows[1].bothWays->value() - 0.40) < 1e-9);
            QVERIFY(rows[1].overLimit());
            QVERIFY(!rows[2].overLimit());
            QCOMPARE(rows[3].kind, std::string("not planned"));
            QVERIFY(rows[4].found && rows[4].reflectance);
        }
        QVERIFY(QString::fromStdString(traceRuling(s, *s.link("VP-04/1")).headline).contains("splice"));
    }
    void theCertificateSaysWhatWasAndWasNotTested()
    {
        Journal j = mated();
        j.light(-7, -8.5).add(shot()).add(Signed{"VP-04/1", ""});
        const JobState s = j.state();
        const auto c = certificate(s, "VP-04").value();
        QCOMPARE(c["links"].size(), std::size_t{2});
        const auto& one = c["links"][0];
        QCOMPARE(one["verdict"], "pass");
        QCOMPARE(one["tier"], 2);
        QCOMPARE(one["signed_by"], "technician 1");
        QCOMPARE(one["faces"].size(), std::size_t{4});
        QCOMPARE(one["not_tested"].size(), std::size_t{1});  // the trace from the other end
        QCOMPARE(c["links"][1]["verdict"], "incomplete");
        QCOMPARE(c["criteria"]["sha256"].get<std::string>().size(), std::size_t{64});
        QCOMPARE(c["criteria"]["checked"], false);
        QCOMPARE(certificate(s, "VP-04/1").value()["links"].size(), std::size_t{1});
        QVERIFY(!certificate(s, "VP-99"));
        const QString csv = QString::fromStdString(certificateCsv(c));
        const QStringList lines = csv.split("\r\n", Qt::SkipEmptyParts);
        QCOMPARE(lines.size(), 1 + 2 + 1);  // head, two wavelengths, one incomplete fibre
        for (const auto& line : lines) QCOMPARE(line.count(','), lines[0].count(','));
        QVERIFY(lines[1].startsWith("VP-04/1,1,blue,1310,1.500,1.500,1.500,1.500,3.300,1.800,2,pass,2401.000,technician 1,"));
    }
    void missingRulesAreToldNotHidden()
    {
        Journal j;
        JobSet job;
        job.edition = "/no/such/profile.json";
        job.limits = "nothing";
        j.add(job).look(cordA).light(-7, -8);
        const JobState s = j.state();
        QCOMPARE(s.troubles.size(), std::size_t{2});
        QVERIFY(s.face(cordA).condition == FaceCondition::NotSeen);
        QVERIFY(!s.state("VP-04/1").loss);
    }
};
QTEST_APPLESS_MAIN(TestRecord)
#include "test_record.moc"
