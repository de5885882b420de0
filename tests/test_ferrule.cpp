#include <QtTest>
#include <nlohmann/json.hpp>

#include "record/advice/advice.h"
#include "record/advice/face_advice.h"
#include "record/advice/round.h"
#include "record/fold/fold.h"
#include "record/rules/gates.h"
#include "record/state/ferrule.h"
#include "record/state/rules.h"
#include "varrow_journal.h"
#include "world/simulated_faces.h"

using namespace clendo;

namespace {

const FaceId third{"VP-11/3", End::A, Side::Cord};

/// A journal with a trunk of twelve fibres in one ferrule.
Journal trunkJournal(bool stopAtFirstBad = false, std::optional<Side> pins = {})
{
    Journal j;
    JobSettings job;
    job.name = "Varrow Point";
    job.stopAtFirstBad = stopAtFirstBad;
    j.set(job);
    CablePlan trunk = varrowCable(12);
    trunk.id = "VP-11";
    trunk.fibre = "OM4";
    trunk.className = "mm-multi";
    trunk.ferruleFibres = 12;
    trunk.splices.clear();
    trunk.endA.pins = pins;
    j.add(CablePlanned{trunk});
    return j;
}

FaceId fibre(int n, Side side = Side::Cord, End end = End::A) { return {"VP-11/" + std::to_string(n), end, side}; }

std::vector<face::FaceMeasurement> pictureOf(int fibres)
{
    std::vector<face::FaceMeasurement> out(static_cast<std::size_t>(fibres));
    for (int i = 0; i < fibres; ++i) {
        out[static_cast<std::size_t>(i)].fibre = i + 1;
        out[static_cast<std::size_t>(i)].claddingDiameter = Pixel(150);
    }
    return out;
}

Finding dirt()
{
    Finding f;
    f.id = 1;
    f.appearance = Appearance::Particle;
    f.size = f.width = f.length = Micrometre(9);
    f.nearest = Micrometre(2);
    f.farthest = Micrometre(11);
    return f;
}

JobState stateOf(const Journal& j) { return fold(j.entries, Rules(dataFolder())); }

}  // namespace

