// Test cords while loss is read: what takes the source's cord off voids its reference; each reading is a touch; a cord that turns bad is named.
#include <QtTest>

#include "record/advice/link_advice.h"
#include "record/output/loss_by_element.h"
#include "record/rules/cable_findings.h"
#include "record/rules/patch_cords.h"
#include "record/rules/reference_health.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

const FaceId sourceEnd{"RC-1", End::A, Side::Cord}, freeEnd{"RC-1", End::B, Side::Cord}, sourcePort{"source 1", End::A, Side::Port};
FaceId portAtA(int fibre) { return {"VP-04/" + std::to_string(fibre), End::A, Side::Port}; }

/// A cable of twelve, the kit, and a reference that says which end of its cord is free.
Journal atTheLine(bool saysWhichEnd = true)
{
    Journal j;
    j.add(CablePlanned{varrowCable(12)});
    j.add(KitKept{"source 1", "source", {}, "LS-3310", 0, 0, {}, false});
    for (const char* cord : {"RC-1", "RC-2"}) j.add(KitKept{cord, "cord", {"LC"}, "", 0, 500, "sm-upc", false});
    for (const double nm : {1310.0, 1550.0}) {
        ReferenceSet set{ReferenceMethod::OneCord, Nanometre(nm), Direction::AtoB, DecibelMilliwatt(-7)};
        set.with = {"source 1", "RC-1"};
        if (saysWhichEnd) set.freeEnd = freeEnd;
        j.add(set);
    }
    return j;
}
Journal& read(Journal& j, int fibre, double loss)
{
    for (const double nm : {1310.0, 1550.0})
        j.add(PowerRead{"VP-04/" + std::to_string(fibre), Nanometre(nm), Direction::AtoB, DecibelMilliwatt(-7 - loss), {}, {}});
    return j;
}
bool referenced(const Journal& j) { return j.state().reference(Direction::AtoB, Nanometre(1310)) != nullptr; }
int matingsOf(const Journal& j) { return j.state().kit.at("RC-1").used; }

}  // namespace

class TestReferenceCords : public QObject {
    Q_OBJECT
private slots:
    void whatTakesTheCordOffTheSourceVoidsTheReference_data()
    {
        QTest::addColumn<int>("deed");
        QTest::addColumn<bool>("says");
        QTest::addColumn<bool>("stays");
        enum { JoinSourceEnd, JoinSourcePort, CleanSourceEnd, LookAtSourceEnd, CapSourceEnd, JoinFreeEnd, CleanFreeEnd, OtherCord };
        QTest::newRow("its end on the source touched another face") << int(JoinSourceEnd) << true << false;
        QTest::newRow("something was plugged into the source") << int(JoinSourcePort) << true << false;
        QTest::newRow("also where nobody said which end is free") << int(JoinSourcePort) << false << false;
        QTest::newRow("its end on the source was cleaned") << int(CleanSourceEnd) << true << false;
        QTest::newRow("its end on the source was looked at") << int(LookAtSourceEnd) << true << false;
        QTest::newRow("its end on the source was capped") << int(CapSourceEnd) << true << false;
        QTest::newRow("its free end touched a port") << int(JoinFreeEnd) << true << true;
        QTest::newRow("its free end was cleaned") << int(CleanFreeEnd) << true << true;
        QTest::newRow("nobody said which end it is") << int(CleanSourceEnd) << false << true;
        QTest::newRow("another cord") << int(OtherCord) << true << true;
    }
    void whatTakesTheCordOffTheSourceVoidsTheReference()
    {
        QFETCH(const int, deed);
        QFETCH(const bool, says);
        QFETCH(const bool, stays);
        Journal j = atTheLine(says);
        QVERIFY(referenced(j));
        switch (deed) {
            case 0: j.add(Joined{sourceEnd, portAtA(1)}); break;
            case 1: j.add(Joined{{"RC-2", End::A, Side::Cord}, sourcePort}); break;
            case 2: j.clean(sourceEnd); break;
            case 3: j.look(sourceEnd); break;
            case 4: j.add(FaceCovered{sourceEnd, "capped"}); break;
            case 5: j.add(Joined{freeEnd, portAtA(1)}); break;
            case 6: j.clean(freeEnd); break;
            default: j.add(Joined{{"RC-2", End::A, Side::Cord}, portAtA(1)}); break;
        }
        QCOMPARE(referenced(j), stays);
        const auto state = j.state();
        const auto troubles = referenceTroubles(state, state.plan->cables.front(), 0);
        const bool told = std::any_of(troubles.begin(), troubles.end(), [](const auto& t) { return t.find("off the source") != std::string::npos; });
        QCOMPARE(told, !stays);
        read(j, 2, 0.8);
        QCOMPARE(j.state().state("VP-04/2").loss->results.front().lossAb.has_value(), stays);
    }

