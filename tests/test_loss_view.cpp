#include <QComboBox>

#include "demo/demo_job.h"
#include "record/state/complete_act.h"
#include "window_driver.h"

using namespace clendo;

/// Reference and readings as they are chosen and typed in the window; the tests share the demo job, in this order.
class TestLossView : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        applyTheme(*qApp, false);
        demo_ = makeDemo(dir_.path()).value();
    }

    void anotherReferenceMethodVoidsTheReferences()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.choose({"VP-04/5", End::A, Side::Cord});
        w.showDesk(QStringLiteral("loss"));
        QCOMPARE(w.session()->state().references.size(), std::size_t{3});  // one was found drifted
        auto* method = w.findChild<QComboBox*>("method");
        QVERIFY(method->itemText(1).contains("526-14-A method A"));
        method->setCurrentIndex(2);
        emit method->activated(2);
        d.settle();
        QVERIFY(w.session()->state().plan->job.method == ReferenceMethod::ThreeCord);
        QVERIFY(w.session()->state().references.empty());
        QCOMPARE(d.headline(), QStringLiteral("Set the reference"));
        // what was measured before by one cord is still judged by one cord
        QVERIFY(qAbs(w.session()->state().state("VP-04/1").loss->results[0].limit->total.value() - 3.3) < 1e-9);
    }
    void anotherMeterInHandVoidsTheReferences()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        QVERIFY(filed(*w.session(), KitKept{"meter 2", "meter", {}, "PM-9", 0, 0, {}, false}));
        ReferenceSet set{w.session()->state().plan->job.method, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)};
        set.with = {"source 1", "meter 1", "RC-1"};
        QVERIFY(filed(*w.session(), set));
        w.choose({"VP-04/5", End::A, Side::Cord});
        w.showDesk(QStringLiteral("loss"));
        auto* meter = w.findChild<QComboBox*>("gear_meter");
        QCOMPARE(w.findChild<QComboBox*>("gear_source")->currentText(), QStringLiteral("source 1"));  // the only one
        QCOMPARE(meter->currentText(), QStringLiteral("not said"));
        w.findChild<QComboBox*>("gear_cord")->setCurrentText("RC-1");
        meter->setCurrentText("meter 1");
        emit meter->activated(meter->currentIndex());
        d.settle();
        QCOMPARE(w.session()->state().references.size(), std::size_t{1});  // what it was set with
        meter->setCurrentText("meter 2");
        emit meter->activated(meter->currentIndex());
        d.settle();
        QVERIFY(w.session()->state().references.empty());
        d.key(Qt::Key_R);
        d.type("-7.00");
        d.key(Qt::Key_Return);
        const auto* fresh = w.session()->state().reference(Direction::AtoB, Nanometre(1310));
        QVERIFY(fresh);
        QCOMPARE(fresh->with, (std::vector<std::string>{"source 1", "meter 2", "RC-1"}));
    }
    void threeQuestionsLeadToAReference()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.choose({"VP-04/5", End::A, Side::Cord});
        w.showDesk(QStringLiteral("loss"));
        d.inDialog([&](QWidget* dialog) {
            auto* words = dialog->findChild<QLabel*>("referenceWords");
            dialog->findChild<QComboBox*>("testedEnds")->setCurrentIndex(0);
            dialog->findChild<QComboBox*>("meterTakes")->setCurrentIndex(0);
            QVERIFY(words && words->text().contains("one-cord"));
            dialog->findChild<QComboBox*>("testedEnds")->setCurrentIndex(2);
            QVERIFY2(words->text().contains("three-cord") && words->text().contains("none"), qPrintable(words->text()));
            dialog->findChild<QComboBox*>("launchCord")->setCurrentIndex(1);
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_Q, Qt::ShiftModifier);
        QVERIFY(w.session()->state().plan->job.method == ReferenceMethod::ThreeCord);
        QCOMPARE(w.session()->state().policy("launch_loss"), std::string_view("subtract"));
        QVERIFY(w.findChild<QComboBox*>("takenOff")->isVisible());
    }
    void theEndOfTheCordOnTheSourceIsKeptWithTheReference()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.choose({"VP-04/5", End::A, Side::Cord});
        w.showDesk(QStringLiteral("loss"));
        auto* cord = w.findChild<QComboBox*>("gear_cord");
        cord->setCurrentText("RC-1, end A on the source");
        auto* field = w.findChild<QLineEdit*>("reference-1310-ab");
        field->setFocus();
        field->selectAll();
        d.type("-7.02");
        d.key(Qt::Key_Return);
        const auto* set = w.session()->state().reference(Direction::AtoB, Nanometre(1310));
        QVERIFY(set && set->freeEnd);
        QCOMPARE(set->freeEnd->text(), std::string("RC-1/B/cord"));
        QCOMPARE(set->with.back(), std::string("RC-1"));
        // turned round, it is another reference
        cord->setCurrentText("RC-1, end B on the source");
        emit cord->activated(cord->currentIndex());
        d.settle();
        QVERIFY(!w.session()->state().reference(Direction::AtoB, Nanometre(1310)));
    }
    void whatWasAskedOfOneFibreIsAskedOfTheNextToo()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        JobSettings job = w.session()->state().plan->job;
        job.method = ReferenceMethod::OneCord;
        QVERIFY(filed(*w.session(), Filing{settingFacts(w.session()->state().plan->job, job), {}, {}}));
        QVERIFY(filed(*w.session(), ReferenceSet{job.method, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)}));
        w.showDesk(QStringLiteral("loss"));
        const auto readings = [&](const char* link) { return w.session()->state().state(link).readings.size(); };
        for (const char* link : {"VP-04/9", "VP-04/10"}) {
            w.choose({link, End::A, Side::Cord});
            auto* field = w.findChild<QLineEdit*>("reading-1310-ab");
            for (const std::size_t filedBy : {std::size_t{0}, std::size_t{1}}) {  // the first Enter asks, the second files
                field->setFocus();
                field->selectAll();
                d.type("-6.20");  // a gain
                d.key(Qt::Key_Return);
                QCOMPARE(readings(link), filedBy);
                QCOMPARE(d.text("lossTrouble").contains("gain"), filedBy == 0);
            }
        }
    }

private:
    QTemporaryDir dir_;
    DemoFolder demo_;
};

QTEST_MAIN(TestLossView)
#include "test_loss_view.moc"
