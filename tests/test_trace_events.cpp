// What is found in a trace: noise told from steps, faint reflections, fibres of other backscatter, tails, ends, launch cords. trace_shot.h makes
// the traces.
#include <QtTest>

#include "otdr/analysis.h"
#include "otdr/signal.h"
#include "trace_shot.h"

using namespace clendo;
using namespace clendo::otdr;

namespace {

std::vector<Event> joints(const Analysis& a)
{
    std::vector<Event> out;
    for (const auto& e : a.events)
        if (e.kind != EventKind::Launch && e.kind != EventKind::End && e.kind != EventKind::Ghost) out.push_back(e);
    return out;
}
QString told(const Analysis& a)
{
    QString out;
    for (const auto& e : a.events) out += QString("%1 %2 m %3 dB; ").arg(int(e.kind)).arg(e.at.value()).arg(e.loss ? e.loss->value() : -99);
    return out;
}

}  // namespace

class TestTraceEvents : public QObject {
    Q_OBJECT
private slots:
    void fibreAloneHasNoEvents_data()
    {
        QTest::addColumn<double>("pulseNs");
        QTest::addColumn<double>("spacing");
        QTest::addColumn<double>("speckle");
        QTest::addColumn<double>("noise");
        QTest::newRow("short pulse") << 20.0 << 0.25 << 0.002 << 4e-5;
        QTest::newRow("usual") << 100.0 << 0.5 << 0.003 << 2e-6;
        QTest::newRow("narrow laser") << 100.0 << 0.5 << 0.03 << 2e-6;
        QTest::newRow("noisy") << 100.0 << 0.5 << 0.003 << 1e-3;
        QTest::newRow("few points") << 100.0 << 4.0 << 0.01 << 2e-5;
        QTest::newRow("long pulse") << 2000.0 << 2.0 << 0.006 << 1e-6;
    }
    void fibreAloneHasNoEvents()
    {
        QFETCH(const double, pulseNs);
        QFETCH(const double, spacing);
        QFETCH(const double, speckle);
        QFETCH(const double, noise);
        int events = 0;
        QString first;
        for (unsigned seed = 1; seed <= 12; ++seed) {
            Shot shot;
            shot.pulseNs = pulseNs;
            shot.spacing = spacing;
            shot.speckle = speckle;
            shot.noise = noise;
            shot.seed = seed;
            const auto found = analyse(shot.trace(), {});
            events += int(joints(found).size());
            if (!joints(found).empty() && first.isEmpty()) first = told(found);
        }
        QVERIFY2(events <= 1, qPrintable(QString("%1 events in 12 traces: %2").arg(events).arg(first)));
    }

