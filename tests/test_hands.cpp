#include <QComboBox>
#include <QDockWidget>
#include <QDoubleSpinBox>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <nlohmann/json.hpp>

#include "app/budget/budget_dialog.h"
#include "app/hands/demo_hands.h"
#include "app/loss/paste_dialog.h"
#include "files/files.h"
#include "sim/simulation.h"
#include "varrow_journal.h"
#include "window_driver.h"
#include "world/scenario.h"

using namespace clendo;

namespace {

struct Demo {
    QTemporaryDir dir;
    MainWindow window;
    sim::Simulation simulation{*world::readScenario(*readFile(dataFolder() / "scenarios/varrow-point.json"), dataFolder()), 5};
    std::unique_ptr<WindowDriver> driver;

    bool start(bool attached = true)
    {
        window.resize(1280, 800);
        QDir(dir.path()).mkpath("scope");
        if (!simulation.start() || !created(window, dir.filePath("hands.clendo"), "Hands")) return false;
        driver = std::make_unique<WindowDriver>(window);
        if (!filed(*window.session(), CablePlanned{varrowCable()})) return false;
        window.choose({"VP-04/5", End::A, Side::Port});
        if (!attached) return true;
        const QString ready = dir.filePath("simulation.json");
        return writeFile(ready.toStdString(), simulation.ready().dump() + "\n").has_value() &&
               DemoHands::attach(window, ready, dir.filePath("scope")).has_value();
    }
    const FaceState& face() { return window.session()->state().face(window.chosen()); }
    bool look()
    {
        const std::size_t before = face().looks.size();
        driver->key(Qt::Key_P);
        return QTest::qWaitFor([&] { return face().looks.size() == before + 1; }, 15000);
    }
    std::size_t marks() { return simulation.now().face(window.chosen().text())->marks.size(); }
};

}  // namespace

