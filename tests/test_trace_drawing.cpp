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
        const TraceDrawing d = drawTrace(trace_, shot_, links_[0]);
        QCOMPARE(d.distance.size(), d.level.size());
        QVERIFY(d.distance.size() <= 3200 && d.distance.size() > 1000);
        QVERIFY(std::is_sorted(d.distance.begin(), d.distance.end()));
        const double highest = *std::max_element(d.level.begin(), d.level.end());
        float real = -100;
        for (std::size_t i = 0; i < trace_.level.size(); ++i)
            if (double(trace_.distance[i]) <= d.last) real = std::max(real, trace_.level[i]);
        QVERIFY(qAbs(highest - double(real)) < 1e-3);
        QVERIFY(d.bottom < d.top);
        QVERIFY(d.last > 2700 && d.last < 3000);  // the noise behind the end is left out
    }
    void thePlanBendsAtItsJoints_data()
    {
        QTest::addColumn<bool>("forward");
        QTest::addColumn<QList<double>>("joints");
        QTest::newRow("from A") << true << QList<double>{150, 1330, 2055, 2550};
        QTest::newRow("from B") << false << QList<double>{150, 645, 1370, 2550};
    }
    void thePlanBendsAtItsJoints()
    {
        QFETCH(bool, forward);
        QFETCH(QList<double>, joints);
        TraceShot shot = shot_;
        if (!forward) shot.direction = Direction::BtoA;
        const TraceDrawing d = drawTrace(trace_, shot, links_[0]);
        QList<double> steps;
        for (int i = 1; i < d.planDistance.size(); ++i) {
            QVERIFY(d.planLevel[i] <= d.planLevel[i - 1] + 1e-9);  // a plan only loses
            if (qFuzzyCompare(d.planDistance[i], d.planDistance[i - 1]) && d.planLevel[i - 1] - d.planLevel[i] > 0.05) steps << d.planDistance[i];
        }
        QCOMPARE(steps, joints);
    }
    void thePlanLiesOnTheFibre()
    {
        const TraceDrawing d = drawTrace(trace_, shot_, links_[0]);
        // before the first connection plan and trace are the same backscatter
        double planned = 0;
        for (int i = 0; i + 1 < d.planDistance.size(); ++i)
            if (d.planDistance[i] <= 120 && d.planDistance[i + 1] >= 120)
                planned =
                    d.planLevel[i] + (d.planLevel[i + 1] - d.planLevel[i]) * (120 - d.planDistance[i]) / (d.planDistance[i + 1] - d.planDistance[i]);
        double measured = 0;
        int n = 0;
        for (int i = 0; i < d.distance.size(); ++i)
            if (d.distance[i] > 100 && d.distance[i] < 140) measured += d.level[i], ++n;
        QVERIFY(n > 10);
        QVERIFY2(qAbs(planned - measured / n) < 0.15, qPrintable(QString::number(planned - measured / n)));
    }
    void stepsAndReflectionsAreMarkedApart()
    {
        const TraceDrawing d = drawTrace(trace_, shot_, links_[0]);
        QCOMPARE(d.marks.size(), qsizetype(shot_.found.events.size()));
        int steps = 0;
        for (const auto& mark : d.marks) steps += mark.step;
        QCOMPARE(steps, 2);
    }
    void aShotWithoutEventsStillShowsItsTrace()
    {
        TraceShot bare = shot_;
        bare.found = {};
        const TraceDrawing d = drawTrace(trace_, bare, links_[0]);
        QVERIFY(d.planDistance.isEmpty() && d.marks.isEmpty());
        QVERIFY(d.distance.size() > 100);
        QVERIFY(qAbs(d.last - double(trace_.distance.back())) < 1);
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