    void jointsAreFoundAndNamed_data()
    {
        QTest::addColumn<double>("loss");
        QTest::addColumn<double>("backscatter");
        QTest::addColumn<double>("reflectance");  // 0: none
        QTest::addColumn<double>("pulseNs");
        QTest::addColumn<EventKind>("kind");
        QTest::newRow("a splice") << 0.08 << 0.0 << 0.0 << 100.0 << EventKind::Loss;
        QTest::newRow("a faint splice") << 0.055 << 0.0 << 0.0 << 100.0 << EventKind::Loss;
        QTest::newRow("a splice under a long pulse") << 0.1 << 0.0 << 0.0 << 2000.0 << EventKind::Loss;
        QTest::newRow("a gainer") << 0.05 << 0.3 << 0.0 << 100.0 << EventKind::Gain;
        QTest::newRow("a strong gainer is no reflection") << 0.1 << 1.1 << 0.0 << 100.0 << EventKind::Gain;
        QTest::newRow("a connector") << 0.3 << 0.0 << -50.0 << 100.0 << EventKind::Reflective;
        QTest::newRow("a connector with a strong reflection") << 0.3 << 0.0 << -30.0 << 100.0 << EventKind::Reflective;
        QTest::newRow("an angled connector, that hardly reflects") << 0.3 << 0.0 << -68.0 << 100.0 << EventKind::Loss;
        QTest::newRow("a reflection without loss") << 0.0 << 0.0 << -48.0 << 100.0 << EventKind::Reflective;
    }
    void jointsAreFoundAndNamed()
    {
        QFETCH(const double, loss);
        QFETCH(const double, backscatter);
        QFETCH(const double, reflectance);
        QFETCH(const double, pulseNs);
        QFETCH(const EventKind, kind);
        std::vector<double> errors;
        for (unsigned seed = 1; seed <= 6; ++seed) {
            Shot shot;
            shot.pulseNs = pulseNs;
            shot.seed = seed;
            if (pulseNs > 1000) shot.spacing = 2;
            shot.joints = {{2500.0 + seed, loss, backscatter, reflectance < 0 ? std::optional(reflectance) : std::nullopt}};
            const auto found = analyse(shot.trace(), {});
            const auto events = joints(found);
            QVERIFY2(events.size() == 1, qPrintable(told(found)));
            const Event& e = events.front();
            QVERIFY2(e.kind == kind, qPrintable(told(found)));
            const double pulse = 0.1 * pulseNs;  // about, in metres
            QVERIFY2(std::abs(e.at.value() - shot.joints[0].at) < 0.35 * pulse + 2 * shot.spacing, qPrintable(told(found)));
            const double off = e.loss->value() - (loss - backscatter);
            errors.push_back(std::abs(off) / e.lossUncertainty->value());
            QVERIFY2(std::abs(off) < 0.03 + 0.02 * std::abs(loss), qPrintable(told(found)));
            QVERIFY2(e.lossUncertainty->value() < 0.03, qPrintable(told(found)));
        }
        std::sort(errors.begin(), errors.end());
        QVERIFY2(errors[4] < 2, qPrintable(QString::number(errors[4])));  // all but one within twice what is stated
    }
    void aSpliceBehindAReflectionIsToldFromItsTail()
    {
        Shot shot;
        shot.joints = {{1500, 0.4, 0, -38.0}, {1900, 0.1, 0, {}}};
        const auto events = joints(analyse(shot.trace(), {}));
        QCOMPARE(events.size(), std::size_t(2));
        QVERIFY(qAbs(events[0].loss->value() - 0.4) < 0.02);
        QVERIFY(qAbs(events[1].loss->value() - 0.1) < 0.02);
    }
    void twoWithinOneDeadZoneAreSaid()
    {
        Shot shot;
        shot.joints = {{2000, 0.3, 0, -45.0}, {2014, 0.25, 0, -42.0}};
        const auto events = joints(analyse(shot.trace(), {}));
        QCOMPARE(events.size(), std::size_t(2));
        QVERIFY(events[0].joinedWithNext && !events[0].loss && !events[1].joinedWithNext);
        QVERIFY(qAbs(events[1].loss->value() - 0.55) < 0.04);  // only their sum can be told
    }

    void theEndIsWhereTheFibreStops_data()
    {
        QTest::addColumn<double>("length");
        QTest::addColumn<double>("reflectance");  // 0: dark
        QTest::addColumn<double>("noise");
        QTest::addColumn<bool>("ends");
        QTest::newRow("open") << 6000.0 << -14.6 << 2e-6 << true;
        QTest::newRow("dark") << 6000.0 << 0.0 << 2e-6 << true;
        QTest::newRow("angled") << 6000.0 << -60.0 << 2e-6 << true;
        QTest::newRow("faded, but it reflects") << 8000.0 << -14.6 << 8e-3 << true;
        QTest::newRow("behind the range") << 20000.0 << -14.6 << 2e-6 << false;
    }
    void theEndIsWhereTheFibreStops()
    {
        QFETCH(const double, length);
        QFETCH(const double, reflectance);
        QFETCH(const double, noise);
        QFETCH(const bool, ends);
        Shot shot;
        shot.length = length;
        shot.noise = noise;
        shot.endReflectance = reflectance < 0 ? std::optional(reflectance) : std::nullopt;
        const auto found = analyse(shot.trace(), {});
        QVERIFY(!found.events.empty());
        QCOMPARE(found.events.back().kind == EventKind::End, ends);
        if (ends) QVERIFY2(qAbs(found.events.back().at.value() - length) < 12, qPrintable(told(found)));
        if (!ends) QVERIFY(!found.notes.empty());
    }

