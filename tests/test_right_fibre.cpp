#include <QSignalSpy>

#include "app/polarity/fibre_map_view.h"
#include "record/advice/right_fibre_advice.h"
#include "record/rules/completeness.h"
#include "record/rules/right_fibre.h"
#include "varrow_journal.h"
#include "window_driver.h"

using namespace clendo;

namespace {

JobState stateOf(const std::vector<LightSeen>& seen, int fibres)
{
    Journal j;
    j.add(CablePlanned{varrowCable(fibres)});
    for (const auto& one : seen) j.add(one);
    return j.state();
}

/// All fibres where they belong, but for those that are said.
std::vector<LightSeen> allBut(int fibres, const std::map<int, std::optional<int>>& others)
{
    std::vector<LightSeen> out;
    for (int in = 1; in <= fibres; ++in) out.push_back({"VP-04", in, others.contains(in) ? others.at(in) : std::optional(in)});
    return out;
}

}  // namespace

class TestRightFibre : public QObject {
    Q_OBJECT
private slots:
    void adviceFollowsTheMap_data()
    {
        QTest::addColumn<std::vector<LightSeen>>("seen");
        QTest::addColumn<int>("tone");
        QTest::addColumn<int>("faults");
        QTest::newRow("nothing tried") << std::vector<LightSeen>{} << int(Tone::Neutral) << 0;
        QTest::newRow("some are right") << std::vector<LightSeen>{{"VP-04", 1, 1}, {"VP-04", 2, 2}} << int(Tone::Neutral) << 0;
        QTest::newRow("all are right") << allBut(12, {}) << int(Tone::Fit) << 0;
        QTest::newRow("crossed") << allBut(12, {{3, 4}, {4, 3}}) << int(Tone::Work) << 1;
        QTest::newRow("crossed, and one dark") << allBut(12, {{3, 4}, {4, 3}, {9, {}}}) << int(Tone::Work) << 2;
        auto again = allBut(12, {{3, 4}, {4, 3}});
        again.push_back({"VP-04", 3, 3});
        again.push_back({"VP-04", 4, 4});
        QTest::newRow("crossed, mended and tried again") << again << int(Tone::Fit) << 0;
    }
    void adviceFollowsTheMap()
    {
        QFETCH(const std::vector<LightSeen>, seen);
        const JobState state = stateOf(seen, 12);
        const Link& link = *state.link("VP-04/3");
        const auto fibres = rightFibres(state, *link.cable);
        const auto& report = fibres.report;
        QTEST(int(report.faults.size()), "faults");
        const Advice advice = rightFibreAdvice(fibres, link);
        QTEST(int(advice.tone), "tone");
        const bool tried = std::any_of(seen.begin(), seen.end(), [](const LightSeen& one) { return one.in == 3; });
        QCOMPARE(advice.actions.front().command == command::nextStep, tried);
        if (!report.faults.empty()) QCOMPARE(advice.sentence, report.faults.front().message);
    }
    void groupsAreTubesOrFerrules()
    {
        CablePlan cable = varrowCable(24);
        QCOMPARE(seenWays(stateOf({}, 24), cable).group, 12);
        cable.ferruleFibres = 8;
        QCOMPARE(seenWays(stateOf({}, 24), cable).group, 8);
        cable = varrowCable(4);  // fewer than a tube holds
        QCOMPARE(seenWays(stateOf({}, 4), cable).group, 4);
    }
    void thePlanSaysWhatIsRight_data()
    {
        QTest::addColumn<QString>("polarity");
        QTest::addColumn<bool>("eight");
        QTest::addColumn<int>("of2");
        QTest::addColumn<int>("seen");
        QTest::newRow("straight") << "straight" << false << 2 << 12;
        QTest::newRow("reversed") << "reversed" << false << 11 << 12;
        QTest::newRow("pairs") << "pairs" << false << 1 << 12;
        QTest::newRow("eight of twelve, reversed") << "reversed" << true << 11 << 8;
    }
    void thePlanSaysWhatIsRight()
    {
        QFETCH(const QString, polarity);
        QFETCH(const bool, eight);
        QFETCH(const int, of2);
        QFETCH(const int, seen);
        CablePlan cable = varrowCable(12);
        cable.ferruleFibres = 12;
        cable.polarity = polarity.toStdString();
        cable.eightOfTwelve = eight;
        Journal j;
        j.add(CablePlanned{cable});
        int tried = 0;
        for (const auto& link : j.state().plan->links)
            if (link.cable->carriesLight(link.fibre)) ++tried, j.add(LightSeen{"VP-04", link.fibre, belongsAt(link)});
        QCOMPARE(tried, seen);
        JobState state = j.state();
        QCOMPARE(belongsAt(*state.link("VP-04/2")), of2);
        QVERIFY(rightFibres(state, state.plan->cables.front()).report.ok);
        const auto lacksLight = [&](const char* id) {
            const auto missing = completeness(state, *state.link(id)).missing();
            return std::any_of(missing.begin(), missing.end(), [](const auto& m) { return m.find("loss at") != std::string::npos; });
        };
        QVERIFY(lacksLight("VP-04/2"));
        QCOMPARE(lacksLight("VP-04/6"), !eight);
        // what would be right in another plan is a fault in this one
        state = j.add(LightSeen{"VP-04", 2, polarity == "straight" ? 11 : 2}).state();
        const auto report = rightFibres(state, state.plan->cables.front()).report;
        QVERIFY(!report.ok && !report.faults.empty());
    }
    void aSmallerPlanForgetsNoFault()
    {
        // what was seen of fibres that are no more is not told, and harms nothing
        Journal j;
        j.add(CablePlanned{varrowCable(12)}).add(LightSeen{"VP-04", 2, 11}).add(LightSeen{"VP-04", 1, 1}).add(CablePlanned{varrowCable(4)});
        const JobState state = j.state();
        const auto fibres = rightFibres(state, *state.link("VP-04/1")->cable);
        const auto& report = fibres.report;
        QCOMPARE(fibres.ways.seen.size(), std::size_t{1});  // nor is it drawn
        QVERIFY(report.faults.empty());
        QCOMPARE(report.proven, 1);
        QVERIFY(!report.ok);
    }
    void theMapIsFilledByKeys()
    {
        QTemporaryDir folder;
        MainWindow w;
        QVERIFY(created(w, folder.filePath("job.clendo"), "Varrow Point"));
        QVERIFY(filed(*w.session(), Filing{{CablePlanned{varrowCable(12)}}, {}, {}}));
        WindowDriver d(w);
        w.choose({"VP-04/1", End::A, Side::Port});
        d.key(Qt::Key_9);
        QCOMPARE(w.desk(), QString("right-fibre"));
        auto* map = w.findChild<FibreMapView*>("fibreMap");
        QVERIFY(map && map->isVisible());
        const QImage empty = map->grab().toImage();
        d.key(Qt::Key_F);
        QCOMPARE(w.session()->state().state("VP-04/1").lightSeen->what.out, std::optional(1));
        QVERIFY(map->grab().toImage() != empty);
        // a click on a port chooses its fibre
        QSignalSpy chosen(map, &FibreMapView::fibreChosen);
        for (int x = 0; x < map->width() && chosen.isEmpty(); x += 3)
            if (map->fibreAt(QPointF(x, map->minimumSizeHint().height() / 2.0)) == 5)
                QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(x, map->minimumSizeHint().height() / 2));
        QCOMPARE(chosen.size(), 1);
        QCOMPARE(w.link()->fibre, 5);
        d.key(Qt::Key_F);
        QCOMPARE(w.session()->state().state("VP-04/5").lightSeen->what.out, std::optional(5));
        QCOMPARE(rightFibres(w.session()->state(), *w.link()->cable).report.proven, 2);
    }
    void largeCablesFit_data()
    {
        QTest::addColumn<int>("fibres");
        QTest::addColumn<int>("group");
        QTest::newRow("one fibre") << 1 << 1;
        QTest::newRow("odd") << 7 << 7;
        QTest::newRow("24 in a tube") << 48 << 24;
        QTest::newRow("ribbons") << 288 << 12;
        QTest::newRow("one large tube") << 288 << 144;
    }
    void largeCablesFit()
    {
        QFETCH(const int, fibres);
        QFETCH(const int, group);
        PolarityMap map;
        map.cable = "VP-99";
        map.fibres = fibres;
        map.group = group;
        for (int in = 1; in <= fibres; ++in) map.seen.push_back({in, fibres + 1 - in});
        FibreMapView view;
        view.show(map, explain(map).value(), 1);
        view.resize(view.minimumSizeHint());
        QVERIFY(view.minimumSizeHint().width() < 650);  // beside both columns
        std::set<int> found;
        for (int y = 0; y < view.height(); y += 8)
            for (int x = 0; x < view.width(); x += 4) found.insert(view.fibreAt(QPointF(x, y)));
        found.erase(0);
        QCOMPARE(int(found.size()), fibres);
        QCOMPARE(*found.rbegin(), fibres);
        QVERIFY(!view.grab().isNull());
    }
};

QTEST_MAIN(TestRightFibre)
#include "test_right_fibre.moc"