/// Ferrules with several fibres: what is filed under which fibre, and that they are one thing to clean and to mate.
class TestFerrule : public QObject {
    Q_OBJECT
private slots:
    void picturesAreFiledUnderTheRightFibres_data()
    {
        QTest::addColumn<int>("chosen");
        QTest::addColumn<int>("inPicture");
        QTest::addColumn<bool>("keyDown");
        QTest::addColumn<QList<int>>("fibres");  // by their place in the picture, from the left
        QTest::newRow("the whole row") << 3 << 12 << false << QList<int>{1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12};
        QTest::newRow("the whole row, key down") << 3 << 12 << true << QList<int>{12, 11, 10, 9, 8, 7, 6, 5, 4, 3, 2, 1};
        QTest::newRow("first group of four") << 3 << 4 << false << QList<int>{1, 2, 3, 4};
        QTest::newRow("second group of four") << 5 << 4 << false << QList<int>{5, 6, 7, 8};
        QTest::newRow("last group of four, key down") << 12 << 4 << true << QList<int>{12, 11, 10, 9};
        QTest::newRow("one by one") << 7 << 1 << false << QList<int>{7};
        QTest::newRow("a fibre was not found") << 3 << 11 << false << QList<int>{};
        QTest::newRow("more than there are") << 3 << 24 << false << QList<int>{};
    }
    void picturesAreFiledUnderTheRightFibres()
    {
        QFETCH(int, chosen);
        QFETCH(int, inPicture);
        QFETCH(bool, keyDown);
        QFETCH(QList<int>, fibres);
        const JobState state = stateOf(trunkJournal());
        const auto filed = assignFibres(state, fibre(chosen), pictureOf(inPicture), keyDown ? KeyWay::Down : KeyWay::Up);
        if (fibres.isEmpty()) {
            QVERIFY(!filed);
            QVERIFY(filed.error().message.find("nothing was filed") != std::string::npos);
            return;
        }
        QVERIFY(filed);
        QMap<int, int> byPlace;
        for (const auto& one : *filed) byPlace[one.measured.fibre] = state.link(one.face.link)->fibre;
        QCOMPARE(byPlace.values(), fibres);
    }
    /// Two rows of twelve or sixteen: the upper one is counted first.
    void twoRowsAreFiledUnderTheRightFibres_data()
    {
        QTest::addColumn<int>("ferrule");
        QTest::addColumn<int>("chosen");
        QTest::addColumn<int>("upper");  // fibres in the picture's rows
        QTest::addColumn<int>("lower");
        QTest::addColumn<bool>("keyDown");
        QTest::addColumn<QList<int>>("fibres");  // in the order of the picture, the upper row first; empty: refused
        const auto from = [](int first, int count, int step = 1) {
            QList<int> out;
            for (int i = 0; i < count; ++i) out << first + step * i;
            return out;
        };
        QTest::newRow("all 24") << 24 << 3 << 12 << 12 << false << from(1, 24);
        QTest::newRow("all 24, key down") << 24 << 3 << 12 << 12 << true << from(24, 24, -1);
        QTest::newRow("all 32") << 32 << 20 << 16 << 16 << false << from(1, 32);
        QTest::newRow("the upper row") << 24 << 3 << 12 << 0 << false << from(1, 12);
        QTest::newRow("the lower row") << 24 << 13 << 12 << 0 << false << from(13, 12);
        QTest::newRow("a third of the lower row") << 24 << 18 << 4 << 0 << false << from(17, 4);
        QTest::newRow("four columns of both") << 24 << 6 << 4 << 4 << false << from(5, 4) + from(17, 4);
        QTest::newRow("the same, chosen in the lower row") << 24 << 17 << 4 << 4 << false << from(5, 4) + from(17, 4);
        QTest::newRow("four columns, key down") << 24 << 6 << 4 << 4 << true << from(20, 4, -1) + from(8, 4, -1);
        QTest::newRow("eight of a row of twelve") << 24 << 10 << 8 << 0 << false << QList<int>{};
        QTest::newRow("a fibre of the lower row was not found") << 24 << 3 << 12 << 11 << false << QList<int>{};
        QTest::newRow("two rows of a ferrule with one") << 12 << 3 << 6 << 6 << false << QList<int>{};
        QTest::newRow("a row of sixteen") << 16 << 3 << 16 << 0 << false << from(1, 16);
    }
    void twoRowsAreFiledUnderTheRightFibres()
    {
        QFETCH(int, ferrule);
        QFETCH(int, chosen);
        QFETCH(int, upper);
        QFETCH(int, lower);
        QFETCH(bool, keyDown);
        QFETCH(QList<int>, fibres);
        CablePlan trunk = varrowCable(ferrule);
        trunk.id = "VP-12";
        trunk.className = "sm-multi";
        trunk.ferruleFibres = ferrule;
        Journal j;
        const JobState state = stateOf(j.add(CablePlanned{trunk}));
        auto picture = pictureOf(upper + lower);
        for (int i = upper; i < upper + lower; ++i) picture[static_cast<std::size_t>(i)].row = 2;
        const auto filed = assignFibres(state, {"VP-12/" + std::to_string(chosen), End::A, Side::Cord}, picture, keyDown ? KeyWay::Down : KeyWay::Up);
        QCOMPARE(filed.has_value(), !fibres.isEmpty());
        if (!filed) {
            QVERIFY(filed.error().message.find("nothing was filed") != std::string::npos);
            return;
        }
        QMap<int, int> byPlace;
        for (const auto& one : *filed) byPlace[one.measured.fibre] = state.link(one.face.link)->fibre;
        QCOMPARE(byPlace.values(), fibres);
    }
    void aSingleFibreIsFiledAsEver()
    {
        const JobState state = stateOf(trunkJournal());
        const FaceId face{"VP-04/2", End::B, Side::Port};
        const auto filed = assignFibres(state, face, pictureOf(1), KeyWay::Down);
        QVERIFY(filed && filed->size() == 1 && filed->front().face == face);
        QCOMPARE(ferruleTally(state, face), std::string());
    }