    void whatIsLostRightBeforeTheEndIsTold_data()
    {
        QTest::addColumn<double>("pulseNs");
        QTest::addColumn<double>("spacing");
        QTest::addColumn<double>("apart");  // pulses before the end
        QTest::addColumn<double>("loss");
        for (const auto& [pulseNs, spacing] : {std::pair(20.0, 0.125), std::pair(100.0, 0.5), std::pair(1000.0, 2.0)})
            for (const double apart : {0.5, 0.8, 1.2})
                for (const double loss : {0.4, 1.5})
                    QTest::addRow("%g ns, %g dB %g pulses before", pulseNs, loss, apart) << pulseNs << spacing << apart << loss;
    }
    void whatIsLostRightBeforeTheEndIsTold()
    {
        QFETCH(const double, pulseNs);
        QFETCH(const double, spacing);
        QFETCH(const double, apart);
        QFETCH(const double, loss);
        const double pulse = 0.1021 * pulseNs;
        int within = 0;
        QString last;
        for (unsigned seed = 1; seed <= 6; ++seed) {
            Shot shot;
            shot.pulseNs = pulseNs;
            shot.spacing = spacing;
            shot.seed = seed;
            shot.joints = {{shot.length - apart * pulse, loss, 0, {}}};
            const auto found = analyse(shot.trace(), {});
            const auto events = joints(found);
            last = told(found);
            QVERIFY2(events.size() == 1 && events[0].kind == EventKind::Loss, qPrintable(last));
            QVERIFY2(qAbs(events[0].at.value() - shot.joints[0].at) < 0.3 * pulse, qPrintable(last));
            const double off = events[0].loss->value() - loss, whole = found.span->loss->value() - loss - shot.slope * shot.length / 1000;
            within += std::abs(off) < 2 * events[0].lossUncertainty->value() && std::abs(whole) < 2 * events[0].lossUncertainty->value() + 0.02;
            QVERIFY2(std::abs(off) < 0.4 * loss, qPrintable(last));
        }
        QVERIFY2(within >= 5, qPrintable(QString("%1 of 6 within twice what is stated: %2").arg(within).arg(last)));
    }
    void anEndAloneHasNoLossBeforeIt()
    {
        for (const double reflectance : {-14.6, -35.0, -55.0})
            for (const double pulseNs : {10.0, 50.0, 300.0, 3000.0})
                for (unsigned seed = 1; seed <= 4; ++seed) {
                    Shot shot;
                    shot.pulseNs = pulseNs;
                    shot.spacing = pulseNs / 200;
                    shot.noise = pulseNs < 100 ? 2e-4 : 1e-5;
                    shot.speckle = 0.002 * seed;
                    shot.length = 5000 + 37.3 * seed;
                    shot.range = 6500;
                    shot.endReflectance = reflectance;
                    shot.seed = seed;
                    const auto found = analyse(shot.trace(), {});
                    for (const auto& e : joints(found))
                        QVERIFY2(e.at < Metre(shot.length - 2.2 * 0.1021 * pulseNs),
                                 qPrintable(QString("%1 dB, %2 ns: %3").arg(reflectance).arg(pulseNs).arg(told(found))));
                }
    }
    void launchCordsAreProvenFirst_data()
    {
        QTest::addColumn<double>("end");
        QTest::addColumn<double>("lossInCord");
        QTest::addColumn<QString>("says");
        QTest::newRow("cut") << 310.0 << 0.0 << "within a 500 m launch cord";
        QTest::newRow("not mated") << 500.0 << 0.0 << "not mated";
        QTest::newRow("crushed") << 6000.0 << 4.0 << "4.0 dB are lost";
        QTest::newRow("sound") << 6000.0 << 0.0 << "";
    }
    void launchCordsAreProvenFirst()
    {
        QFETCH(const double, end);
        QFETCH(const double, lossInCord);
        QFETCH(const QString, says);
        Shot shot;
        shot.length = end;
        shot.joints = {{200, lossInCord, 0, {}}, {500, 0.3, 0, -50.0}};
        std::erase_if(shot.joints, [&](const Joint& j) { return j.at >= end || (j.loss == 0 && !j.reflectance); });
        const auto found = analyse(shot.trace(), {Metre(500), Metre(0)});
        QCOMPARE(found.launchFault.has_value(), !says.isEmpty());
        QCOMPARE(found.span.has_value(), says.isEmpty());
        if (found.launchFault)
            QVERIFY2(QString::fromStdString(*found.launchFault).contains(says), found.launchFault->c_str());
        else
            QVERIFY(qAbs(found.span->from.value() - 500) < 2);
    }

