#include "light_bench.h"
#include "record/rules/read_again.h"
#include "record/state/complete_act.h"

using namespace clendo;

using Fault = std::function<void(Bench&)>;
Q_DECLARE_METATYPE(Fault)

/// Every mistake of the loss test, made at simulated instruments that speak over TCP: none of them looks good in the window.
class TestLossMistakes : public QObject {
    Q_OBJECT
private slots:
    void aBadReferenceCannotLookGood_data()
    {
        QTest::addColumn<Fault>("fault");
        const auto row = [](const char* name, const Fault& fault) { QTest::newRow(name) << fault; };
        row("M21 the source was turned to another wavelength", [](Bench& b) {
            QVERIFY(b.referenceSet());
            b.window.choose({"VP-04/1", End::A, Side::Port});
            b.driver->key(Qt::Key_I);
            QVERIFY(b.waited([&] { return b.run().shown().wanted.has_value() && b.run().shown().sourceWavelength.has_value(); }));
            b.source().wavelength = Nanometre(b.source().wavelength == Nanometre(1310) ? 1550 : 1310);  // by hand, at the source
            QVERIFY(b.waited([&] { return b.run().shown().waitsForSource; }));
            b.onFibre(1);
            QTest::qWait(2500);
            QCOMPARE(b.readings(1), std::size_t(0));
        });
        row("M24 the cord came off the source", [](Bench& b) {
            QVERIFY(b.referenceSet());
            b.driver->key(Qt::Key_O, Qt::ShiftModifier);
            QVERIFY(b.read(1));
            QVERIFY(b.warned(1, "no_reference"));
            QVERIFY(b.state().state("VP-04/1").loss->verdict == LossVerdict::NotValid);
        });
        row("M25 a cold source", [](Bench& b) {
            b.source().onSince = b.world().now();
            b.driver->key(Qt::Key_W, Qt::ShiftModifier);
            QVERIFY(b.referenceSet());
            QVERIFY(b.read(1));
            QVERIFY(b.warned(1, "source_cold"));
        });
        row("M27 a bad receive cord", [](Bench& b) {
            for (const char* cord : {"RC-1", "RC-2"}) QVERIFY(filed(*b.window.session(), KitKept{cord, "cord", {"LC"}, {}, 0, 500, "sm-upc", false}));
            b.window.showDesk("loss");
            b.window.findChild<QComboBox*>("gear_cord")->setCurrentText("RC-1");
            QVERIFY(b.referenceSet());
            for (int i = 0; i < 6; ++i) QVERIFY(b.world().drop("RC-2/A"));
            b.forProof();
            b.driver->key(Qt::Key_R, Qt::ShiftModifier);
            QVERIFY(b.waited([&] { return b.state().proofs.size() == 2; }));
            const auto most = b.state().plan->limitsFor(b.state().plan->cables.front())->referencePair;
            QVERIFY2(b.state().proofs.front().loss > most, qPrintable(QString::number(b.state().proofs.front().loss.value())));
            QCOMPARE(b.state().proofs.front().cord, std::string("RC-2"));  // the other one of the kit
        });
        row("M29 a gain, since the reference was set through dirt", [](Bench& b) {
            for (int i = 0; i < 4; ++i) QVERIFY(b.world().drop("RC-1/B"));
            QVERIFY(b.referenceSet());
            QVERIFY(b.world().part("RC-1/B"));
            for (int i = 0; i < 6; ++i) QVERIFY(b.world().clean("RC-1/B", world::Cleaning::FreshTool));
            b.forProof();
            b.driver->key(Qt::Key_R, Qt::ShiftModifier);
            QVERIFY(b.waited([&] { return !b.state().proofs.empty(); }));
            QVERIFY2(isGain(b.state().proofs.front().loss), qPrintable(QString::number(b.state().proofs.front().loss.value())));
            QVERIFY(!b.state().reference(Direction::AtoB, Nanometre(1310)));
        });
        row("M32 a reference that drifted", [](Bench& b) {
            QVERIFY(b.referenceSet());
            QVERIFY(b.read(1));
            QVERIFY(b.state().state("VP-04/1").loss->results[0].lossAb);
            b.forReference();
            b.source().launch += Decibel(-0.3);
            b.driver->key(Qt::Key_T, Qt::ShiftModifier);
            QVERIFY(b.waited([&] { return b.state().checks.size() == 2; }));
            QVERIFY(!b.state().state("VP-04/1").loss->results[0].lossAb);
            QCOMPARE(readAgain(b.state()).size(), std::size_t(2));
        });
        row("M33 a crossed fibre", [](Bench& b) {
            QVERIFY(b.referenceSet());
            b.window.choose({"VP-04/11", End::A, Side::Port});
            b.driver->key(Qt::Key_I);
            b.onFibre(11);
            QVERIFY(b.waited([&] { return b.run().shown().state == AcquisitionState::NoLight; }));
            QTest::qWait(1500);
            QCOMPARE(b.readings(11), std::size_t(0));
        });
        row("M34 a tone", [](Bench& b) {
            b.source().toneHz = 270;
            b.forReference();
            QVERIFY(b.run().use(b.place("meter 1"), {}));  // the source is not on a line, so nobody turns it off
            b.driver->key(Qt::Key_R);
            QVERIFY(b.waited([&] { return b.run().shown().state == AcquisitionState::Tone; }));
            QTest::qWait(1500);
            QVERIFY(!b.state().reference(Direction::AtoB, Nanometre(1310)));
        });
        row("M20 the source's nominal power as reference", [](Bench& b) {
            b.type("reference-1310-ab", "-7");
            b.type("reference-1550-ab", "-7");
            QVERIFY(b.waited([&] { return b.state().reference(Direction::AtoB, Nanometre(1550)) != nullptr; }));
            QVERIFY(b.read(1));
            QVERIFY(b.warned(1, "nominal_reference"));
        });
        row("M22 a loss typed as a level, and a minus left out", [](Bench& b) {
            QVERIFY(b.referenceSet());
            b.window.choose({"VP-04/1", End::A, Side::Port});
            b.type("reading-1310-ab", "1.62 dB");
            QVERIFY(b.asked().contains("dB"));
            b.type("reading-1310-ab", "8.63");
            QVERIFY(b.asked().contains("minus"));
            QCOMPARE(b.readings(1), std::size_t(0));
            b.driver->key(Qt::Key_Return);  // it stands
            QVERIFY(b.waited([&] { return b.readings(1) == 1; }));
            QVERIFY(b.warned(1, "sign_turned"));
            QVERIFY(b.state().state("VP-04/1").loss->verdict == LossVerdict::NotValid);
        });
        row("M23 rounded by eye", [](Bench& b) {
            QVERIFY(b.referenceSet());
            b.window.choose({"VP-04/1", End::A, Side::Port});
            for (const auto& [field, figure] : {std::pair("reading-1310-ab", "-8.6"), {"reading-1550-ab", "-8.4"}, {"reading-1310-ba", "-8.7"}})
                b.type(field, figure);
            QVERIFY(b.waited([&] { return b.readings(1) == 3; }));
            QVERIFY(b.warned(1, "rounded"));
        });
        row("M26 multimode, and nobody said what conditions the launch", [](Bench& b) {
            auto cable = varrowCable();
            cable.fibre = "OM4", cable.className = "mm-pc", cable.length = Metre(300);
            cable.splices.clear();
            QVERIFY(filed(*b.window.session(), CablePlanned{cable}));
            b.source().lights = {{850, DecibelMilliwatt(-20.1)}, {1300, DecibelMilliwatt(-20.4)}};
            b.source().wavelength = Nanometre(850);
            b.forReference();
            b.driver->key(Qt::Key_R);
            QVERIFY(b.waited(
                [&] { return b.state().reference(Direction::AtoB, Nanometre(1300)) && b.state().reference(Direction::AtoB, Nanometre(850)); }));
            QVERIFY(b.read(1));
            QVERIFY(b.warned(1, "launch_not_conditioned"));
        });
        row("M28 the limit counts other connections than the reference", [](Bench& b) {
            QVERIFY(b.referenceSet());
            b.window.showDesk("loss");
            auto* method = b.window.findChild<QComboBox*>("method");
            method->setCurrentIndex(2);
            emit method->activated(2);
            QVERIFY(b.waited([&] { return b.state().plan->job.method == ReferenceMethod::ThreeCord; }));
            QVERIFY(!b.state().reference(Direction::AtoB, Nanometre(1310)));  // a three-cord limit with a one-cord reference: none
            QVERIFY(b.read(1));
            QVERIFY(b.warned(1, "no_reference"));
        });
        row("M30 a launch cord's loss that nobody measured, then counted twice", [](Bench& b) {
            for (const char* cord : {"RC-1", "RC-2"}) QVERIFY(filed(*b.window.session(), KitKept{cord, "cord", {"LC"}, {}, 0, 500, "sm-upc", false}));
            auto job = b.state().plan->job;
            job.policies["launch_loss"] = "subtract";
            QVERIFY(filed(*b.window.session(), Filing{settingFacts(b.state().plan->job, job), {}, {}}));
            b.window.showDesk("loss");
            auto* takenOff = b.window.findChild<QComboBox*>("takenOff");
            QVERIFY(takenOff && takenOff->isVisible());
            takenOff->setCurrentText("RC-2");
            QVERIFY(b.referenceSet());
            QVERIFY(b.read(1));
            QVERIFY(b.warned(1, "launch_not_measured"));
            QVERIFY(b.state().state("VP-04/1").loss->verdict == LossVerdict::NotValid);
            b.window.findChild<QComboBox*>("gear_cord")->setCurrentText("RC-2");
            QVERIFY(b.referenceSet());
            QVERIFY(b.read(2));
            QVERIFY(b.warned(2, "launch_counted_twice"));
        });
        row("M31 one wavelength only", [](Bench& b) {
            QVERIFY(b.referenceSet());
            QVERIFY(b.run().use(b.place("meter 1"), {}));  // the source is turned by hand, and nobody turns it
            b.source().wavelength = Nanometre(1310);
            b.window.choose({"VP-04/1", End::A, Side::Port});
            b.driver->key(Qt::Key_I);
            b.onFibre(1);
            QVERIFY(b.waited([&] { return b.readings(1) == 1; }));  // by hand all fibres come first at one wavelength
            b.run().stop();
            QVERIFY(b.warned(1, "one_wavelength"));
        });
        row("M35 a loss that the length cannot explain", [](Bench& b) {
            QVERIFY(b.referenceSet());
            QVERIFY(b.world().bend("VP-04/2/A/port", Metre(700), Decibel(25)));
            QVERIFY(b.read(2));
            QVERIFY(b.warned(2, "loss_not_explained"));
        });
        row("M36 overload", [](Bench& b) {
            b.meter().overload = DecibelMilliwatt(-20);
            b.forReference();
            b.driver->key(Qt::Key_R);
            QVERIFY(b.waited([&] { return b.run().shown().state == AcquisitionState::Overload; }));
            QTest::qWait(1500);
            QVERIFY(!b.state().reference(Direction::AtoB, Nanometre(1310)));
        });
        row("the line is pulled out in mid-reading", [](Bench& b) {
            QVERIFY(b.referenceSet());
            b.window.choose({"VP-04/1", End::A, Side::Port});
            b.driver->key(Qt::Key_I);
            b.simulation.spoil("meter 1", sim::LineFault::Cut);
            b.onFibre(1);
            QVERIFY(b.waited([&] { return !b.run().shown().meterTrouble.isEmpty(); }));
            QCOMPARE(b.readings(1), std::size_t(0));
            b.simulation.spoil("meter 1", sim::LineFault::None);
            QVERIFY(b.waited([&] { return b.readings(1) == 2; }, 30000));
        });
    }
    void aBadReferenceCannotLookGood()
    {
        QFETCH(Fault, fault);
        Bench b;
        QVERIFY(b.start());
        fault(b);
    }
};

QTEST_MAIN(TestLossMistakes)
#include "test_loss_mistakes.moc"
