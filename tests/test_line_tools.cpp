// What a person measures on a trace by hand, lengths that lose more than the rest, and many traces beside each other.
#include <QtTest>

#include "otdr/level_rows.h"
#include "otdr/line_tools.h"
#include "trace_shot.h"

using namespace clendo;
using namespace clendo::otdr;

namespace {

Shot usual()
{
    Shot s;
    s.joints = {{2000, 0.2}, {4000, 0.35, 0, -45.0}};
    return s;
}

}  // namespace

class TestLineTools : public QObject {
    Q_OBJECT
private slots:
    void fibreIsMeasuredByTwoPointsAndByALine_data()
    {
        QTest::addColumn<double>("noise");
        QTest::addColumn<double>("pointsWithin");  // dB
        QTest::addColumn<double>("lineWithin");    // dB/km
        QTest::newRow("quiet") << 2e-6 << 0.03 << 0.01;
        QTest::newRow("noisy: the line is better than two points") << 3e-3 << 0.4 << 0.02;
    }
    void fibreIsMeasuredByTwoPointsAndByALine()
    {
        QFETCH(const double, noise);
        QFETCH(const double, pointsWithin);
        QFETCH(const double, lineWithin);
        Shot shot = usual();
        shot.noise = noise;
        const Trace t = shot.trace();
        const Signal signal(t);
        const auto points = twoPointLoss(signal, Metre(500), Metre(1500));
        QVERIFY(points && qAbs(points->value() - 0.2) < pointsWithin);
        const auto line = leastSquaresLoss(signal, Metre(500), Metre(1500));
        QVERIFY(line);
        QVERIFY2(qAbs(line->attenuation.value() - 0.2) < lineWithin, qPrintable(QString::number(line->attenuation.value())));
        QVERIFY(qAbs(line->loss.value() - line->attenuation.value()) < 1e-9);  // over one kilometre
    }
    /// The stated uncertainty holds as often as one sigma and two sigma should, about.
    void theUncertaintyOfALineHolds()
    {
        int within = 0, twice = 0;
        constexpr int trials = 60;
        for (unsigned seed = 1; seed <= trials; ++seed) {
            Shot shot = usual();
            shot.noise = 1e-3;
            shot.seed = seed;
            const Trace t = shot.trace();
            const auto line = leastSquaresLoss(Signal(t), Metre(400), Metre(1800));
            QVERIFY(line);
            const double off = qAbs(line->attenuation.value() - 0.2) / line->uncertainty.value();
            within += off < 1;
            twice += off < 2;
        }
        QVERIFY2(within > trials / 2 && twice > trials * 8 / 10, qPrintable(QString("%1, %2").arg(within).arg(twice)));
        QVERIFY2(within < trials * 95 / 100, "so much is not uncertain");
    }
    void nothingIsMeasuredWhereThereIsNoLight()
    {
        const Trace t = usual().trace();
        const Signal signal(t);
        QVERIFY(!twoPointLoss(signal, Metre(500), Metre(8000)));
        QVERIFY(!twoPointLoss(signal, Metre(-10), Metre(500)) && !twoPointLoss(signal, Metre(500), Metre(20000)));
        QVERIFY(!leastSquaresLoss(signal, Metre(500), Metre(500)) && !leastSquaresLoss(signal, Metre(500), Metre(500.4)));
    }
    void fiveMarksMeasureAJoint_data()
    {
        QTest::addColumn<double>("at");
        QTest::addColumn<double>("loss");
        QTest::newRow("a splice") << 2000.0 << 0.2;
        QTest::newRow("a connector, behind its dead zone") << 4000.0 << 0.35;
    }
    void fiveMarksMeasureAJoint()
    {
        QFETCH(const double, at);
        QFETCH(const double, loss);
        const Trace t = usual().trace();
        const auto found = analyse(t, {});
        const Metre joint = snapped(found.events, Metre(at + 15), Metre(30));
        QVERIFY(qAbs(joint.value() - at) < 4);
        QCOMPARE(snapped(found.events, Metre(at + 150), Metre(30)), Metre(at + 150));  // too far off
        const auto marks = marksFor(t, found.events, joint);
        QVERIFY(marks && marks->beforeFrom < marks->beforeTo && marks->beforeTo < marks->at && marks->at < marks->behindFrom &&
                marks->behindFrom < marks->behindTo);
        const auto measured = fiveMarkLoss(Signal(t), *marks);
        QVERIFY(measured);
        QVERIFY2(qAbs(measured->loss.value() - loss) < 0.015, qPrintable(QString::number(measured->loss.value())));
        QVERIFY(measured->uncertainty.value() > 0 && measured->uncertainty.value() < 0.02);
    }
    void marksNeedCleanFibreOnBothSides()
    {
        Shot shot;
        shot.joints = {{2000, 0.2}, {2008, 0.1}};
        const Trace t = shot.trace();
        Event a, b;
        a.at = Metre(2000);
        b.at = Metre(2008);
        QVERIFY(!marksFor(t, {a, b}, Metre(2000)));
    }

