#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QPushButton>
#include <QSpinBox>
#include <QTableView>
#include <QTableWidget>

#include "app/journal/journal_view.h"
#include "app/look/look_desk.h"
#include "app/plan/plan_commands.h"
#include "demo/demo_job.h"
#include "files/files.h"
#include "modules/vision.h"
#include "pictures/decode.h"
#include "plant/plan_csv.h"
#include "record/advice/round.h"
#include "record/rules/gates.h"
#include "store/job_store.h"
#include "window_driver.h"
#include "world/face_world.h"

using namespace clendo;

namespace {

constexpr int ports = 24;

/// What much cleaning leaves of a face of the simulated world, judged: fit, or marks that stay.
FaceCondition truthOf(const FaceId& face, const JobState& state)
{
    const auto scope = vision();
    if (!scope) return FaceCondition::NotSeen;
    const auto measured = scope->measure(scope->simulatedPicture(face, 9), {}).front();
    return judge(measured.findings, *state.faceClass(face), state.plan->criteria).fit ? FaceCondition::Fit : FaceCondition::Damaged;
}

}  // namespace

/// A day by keys alone: a panel of 24 ports, looked at, cleaned, mated, with what goes wrong in between.
class TestDay : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        QVERIFY(dir_.isValid());
        applyTheme(*qApp, false);
        QDir(dir_.path()).mkpath("scope");
        job_ = dir_.filePath("day.clendo");
    }

    void thePlanComesFromATable()
    {
        MainWindow w;
        QVERIFY(created(w, job_, "Sea wall"));
        WindowDriver d(w);
        const QString table = dir_.filePath("plan.csv");
        QVERIFY(
            writeFile(table.toStdString(),
                      "Cable;Place A;Panel A;Ports A;Place B;Panel B;Ports B;Length\nVP-04;Tide Hall;TH-R2;1-24;Breakwater Hut;BH box;1-24;2,4 km\n"
                      "VP-05;Tide Hall;TH-R2;20-30;Boathouse;B;1-11;400\nbroken;Tide Hall;;5-1;;;;\n"));
        bool asked = false;
        d.inDialogToCome([&](QWidget* dialog) {
            asked = true;
            const auto* lines = dialog->findChild<QTableWidget*>("importLines");
            QCOMPARE(lines->rowCount(), 3);
            QVERIFY(lines->item(1, 3)->text().contains("port 20 is taken by cable VP-04"));
            QVERIFY(lines->item(2, 3)->text().contains("place b"));
            QTest::keyClick(dialog, Qt::Key_Escape);
        });
        importTable(w, table);
        QTRY_VERIFY(asked);
        QVERIFY(w.session()->state().plan->cables.empty());
        QVERIFY(writeFile(
            table.toStdString(),
            "Cable;Place A;Panel A;Ports A;Place B;Panel B;Ports B;Length\nVP-04;Tide Hall;TH-R2;1-24;Breakwater Hut;BH box;1-24;2,4 km\n"));
        d.inDialogToCome(
            [](QWidget* dialog) { QTest::keyClick(QApplication::focusWidget() ? QApplication::focusWidget() : dialog, Qt::Key_Return); });
        importTable(w, table);
        QTRY_COMPARE(w.session()->state().plan->links.size(), std::size_t{ports});
        importTable(w, dir_.filePath("nothing.csv"));
        QTRY_VERIFY(d.said().contains("nothing.csv"));
    }

    void theKitIsLookedThrough()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        d.inDialog([&](QWidget* dialog) {
            const auto type = [&](const char* name, const QString& text) {
                auto* field = dialog->findChild<QLineEdit*>(QString::fromLatin1(name));
                field->setFocus();
                field->clear();
                QTest::keyClicks(field, text);
            };
            dialog->findChild<QComboBox*>("kitKind")->setCurrentText("tape pen");
            type("kitConnectors", "LD");
            type("kitId", "pen 1");
            QTest::keyClick(dialog->findChild<QLineEdit*>("kitId"), Qt::Key_Return);
            QVERIFY(w.session()->state().kit.empty());  // no such family
            type("kitConnectors", "LC");
            QTest::keyClick(dialog->findChild<QLineEdit*>("kitConnectors"), Qt::Key_Return);
            d.settle();
            QCOMPARE(w.session()->state().kit.size(), std::size_t{1});
            // going on anyway needs a reason
            dialog->findChild<QLineEdit*>("kitReason")->setFocus();
            QTest::keyClick(dialog->findChild<QLineEdit*>("kitReason"), Qt::Key_Return);
            QVERIFY(dialog->isVisible());
            type("kitReason", "tips are in the van");
            QTest::keyClick(dialog->findChild<QLineEdit*>("kitReason"), Qt::Key_Return);
            d.settle();
            QVERIFY(!dialog->isVisible());
        });
        d.key(Qt::Key_F5);
        QVERIFY(w.session()->state().kitChecked);
        QCOMPARE(w.session()->state().kitChecked->what.reason, std::string("tips are in the van"));
    }

    void theRoundOfOneEndByKeysOnly()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        w.deskOf<LookDesk>().useSimulatedScope(dir_.filePath("scope"));
        WindowDriver d(w);
        const auto state = [&]() -> const JobState& { return w.session()->state(); };
        d.key(Qt::Key_L);  // one of two people, at Tide Hall
        QCOMPARE(d.text("roundTitle"), QStringLiteral("Tide Hall"));
        std::map<FaceId, int> keys;
        int steps = 0;
        while (++steps < 600) {
            const Round round = roundOf(state(), "Tide Hall");
            const auto todo = std::find_if(round.left.begin(), round.left.end(), [&](const Step& s) {
                if (s.place != "Tide Hall") return false;
                if (s.kind == StepKind::Mate || s.kind == StepKind::Sleeve) return bothFit(state(), *state().link(s.link), s.connection);
                return state().face(s.face).condition != FaceCondition::Damaged;
            });
            if (todo == round.left.end()) break;
            const FaceId face = w.chosen();
            const int before = d.keys;
            const QString headline = d.headline();
            if (headline.startsWith("Clean")) {
                d.inDialog([&](QWidget* dialog) {
                    QTest::keyClick(dialog, Qt::Key_Return);
                    ++d.keys;
                });
                d.key(Qt::Key_Return);
            } else if (headline == "Look first" || headline == "Look again" || headline == "Take the picture again") {
                const std::size_t looks = state().face(face).looks.size();
                d.key(Qt::Key_Return);
                QTRY_VERIFY_WITH_TIMEOUT(state().face(face).looks.size() == looks + 1, 20000);
            } else if (headline == "Fit: now the sleeve" || headline == "Fit: mate now") {
                d.key(Qt::Key_Return);
            } else {
                d.key(Qt::Key_PageDown);  // a pedal: the first action is the next step
            }
            keys[face] += d.keys - before;
        }
        QVERIFY(steps < 600);
        int clean = 0, once = 0, mated = 0, mostClean = 0, mostOnce = 0, damaged = 0;
        for (const auto& link : state().plan->links) {
            bool bothFit = true;
            for (const Side side : {Side::Cord, Side::Port}) {
                const FaceId id{link.id, End::A, side};
                const FaceState& face = state().face(id);
                QCOMPARE(name(face.condition), name(truthOf(id, state())));
                bothFit = bothFit && face.condition == FaceCondition::Fit;
                damaged += face.condition == FaceCondition::Damaged ? 1 : 0;
                if (face.condition != FaceCondition::Fit) continue;
                if (face.cleanings == 0) ++clean, mostClean = std::max(mostClean, keys[id]);
                if (face.cleanings == 1) ++once, mostOnce = std::max(mostOnce, keys[id]);
            }
            QCOMPARE(state().state(link.id).mated.contains(End::A), bothFit);
            mated += bothFit ? 1 : 0;
        }
        QVERIFY(damaged >= 1);  // port 8 is pitted
        QVERIFY(mated >= ports - damaged);
        QVERIFY(clean > 20 && once > 0);
        qInfo("24 ports: %d keys; most for a clean face %d (of %d), for one cleaned once %d (of %d)", d.keys, mostClean, clean, mostOnce, once);
        QVERIFY(mostClean <= 4);
        QVERIFY(mostOnce <= 8);
    }

    void sixPortsInARowAreAsQuickAsOneByOne()
    {
        // look, look, look ... clean, clean, clean ... look again: N goes on with the same kind of work
        MainWindow w;
        QVERIFY(created(w, dir_.filePath("row.clendo"), "Row"));
        CablePlan c;
        c.id = "VP-07";
        c.placeA = "Tide Hall";
        c.placeB = "Boathouse";
        c.panelA = c.panelB = "P";
        c.fibres = 6;
        c.length = Metre(100);
        QVERIFY(filed(*w.session(), CablePlanned{c}));
        WindowDriver d(w);
        const auto port = [](int n) { return FaceId{"VP-07/" + std::to_string(n), End::A, Side::Cord}; };
        const auto look = [&](const FaceId& face, bool dirty) {
            FaceSeen seen{face, "sha", "p.png", {}, {}};
            seen.measured.claddingDiameter = Pixel(300);
            if (dirty) {
                Finding f;
                f.id = 1;
                f.appearance = Appearance::Particle;
                f.size = f.width = f.length = Micrometre(8);
                f.centre = {Micrometre(40), Micrometre(0)};
                f.nearest = Micrometre(36);
                f.farthest = Micrometre(44);
                seen.measured.findings = {f};
            }
            QVERIFY(filed(*w.session(), seen));
        };
        w.choose(port(1));
        for (int n = 1; n <= 6; ++n) {
            QCOMPARE(w.chosen().text(), port(n).text());
            look(w.chosen(), true);
            if (n < 6) d.key(Qt::Key_N);
        }
        d.key(Qt::Key_N);  // the row is seen: back to the first that needs work
        for (int n = 1; n <= 6; ++n) {
            QCOMPARE(w.chosen().text(), port(n).text());
            QVERIFY(d.headline().startsWith("Clean"));
            d.inDialog([](QWidget* dialog) { QTest::keyClick(dialog, Qt::Key_Return); });
            d.key(Qt::Key_C);
            if (n < 6) d.key(Qt::Key_N);
        }
        d.key(Qt::Key_N);
        for (int n = 1; n <= 6; ++n) {
            QCOMPARE(w.chosen().text(), port(n).text());
            QCOMPARE(d.headline(), QStringLiteral("Look again"));
            look(w.chosen(), false);
            if (n < 6) d.key(Qt::Key_N);
        }
        QVERIFY(d.keys <= 6 * 4 + 3);
    }
    void aDirtyTestCordMakesSuspects()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        const FaceId cord{"RC-7", End::A, Side::Cord}, port{"VP-04/3", End::A, Side::Port};
        w.choose(port);
        d.inDialog([](QWidget* dialog) {
            auto* field = dialog->findChild<QComboBox*>();
            QVERIFY(field);
            field->setEditText("RC-7 A");
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_J);
        QVERIFY(d.said().contains("RC-7"));
        QVERIFY(w.session()->state().kit.contains("RC-7"));
        // an instrument's port is a face too: judged by the class of the port at hand, where the kit says none
        QVERIFY(filed(*w.session(), KitKept{"PM-7", "meter", {}, {}, 0, 0, "", false}));
        const auto joinWith = [&](const char* typed) {
            d.inDialog([typed](QWidget* dialog) {
                dialog->findChild<QComboBox*>()->setEditText(typed);
                QTest::keyClick(dialog, Qt::Key_Return);
            });
            d.key(Qt::Key_J);
        };
        joinWith("PM-7 port");
        QVERIFY(d.said().contains("port of PM-7"));
        QVERIFY(w.session()->state().faceClass({"PM-7", End::A, Side::Port}));
        const auto filed = w.session()->entries().size();
        for (const char* nonsense : {"PM-8 port", "RC-7 port", "RC-7 1", "RC-7", "a/b A"}) joinWith(nonsense);
        QCOMPARE(w.session()->entries().size(), filed);
        // a look at the cord, by keys: its name, then its picture from a file
        const QString picture = dir_.filePath("RC-7.png");
        QVERIFY(writeFile(picture.toStdString(), encodePng(world::takePicture(world::makeFace(world::Story::Dusty, 7), {}))));
        d.inDialog([&](QWidget* dialog) {
            dialog->findChild<QComboBox*>()->setEditText("RC-7 A");
            QTimer::singleShot(0, &w, [&] {
                QTimer::singleShot(0, &w, [&] {
                    QWidget* chooser = QApplication::activeModalWidget();
                    auto* name = chooser->findChild<QLineEdit*>("fileNameEdit");
                    QVERIFY(name);
                    QTest::keyClicks(name, picture, Qt::NoModifier, 5);
                    const auto* open = chooser->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Open);
                    QTRY_VERIFY(open->isEnabled());
                    QTest::keyClick(name, Qt::Key_Return);
                });
                QTest::keyClick(QApplication::activeModalWidget(), Qt::Key_Return);  // look at it: the first answer
            });
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_J, Qt::ShiftModifier);
        QTRY_COMPARE_WITH_TIMEOUT(w.session()->state().face(cord).condition, FaceCondition::Work, 20000);
        QTRY_VERIFY(d.said().startsWith("Judged: test cord RC-7, end A"));  // said after what it tells of is shown
        QVERIFY(w.session()->state().face(port).suspicion || w.session()->state().face(port).condition == FaceCondition::Stale);
        // cleaned, it is to be seen again
        d.inDialog([&](QWidget* dialog) {
            dialog->findChild<QComboBox*>()->setEditText("RC-7 A");
            QTimer::singleShot(0, &w, [] {
                QWidget* what = QApplication::activeModalWidget();
                what->findChild<QComboBox*>()->setCurrentIndex(1);
                QTest::keyClick(what, Qt::Key_Return);
            });
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_J, Qt::ShiftModifier);
        QCOMPARE(w.session()->state().face(cord).cleanings, 1);
        QVERIFY(w.session()->state().face(cord).condition == FaceCondition::Stale);
        w.choose(port);
        QCOMPARE(d.headline(), QStringLiteral("Look again"));
        d.inDialog([](QWidget* dialog) {
            QVERIFY(dialog->findChild<QWidget*>("contactStory")->accessibleName().contains("RC-7"));
            QTest::keyClick(dialog->findChild<QWidget*>("contactGraph"), Qt::Key_Up);
            QTest::keyClick(dialog, Qt::Key_Escape);
        });
        d.key(Qt::Key_G);
    }

    void anotherJobBeginsWithItsOwnRound()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        d.key(Qt::Key_L);
        d.key(Qt::Key_6);
        QVERIFY(created(w, dir_.filePath("another.clendo"), "Another"));
        QCOMPARE(d.text("roundTitle"), QStringLiteral("The round"));
        d.key(Qt::Key_6);
        QCOMPARE(w.findChild<QTableView*>("journal")->model()->rowCount(), int(settingsOf(JobSettings{}).size()));
    }

    void matingAllTheSameAsksWhyAtTheSecondPress()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        w.choose({"VP-04/5", End::B, Side::Port});
        d.key(Qt::Key_M);
        QVERIFY(d.said().contains("M again"));
        QVERIFY(!w.session()->state().state("VP-04/5").mated.contains(End::B));
        d.inDialog([](QWidget* dialog) {
            QTest::keyClicks(dialog->findChild<QLineEdit*>(), "lead agrees");
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_M);
        QVERIFY(w.session()->state().state("VP-04/5").mated.contains(End::B));
        // another key in between and it is a first press again
        w.choose({"VP-04/6", End::B, Side::Port});
        d.key(Qt::Key_M);
        d.key(Qt::Key_Right);
        d.key(Qt::Key_M);
        QVERIFY(d.said().contains("M again"));
    }

    void whatHappenedToAFaceIsOneKey()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        const FaceId face{"VP-04/2", End::A, Side::Cord};
        w.choose(face);
        d.inDialog([](QWidget* dialog) {
            dialog->findChild<QComboBox*>()->setCurrentText("dropped");
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_H);
        QVERIFY(w.session()->state().face(face).condition == FaceCondition::Stale);
        QVERIFY(!w.session()->state().state("VP-04/2").mated.contains(End::A));
        QVERIFY(d.said().contains("seen again"));
    }

    void theJournalIsSearchedAndLeadsToTheFace()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        d.key(Qt::Key_6);
        auto* desk = w.findChild<JournalView*>();
        auto* table = w.findChild<QTableView*>("journal");
        QCOMPARE(table->model()->rowCount(), int(w.session()->entries().size()));
        d.key(Qt::Key_F);
        d.type("dropped");
        QCOMPARE(table->model()->rowCount(), 1);
        d.key(Qt::Key_Return);
        d.key(Qt::Key_Return);
        QVERIFY(w.desk() == QLatin1String("look"));
        QCOMPARE(w.chosen().text(), std::string("VP-04/2/A/cord"));
        d.key(Qt::Key_6);
        w.findChild<QLineEdit*>("journalWords")->clear();
        desk->nextScope();  // the link
        const int link = table->model()->rowCount();
        desk->nextScope();  // the face
        QVERIFY(table->model()->rowCount() < link && table->model()->rowCount() > 0);
        QVERIFY(d.text("journalSaid").contains("TH-R2 port 2, cord side"));
    }

    void whatTheDayTaughtIsShown()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        d.key(Qt::Key_7);
        QVERIFY(w.desk() == QLatin1String("learn"));
        QVERIFY(d.headline().startsWith("First-pass yield"));
        QVERIFY(d.text("learnDesk").contains("Tide Hall"));
        QVERIFY(d.text("learnDesk").contains("pen 1"));
        const JobSnapshot now = w.session()->snapshot();
        const auto& faces = now.state->faces;
        const auto dirty = std::find_if(faces.begin(), faces.end(), [](const auto& item) {
            return !item.second.looks.empty() && !item.second.looks.front().seen.measured.findings.empty();
        });
        QVERIFY(dirty != faces.end());
        const Look& look = dirty->second.looks.front();
        QVERIFY(filed(
            *w.session(),
            FindingOverruled{
                dirty->first, look.entry, look.seen.measured.findings.front().id, FindingOverruled::As::NotReal, "a spot of the scope", {}, {}}));
        QVERIFY(d.text("learnDesk").contains("overruled, by kind\n"));
        QVERIFY(d.text("learnDesk").contains(": 1 of "));
    }

    void theAdviceInLargeWords()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        w.choose({"VP-04/9", End::B, Side::Cord});
        w.showDesk(QStringLiteral("look"));
        d.key(Qt::Key_F8);
        QVERIFY(w.findChild<QWidget*>("bigWords")->isVisible());
        QVERIFY(d.text("bigWords").startsWith("Look first"));
        d.key(Qt::Key_Right);  // keys work as ever
        QVERIFY(d.text("bigWords").contains(QString::fromStdString(w.session()->state().where(w.chosen()))));
        d.key(Qt::Key_F8);
        QVERIFY(!w.findChild<QWidget*>("bigWords")->isVisible());
    }

    void theJobsPolicyIsChosenInTheWindow()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        d.inDialog([](QWidget* dialog) {
            auto* sleeve = dialog->findChild<QComboBox*>("policy_sleeve");
            QVERIFY(sleeve && sleeve->currentText().contains("default"));
            sleeve->setCurrentIndex(1);
            dialog->findChild<QComboBox*>("policy_edition")->setCurrentIndex(2);
            auto* tail = dialog->findChild<QDoubleSpinBox*>("tailCord");
            tail->setValue(0);
            QCOMPARE(tail->text(), QStringLiteral("none"));
            dialog->findChild<QSpinBox*>("attempts")->setValue(3);
            dialog->findChild<QCheckBox*>("nm1625")->setChecked(true);
            dialog->findChild<QComboBox*>("limits")->setCurrentText("10GBASE-LR");
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_F4);
        const JobSettings& job = w.session()->state().plan->job;
        QCOMPARE(job.tailCord.value(), 0.0);
        QCOMPARE(job.launchCord.value(), 150.0);
        QCOMPARE(job.attempts, 3);
        QCOMPARE(job.wavelengths, (std::vector<int>{1310, 1550, 1625}));
        QCOMPARE(job.limits, std::string("application:10GBASE-LR"));
        QCOMPARE(w.session()->state().plan->limits.at("OS2").total, std::optional(Decibel(6.2)));
        QCOMPARE(std::string(w.session()->state().policy("sleeve")), std::string("none"));
        QCOMPARE(w.session()->state().plan->job.edition, std::string("pristine"));
    }

    void aCableLikeAnotherGoesOnWhereItEnds()
    {
        MainWindow w;
        QVERIFY(opened(w, job_));
        WindowDriver d(w);
        d.inDialog([](QWidget* dialog) {
            QCOMPARE(dialog->findChild<QLineEdit*>("portsA")->text(), QStringLiteral("25-48"));
            QTest::keyClicks(dialog->findChild<QLineEdit*>("cableId"), "VP-06");
            dialog->findChild<QComboBox*>("cordB")->setCurrentText("sm-apc");
            QTest::keyClick(dialog->findChild<QLineEdit*>("cableId"), Qt::Key_Return);
            QVERIFY(dialog->findChild<QLabel*>("planTrouble")->text().contains("angled"));
            QVERIFY(dialog->isVisible());
            QTest::keyClick(dialog->findChild<QLineEdit*>("cableId"), Qt::Key_Return);  // all the same
        });
        d.key(Qt::Key_B);
        QCOMPARE(w.session()->state().plan->cables.size(), std::size_t{2});
        QCOMPARE(w.session()->state().plan->cables[1].endA.firstPort, 25);
        QCOMPARE(w.session()->state().plan->cables[1].endB.cordClass, std::string("sm-apc"));
    }

private:
    QTemporaryDir dir_;
    QString job_;
};
QTEST_MAIN(TestDay)
#include "test_day.moc"
