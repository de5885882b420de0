#include <QtTest>

#include "app/trace/trace_drawing.h"
#include "otdr/analysis.h"
#include "varrow_journal.h"
#include "world/trace_world.h"

using namespace clendo;

/// What a trace looks like on the screen, before anything is painted.
class TestTraceDrawing : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        const Decibel joint(0.3), reflection(-50), open(-15);
        const DecibelPerKilometre fibre(0.35);
        const std::vector<world::Stretch> line{{Metre(150), fibre, joint, reflection},
                                               {Metre(1180), fibre, Decibel(0.2), {}},
                                               {Metre(725), fibre, Decibel(0.15), {}},
                                               {Metre(495), fibre, joint, reflection},
                                               {Metre(150), fibre, Decibel(0), open}};
        trace_ = world::shoot(line, {});
        cable_ = varrowCable();
        links_ = linksOf(cable_);
        shot_ = {"VP-04/1", Direction::AtoB, "sha", "t.sor", Nanometre(1310), cords_, otdr::analyse(trace_, cords_)};
    }
    void everySpikeIsInTheFrameOrAbove()
    {
        const TraceDrawing d = drawTrace({trace_, shot_}, links_[0]);
        QCOMPARE(d.distance.size(), d.level.size());
        QVERIFY(d.distance.size() <= 3200 && d.distance.size() > 1000);
        QVERIFY(std::is_sorted(d.distance.begin(), d.distance.end()));
        const double highest = *std::max_element(d.level.begin(), d.level.end());
        float real = -100;
        for (std::size_t i = 0; i < trace_.level.size(); ++i)
            if (double(trace_.distance[i]) <= d.last + 150) real = std::max(real, trace_.level[i]);
        QVERIFY(qAbs(highest - double(real)) < 1e-3);
        QVERIFY(d.bottom < d.top);
        QVERIFY(d.last > 2550 && d.last < 2850);                                  // the noise behind the end is left out
        QVERIFY2(qAbs(d.first + 150) < 2, qPrintable(QString::number(d.first)));  // the launch cord lies before the port
    }
    void thePlanBendsAtItsJoints_data()
    {
        QTest::addColumn<bool>("forward");
        QTest::addColumn<QList<double>>("joints");
        QTest::newRow("from A") << true << QList<double>{0, 1180, 1905, 2400};
        QTest::newRow("from B, turned round") << false << QList<double>{0, 1180, 1905, 2400};
    }
    void thePlanBendsAtItsJoints()
    {
        QFETCH(bool, forward);
        QFETCH(QList<double>, joints);
        TraceShot shot = shot_;
        if (!forward) shot.direction = Direction::BtoA;
        const TraceDrawing d = drawTrace({trace_, shot}, links_[0]);
        QList<double> steps;
        for (int i = 1; i < d.planDistance.size(); ++i) {
            const double falls = forward ? d.planLevel[i - 1] - d.planLevel[i] : d.planLevel[i] - d.planLevel[i - 1];
            QVERIFY(falls >= -1e-9);  // a plan only loses, away from its instrument
            if (qFuzzyCompare(d.planDistance[i], d.planDistance[i - 1]) && falls > 0.05) steps << d.planDistance[i];
        }
        QCOMPARE(steps.size(), joints.size());
        for (qsizetype i = 0; i < steps.size(); ++i) QVERIFY2(qAbs(steps[i] - joints[i]) < 3, qPrintable(QString::number(steps[i])));
    }
    void thePlanLiesOnTheFibre()
    {
        const TraceDrawing d = drawTrace({trace_, shot_}, links_[0]);
        // before the first connection plan and trace are the same backscatter
        double planned = 0;
        for (int i = 0; i + 1 < d.planDistance.size(); ++i)
            if (d.planDistance[i] <= -30 && d.planDistance[i + 1] >= -30)
                planned =
                    d.planLevel[i] + (d.planLevel[i + 1] - d.planLevel[i]) * (-30 - d.planDistance[i]) / (d.planDistance[i + 1] - d.planDistance[i]);
        double measured = 0;
        int n = 0;
        for (int i = 0; i < d.distance.size(); ++i)
            if (d.distance[i] > -50 && d.distance[i] < -10) measured += d.level[i], ++n;
        QVERIFY(n > 10);
        QVERIFY2(qAbs(planned - measured / n) < 0.15, qPrintable(QString::number(planned - measured / n)));
    }
    void stepsAndReflectionsAreMarkedApart()
    {
        const TraceDrawing d = drawTrace({trace_, shot_}, links_[0]);
        QCOMPARE(d.marks.size(), qsizetype(shot_.found.events.size()));
        int steps = 0;
        for (const auto& mark : d.marks) steps += mark.step;
        QCOMPARE(steps, 2);
    }
    void aPartIsShownLargerAndTheOtherEndBeneath()
    {
        TraceShot back = shot_;
        back.direction = Direction::BtoA;
        const DrawnShot other{trace_, back};
        const TraceDrawing whole = drawTrace({trace_, shot_}, links_[0], other);
        QVERIFY(whole.otherDistance.size() > 1000 && std::is_sorted(whole.otherDistance.begin(), whole.otherDistance.end()));
        // its light falls towards A: behind the port at B it is the fibre's first light
        const auto levelAt = [](const QVector<double>& z, const QVector<double>& y, double from, double to) {
            double sum = 0;
            int n = 0;
            for (qsizetype i = 0; i < z.size(); ++i)
                if (z[i] > from && z[i] < to) sum += y[i], ++n;
            return n > 0 ? sum / n : 1e9;
        };
        QVERIFY(levelAt(whole.otherDistance, whole.otherLevel, 2250, 2350) > levelAt(whole.otherDistance, whole.otherLevel, 50, 150) + 0.5);
        const TraceDrawing part = drawTrace({trace_, shot_}, links_[0], other, SeenRange{1100, 1300});
        QVERIFY(part.distance.first() >= 1099 && part.distance.last() <= 1301 && part.distance.size() > 400);
        QCOMPARE(part.first, 1100.0);
        QVERIFY(part.top - part.bottom < 2);  // the step fills the frame
        QVERIFY(part.bottom < levelAt(part.distance, part.level, 1250, 1290) && part.top > levelAt(part.distance, part.level, 1110, 1150));
        QVERIFY(std::any_of(part.marks.begin(), part.marks.end(), [](const auto& m) { return qAbs(m.at - 1180) < 3; }));
    }
    void whatTheFibreLostOnItsWayIsNotItsJoint_data()
    {
        QTest::addColumn<bool>("forward");
        QTest::newRow("shot into the end at A") << true;
        QTest::newRow("shot into the end at B") << false;
    }
    void whatTheFibreLostOnItsWayIsNotItsJoint()
    {
        QFETCH(const bool, forward);
        // a longer piece, once through a poor temporary joint on the reel; then laid, pressed at 900 m from the instrument
        const DecibelPerKilometre fibre(0.35);
        const otdr::Trace reel = world::shoot({{Metre(150), fibre, Decibel(0.8), Decibel(-45)}, {Metre(2700), fibre, Decibel(0), Decibel(-15)}}, {});
        const otdr::Trace laid = world::shoot({{Metre(150), fibre, Decibel(0.2), Decibel(-50)},
                                               {Metre(900), fibre, Decibel(0.4), {}},
                                               {Metre(1500), fibre, Decibel(0.2), Decibel(-50)},
                                               {Metre(150), fibre, Decibel(0), Decibel(-15)}},
                                              {});
        TraceShot now = shot_, then = shot_;
        now.direction = then.direction = forward ? Direction::AtoB : Direction::BtoA;
        now.found = otdr::analyse(laid, cords_);
        then.cords = {Metre(150), Metre(0)};
        then.found = otdr::analyse(reel, then.cords);
        then.found.span->to = then.found.span->from + now.found.span->length();
        TraceDrawing d = drawTrace({laid, now}, links_[0]);
        addDifference(d, {laid, now}, {reel, then}, links_[0], true);
        const auto lostAt = [&](double fromInstrument) {
            const double at = forward ? fromInstrument : 2400 - fromInstrument;
            qsizetype best = 0;
            for (qsizetype i = 0; i < d.difference.size(); ++i)
                if (std::abs(d.differenceDistance[i] - at) < std::abs(d.differenceDistance[best] - at)) best = i;
            return d.difference[best];
        };
        QVERIFY2(std::abs(lostAt(600)) < 0.05, qPrintable(QString::number(lostAt(600))));  // not the 0.6 dB by which the joints differ
        QVERIFY2(std::abs(lostAt(1800) - 0.4) < 0.06, qPrintable(QString::number(lostAt(1800))));
        QVERIFY(std::isnan(lostAt(0)));
    }
    void aShotWithoutEventsStillShowsItsTrace()
    {
        TraceShot bare = shot_;
        bare.found = {};
        const TraceDrawing d = drawTrace({trace_, bare}, links_[0]);
        QVERIFY(d.planDistance.isEmpty() && d.marks.isEmpty());
        QVERIFY(d.distance.size() > 100);
        QVERIFY(qAbs(d.last + 150 - double(trace_.distance.back())) < 1);
    }

private:
    otdr::Trace trace_;
    CablePlan cable_;
    std::vector<Link> links_;
    otdr::Cords cords_{Metre(150), Metre(150)};
    TraceShot shot_;
};
QTEST_APPLESS_MAIN(TestTraceDrawing)
#include "test_trace_drawing.moc"