    void noiseIsReadFromTheTrace_data()
    {
        QTest::addColumn<double>("noise");
        QTest::addColumn<double>("speckle");
        for (const double noise : {1e-6, 1e-5, 1e-4})
            for (const double speckle : {0.004, 0.02}) QTest::addRow("noise %g, speckle %g dB", noise, speckle) << noise << speckle;
    }
    void noiseIsReadFromTheTrace()
    {
        QFETCH(const double, noise);
        QFETCH(const double, speckle);
        Shot shot;
        shot.noise = noise;
        shot.speckle = speckle;
        const Trace trace = shot.trace();
        const Signal signal(trace);
        QVERIFY2(signal.noise() > 0.6 * noise && signal.noise() < 1.6 * noise, qPrintable(QString::number(signal.noise())));
        QVERIFY2(signal.correlation() < 1.6, qPrintable(QString::number(signal.correlation())));
        // speckle by its own measure is averaged over the pulse: within a factor of two where it is not under the noise
        if (noise < 1e-5) QVERIFY2(signal.speckle() > 0.4 * speckle && signal.speckle() < 2 * speckle, qPrintable(QString::number(signal.speckle())));
    }
    void aFlatTopIsSaturated_data()
    {
        QTest::addColumn<double>("ceiling");
        QTest::addColumn<bool>("saturated");
        QTest::newRow("under the ceiling") << 20.0 << false;
        QTest::newRow("at the ceiling") << 3.0 << true;
    }
    void aFlatTopIsSaturated()
    {
        QFETCH(const double, ceiling);
        QFETCH(const bool, saturated);
        Shot shot;
        shot.ceiling = ceiling;
        shot.joints = {{2500, 0.3, 0, -32.0}};
        const auto events = joints(analyse(shot.trace(), {}));
        QCOMPARE(events.size(), std::size_t(1));
        QCOMPARE(events[0].saturated, saturated);
        if (!saturated) QVERIFY2(qAbs(events[0].reflectance->value() + 32) < 0.5, qPrintable(QString::number(events[0].reflectance->value())));
    }
    /// An echo of an echo, which the first one alone explains.
    void echoesOfEchoesAreNoJoints()
    {
        Shot shot;
        shot.ceiling = 40;
        shot.joints = {{1000, 0.3, 0, -14.0}, {1500, 0.3, 0, -10.0}, {2000, 0, 0, -36.0}, {2500, 0, 0, -58.0}};
        const auto found = analyse(shot.trace(), {});
        int ghosts = 0;
        for (const auto& e : found.events) {
            const bool echo = qAbs(e.at.value() - 2000) < 5 || qAbs(e.at.value() - 2500) < 5;
            QVERIFY2(echo == (e.kind == EventKind::Ghost), qPrintable(told(found)));
            ghosts += echo;
        }
        QCOMPARE(ghosts, 2);
    }
    void aRealJointBehindAnEchoIsNone()
    {
        Shot shot;
        shot.ceiling = 40;
        shot.joints = {{1000, 0.3, 0, -14.0}, {1500, 0.3, 0, -10.0}, {2000, 0, 0, -36.0}, {2500, 0.25, 0, -58.0}};
        const auto found = analyse(shot.trace(), {});
        const auto joint = std::find_if(found.events.begin(), found.events.end(), [](const auto& e) { return qAbs(e.at.value() - 2500) < 5; });
        QVERIFY(joint != found.events.end() && joint->kind == EventKind::Reflective);
    }
    void twoReflectionsWithinAPulseAreTold_data()
    {
        QTest::addColumn<double>("apart");   // m; the pulse is 10.2 m
        QTest::addColumn<double>("second");  // reflectance, dB
        QTest::addColumn<int>("told");
        QTest::newRow("the second one stands out") << 6.0 << -45.0 << 2;
        QTest::newRow("twice as strong") << 6.0 << -49.5 << 2;
        QTest::newRow("much weaker: the plateau may be uneven") << 6.0 << -62.0 << 1;
        QTest::newRow("hardly apart") << 1.0 << -45.0 << 1;
    }
    void twoReflectionsWithinAPulseAreTold()
    {
        QFETCH(const double, apart);
        QFETCH(const double, second);
        QFETCH(const int, told);
        Shot shot;
        shot.spacing = 0.25;
        shot.ceiling = 40;
        shot.joints = {{3000, 0.2, 0, -52.5}, {3000 + apart, 0.25, 0, second}};
        const auto found = analyse(shot.trace(), {});
        std::vector<Event> here;
        for (const auto& e : found.events)
            if (qAbs(e.at.value() - 3003) < 12) here.push_back(e);
        QVERIFY2(int(here.size()) == told, qPrintable(::told(found)));
        QVERIFY2(here.back().loss && qAbs(here.back().loss->value() - 0.45) < 0.03, qPrintable(::told(found)));
        if (told < 2) return;
        QVERIFY(here[0].joinedWithNext && !here[0].loss);
        QVERIFY2(qAbs(here[1].at.value() - 3000 - apart) < 1.2, qPrintable(QString::number(here[1].at.value())));
        QVERIFY2(here[0].reflectance && qAbs(here[0].reflectance->value() + 52.5) < 1.2, qPrintable(QString::number(here[0].reflectance->value())));
        // the first one's light falls meanwhile, as its pulse does
        QVERIFY2(here[1].reflectance && qAbs(here[1].reflectance->value() - second) < 2.5, qPrintable(QString::number(here[1].reflectance->value())));
    }
};

QTEST_GUILESS_MAIN(TestTraceEvents)
#include "test_trace_events.moc"