/// In the demo, hands act on the simulated world, and the record learns what is looked at.
class TestHands : public QObject {
    Q_OBJECT
private slots:
    void whatHandsDoIsSeenAndNotFiled()
    {
        Demo d;
        QVERIFY(d.start());
        QVERIFY(d.look());
        const auto clean = d.face().looks.back().seen.measured.findings.size();
        const std::size_t entries = d.window.session()->entries().size(), before = d.marks();
        d.driver->key(Qt::Key_7, Qt::ControlModifier);  // a finger
        QVERIFY(QTest::qWaitFor([&] { return d.marks() > before; }));
        QCOMPARE(d.window.session()->entries().size(), entries);  // the record knows nothing of it
        QVERIFY(d.look());
        QVERIFY(d.face().looks.back().seen.measured.findings.size() > clean + 2);
        for (int i = 0; i < 3; ++i) {
            const std::size_t dirty = d.marks();
            d.driver->key(Qt::Key_6, Qt::ControlModifier);
            static_cast<void>(QTest::qWaitFor([&] { return d.marks() < dirty; }, 1500));
        }
        const auto touched = d.face().looks.back().seen.measured.findings.size();
        QVERIFY(d.look());
        QVERIFY(d.face().looks.back().seen.measured.findings.size() < touched);
    }
    void cordsGoWhereTheirKeysSay()
    {
        Demo d;
        QVERIFY(d.start());
        const auto mated = [&](const char* a) {
            const auto state = d.simulation.now().state();
            for (const auto& face : state["faces"])
                if (face["face"] == a) return face["mated_with"].is_null() ? std::string() : face["mated_with"].get<std::string>();
            return std::string("none such");
        };
        d.driver->key(Qt::Key_1, Qt::ControlModifier);
        QTRY_COMPARE(mated("RC-1/B"), std::string("meter 1"));
        d.driver->key(Qt::Key_2, Qt::ControlModifier);
        QTRY_COMPARE(mated("RC-1/B"), std::string("RC-2/A"));
        d.driver->key(Qt::Key_3, Qt::ControlModifier);
        QTRY_COMPARE(mated("RC-1/B"), std::string("VP-04/5/A/port"));
        QTRY_COMPARE(mated("RC-2/A"), std::string("VP-04/5/B/port"));
        d.window.choose({"VP-04/6", End::A, Side::Port});
        d.driver->key(Qt::Key_3, Qt::ControlModifier);
        QTRY_COMPARE(mated("RC-1/B"), std::string());  // hands take a moment, without light
        QTRY_COMPARE(mated("RC-1/B"), std::string("VP-04/6/A/port"));
        QTRY_COMPARE(mated("RC-2/A"), std::string("VP-04/6/B/port"));
        d.driver->key(Qt::Key_4, Qt::ControlModifier);
        QTRY_COMPARE(mated("RC-1/B"), std::string());
    }
    void thePanelIsClosedAndComesBack()
    {
        Demo d;
        QVERIFY(d.start());
        auto* panel = d.window.findChild<QDockWidget*>("handsPanel");
        QVERIFY(panel && panel->isVisible());
        QCOMPARE(panel->findChildren<QPushButton*>().size(), 9);
        panel->close();
        QVERIFY(!panel->isVisible());
        d.driver->key(Qt::Key_F6);
        QVERIFY(panel->isVisible());
    }
    void elsewhereThereAreNoHands()
    {
        Demo d;
        QVERIFY(d.start(false));
        d.driver->key(Qt::Key_1, Qt::ControlModifier);
        QVERIFY2(d.driver->said().contains("demo"), qPrintable(d.driver->said()));
        QVERIFY(!d.window.findChild<QDockWidget*>("handsPanel"));
        QVERIFY(!DemoHands::attach(d.window, d.dir.filePath("nothing.json"), d.dir.path()));
    }
    void whatIsNoSimulationIsRefused_data()
    {
        QTest::addColumn<QByteArray>("ready");
        QTest::newRow("empty") << QByteArray();
        QTest::newRow("no JSON") << QByteArray("ready\n");
        QTest::newRow("no control") << QByteArray(R"j({"ready": true, "instruments": []})j");
        QTest::newRow("a port that is none") << QByteArray(R"j({"control": {"port": 99999}})j");
        QTest::newRow("a port in words") << QByteArray(R"j({"control": {"port": "40001"}})j");
        QTest::newRow("a list") << QByteArray("[1, 2]");
    }
    void whatIsNoSimulationIsRefused()
    {
        QFETCH(QByteArray, ready);
        Demo d;
        QVERIFY(d.start(false));
        const QString file = d.dir.filePath("simulation.json");
        QVERIFY(writeFile(file.toStdString(), ready.toStdString()));
        QVERIFY(!DemoHands::attach(d.window, file, d.dir.path()));
        QVERIFY(!DemoHands::of(d.window));
    }
    void aPastedTableIsShownBeforeItIsFiled()
    {
        Demo d;
        QVERIFY(d.start(false));
        auto table = guessTable("fibre\t1310 nm (dBm)\t1550 nm (dBm)\n1\t-8.63\t-8.41\n2\t-8.70\t-8.44\n40\t-8.1\t-8.2\n");
        QVERIFY(table);
        const JobState& state = d.window.session()->state();
        PasteDialog dialog(*table, state, state.plan->cables.front(), Direction::BtoA, &d.window);
        const auto* summary = dialog.findChild<QLabel*>("pasteSummary");
        QVERIFY(summary->text().startsWith("4 readings of 2 fibres"));
        QVERIFY(summary->text().contains("no fibre 40"));
        auto* second = dialog.findChild<QComboBox*>("column2");
        second->setCurrentIndex(second->findText("left out"));
        QVERIFY(summary->text().startsWith("2 readings of 2 fibres"));
        const auto facts = dialog.facts();
        QCOMPARE(facts.size(), std::size_t(2));
        const auto& read = std::get<PowerRead>(facts[0]);
        QVERIFY(read.link == "VP-04/1" && read.direction == Direction::BtoA && qAbs(read.power.value() + 8.63) < 1e-9);
    }
    void theBudgetFollowsWhatIsPlanned()
    {
        Demo d;
        QVERIFY(d.start(false));
        const JobState& state = d.window.session()->state();
        BudgetDialog dialog(state, state.link("VP-04/1"), &d.window);
        const auto* wavelengths = dialog.findChild<QTableWidget*>("budgetWavelengths");
        const auto* carried = dialog.findChild<QTableWidget*>("budgetCarried");
        QTRY_VERIFY(wavelengths->rowCount() >= 2 && carried->rowCount() > 5);
        QCOMPARE(wavelengths->item(0, 1)->text(), QString("3.30 dB"));  // 2.4 km at 0.5, two connections, two splices
        QCOMPARE(carried->item(0, 2)->text(), QString("not measured"));
        dialog.findChild<QSpinBox*>("budgetSplices")->setValue(3);  // what if one more splice
        QTRY_COMPARE(wavelengths->item(0, 1)->text(), QString("3.60 dB"));
        dialog.findChild<QComboBox*>("budgetStatistics")->setCurrentIndex(1);
        QTRY_COMPARE(wavelengths->item(0, 1)->text(), QString("3.60 dB"));
        const auto refused = [&] {
            for (int i = 0; i < carried->rowCount(); ++i)
                if (!carried->item(i, 1)->text().startsWith("no,")) return false;
            return carried->rowCount() > 5;
        };
        dialog.findChild<QDoubleSpinBox*>("budgetLength")->setValue(150000);
        QTRY_VERIFY(refused());
        dialog.findChild<QComboBox*>("budgetLimits")->setCurrentText("generic-mm");  // they know nothing of single-mode
        QTRY_VERIFY(wavelengths->rowCount() == 0 || wavelengths->item(0, 1)->text() == "not known");
    }
};

QTEST_MAIN(TestHands)
#include "test_hands.moc"