    void lossyLengthsAreNamedAndAreNoJoints_data()
    {
        QTest::addColumn<double>("from");
        QTest::addColumn<double>("to");
        QTest::addColumn<double>("more");  // dB/km
        QTest::addColumn<double>("pulseNs");
        QTest::addColumn<double>("splice");  // m, within it; 0: none
        QTest::newRow("pressed over half a kilometre") << 2000.0 << 2500.0 << 1.0 << 100.0 << 0.0;
        QTest::newRow("pressed hard over 80 m") << 2000.0 << 2080.0 << 5.0 << 100.0 << 0.0;
        QTest::newRow("a kilometre of other fibre") << 2000.0 << 3000.0 << 0.3 << 100.0 << 0.0;
        QTest::newRow("short pulse") << 1000.0 << 1600.0 << 0.4 << 30.0 << 0.0;
        QTest::newRow("long pulse") << 1500.0 << 4500.0 << 0.3 << 1000.0 << 0.0;
        QTest::newRow("with a splice in it") << 2000.0 << 3000.0 << 0.4 << 100.0 << 2500.0;
    }
    void lossyLengthsAreNamedAndAreNoJoints()
    {
        QFETCH(const double, from);
        QFETCH(const double, to);
        QFETCH(const double, more);
        QFETCH(const double, pulseNs);
        QFETCH(const double, splice);
        int events = 0, named = 0;
        double lost = 0;
        constexpr int trials = 6;
        const double place = 0.03 * (to - from) + 2 * pulseNs / 10;
        for (unsigned seed = 1; seed <= trials; ++seed) {
            Shot shot;
            shot.pulseNs = pulseNs;
            shot.stressed = {{from, to, more}};
            shot.seed = seed;
            if (splice > 0) shot.joints = {{splice, 0.2}};
            const auto found = analyse(shot.trace(), {});
            for (const auto& e : found.events) events += e.kind == EventKind::Loss || e.kind == EventKind::Gain;
            double excess = 0;
            for (const auto& s : found.sections) {
                excess += s.excess.value();
                QVERIFY(s.from < s.to && s.uncertainty.value() > 0);
            }
            const bool whole = !found.sections.empty() && qAbs(found.sections.front().from.value() - from) < place &&
                               qAbs(found.sections.back().to.value() - to) < place;
            named += whole;
            lost += excess / trials;
        }
        QVERIFY2(named >= trials - 1, qPrintable(QString::number(named)));
        QVERIFY2(qAbs(events - (splice > 0 ? trials : 0)) <= 1, qPrintable(QString::number(events)));
        QVERIFY2(qAbs(lost - more * (to - from) / 1000) < 0.12 * more * (to - from) / 1000 + 0.01, qPrintable(QString::number(lost)));
    }
    void jointsCloseTogetherAreNoLossyLength()
    {
        for (unsigned seed = 1; seed <= 8; ++seed) {
            Shot shot;
            shot.speckle = 0.006;
            shot.seed = seed;
            shot.joints = {{2000, 0.2}, {2060, 0.15}, {2120, 0.1}, {4000, 0.3}, {4300, 0.12, 0, -50.0}};
            QVERIFY(analyse(shot.trace(), {}).sections.empty());
        }
    }
    void aSteepPieceBetweenTwoConnectorsIsNamed()
    {
        Shot shot;
        shot.joints = {{2000, 0.2, 0, -45.0}, {3500, 0.3, 0, -45.0}};
        shot.stressed = {{2000, 3500, 0.2}};
        const auto found = analyse(shot.trace(), {});
        QCOMPARE(found.sections.size(), std::size_t(1));
        QVERIFY2(qAbs(found.sections[0].attenuation.value() - 0.4) < 0.03, qPrintable(QString::number(found.sections[0].attenuation.value())));
    }

