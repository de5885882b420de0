// A delivery taken through in the window: a good reel, a short one, a bad joint, a crushed launch cord, the cutting plan, the report.
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDir>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

#include "app/reel/cuts_dialog.h"
#include "app/reel/reel_desk.h"
#include "demo/demo_job.h"
#include "files/files.h"
#include "record/rules/reels.h"
#include "seal/check_folder.h"
#include "window_driver.h"

using namespace clendo;
using reel::ReelVerdict;

namespace {

void choose(QWidget* dialog, const char* box, const QString& words)
{
    auto* combo = dialog->findChild<QComboBox*>(QString::fromLatin1(box));
    QVERIFY(combo);
    const int at = combo->findText(words, Qt::MatchStartsWith);
    QVERIFY2(at >= 0, qPrintable(words));
    combo->setCurrentIndex(at);
}
void write(QWidget* dialog, const char* field, const QString& words)
{
    auto* edit = dialog->findChild<QLineEdit*>(QString::fromLatin1(field));
    QVERIFY2(edit, field);
    edit->setText(words);
}
QAbstractButton* accept(QWidget* dialog)
{
    const auto* row = dialog->findChild<QDialogButtonBox*>();
    const auto all = row->buttons();
    const auto it = std::find_if(all.begin(), all.end(), [&](auto* b) { return row->buttonRole(b) == QDialogButtonBox::AcceptRole; });
    return it == all.end() ? nullptr : *it;
}
void enter(QWidget* dialog) { QTest::keyClick(dialog, Qt::Key_Return); }

}  // namespace

