// Before a shot: settings, and what they give up. After later shots: what changed.
#include <QtTest>

#include "otdr/shot_choice.h"
#include "otdr/then_and_now.h"
#include "record/advice/link_advice.h"
#include "varrow_journal.h"

using namespace clendo;
using namespace clendo::otdr;

namespace {

Event joint(double at, double loss, double uncertainty = 0.01)
{
    Event e;
    e.kind = EventKind::Loss;
    e.at = Metre(at);
    e.loss = Decibel(loss);
    e.lossUncertainty = Decibel(uncertainty);
    return e;
}
Analysis analysis(std::vector<Event> events, double end)
{
    Analysis a;
    a.events = std::move(events);
    Event last;
    last.kind = EventKind::End;
    last.at = Metre(end);
    a.events.push_back(last);
    return a;
}
/// A shot of which every loss is well known.
TraceShot sure(TraceShot s, const char* trace)
{
    s.trace = trace;
    for (auto& e : s.found.events) e.lossUncertainty = Decibel(0.005);
    return s;
}
bool says(const Advice& a, const char* words)
{
    return std::any_of(a.help.begin(), a.help.end(), [&](const auto& h) { return h.find(words) != std::string::npos; });
}

}  // namespace

class TestShots : public QObject {
    Q_OBJECT
private slots:
    void thePulseIsAsShortAsTheLineAllows_data()
    {
        QTest::addColumn<double>("length");
        QTest::addColumn<double>("loss");
        QTest::addColumn<double>("nm");
        QTest::addColumn<double>("shortest");  // ns
        QTest::addColumn<double>("longest");
        QTest::newRow("data centre") << 300.0 << 2.0 << 850.0 << 3.0 << 10.0;
        QTest::newRow("campus") << 2700.0 << 3.5 << 1310.0 << 10.0 << 30.0;
        QTest::newRow("access") << 9000.0 << 6.0 << 1310.0 << 20.0 << 100.0;
        QTest::newRow("long") << 60000.0 << 16.0 << 1550.0 << 300.0 << 2500.0;
        QTest::newRow("very long") << 100000.0 << 26.0 << 1550.0 << 2500.0 << 20000.0;
    }
    void thePulseIsAsShortAsTheLineAllows()
    {
        QFETCH(const double, length);
        QFETCH(const double, loss);
        QFETCH(const double, nm);
        QFETCH(const double, shortest);
        QFETCH(const double, longest);
        const auto choice = chooseShot(Metre(length), Decibel(loss), Nanometre(nm));
        QVERIFY2(choice.pulse.value() >= shortest && choice.pulse.value() <= longest, qPrintable(QString::number(choice.pulse.value())));
        QVERIFY(choice.range.value() > 1.2 * length && choice.range.value() < 2 * length);
        QVERIFY(choice.averaging.value() >= 15 && choice.averaging.value() <= 180);
        QVERIFY(choice.attenuationDeadZone > choice.eventDeadZone && choice.leastLaunch > choice.attenuationDeadZone);
        // more loss never asks for less light
        const auto more = chooseShot(Metre(length), Decibel(loss + 5), Nanometre(nm));
        QVERIFY(more.pulse > choice.pulse || (more.pulse.value() == choice.pulse.value() && more.averaging >= choice.averaging));
    }
    void whatLiesTooCloseIsSaid()
    {
        const auto choice = chooseShot(Metre(2700), Decibel(3.5), Nanometre(1310));
        const std::vector<NamedPlace> places{
            {"port 1", Metre(0), true}, {"splice tray", Metre(3), false}, {"IDF-2", Metre(600), true}, {"IDF-3", Metre(602), true}};
        const auto said = notToldApart(places, choice);
        QCOMPARE(said.size(), std::size_t(2));
        QVERIFY2(said[0].starts_with("port 1 and splice tray, 3 m apart, will have one loss together"), said[0].c_str());
        QVERIFY2(said[1].starts_with("IDF-2 and IDF-3, 2 m apart, will look like one"), said[1].c_str());
    }
    void theAdviceBeforeAShotGivesSettingsAndReasons()
    {
        Journal j;
        const JobState state = j.state();
        const Advice advice = traceAdvice(state, *state.link("VP-04/1"));
        QVERIFY2(says(advice, " ns, "), advice.help.front().c_str());
        QVERIFY(says(advice, "the shortest pulse"));
        QVERIFY(says(advice, "Prove the fibre dark first"));
    }

