// The plan against the trace: all joints at once, what is missing, what is not planned and where, what lies elsewhere; bend or splice by two
// wavelengths.
#include <QtTest>
#include <random>

#include "record/advice/link_advice.h"
#include "record/rules/plan_alignment.h"
#include "record/rules/plan_match.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

std::vector<PlannedJoint> plan(const std::vector<std::pair<double, bool>>& joints)
{
    std::vector<PlannedJoint> out;
    for (const auto& [at, connection] : joints) out.push_back({Metre(at), connection});
    return out;
}
std::vector<SeenJoint> seen(const std::vector<std::pair<double, bool>>& joints)
{
    std::vector<SeenJoint> out;
    for (const auto& [at, reflects] : joints) out.push_back({Metre(at), reflects});
    return out;
}
using Places = std::vector<std::pair<double, bool>>;
const Places straight{{0, true}, {600, false}, {1180, false}, {1905, false}, {2400, true}};

otdr::Event joint(double at, double loss, double uncertainty = 0.005)
{
    otdr::Event e;
    e.kind = otdr::EventKind::Loss;
    e.at = Metre(at);
    e.loss = Decibel(loss);
    e.lossUncertainty = Decibel(uncertainty);
    return e;
}

}  // namespace

class TestPlanTrace : public QObject {
    Q_OBJECT
private slots:
    void jointsAreMatchedAllAtOnce_data()
    {
        QTest::addColumn<Places>("found");
        QTest::addColumn<QList<int>>("of");  // which one seen, by planned; -1: missing
        QTest::newRow("as planned") << straight << QList<int>{0, 1, 2, 3, 4};
        QTest::newRow("all a little longer") << Places{{0, true}, {609, false}, {1198, false}, {1934, false}, {2436, true}}
                                             << QList<int>{0, 1, 2, 3, 4};
        QTest::newRow("a splice is too good to be seen")
            << Places{{0, true}, {600, false}, {1905, false}, {2400, true}} << QList<int>{0, 1, -1, 2, 3};
        QTest::newRow("a bend just before a splice")
            << Places{{0, true}, {600, false}, {1181, false}, {1896, false}, {1906, false}, {2400, true}} << QList<int>{0, 1, 2, 4, 5};
        QTest::newRow("a connector in between") << Places{{0, true}, {598, true}, {602, false}, {1180, false}, {1905, false}, {2400, true}}
                                                << QList<int>{0, 2, 3, 4, 5};
        QTest::newRow("a joint elsewhere") << Places{{0, true}, {600, false}, {1202, false}, {1905, false}, {2400, true}}
                                           << QList<int>{0, 1, 2, 3, 4};
        QTest::newRow("of another cable") << Places{{0, true}, {300, false}, {900, false}, {3100, true}} << QList<int>{0, -1, -1, -1, -1};
        QTest::newRow("nothing") << Places{} << QList<int>{-1, -1, -1, -1, -1};
    }
    void jointsAreMatchedAllAtOnce()
    {
        QFETCH(const Places, found);
        QFETCH(const QList<int>, of);
        const auto alignment = alignPlan(plan(straight), seen(found));
        QCOMPARE(alignment.seenOf.size(), straight.size());
        for (qsizetype i = 0; i < of.size(); ++i) QCOMPARE(alignment.seenOf[std::size_t(i)] ? int(*alignment.seenOf[std::size_t(i)]) : -1, of[i]);
    }
    /// Plans that were paced, joints that cannot be seen, some that nobody planned: hardly one is taken for another.
    void pacedPlansAreMatched()
    {
        std::mt19937 random(4);
        const auto uniform = [&](double low, double high) { return std::uniform_real_distribution<double>(low, high)(random); };
        int right = 0, wrong = 0, lost = 0;
        for (int trial = 0; trial < 300; ++trial) {
            Places planned{{0, true}};
            while (planned.size() < 9) planned.emplace_back(planned.back().first + uniform(60, 900), uniform(0, 1) < 0.25);
            planned.back().second = true;
            const double scale = uniform(0.99, 1.015);
            Places found;
            std::vector<int> truth;
            for (const auto& [at, connection] : planned) {
                if (uniform(0, 1) < 0.1) {
                    truth.push_back(-1);
                    continue;
                }
                found.emplace_back(at * scale + (at > 0 ? uniform(-2, 2) : 0), connection);
                truth.push_back(static_cast<int>(found.size()) - 1);
            }
            const std::size_t foreign = found.size();
            for (int i = 0; i < 2; ++i) found.emplace_back(uniform(20, planned.back().first), false);
            // in their order, as a trace has them
            std::vector<std::size_t> order(found.size());
            std::iota(order.begin(), order.end(), std::size_t(0));
            std::sort(order.begin(), order.end(), [&](auto a, auto b) { return found[a].first < found[b].first; });
            Places sorted;
            for (const auto i : order) sorted.push_back(found[i]);
            const auto alignment = alignPlan(plan(planned), seen(sorted));
            for (std::size_t i = 0; i < planned.size(); ++i) {
                const int is = alignment.seenOf[i] ? int(order[*alignment.seenOf[i]]) : -1;
                // a stranger within a few metres of the place is as good
                const bool same = is == truth[i] || (is >= int(foreign) && std::abs(found[std::size_t(is)].first - planned[i].first * scale) < 5);
                (same ? right : is < 0 ? lost : wrong) += 1;
            }
        }
        QVERIFY2(right > 0.985 * (right + wrong + lost), qPrintable(QString("%1 right, %2 wrong, %3 lost").arg(right).arg(wrong).arg(lost)));
    }
    void whatIsNotPlannedIsSaidWhere()
    {
        Journal j;
        TraceShot s = shot();
        j.add(s);
        const JobState state = j.state();
        const auto rows = matchPlan(state, *state.link("VP-04/1"), s);
        const auto stranger = std::find_if(rows.begin(), rows.end(), [](const LineRow& r) { return r.kind == "not planned"; });
        QVERIFY(stranger != rows.end());
        QVERIFY2(stranger->where.starts_with("244 m from splice sea wall towards Breakwater Hut"), stranger->where.c_str());
        for (const auto& row : rows) QVERIFY(!row.shifted);
    }
    void aJointElsewhereIsSaid()
    {
        Journal j;
        TraceShot s = shot();
        for (auto& e : s.found.events)
            if (qAbs(e.at.value() - 1332) < 1) e.at = Metre(1358);
        j.add(s);
        const JobState state = j.state();
        const auto rows = matchPlan(state, *state.link("VP-04/1"), s);
        const auto moved = std::find_if(rows.begin(), rows.end(), [](const LineRow& r) { return r.shifted.has_value(); });
        QVERIFY(moved != rows.end() && moved->name == "splice manhole 3");
        QVERIFY2(qAbs(moved->shifted->value() - 28) < 6, qPrintable(QString::number(moved->shifted->value())));
        const Advice advice = traceAdvice(state, *state.link("VP-04/1"));
        QVERIFY(std::any_of(advice.help.begin(), advice.help.end(),
                            [](const auto& h) { return h.find("further from A than planned") != std::string::npos; }));
    }