    void oneTrayStandsOutOfManyFibres_data()
    {
        QTest::addColumn<bool>("turned");
        QTest::newRow("shot from A") << false;
        QTest::newRow("shot from B") << true;
    }
    void oneTrayStandsOutOfManyFibres()
    {
        QFETCH(const bool, turned);
        std::vector<LevelRow> rows;
        constexpr double length = 6000;
        const double joint = turned ? length - 2000 : 2000;
        for (unsigned n = 0; n < 12; ++n) {
            Shot shot;
            shot.seed = n + 1;
            shot.noise = 1e-4;
            shot.slope = 0.2 + 0.0008 * n;
            shot.joints = {{joint, n >= 4 && n < 8 ? 0.6 : 0.1}};
            const Trace t = shot.trace();
            rows.emplace_back(t, analyse(t, {}), Metre(0), Metre(length), turned);
        }
        std::vector<const LevelRow*> all;
        for (const auto& row : rows) all.push_back(&row);
        constexpr std::size_t columns = 200;
        auto map = differenceMap(all, Metre(0), Metre(length), columns);
        QCOMPARE(map.size(), rows.size() * columns);
        // against the middle of all fibres, half a decibel is lost behind the joint and nothing before it
        const std::size_t before = turned ? 100 : 40, behind = turned ? 30 : 150;
        QVERIFY2(qAbs(map[5 * columns + behind] - 0.5F) < 0.06F, qPrintable(QString::number(double(map[5 * columns + behind]))));
        QVERIFY(qAbs(map[5 * columns + before]) < 0.05F && qAbs(map[1 * columns + behind]) < 0.05F);
        if (turned) return;  // what stands out is read from A on
        const auto out = standingOut(map, columns, Decibel(0.2));
        QCOMPARE(out.size(), std::size_t(4));
        for (std::size_t i = 0; i < out.size(); ++i) {
            QCOMPARE(out[i].row, i + 4);
            QVERIFY2(qAbs(double(out[i].column) * length / columns - 2000) < 60, qPrintable(QString::number(out[i].column)));
        }
    }
    void nothingIsSaidWhereNothingIsSeen()
    {
        Shot shot;
        const Trace t = shot.trace();
        const LevelRow row(t, analyse(t, {}), Metre(0), Metre(6000), false);
        QVERIFY(std::isnan(row.mean(7000, 7100)));  // behind the end
        QVERIFY(std::isnan(row.mean(-500, -400)));  // before the front panel
        QVERIFY(std::isnan(row.mean(3, 6)));        // in its dead zone
        QVERIFY(!std::isnan(row.mean(3000, 3010)));
        const auto map = differenceMap({&row, &row}, Metre(0), Metre(6000), 50);
        QVERIFY(std::all_of(map.begin(), map.end(), [](float v) { return std::isnan(v); }));  // two are no majority
        QVERIFY(differenceMap({}, Metre(0), Metre(6000), 50).empty());
        QVERIFY(standingOut({}, 0, Decibel(0.1)).empty());
    }
};

QTEST_APPLESS_MAIN(TestLineTools)
#include "test_line_tools.moc"