    void theFerruleIsCleanedAndMatedAsOne()
    {
        Journal j = trunkJournal();
        for (int n = 1; n <= 12; ++n) j.look(fibre(n), n == 3 ? std::vector{dirt()} : std::vector<Finding>());
        QCOMPARE(ferruleTally(stateOf(j), third), std::string("11 of 12 fibres fit; needs work: 3."));
        QVERIFY(!mayMate(stateOf(j), *stateOf(j).link("VP-11/7"), End::A));
        j.clean(third);
        const JobState cleaned = stateOf(j);
        QCOMPARE(cleaned.face(fibre(9)).condition, FaceCondition::Stale);  // the stroke went over all of them
        for (int n = 1; n <= 12; ++n) j.look(fibre(n)).look(fibre(n, Side::Port));
        j.add(SleeveCleaned{"VP-11/4", End::A});  // one sleeve for all of them
        const JobState fit = stateOf(j);
        QVERIFY(mayMate(fit, *fit.link("VP-11/7"), End::A));
        j.add(Mated{"VP-11/7", End::A});
        const JobState mated = stateOf(j);
        for (int n = 1; n <= 12; ++n) QVERIFY(mated.state(fibre(n).link).mated.contains(End::A));
        QVERIFY(!mated.state("VP-11/1").mated.contains(End::B));
    }
    void thePolicySaysWhetherABadFibreComesFirst_data()
    {
        QTest::addColumn<bool>("stop");
        QTest::addColumn<int>("deciding");
        QTest::addColumn<int>("next");  // where the next group begins, 0: none
        QTest::newRow("look at all") << false << 5 << 5;
        QTest::newRow("stop at the first bad") << true << 3 << 0;
    }
    void thePolicySaysWhetherABadFibreComesFirst()
    {
        QFETCH(bool, stop);
        QFETCH(int, deciding);
        QFETCH(int, next);
        Journal j = trunkJournal(stop);
        for (int n = 1; n <= 4; ++n) j.look(fibre(n), n == 3 ? std::vector{dirt()} : std::vector<Finding>());
        const JobState state = stateOf(j);
        QCOMPARE(decidingFace(state, fibre(1)), fibre(deciding));
        QCOMPARE(nextGroup(state, fibre(1)), next ? std::optional(fibre(next)) : std::nullopt);
        const Advice r = faceAdvice(state, *state.link("VP-11/1"), fibre(1));
        QCOMPARE(r.headline, std::string(stop ? "Clean, then look again" : "Look first"));
        QVERIFY(r.help.front().find("3 of 12 fibres fit") == 0);
    }
    void theRoundGoesToAFerruleOnce()
    {
        const JobState state = stateOf(trunkJournal());
        int looks = 0, matings = 0;
        for (const auto& step : roundOf(state).left)
            if (step.link.starts_with("VP-11")) {
                looks += step.kind == StepKind::Look;
                matings += step.kind == StepKind::Mate;
            }
        QCOMPARE(looks, 4);
        QCOMPARE(matings, 2);
    }
    void multimodeHasItsOwnWavelengthsAndLimits()
    {
        const JobState state = stateOf(trunkJournal());
        QCOMPARE(state.plan->wavelengthsFor(*state.link("VP-11/1")->cable), (std::vector{850, 1300}));
        QCOMPARE(state.plan->wavelengthsFor(*state.link("VP-04/1")->cable), (std::vector{1310, 1550}));
        QCOMPARE(state.plan->limitsFor(*state.link("VP-11/1")->cable)->name, std::string("generic-mm"));
    }
    void pinsMustMeetHoles_data()
    {
        QTest::addColumn<int>("cord");
        QTest::addColumn<int>("port");
        QTest::addColumn<QString>("planned");
        QTest::addColumn<QString>("says");
        using face::Guide;
        QTest::newRow("pins and holes") << int(Guide::Pin) << int(Guide::Hole) << ""
                                        << "";
        QTest::newRow("two with pins") << int(Guide::Pin) << int(Guide::Pin) << ""
                                       << "both ferrules have guide pins";
        QTest::newRow("two without") << int(Guide::Hole) << int(Guide::Hole) << ""
                                     << "nothing aligns";
        QTest::newRow("not seen") << int(Guide::NotSeen) << int(Guide::Pin) << ""
                                  << "";
        QTest::newRow("as planned") << int(Guide::NotSeen) << int(Guide::Pin) << "port"
                                    << "";
        QTest::newRow("cord with pins where the port has them") << int(Guide::Pin) << int(Guide::NotSeen) << "port"
                                                                << "by the plan so has the port's";
        QTest::newRow("cord without pins, planned with") << int(Guide::NotSeen) << int(Guide::Hole) << "port"
                                                         << "nothing would align";
        QTest::newRow("the pictures fit, the plan is wrong") << int(Guide::Pin) << int(Guide::Hole) << "port"
                                                             << "";
        QTest::newRow("neither seen") << int(Guide::NotSeen) << int(Guide::NotSeen) << "cord"
                                      << "";
    }
    void pinsMustMeetHoles()
    {
        QFETCH(int, cord);
        QFETCH(int, port);
        QFETCH(QString, planned);
        QFETCH(QString, says);
        Journal j = trunkJournal(false, sideNamed(planned.toStdString()));
        for (const Side side : {Side::Cord, Side::Port})
            for (int n = 1; n <= 12; ++n) {
                FaceSeen seen{fibre(n, side), "sha", "p.png", pictureOf(1).front()};
                if (n == 1) seen.measured.guide = static_cast<face::Guide>(side == Side::Cord ? cord : port);
                const auto read = factFrom("face_seen", bodyOf(seen).dump());  // what the job file keeps
                QVERIFY(read);
                j.add(*read);
            }
        j.add(SleeveCleaned{"VP-11/1", End::A});
        const JobState state = stateOf(j);
        const auto ok = mayMate(state, *state.link("VP-11/1"), End::A);
        QCOMPARE(ok.has_value(), says.isEmpty());
        if (!says.isEmpty()) QVERIFY(QString::fromStdString(ok.error().message).contains(says));
    }

