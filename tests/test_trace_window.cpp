// Traces in the window: a folder at once, a cable at a glance, marks to measure with, then and now, the wrong cable's, what an OTDR saves.
#include <QComboBox>
#include <QDropEvent>
#include <QMimeData>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>

#include "app/trace/cable_glance.h"
#include "app/trace/trace_desk.h"
#include "app/trace/trace_view.h"
#include "demo/demo_job.h"
#include "files/files.h"
#include "otdr/sor_file.h"
#include "otdr/sor_writer.h"
#include "sim/simulation.h"
#include "window_driver.h"
#include "world/scenario.h"
#include "world/trace_world.h"

using namespace clendo;

namespace {

/// A line as VP-04 is planned, or another; `bend`: dB at 800 m from the port.
otdr::Trace shotOf(double length, double bend, std::uint32_t seed, std::vector<double> splices = {1180, 1905})
{
    const DecibelPerKilometre fibre(0.35);
    std::vector<std::pair<double, double>> steps;
    for (const double at : splices) steps.emplace_back(at, 0.1);
    if (bend > 0) steps.emplace_back(800, bend);
    std::sort(steps.begin(), steps.end());
    std::vector<world::Stretch> line{{Metre(150), fibre, Decibel(0.3), Decibel(-50)}};
    double at = 0;
    for (const auto& [z, loss] : steps) {
        line.push_back({Metre(z - at), fibre, Decibel(loss), {}});
        at = z;
    }
    line.push_back({Metre(length - at), fibre, Decibel(0.3), Decibel(-50)});
    line.push_back({Metre(150), fibre, Decibel(30), Decibel(-15)});
    world::Shot shot;
    shot.seed = seed;
    shot.range = Metre(length * 1.4 + 500);
    return world::shoot(line, shot);
}

}  // namespace