class TestReelWindow : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        applyTheme(*qApp, false);
        demo_ = makeDemo(dir_.path()).value();
    }
    void init()
    {
        const QString copy = dir_.filePath(QStringLiteral("copy.clendo"));
        QFile::remove(copy);
        QVERIFY(QFile::copy(demo_.job, copy));
        window_ = std::make_unique<MainWindow>();
        QVERIFY(opened(*window_, copy));
        driver_ = std::make_unique<WindowDriver>(*window_);
        driver_->key(Qt::Key_1, Qt::AltModifier);
        QCOMPARE(window_->desk(), QStringLiteral("reel"));
    }
    void cleanup()
    {
        driver_.reset();
        window_.reset();
    }

    void aReelAsOrderedIsAccepted()
    {
        QCOMPARE(desk().reel(), std::string("SW-1"));
        QVERIFY2(driver_->headline().startsWith("Accepted"), qPrintable(driver_->headline()));
        const ReelStanding s = standing("SW-1");
        QVERIFY(s.report.verdict == ReelVerdict::Accept && s.open.empty());  // what the traces say, whoever decided
        QVERIFY(driver_->text("reelPapers").contains("41220 and 44511 ft"));
        QVERIFY(driver_->text("reelFiled").contains("splice B used 2 times"));
    }
    void aShortReelIsRejected()
    {
        driver_->key(Qt::Key_Period);
        QCOMPARE(desk().reel(), std::string("SW-2"));
        take("SW-2-*", 24);
        QCOMPARE(driver_->headline(), QStringLiteral("Reject it"));
        const ReelStanding s = standing("SW-2");
        QVERIFY(s.report.length.marks && s.report.length.marks->rolledOver);
        QVERIFY2(std::abs(s.report.length.shortfall()->value() - 36) < 1, qPrintable(QString::number(s.report.length.shortfall()->value())));
        QCOMPARE(s.report.bad, std::vector<int>{7});
        driver_->inDialog([](QWidget* dialog) {
            choose(dialog, "decision", "accept");
            QVERIFY(!accept(dialog)->isEnabled());  // against what is proposed, without a word
            write(dialog, "decisionNote", "long enough for the hut");
            QVERIFY(accept(dialog)->isEnabled());
            choose(dialog, "decision", "reject");
            write(dialog, "decisionNote", "");
            enter(dialog);
        });
        driver_->key(Qt::Key_X);
        QVERIFY(standing("SW-2").decided() && standing("SW-2").verdict == ReelVerdict::Reject);
    }
    void theReelIsNotBlamedForJointOrCord()
    {
        driver_->key(Qt::Key_Comma);  // from the first one round to the last
        QCOMPARE(desk().reel(), std::string("SW-3"));
        QVERIFY(driver_->headline().startsWith("Draw the fibres"));
        driver_->inDialog([](QWidget* dialog) {
            choose(dialog, "aql", "2.5");
            dialog->findChild<QSpinBox*>("seed")->setValue(20);
            QVERIFY(dialog->findChild<QLabel*>("samplePlan")->text().contains("5 of 12"));
            QVERIFY(dialog->findChild<QLabel*>("sampleWorth")->text().contains("1 bad fibre of 12 (8 %)"));
            enter(dialog);
        });
        driver_->key(Qt::Key_D);
        const std::vector<int> drawn = standing("SW-3").wanted;
        QCOMPARE(drawn, standing("SW-1").wanted);  // the same seed
        driver_->inDialog([&](QWidget* dialog) {
            QCOMPARE(dialog->findChild<QSpinBox*>("jointFibre")->value(), drawn.front());
            choose(dialog, "jointKind", "mechanical splice");
            write(dialog, "jointPart", "splice C");
            auto* steps = dialog->findChild<QListWidget*>("jointSteps");
            QVERIFY(driver_->headline().startsWith("Get light"));
            QVERIFY(dialog->findChild<QWidget*>("jointCaution")->accessibleName().startsWith("Eyes"));
            for (int i = 0; i < steps->count() - 1; ++i) QTest::keyClick(steps, Qt::Key_Space);
            enter(dialog);
        });
        driver_->key(Qt::Key_J);
        const auto& joint = standing("SW-3").filed->joints.back().what;
        QCOMPARE(joint.left, std::vector<std::string>{"lock"});
        QCOMPARE(joint.done.size(), std::size_t{9});

        take("SW-3-first-joint.sor", 1);
        QVERIFY2(driver_->headline().startsWith("No light gets through the joint"), qPrintable(driver_->headline()));
        QCOMPARE(standing("SW-3").filed->shots.back().what.fibre, drawn.front());
        QVERIFY2(driver_->said().contains(QString("Filed as fibre %1").arg(drawn.front())), qPrintable(driver_->said()));
        auto* cord = window_->findChild<QComboBox*>("reelCord");
        cord->setCurrentIndex(cord->findText("launch 1"));
        take("SW-3-crushed-cord.sor", 2);
        QVERIFY2(driver_->headline().startsWith("It is the launch cord"), qPrintable(driver_->headline()));
        QVERIFY(standing("SW-3").report.bad.empty() && standing("SW-3").proposed == ReelVerdict::NotJudged);
        driver_->inDialog([](QWidget* dialog) { enter(dialog); });  // the cord of the shot is offered first
        driver_->key(Qt::Key_Minus);
        QVERIFY(state().kit.find("launch 1")->second.what.gone);
        QVERIFY2(driver_->said().contains("launch 1 was last used by technician 1"), qPrintable(driver_->said()));

        take("SW-3-[01]*", 26);
        QCOMPARE(driver_->headline(), QStringLiteral("Can be accepted"));
        driver_->inDialog([](QWidget* dialog) { enter(dialog); });
        driver_->key(Qt::Key_X);
        QVERIFY(standing("SW-3").verdict == ReelVerdict::Accept);
    }
    void theCuttingPlanIsSearchedChangedAndMadeAnew()
    {
        driver_->inDialog([](QWidget* dialog) {
            auto* cuts = qobject_cast<CutsDialog*>(dialog);
            auto* runs = dialog->findChild<QTableWidget*>("cutRuns");
            auto* pieces = dialog->findChild<QTableWidget*>("cutPieces");
            QVERIFY(cuts && !accept(dialog)->isEnabled());
            const auto run = [&](int row, const QStringList& cells) {
                for (int column = 0; column < 3; ++column) runs->item(row, column)->setText(cells[column]);
            };
            run(0, {"sea wall", "410", "20"});
            dialog->findChild<QPushButton*>("addRun")->click();
            run(1, {"to the hut", "five hundred", ""});
            QVERIFY(!dialog->findChild<QPushButton*>("searchCuts")->isEnabled());
            run(1, {"to the hut", "500", "15"});
            dialog->findChild<QPushButton*>("searchCuts")->click();
            QTRY_VERIFY_WITH_TIMEOUT(!cuts->searching(), 20000);
            QCOMPARE(pieces->rowCount(), 2);
            auto* says = dialog->findChild<QWidget*>("cutsSay");
            QVERIFY2(says->accessibleName().contains("Proven"), qPrintable(says->accessibleName()));
            pieces->item(0, 2)->setText("100000");  // by hand: more than is there
            QVERIFY(!accept(dialog)->isEnabled());
            pieces->item(0, 2)->setText("430");
            QVERIFY(says->accessibleName().contains("By hand") && accept(dialog)->isEnabled());
            enter(dialog);
        });
        driver_->key(Qt::Key_X, Qt::ShiftModifier);
        QVERIFY(state().cuts && state().cuts->what.byHand);
        QCOMPARE(state().cuts->what.wish.runs.size(), std::size_t{2});
        // the reel that it is cut from is rejected after all
        const std::string first = state().cuts->what.cuts.front().reel;
        desk().choose(first);
        driver_->inDialog([&](QWidget* dialog) {
            choose(dialog, "decision", "reject");
            write(dialog, "decisionNote", "water in the tube");
            driver_->inDialogToCome([&](QWidget* again) {
                auto* cuts = qobject_cast<CutsDialog*>(again);
                QVERIFY(cuts);
                QTRY_VERIFY_WITH_TIMEOUT(!cuts->searching(), 20000);
                for (const auto& reel : cuts->planned().cuts) QVERIFY(reel.reel != first);
                enter(again);
            });
            enter(dialog);
        });
        driver_->key(Qt::Key_X);
        QTRY_VERIFY_WITH_TIMEOUT(!state().cuts->what.byHand, 20000);
        QVERIFY(cutTroubles(state(), state().cuts->what).empty());
    }
    void aReelIsWrittenDown()
    {
        driver_->inDialog([](QWidget* dialog) {
            auto* says = dialog->findChild<QWidget*>("deliverySays");
            write(dialog, "reelName", "SW-2");
            QVERIFY(!accept(dialog)->isEnabled() && says->accessibleName().contains("already"));
            write(dialog, "reelName", "SW-4 “left/right”");
            write(dialog, "orderedLength", "1000");
            write(dialog, "allowed", "as usual");
            QVERIFY(!accept(dialog)->isEnabled());
            write(dialog, "allowed", "1310: 0,36; 1550: 0,22");
            write(dialog, "outerMark", "44511");
            QVERIFY(!accept(dialog)->isEnabled() && says->accessibleName().contains("other end"));
            write(dialog, "innerMark", "41220");
            choose(dialog, "markUnit", "metres");
            QVERIFY(says->accessibleName().contains("feet or metres"));
            choose(dialog, "markUnit", "feet");
            QVERIFY2(says->accessibleName().contains("1003.1"), qPrintable(says->accessibleName()));
            choose(dialog, "jacket", "indoor");
            choose(dialog, "environment", "outdoor");
            QVERIFY(says->accessibleName().contains("indoor jacket is planned outdoors"));
            enter(dialog);
        });
        driver_->key(Qt::Key_E, Qt::ShiftModifier);
        const ReelState* reel = state().reels.find(std::string("SW-4 “left/right”"));
        QVERIFY(reel && reel->delivered->what.delivery.allowed.at(1550) == DecibelPerKilometre(0.22));
        QCOMPARE(desk().reel(), std::string("SW-4 “left/right”"));
    }
    void theReportStandsOnItsOwn()
    {
        driver_->key(Qt::Key_0);
        const QString folder = dir_.filePath("certificates/reel+SW-1");
        QTRY_VERIFY_WITH_TIMEOUT(driver_->said().contains("The report is in"), 20000);
        QVERIFY2(QDir(folder).exists(), qPrintable(driver_->said()));
        const auto pdf = readFile(QDir(folder).filePath("reel+SW-1.pdf").toStdString());
        QVERIFY(pdf && pdf->starts_with("%PDF"));
        QCOMPARE(QDir(folder + "/traces").entryList({"*.sor"}).size(), 10);
        const auto check = seal::checkFolder(folder.toStdString(), {});
        QVERIFY(check && check->evidence >= 10);
        for (const auto& wrong : check->wrong) QCOMPARE(wrong.what, std::string("signature"));  // nobody's key was open
    }
    void aJobThatIsLeftStillFilesItsTraces()
    {
        const QString copy = window_->session()->path(), other = dir_.filePath(QStringLiteral("other.clendo"));
        QFile::remove(other);
        QVERIFY(QFile::copy(demo_.job, other));
        desk().choose("SW-2");
        const QDir folder(dir_.filePath("reels"));
        QStringList files;
        for (const QString& file : folder.entryList({"SW-2-*"})) files << folder.filePath(file);
        desk().takeTraces(files);
        QVERIFY(opened(*window_, other));  // at once, while they are read
        QVERIFY(standing("SW-2").filed->shots.empty());
        QVERIFY(opened(*window_, copy));
        QTRY_COMPARE_WITH_TIMEOUT(standing("SW-2").filed->shots.size(), std::size_t{24}, 20000);
    }
    void severalThatDoNotSayTheirFibreAreRefused()
    {
        desk().choose("SW-3");
        const QDir folder(dir_.filePath("reels"));
        desk().takeTraces({folder.filePath("SW-3-first-joint.sor"), folder.filePath("SW-3-crushed-cord.sor")});
        QTRY_VERIFY_WITH_TIMEOUT(driver_->said().contains("Open it alone"), 10000);
        QVERIFY(standing("SW-3").filed->shots.empty());
    }
    void whatIsNoTraceIsSaid()
    {
        const QString torn = dir_.filePath("SW-1-01-1550.sor");
        QVERIFY(writeFile(torn.toStdString(), "no trace at all"));
        const auto before = standing("SW-1").filed->shots.size();
        desk().takeTraces({torn});
        QTRY_VERIFY_WITH_TIMEOUT(driver_->said().contains("SW-1-01-1550.sor"), 10000);
        QCOMPARE(standing("SW-1").filed->shots.size(), before);
    }
    void theCableThatWasLaidFindsItsBaseline()
    {
        window_->choose({"VP-04/1", End::A, Side::Port});
        driver_->inDialog([&](QWidget* dialog) {
            driver_->inDialogToCome([](QWidget* ends) { enter(ends); });
            enter(dialog);
        });
        driver_->key(Qt::Key_L, Qt::ShiftModifier);
        QTRY_VERIFY(state().laid.contains("VP-04"));
        QVERIFY(state().laid.at("VP-04").reel == "SW-1" && state().laid.at("VP-04").shotEndAtA);
        QVERIFY(driver_->text("reelFiled").contains("cable VP-04"));
    }