    void theSimulatedTrunkIsReadFromOnePicture()
    {
        face::MeasureOptions all;
        all.fibres.reset();
        for (const Side side : {Side::Cord, Side::Port}) {
            const auto faces = face::measure(simulatedPicture(fibre(1, side), 0), all);
            QCOMPARE(faces.size(), std::size_t(12));
            const auto wanted = side == Side::Cord ? face::Guide::Pin : face::Guide::Hole;
            QCOMPARE(faces.front().guide, wanted);
            QCOMPARE(faces.back().guide, wanted);
            for (const auto& f : faces) {
                QVERIFY(f.usable());
                QVERIFY(f.core == CoreKind::Multimode50);
                const auto inGlass = std::count_if(f.findings.begin(), f.findings.end(), [](const Finding& x) { return x.nearest < Micrometre(57); });
                QCOMPARE(inGlass > 0, side == Side::Cord && (f.fibre == 3 || f.fibre == 8));
            }
        }
    }
    void badFerrulesAreRefused()
    {
        CablePlan plan = varrowCable(12);
        for (const int size : {0, -3, 5, 25}) {
            plan.ferruleFibres = size;
            QVERIFY(!check(plan));
        }
        plan.ferruleFibres = 4;
        QVERIFY(check(plan));
        QVERIFY(linksOf(plan)[6].where({"VP-04/7", End::A, Side::Port}) == "TH-R2 port 2 fibre 7, behind");
    }
};

QTEST_GUILESS_MAIN(TestFerrule)
#include "test_ferrule.moc"
