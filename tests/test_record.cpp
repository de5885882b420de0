#include <QtTest>
#include <nlohmann/json.hpp>

#include "record/advice/round.h"
#include "record/rules/gates.h"
#include "record/rules/overrulings.h"
#include "record/state/scale_check.h"
#include "varrow_journal.h"

using namespace clendo;

class TestRecord : public QObject {
    Q_OBJECT
private slots:
    void aKindOfTomorrowIsKept()
    {
        const auto fact = factFrom("from_tomorrow", R"({"reel": 7})");
        QVERIFY(fact && std::holds_alternative<UnknownFact>(*fact));
        QCOMPARE(std::string(kindOf(*fact)), std::string("from_tomorrow"));
        QCOMPARE(bodyOf(*fact).dump(), std::string(R"({"reel":7})"));
    }
    void whatAPlanSaysOfPinsIsKept()
    {
        CablePlan trunk = varrowCable(12);
        trunk.ferruleFibres = 12;
        trunk.endA.pins = Side::Port;
        auto body = bodyOf(CablePlanned{trunk});
        const auto back = factFrom("cable_planned", body.dump());
        QVERIFY(back);
        QCOMPARE(std::get<CablePlanned>(*back).cable.endA.pins, std::optional(Side::Port));
        QVERIFY(!std::get<CablePlanned>(*back).cable.endB.pins);
        body["end_b"]["pins"] = "both";
        QVERIFY(!factFrom("cable_planned", body.dump()));
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
        QCOMPARE(j.state().face(cordA).looks.size(), std::size_t{3});
        QCOMPARE(j.state().face(cordA).looks[2].cleanedBefore.size(), std::size_t{1});
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
        QVERIFY(refusal().contains("TH-R2 port 1, behind, was not looked at"));
        j.look(portA, {dirt(30)});
        QVERIFY(refusal().contains("needs cleaning"));
        j.clean(portA);
        QVERIFY(refusal().contains("not looked at again"));
        j.look(portA).add(SleeveCleaned{"VP-04/1", End::A});
        QVERIFY(refusal().isEmpty());
        j.add(Mated{"VP-04/1", End::A});
        QVERIFY(j.state().state("VP-04/1").mated.contains(End::A));
        j.clean(portA);  // it was opened
        QVERIFY(!j.state().state("VP-04/1").mated.contains(End::A));
    }
    void aFindingCanBeOverruled()
    {
        using As = FindingOverruled::As;
        Journal j;
        j.look(cordA, {dirt(30), dirt(-35, 7, 2)});
        const auto look = j.entries.back().hash;
        const auto fit = [&] { return j.state().face(cordA).condition == FaceCondition::Fit; };
        j.add(FindingOverruled{cordA, look, 1, As::NotReal, "a reflection", {}, {}});
        QVERIFY(!fit());  // the other one is still there
        QCOMPARE(j.state().face(cordA).looks[0].seen.measured.findings.size(), std::size_t{1});
        j.add(FindingOverruled{cordA, look, 2, As::NotReal, "a reflection", {}, {}});
        QVERIFY(fit());
        QCOMPARE(j.state().face(cordA).looks[0].overruled.size(), std::size_t{2});
        QCOMPARE(std::get<FaceSeen>(std::find_if(j.entries.begin(), j.entries.end(), [&](const Entry& e) { return e.hash == look; })->fact)
                     .measured.findings.size(),
                 std::size_t{2});  // what was measured stays
        j.add(Corrected{j.entries.back().hash, "it was real"});
        QVERIFY(!fit());
    }
    void aMissedFindingCounts()
    {
        using As = FindingOverruled::As;
        Journal j;
        j.look(cordA);
        const auto look = j.entries.back().hash;
        j.add(FindingOverruled{cordA, look, 0, As::Missed, "seen by eye", {Micrometre(0), Micrometre(2)}, Micrometre(4)});
        QVERIFY(j.state().face(cordA).condition == FaceCondition::Work);
        QCOMPARE(j.state().face(cordA).looks[0].seen.measured.findings[0].nearest.value(), 0.0);
        // of another kind it is judged by its width
        j.add(FindingOverruled{cordA, look, 1, As::Scratch, "a line", {}, {}});
        QVERIFY(j.state().face(cordA).looks[0].seen.measured.findings[0].kind == FindingKind::Scratch);
        j.add(FindingOverruled{cordA, look, 9, As::NotReal, "no such finding", {}, {}});
        QCOMPARE(j.state().troubles.size(), std::size_t{1});
        j.add(FindingOverruled{cordA, digestOf("no such look"), 1, As::NotReal, "no such look", {}, {}});
        QVERIFY(j.state().face(cordA).condition == FaceCondition::Work);
    }
    void aScaleThatDisagreesIsTold_data()
    {
        QTest::addColumn<double>("calibrated");
        QTest::addColumn<double>("seen");
        QTest::addColumn<bool>("told");
        QTest::newRow("the same") << 0.4 << 0.4 << false;
        QTest::newRow("as claddings vary") << 0.4 << 0.404 << false;
        QTest::newRow("another tip") << 0.4 << 0.42 << true;
        QTest::newRow("zoomed") << 0.4 << 0.2 << true;
    }
    void aScaleThatDisagreesIsTold()
    {
        QFETCH(const double, calibrated);
        QFETCH(const double, seen);
        QFETCH(const bool, told);
        face::FaceMeasurement look;
        look.claddingDiameter = Pixel(300);
        look.scale = Scale(seen);
        Journal j;
        QVERIFY(!scaleDisagrees(j.state(), look));  // nothing was calibrated
        j.add(ScopeCalibrated{"scope 1", Scale(0.9)}).add(ScopeCalibrated{"scope 2", Scale(calibrated)});
        const auto words = scaleDisagrees(j.state(), look);
        QCOMPARE(words.has_value(), told);
        if (told) QVERIFY(words->find("scope 2") != std::string::npos && words->find("2026-11-17") != std::string::npos);
        j.add(ScopeCalibrated{"scope 2", Scale(seen)});
        QVERIFY(!scaleDisagrees(j.state(), look));  // calibrated again
    }
    void howOftenEachKindIsOverruled()
    {
        Journal j;
        j.look(cordA, {dirt(30, 4, 1), dirt(40, 4, 2), dirt(50, 4, 3)});
        const auto look = j.entries.back().hash;
        const auto say = [&](int finding, FindingOverruled::As as) { j.add(FindingOverruled{cordA, look, finding, as, "seen", {}, Micrometre(2)}); };
        say(1, FindingOverruled::As::NotReal);
        say(2, FindingOverruled::As::NotReal);
        say(2, FindingOverruled::As::Scratch);  // the later word counts
        say(0, FindingOverruled::As::Missed);
        say(9, FindingOverruled::As::NotReal);  // there is none such
        say(3, FindingOverruled::As::NotReal);
        j.add(Corrected{j.entries.back().hash, "a slip"});
        const auto counted = overrulingsIn(j.entries);
        QCOMPARE(counted.looks, 1);
        QCOMPARE(counted.missed, 1);
        QCOMPARE(counted.kinds.size(), std::size_t{1});
        QCOMPARE(counted.kinds.front().appearance, Appearance::Particle);
        QCOMPARE(counted.kinds.front().found, 3);
        QCOMPARE(counted.kinds.front().notReal, 1);
        QCOMPARE(counted.kinds.front().renamed, 1);
    }
    void aCorrectionTakesBackAndKeeps()
    {
        Journal j;
        j.look(cordA, {dirt(30)});
        const auto id = j.entries.back().hash;
        j.add(Corrected{id, "wrong face"});
        QVERIFY(j.state().face(cordA).condition == FaceCondition::NotSeen);
        QVERIFY(std::any_of(j.entries.begin(), j.entries.end(), [&](const Entry& e) { return e.hash == id; }));
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
    void theRoundWalksByPlace()
    {
        Journal j;
        JobState state = j.state();
        Round r = roundOf(state);
        QCOMPARE(r.all, 2 * 2 * 4 + 2 + 2 * 4);  // look twice, sleeve, mate; references; read, prove, shoot, sign
        QCOMPARE(r.done, 0);
        QCOMPARE(r.left.front().place, std::string("Tide Hall"));
        QVERIFY(r.left.front().kind == StepKind::Look);
        std::vector<std::string> places;
        for (const auto& step : r.left)
            if (places.empty() || places.back() != step.place) places.push_back(step.place);
        QCOMPARE(places, (std::vector<std::string>{"Tide Hall", "Breakwater Hut", "Both ends"}));
        j.look(cordA, {dirt(30)});
        state = j.state();
        r = roundOf(state);
        QVERIFY(r.left.front().kind == StepKind::Clean);
        QVERIFY(r.left.front().carry.front().find("tape") != std::string::npos);
        j.clean(cordA);
        QVERIFY(roundOf(j.state()).left.front().title.starts_with("Look again"));
        j.look(cordA);
        QCOMPARE(roundOf(j.state()).done, 1);
        QVERIFY(roundOf(j.state()).left.front().face == (FaceId{"VP-04/2", End::A, Side::Cord}));  // the same tip
        QVERIFY(roundOf(JobState()).left.empty());
    }
    void missingRulesAreToldNotHidden()
    {
        Journal j;
        JobSettings job;
        job.edition = "/no/such/profile.json";
        job.limits = "nothing";
        j.set(job).look(cordA).light(-7, -8);
        const JobState s = j.state();
        QCOMPARE(s.troubles.size(), std::size_t{2});
        QVERIFY(s.face(cordA).condition == FaceCondition::NotSeen);
        QVERIFY(!s.state("VP-04/1").loss);
    }
};
QTEST_APPLESS_MAIN(TestRecord)
#include "test_record.moc"