class TestTraceWindow : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        applyTheme(*qApp, false);
        demo_ = makeDemo(dir_.path()).value();
    }
    void init()
    {
        copy_ = dir_.filePath(QStringLiteral("copy.clendo"));
        QFile::remove(copy_);
        QVERIFY(QFile::copy(demo_.job, copy_));
        window_ = std::make_unique<MainWindow>();
        QVERIFY(opened(*window_, copy_));
        window_->choose({"VP-04/1", End::A, Side::Port});
        window_->showDesk("trace");
        driver_ = std::make_unique<WindowDriver>(*window_);
    }
    void cleanup()
    {
        driver_.reset();
        window_.reset();
    }

    void aFolderIsTakenInAtOnce()
    {
        const auto& state = [&]() -> const JobState& { return window_->session()->state(); };
        QCOMPARE(state().state("VP-04/9").traces.size(), std::size_t(0));
        driver_->inDialogToCome([&](QWidget* dialog) {
            auto* table = dialog->findChild<QTableWidget*>("folderFiles");
            QTRY_COMPARE_WITH_TIMEOUT(table->rowCount(), 48, 20000);
            QVERIFY2(dialog->findChild<QLabel*>("folderSays")->text().startsWith("32 of 48"), "16 are in the job already");
            QCOMPARE(dialog->findChild<QComboBox*>("namePattern")->currentText(), QString("{cable}-{fibre}-{nm}-{end}"));
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        desk().takeAll({demo_.traces});
        QTRY_VERIFY(driver_->said().contains("Filed: 32 traces"));
        for (int n = 5; n <= 12; ++n) {
            const auto& traces = state().state("VP-04/" + std::to_string(n)).traces;
            QCOMPARE(traces.size(), std::size_t(4));
            for (const auto& t : traces) QVERIFY(t.what.found.span && t.what.cords.launch == state().plan->job.launchCord);
        }
        // each at the time at which it was shot
        const auto& shot = state().state("VP-04/9").traces.front();
        QVERIFY(shot.at <= QDateTime::currentSecsSinceEpoch());
        // and again: nothing is left to be filed
        driver_->inDialogToCome([&](QWidget* dialog) {
            QTRY_VERIFY_WITH_TIMEOUT(dialog->findChild<QLabel*>("folderSays")->text().startsWith("0 of 48"), 20000);
            QTest::keyClick(dialog, Qt::Key_Escape);
        });
        desk().takeAll({demo_.traces});
    }
    void whatIsNotToldIsAsked()
    {
        QTemporaryDir folder;
        const auto bytes = readFile((demo_.traces + "/VP-04-09-1310-ab.sor").toStdString()).value();
        auto bare = otdr::SorFile::read(bytes, "x").value();
        QVERIFY(bare.label({"", "", "", ""}));
        QVERIFY(writeFile(folder.filePath("0001.sor").toStdString(), bare.write()));
        QVERIFY(writeFile(folder.filePath("broken.sor").toStdString(), bytes.substr(0, 300)));
        driver_->inDialogToCome([&](QWidget* dialog) {
            auto* table = dialog->findChild<QTableWidget*>("folderFiles");
            QTRY_COMPARE_WITH_TIMEOUT(table->rowCount(), 2, 20000);
            auto* says = dialog->findChild<QLabel*>("folderSays");
            QVERIFY2(says->text().contains("0 of 2") && says->text().contains("Of 1 it is not told"), qPrintable(says->text()));
            QCOMPARE(table->item(0, 0)->text(), QString("0001.sor"));  // what is asked stands first
            QCOMPARE(table->item(0, 1)->text(), QString("?"));
            QTest::keyClick(dialog, Qt::Key_Return);  // nothing to be filed: it stays
            QVERIFY(dialog->isVisible());
            auto* fibre = dialog->findChild<QComboBox*>("chosenFibre");
            fibre->setCurrentIndex(fibre->findData("VP-04/9"));
            auto* end = dialog->findChild<QComboBox*>("chosenEnd");
            end->setCurrentIndex(1);
            for (auto* button : dialog->findChildren<QPushButton*>())
                if (button->text().startsWith("Set")) button->click();
            QVERIFY2(says->text().contains("1 of 2"), qPrintable(says->text()));
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        desk().takeAll({folder.path()});
        QTRY_VERIFY(driver_->said().contains("Filed: 1 traces"));
        const auto& traces = window_->session()->state().state("VP-04/9").traces;
        QCOMPARE(traces.size(), std::size_t(1));
        QVERIFY(traces.front().what.direction == Direction::AtoB && traces.front().what.traceName == "0001.sor");
    }
    void whatIsDroppedTogetherIsPlacedTogether()
    {
        const auto drop = [&](const QStringList& files) {
            QMimeData data;
            QList<QUrl> urls;
            for (const QString& file : files) urls << QUrl::fromLocalFile(file);
            data.setUrls(urls);
            QDragEnterEvent comes(QPoint(600, 400), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(window_.get(), &comes);
            QVERIFY(comes.isAccepted());
            QDropEvent event(QPointF(600, 400), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(window_.get(), &event);
        };
        window_->choose({"VP-04/1", End::A, Side::Port});
        driver_->inDialogToCome([&](QWidget* dialog) {
            QTRY_VERIFY_WITH_TIMEOUT(dialog->findChild<QLabel*>("folderSays")->text().startsWith("2 of 2"), 20000);
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        drop({demo_.traces + "/VP-04-05-1310-ab.sor", demo_.traces + "/VP-04-06-1310-ab.sor"});
        QTRY_VERIFY(driver_->said().contains("Filed: 2 traces"));
        QCOMPARE(window_->session()->state().state("VP-04/6").traces.size(), std::size_t(1));  // and not with the one that was chosen
        window_->choose({"VP-04/7", End::A, Side::Port});
        drop({demo_.traces + "/VP-04-07-1310-ab.sor"});
        QTRY_COMPARE_WITH_TIMEOUT(window_->session()->state().state("VP-04/7").traces.size(), std::size_t(1), 10000);
        driver_->inDialogToCome([&](QWidget* dialog) {
            QTRY_VERIFY_WITH_TIMEOUT(dialog->findChild<QLabel*>("folderSays")->text().contains("of 48"), 20000);
            QTest::keyClick(dialog, Qt::Key_Escape);
        });
        drop({demo_.traces});
    }
    void anEmptyFolderSaysSo()
    {
        QTemporaryDir folder;
        driver_->inDialogToCome([&](QWidget* dialog) {
            QVERIFY(dialog->findChild<QLabel*>("folderSays")->text().contains("no trace"));
            QTest::keyClick(dialog, Qt::Key_Escape);
        });
        desk().takeAll({folder.path()});
    }

    void aCableAtAGlanceOpensItsFibres()
    {
        // six fibres, one of them with half a decibel at 800 m
        for (int n = 1; n <= 6; ++n) fileShot(n, shotOf(2400, n == 4 ? 0.5 : 0, 100U + static_cast<unsigned>(n)));
        driver_->key(Qt::Key_G, Qt::ShiftModifier);
        QVERIFY(desk().glance() && !desk().traces());
        QTRY_VERIFY_WITH_TIMEOUT(desk().glance()->onTheirWay() == 0 && driver_->text("glanceSays").startsWith("Against"), 20000);
        QVERIFY2(driver_->text("glanceTitle").contains("6 of 12 fibres shot"), qPrintable(driver_->text("glanceTitle")));
        QVERIFY2(driver_->text("glanceSays").startsWith("Against the median fibre, towards Breakwater Hut: fibre 4 0."),
                 qPrintable(driver_->text("glanceSays")));
        QVERIFY2(driver_->text("glanceSays").contains("from about 8"), qPrintable(driver_->text("glanceSays")));
        // keys move along the line and choose a fibre
        const auto whole = desk().glance()->map().seen();
        driver_->key(Qt::Key_Plus);
        const auto closer = desk().glance()->map().seen();
        QVERIFY(closer.second - closer.first < 0.7 * (whole.second - whole.first));
        driver_->key(Qt::Key_Left, Qt::ShiftModifier);
        QVERIFY(desk().glance()->map().seen().first < closer.first);
        driver_->key(Qt::Key_0);
        QCOMPARE(desk().glance()->map().seen(), whole);
        driver_->key(Qt::Key_Down);
        QCOMPARE(window_->chosen().link, std::string("VP-04/2"));
        // a click opens the fibre's trace
        auto& map = desk().glance()->map();
        const QRectF rows = map.field();
        QTest::mouseClick(&map, Qt::LeftButton, {}, QPointF(rows.center().x(), rows.top() + 3.5 / 12 * rows.height()).toPoint());
        QVERIFY(desk().traces() && !desk().glance());
        QCOMPARE(window_->chosen().link, std::string("VP-04/4"));
    }
    /// From B light is lost towards A: what one fibre lost more is read from that end.
    void aGlanceFromBIsReadTowardsA()
    {
        for (int n = 5; n <= 8; ++n) fileShot(n, shotOf(2400, n == 6 ? 0.5 : 0, 200U + static_cast<unsigned>(n)), Direction::BtoA);
        driver_->key(Qt::Key_G, Qt::ShiftModifier);
        QTRY_VERIFY_WITH_TIMEOUT(desk().glance()->onTheirWay() == 0 && driver_->text("glanceSays").startsWith("Against"), 20000);
        QVERIFY2(driver_->text("glanceTitle").contains("B to A"), qPrintable(driver_->text("glanceTitle")));
        const QString says = driver_->text("glanceSays");
        // the demo's own fibres have other splices: what they lose less is said of all of these
        QVERIFY2(says.contains("towards Tide Hall: ") && says.contains("fibre 6 0.7"), qPrintable(says));
        const double from = says.section("fibre 6 ", 1).section("from about ", 1).section(' ', 0, 0).toDouble();
        QVERIFY2(qAbs(from - 1600) < 60, qPrintable(says));  // the bend lies 800 m from B
    }
    void aJobThatGoesTakesItsRowsAlong()
    {
        driver_->key(Qt::Key_G, Qt::ShiftModifier);  // and while they are still being read
        QVERIFY(created(*window_, dir_.filePath("other.clendo"), "Other"));
        QTest::qWait(200);
        window_->grab();
        QVERIFY(!desk().glance());
    }
    void fewerThanThreeFibresAreNotCompared()
    {
        window_->choose({"VP-11/1", End::A, Side::Port});
        driver_->key(Qt::Key_G, Qt::ShiftModifier);
        QVERIFY(driver_->text("glanceTitle").contains("no trace of any"));
    }

    void marksMeasureAndStayInPlace()
    {
        QTRY_VERIFY(!desk().traces()->drawn().distance.isEmpty());
        QVERIFY(driver_->text("measuredByMarks").isEmpty());
        driver_->key(Qt::Key_U, Qt::ShiftModifier);
        const QString two = driver_->text("measuredByMarks");
        QVERIFY2(two.contains("two points") && two.contains("a joint lies between") && two.contains("m of cable by the plan"), qPrintable(two));
        QCOMPARE(desk().traces()->drawn().cursors.size(), qsizetype(2));
        const double at = desk().traces()->drawn().cursors[0].at;
        driver_->key(Qt::Key_Right, Qt::AltModifier);
        QVERIFY(desk().traces()->drawn().cursors[0].at > at);
        driver_->key(Qt::Key_Down, Qt::AltModifier);
        QVERIFY(desk().traces()->drawn().cursors[1].chosen);
        // the second mark comes to the first one's side of the splice: there is fibre alone between them
        for (int i = 0; i < 400 && desk().traces()->drawn().cursors[1].at > 1100; ++i) driver_->key(Qt::Key_Left, Qt::AltModifier);
        QVERIFY2(driver_->text("measuredByMarks").contains("least squares"), qPrintable(driver_->text("measuredByMarks")));
        driver_->key(Qt::Key_Plus);
        QCOMPARE(desk().traces()->drawn().cursors.size(), qsizetype(2));
        driver_->key(Qt::Key_U, Qt::ShiftModifier);
        QCOMPARE(desk().traces()->drawn().cursors.size(), qsizetype(5));
        QVERIFY2(driver_->text("measuredByMarks").contains("five marks"), qPrintable(driver_->text("measuredByMarks")));
        driver_->key(Qt::Key_U, Qt::ShiftModifier);
        QVERIFY(driver_->text("measuredByMarks").isEmpty() && desk().traces()->drawn().cursors.isEmpty());
    }
    void thenAndNowShowsWhatWasLostSince()
    {
        window_->choose({"VP-04/9", End::A, Side::Port});
        fileShot(9, shotOf(2400, 0, 7));
        driver_->key(Qt::Key_H, Qt::ShiftModifier);
        QVERIFY(driver_->text("traceTitle").contains("this is the first shot"));
        QVERIFY(desk().traces()->drawn().difference.isEmpty());
        fileShot(9, shotOf(2400, 0.6, 8));
        QTRY_VERIFY_WITH_TIMEOUT(!desk().traces()->drawn().difference.isEmpty(), 10000);
        QVERIFY(driver_->text("traceTitle").contains("what was lost since"));
        const auto& drawn = desk().traces()->drawn();
        double before = 0, behind = 0;
        int n = 0, m = 0;
        for (qsizetype i = 0; i < drawn.difference.size(); ++i) {
            if (std::isnan(drawn.difference[i])) continue;
            if (drawn.differenceDistance[i] > 100 && drawn.differenceDistance[i] < 750) before += drawn.difference[i], ++n;
            if (drawn.differenceDistance[i] > 900 && drawn.differenceDistance[i] < 2300) behind += drawn.difference[i], ++m;
        }
        QVERIFY(n > 10 && m > 10);
        QVERIFY2(qAbs(before / n) < 0.05, qPrintable(QString::number(before / n)));
        QVERIFY2(qAbs(behind / m - 0.6) < 0.05, qPrintable(QString::number(behind / m)));
        driver_->key(Qt::Key_H, Qt::ShiftModifier);
        QVERIFY(desk().traces()->drawn().difference.isEmpty());
    }

    void anotherCablesTraceIsAsked_data()
    {
        QTest::addColumn<int>("answer");  // which of the list; -1: Escape
        QTest::addColumn<QString>("link");
        QTest::newRow("of the other cable") << 0 << "VP-05/1";
        QTest::newRow("of this one all the same") << 1 << "VP-04/1";
        QTest::newRow("given up") << -1 << "";
    }
    void anotherCablesTraceIsAsked()
    {
        QFETCH(const int, answer);
        QFETCH(const QString, link);
        CablePlan other = *window_->link()->cable;
        other.id = "VP-05";
        other.panelA += " 5";
        other.panelB += " 5";
        other.length = Metre(3600);
        other.splices = {};
        QVERIFY(filed(*window_->session(), CablePlanned{other}));
        const std::size_t before = window_->session()->state().state("VP-04/1").traces.size();
        const QString path = dir_.filePath("other-ab.sor");
        QVERIFY(writeFile(path.toStdString(), otdr::writeSor(shotOf(3600, 0, 3, {}))));
        driver_->inDialogToCome([&](QWidget* dialog) {
            for (int i = 0; i < answer; ++i) QTest::keyClick(dialog->focusWidget(), Qt::Key_Down);
            QTest::keyClick(dialog, answer < 0 ? Qt::Key_Escape : Qt::Key_Return);
        });
        desk().take(path);
        if (link.isEmpty()) {
            QTRY_VERIFY(driver_->said().contains("Not filed"));
            QCOMPARE(window_->session()->state().state("VP-04/1").traces.size(), before);
            return;
        }
        QTRY_VERIFY_WITH_TIMEOUT(driver_->said().contains("Filed: other-ab.sor"), 10000);
        const auto& traces = window_->session()->state().state(link.toStdString()).traces;
        QVERIFY(!traces.empty() && traces.back().what.traceName == "other-ab.sor");
    }
    void whatTheOtdrSavesIsTakenIn()
    {
        QTemporaryDir saved;
        auto world = readFile((dir_.path() + "/world.json").toStdString()).and_then([](const std::string& text) {
            return world::readScenario(text, dataFolder());
        });
        QVERIFY(world);
        static_cast<void>(world->part("launch 1/B"));
        QVERIFY(world->connect("otdr 1", "launch 1/A"));
        sim::Simulation simulation(std::move(*world), 200);
        simulation.saveTracesTo(saved.path());
        window_->choose({"VP-04/10", End::A, Side::Port});
        desk().watch(saved.path());
        auto& otdr = std::get<world::Otdr>(simulation.now().instrument("otdr 1")->unit);
        otdr.begin(simulation.now().now());
        QTRY_VERIFY_WITH_TIMEOUT(QFileInfo::exists(saved.filePath("otdr-1-001.sor")), 10000);
        // its name says nothing of the end
        driver_->inDialogToCome([&](QWidget* dialog) { QTest::keyClick(dialog, Qt::Key_Return); });
        QTRY_VERIFY_WITH_TIMEOUT(!window_->session()->state().state("VP-04/10").traces.empty(), 15000);
        QCOMPARE(window_->session()->state().state("VP-04/10").traces.back().what.traceName, std::string("otdr-1-001.sor"));
    }
    void beforeTheShotTheRibbonShowsWhatItWillHide()
    {
        window_->choose({"VP-04/9", End::A, Side::Port});
        const auto hidden = desk().hidden({window_->session(), window_->link(), window_->chosen()});
        QVERIFY(!hidden.empty() && hidden.front().to > hidden.front().from);
        window_->choose({"VP-04/1", End::A, Side::Port});  // that was shot: nothing is advised any more
        QVERIFY(desk().hidden({window_->session(), window_->link(), window_->chosen()}).empty());
    }

private:
    TraceDesk& desk() { return window_->deskOf<TraceDesk>(); }
    void fileShot(int fibre, const otdr::Trace& trace, Direction direction = Direction::AtoB)
    {
        const std::string name = "shot-" + std::to_string(++shots_) + "-ab.sor";
        const std::string path = dir_.filePath(QString::fromStdString(name)).toStdString();
        QVERIFY(writeFile(path, otdr::writeSor(trace)));
        const auto read = readTrace(path);
        QVERIFY(read);
        const std::string link = "VP-04/" + std::to_string(fibre);
        TraceShot shot = analysedShot(**read, link, direction, {Metre(150), Metre(150)}, {});
        QVERIFY(filed(*window_->session(), Filing{{shot}, {(*read)->file}, 0}));
    }

    QTemporaryDir dir_;
    DemoFolder demo_;
    QString copy_;
    std::unique_ptr<MainWindow> window_;
    std::unique_ptr<WindowDriver> driver_;
    int shots_ = 0;
};

QTEST_MAIN(TestTraceWindow)
#include "test_trace_window.moc"