    void readingsAreTouchesOfTheFreeEnd()
    {
        Journal j = atTheLine();
        j.look(freeEnd).look(portAtA(1)).look(portAtA(2));
        read(j, 1, 0.8);
        QCOMPARE(matingsOf(j), 1);  // two wavelengths, one touch
        read(read(j, 2, 0.8), 1, 0.81);
        QCOMPARE(matingsOf(j), 3);
        auto state = j.state();
        QVERIFY(state.face(portAtA(1)).condition == FaceCondition::Fit);
        QVERIFY(state.face(freeEnd).condition == FaceCondition::Fit);
        // a port that nobody saw: the cord is no longer trusted, nor what it touches next
        read(j, 3, 0.8);
        state = j.state();
        QVERIFY(state.face(freeEnd).condition == FaceCondition::Stale);
        QVERIFY(state.face(portAtA(2)).condition == FaceCondition::Fit);
        read(j, 2, 0.8);
        QVERIFY(j.state().face(portAtA(2)).condition == FaceCondition::Stale);
        // the cord is found dirty: what it touched since it was seen fit is suspect
        j.look(freeEnd, {dirt(2)});
        QVERIFY(j.state().face(portAtA(1)).suspicion.has_value());
    }
    void shotsAndReceiveCordsTouchToo_data()
    {
        QTest::addColumn<Direction>("way");
        QTest::addColumn<bool>("shotOfIt");
        QTest::newRow("a shot from A") << Direction::AtoB << true;
        QTest::newRow("a shot from B") << Direction::BtoA << true;
        QTest::newRow("a reading, source at A") << Direction::AtoB << false;
    }
    void shotsAndReceiveCordsTouchToo()
    {
        QFETCH(const Direction, way);
        QFETCH(const bool, shotOfIt);
        const FaceId launch{"launch 1", End::B, Side::Cord}, far{"RC-2", End::A, Side::Cord};
        Journal j = atTheLine(false);
        j.add(KitKept{"launch 1", "cord", {"LC"}, "", 0, 500, "sm-upc", false});
        const FaceId portAtB{"VP-04/1", End::B, Side::Port};
        j.look(launch).look(far).look(portAtA(1)).look(portAtB);
        if (shotOfIt) {
            TraceShot s = shot(way);
            s.launchEnd = launch;
            s.tailEnd = far;
            j.add(s).add(s);
        } else {
            for (const double nm : {1310.0, 1550.0}) {
                PowerRead r{"VP-04/1", Nanometre(nm), way, DecibelMilliwatt(-8), {}, {}};
                r.receiveEnd = far;
                j.add(r);
            }
        }
        QCOMPARE(j.state().kit.at("RC-2").used, 1);  // in a row at the same face is one touch
        QCOMPARE(j.state().kit.at("launch 1").used, shotOfIt ? 1 : 0);
        j.look(far, {dirt(2)});
        QCOMPARE(j.state().face(portAtB).suspicion.has_value(), way == Direction::AtoB);
        QCOMPARE(j.state().face(portAtA(1)).suspicion.has_value(), way == Direction::BtoA);
    }
    void whatIsPluggedInTakesAnothersPlace()
    {
        const FaceId launch{"launch 1", End::B, Side::Cord};
        Journal j = atTheLine();
        j.add(KitKept{"launch 1", "cord", {"LC"}, "", 0, 500, "sm-upc", false});
        TraceShot s = shot();
        s.launchEnd = launch;
        read(j, 1, 0.8).add(s);
        read(j, 1, 0.8);
        QCOMPARE(matingsOf(j), 2);  // the source's cord was there, made room for the shot, and came back
    }
    void aMatedPortIsNotTouchedAndNothingIsClaimed()
    {
        Journal j = atTheLine();
        j.look(portAtA(1)).look({"VP-04/1", End::A, Side::Cord}).add(Mated{"VP-04/1", End::A});
        const auto events = j.state().events.size();
        read(j, 1, 0.8);
        const auto state = j.state();
        QCOMPARE(state.events.size(), events);
        QVERIFY(state.face(portAtA(1)).mated);
        Journal unsaid = atTheLine(false);
        read(unsaid, 1, 0.8);
        QCOMPARE(unsaid.state().events.size(), std::size_t(0));
    }