    void changesAreSaidWhereTheyAreClear_data()
    {
        QTest::addColumn<double>("after");
        QTest::addColumn<double>("uncertainty");
        QTest::addColumn<double>("stretch");
        QTest::addColumn<int>("kind");  // -1: no change is said
        QTest::newRow("worse") << 0.4 << 0.01 << 1.0 << int(Change::Kind::Worse);
        QTest::newRow("better") << 0.02 << 0.01 << 1.0 << int(Change::Kind::Better);
        QTest::newRow("a little") << 0.23 << 0.01 << 1.0 << -1;
        QTest::newRow("much, but hardly known") << 0.5 << 0.15 << 1.0 << -1;
        QTest::newRow("the same, by another group index") << 0.2 << 0.01 << 1.002 << -1;
        QTest::newRow("worse, by another group index") << 0.5 << 0.01 << 1.002 << int(Change::Kind::Worse);
    }
    void changesAreSaidWhereTheyAreClear()
    {
        QFETCH(const double, after);
        QFETCH(const double, uncertainty);
        QFETCH(const double, stretch);
        QFETCH(const int, kind);
        const auto then = analysis({joint(9000, 0.2), joint(15000, 0.1)}, 20000);
        const auto now = analysis({joint(9000 * stretch, after, uncertainty), joint(15000 * stretch, 0.1)}, 20000 * stretch);
        const auto changes = changesSince(then, now, Metre(10));
        QCOMPARE(changes.empty() ? -1 : int(changes.front().kind), kind);
        QVERIFY(changes.size() <= 1);
        if (kind >= 0) QVERIFY(qAbs(changes[0].difference.value() - (after - 0.2)) < 1e-9);
    }
    void whatIsNewGoneOrBrokenIsSaid()
    {
        const auto then = analysis({joint(500, 0.2), joint(1500, 0.3)}, 2000);
        const auto bent = changesSince(then, analysis({joint(500, 0.2), joint(900, 0.4), joint(1500, 0.3)}, 2000), Metre(10));
        QCOMPARE(bent.size(), std::size_t(1));
        QVERIFY(bent[0].kind == Change::Kind::New && bent[0].at == Metre(900) && !bent[0].before);
        const auto mended = changesSince(then, analysis({joint(500, 0.2)}, 2000), Metre(10));
        QCOMPARE(mended.size(), std::size_t(1));
        QVERIFY(mended[0].kind == Change::Kind::Gone && mended[0].at == Metre(1500));
        const auto cut = changesSince(then, analysis({joint(500, 0.2)}, 1200), Metre(10));
        QCOMPARE(cut.size(), std::size_t(1));  // what lay behind the cut is not said to be gone
        QVERIFY(cut[0].kind == Change::Kind::Shorter && cut[0].at == Metre(1200));
    }
    void theAdviceSaysWhatBecameWorse()
    {
        Journal j;
        j.add(sure(shot(Direction::AtoB, 0.08), "first"));
        QVERIFY(!says(traceAdvice(j.state(), *j.state().link("VP-04/1")), "Since the first shot"));
        j.add(sure(shot(Direction::AtoB, 0.42), "second"));
        const JobState state = j.state();
        QVERIFY2(says(traceAdvice(state, *state.link("VP-04/1")), "0.34 ± 0.01 dB more are lost at 1182 m"),
                 traceAdvice(state, *state.link("VP-04/1")).help.front().c_str());
        // the other end's shot is none of its past
        j.add(sure(shot(Direction::BtoA, 0.42), "third"));
        const JobState other = j.state();
        QVERIFY(!says(traceAdvice(other, *other.link("VP-04/1")), "Since the first shot"));
    }
};

QTEST_GUILESS_MAIN(TestShots)
#include "test_shots.moc"