private:
    [[nodiscard]] ReelDesk& desk() { return window_->deskOf<ReelDesk>(); }
    [[nodiscard]] const JobState& state() const { return window_->session()->state(); }
    [[nodiscard]] ReelStanding standing(const std::string& reel) const { return standingOf(state(), reel); }
    /// Opens traces of the demo as somebody would, and waits until the reel has so many shots.
    void take(const QString& pattern, std::size_t shots)
    {
        const QDir folder(dir_.filePath("reels"));
        QStringList names;
        for (const QString& file : folder.entryList({pattern})) names << QLatin1Char('"') + folder.filePath(file) + QLatin1Char('"');
        QVERIFY(!names.isEmpty());
        driver_->inDialog([&](QWidget* dialog) {
            auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
            QVERIFY(name);
            name->setText(names.join(QLatin1Char(' ')));
            const auto* open = dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Open);
            QTRY_VERIFY(open->isEnabled());
            QTest::keyClick(name, Qt::Key_Return);
        });
        driver_->key(Qt::Key_O);
        QTRY_COMPARE_WITH_TIMEOUT(standing(desk().reel()).filed->shots.size(), shots, 30000);
        driver_->settle();
    }

    QTemporaryDir dir_;
    DemoFolder demo_;
    std::unique_ptr<MainWindow> window_;
    std::unique_ptr<WindowDriver> driver_;
};

QTEST_MAIN(TestReelWindow)
#include "test_reel_window.moc"