    void patchCordsAreReadOneConnectorAtATime_data()
    {
        QTest::addColumn<QString>("method");
        QTest::addColumn<QString>("end");
        QTest::addColumn<double>("loss");
        QTest::addColumn<QString>("verdict");
        QTest::newRow("a good connector") << "single-ended"
                                          << "A" << 0.21 << "pass";
        QTest::newRow("too much") << "single-ended"
                                  << "B" << 1.4 << "fail";
        QTest::newRow("about the limit") << "single-ended"
                                         << "A" << 0.74 << "near limit";
        QTest::newRow("a gain") << "single-ended"
                                << "A" << -0.3 << "not valid";
        QTest::newRow("both at once") << "two-cord"
                                      << "" << 0.6 << "pass";
        QTest::newRow("both, on a reference for one") << "single-ended"
                                                      << "" << 0.6 << "not valid";
    }
    void patchCordsAreReadOneConnectorAtATime()
    {
        QFETCH(const QString, method);
        QFETCH(const QString, end);
        QFETCH(const double, loss);
        QFETCH(const QString, verdict);
        Journal j;
        j.add(CablePlanned{varrowCable(2)});
        auto job = j.state().plan->job;
        job.method = *referenceMethodNamed(method.toStdString());
        j.set(job);
        j.add(ReferenceSet{job.method, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)});
        CordRead read{"VP-P-017", end.toStdString(), Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7 - loss), {}, {}};
        read.complete(j.state());
        const JobState state = j.add(read).state();
        const auto rows = cordLosses(state, "VP-P-017", state.plan->cables.front());
        QCOMPARE(rows.size(), std::size_t(1));
        QCOMPARE(QString::fromStdString(rows[0].verdict), verdict);
        QVERIFY(std::abs(rows[0].loss->value() - loss) < 1e-9);
        QVERIFY(cordLossWords("VP-P-017", rows).find(verdict.toStdString()) != std::string::npos);
        // a reference that had drifted takes the loss with it
        ReferenceChecked check;
        check.wavelength = Nanometre(1310);
        check.level = DecibelMilliwatt(-7.5);
        check.complete(state);
        const JobState drifted = j.add(check).state();
        QVERIFY(!cordLosses(drifted, "VP-P-017", drifted.plan->cables.front())[0].loss);
        QVERIFY(cordLosses(drifted, "another", drifted.plan->cables.front()).empty());
    }
    void aCordThatTurnsBadIsNamedWhileTheRunGoesOn()
    {
        Journal j = atTheLine();
        const std::array<double, 12> losses{0.81, 0.84, 0.79, 0.83, 0.80, 0.85, 0.78, 0.82, 0.86, 0.80, 0.83, 0.81};
        for (int n = 1; n <= 6; ++n) read(j, n, losses[std::size_t(n - 1)]);
        auto state = j.state();
        const CablePlan& cable = state.plan->cables.front();
        QVERIFY(runFindings(state, cable).empty());
        for (int n = 7; n <= 10; ++n) read(j, n, losses[std::size_t(n - 1)] + 0.45);
        state = j.state();
        const auto found = runFindings(state, state.plan->cables.front());
        QCOMPARE(found.size(), std::size_t(1));
        QVERIFY2(found[0].find("from VP-04/7 on") != std::string::npos && found[0].find("RC-1") != std::string::npos, found[0].c_str());
        const auto advice = lossAdvice(state, *state.link("VP-04/1"), 0);
        QVERIFY(std::find(advice.help.begin(), advice.help.end(), found[0]) != advice.help.end());
        // cleaned, and what was read with the dirty cord read again: nothing to say any more
        for (int n = 7; n <= 12; ++n) read(j, n, losses[std::size_t(n - 1)]);
        state = j.state();
        QVERIFY(runFindings(state, state.plan->cables.front()).empty());
    }
    void theLossIsFoundElementByElement_data()
    {
        QTest::addColumn<bool>("bothWays");
        QTest::addColumn<double>("splice");
        QTest::addColumn<double>("read");
        QTest::addColumn<QString>("says");
        // the shot's joints 0.3 + splice + 0.05 + 0.2 + 0.4, and 2401 m of fibre with 0.2 dB/km
        QTest::newRow("all is found") << true << 0.1 << 1.53 << "";
        QTest::newRow("a splice takes too much") << true << 0.5 << 1.93 << "splice manhole 3 loses 0.50";
        QTest::newRow("from one end") << false << 0.5 << 1.93 << "from one end";
        QTest::newRow("the cords took the rest") << true << 0.1 << 2.4 << "0.87 dB more";
    }
    void theLossIsFoundElementByElement()
    {
        QFETCH(const bool, bothWays);
        QFETCH(const double, splice);
        QFETCH(const double, read);
        QFETCH(const QString, says);
        Journal j;
        QVERIFY(!lossByElement(j.state(), *j.state().link("VP-04/1"), Nanometre(1550)));  // no trace
        j.light(-7, -7 - read).add(shot(Direction::AtoB, splice));
        if (bothWays) j.add(shot(Direction::BtoA, splice));
        const JobState state = j.state();
        const auto where = lossByElement(state, *state.link("VP-04/1"), Nanometre(1550));
        QVERIFY(where);
        QCOMPARE(where->bothWays, bothWays);
        QCOMPARE(where->elements.back().name, std::string("fibre"));
        QVERIFY(std::abs(where->elements.back().found->value() - 0.48) < 0.01);
        Decibel sum{0};
        for (const auto& element : where->elements) sum += element.found.value_or(Decibel(0));
        QVERIFY(where->unexplained);
        QVERIFY(std::abs((sum + *where->unexplained).value() - read) < 1e-9);
        const std::string said = lossByElementWords(*where);
        QVERIFY2(says.isEmpty() ? said.find("manhole 3") == std::string::npos : QString::fromStdString(said).contains(says), said.c_str());
    }
    void aBadJointIsTheFibresOwnAndTheFacesComeFirst()
    {
        Journal j = atTheLine();
        const std::array<double, 12> losses{0.81, 0.84, 0.79, 0.83, 0.80, 0.85, 0.78, 0.82, 0.86, 0.80, 0.83, 0.81};
        for (int n = 1; n <= 12; ++n) read(j, n, losses[std::size_t(n - 1)] + (n == 5 ? 1.1 : 0));
        for (const double nm : {1310.0, 1550.0}) {
            j.add(ReferenceSet{ReferenceMethod::OneCord, Nanometre(nm), Direction::BtoA, DecibelMilliwatt(-7)});
            for (int n = 1; n <= 12; ++n)
                j.add(PowerRead{"VP-04/" + std::to_string(n),
                                Nanometre(nm),
                                Direction::BtoA,
                                DecibelMilliwatt(-7 - losses[std::size_t(n - 1)] - (n == 5 ? 1.12 : 0)),
                                {},
                                {}});
        }
        auto state = j.state();
        QVERIFY(runFindings(state, state.plan->cables.front()).empty());
        QVERIFY(ownFinding(state, *state.link("VP-04/4")).empty());
        const std::string own = ownFinding(state, *state.link("VP-04/5"));
        QVERIFY2(own.find("Look first") != std::string::npos, own.c_str());
        for (const auto& face : state.link("VP-04/5")->faces()) j.look(face);
        state = j.state();
        const std::string seen = ownFinding(state, *state.link("VP-04/5"));
        QVERIFY2(seen.find("sleeves") != std::string::npos, seen.c_str());
    }
};

QTEST_GUILESS_MAIN(TestReferenceCords)
#include "test_reference_cords.moc"