    void twoWavelengthsTellABendFromASplice_data()
    {
        QTest::addColumn<double>("shorter");
        QTest::addColumn<double>("longer");
        QTest::addColumn<double>("uncertainty");
        QTest::addColumn<double>("nm");  // the shorter one
        QTest::addColumn<int>("cause");  // -1: no answer at all
        const int bend = int(otdr::LossCause::Bend), splice = int(otdr::LossCause::Joint), unclear = int(otdr::LossCause::Unclear);
        QTest::newRow("a bend") << 0.1 << 0.6 << 0.01 << 1310.0 << bend;
        QTest::newRow("a bend that the shorter one hardly sees") << 0.0 << 0.3 << 0.01 << 1310.0 << bend;
        QTest::newRow("a splice") << 0.35 << 0.33 << 0.01 << 1310.0 << splice;
        QTest::newRow("a little more: nobody knows") << 0.3 << 0.42 << 0.01 << 1310.0 << unclear;
        QTest::newRow("much more, but hardly known") << 0.1 << 0.45 << 0.2 << 1310.0 << unclear;
        QTest::newRow("alike, but hardly known") << 0.3 << 0.3 << 0.2 << 1310.0 << unclear;
        QTest::newRow("multimode") << 0.2 << 0.6 << 0.01 << 850.0 << unclear;
        QTest::newRow("the same wavelength twice") << 0.2 << 0.6 << 0.01 << 1545.0 << -1;
    }
    void twoWavelengthsTellABendFromASplice()
    {
        QFETCH(const double, shorter);
        QFETCH(const double, longer);
        QFETCH(const double, uncertainty);
        QFETCH(const double, nm);
        QFETCH(const int, cause);
        const auto a = joint(800, shorter, uncertainty), b = joint(800.4, longer, uncertainty);
        for (const bool turned : {false, true}) {
            const auto both = turned ? otdr::compareWavelengths(b, Nanometre(1550), a, Nanometre(nm))
                                     : otdr::compareWavelengths(a, Nanometre(nm), b, Nanometre(1550));
            QCOMPARE(both ? int(both->cause) : -1, cause);
            if (both) QVERIFY(qAbs(both->difference.value() - (longer - shorter)) < 1e-9);
        }
    }
    void theAdviceSaysWhatTwoWavelengthsTell_data()
    {
        QTest::addColumn<double>("at1310");
        QTest::addColumn<QString>("headline");
        QTest::addColumn<QString>("says");
        QTest::newRow("a bend") << 0.1 << "Look for a bend"
                                << "a bend or a pinch";
        QTest::newRow("a splice") << 0.45 << "Open one splice"
                                  << "loses the same at both";
        QTest::newRow("not shot") << -1.0 << "other wavelength first"
                                  << "before anything is opened";
    }
    void theAdviceSaysWhatTwoWavelengthsTell()
    {
        QFETCH(const double, at1310);
        QFETCH(const QString, headline);
        QFETCH(const QString, says);
        const auto sure = [](TraceShot s) {
            for (auto& e : s.found.events) e.lossUncertainty = Decibel(0.005);
            return s;
        };
        Journal j;
        if (at1310 >= 0) j.add(sure(shot(Direction::AtoB, at1310, 1310)));
        j.add(sure(shot(Direction::AtoB, 0.45, 1550)));
        const JobState state = j.state();
        const Advice advice = traceAdvice(state, *state.link("VP-04/1"));
        QVERIFY2(QString::fromStdString(advice.headline).contains(headline), advice.headline.c_str());
        QVERIFY2(QString::fromStdString(advice.help.front()).contains(says), advice.help.front().c_str());
    }
};

QTEST_GUILESS_MAIN(TestPlanTrace)
#include "test_plan_trace.moc"
