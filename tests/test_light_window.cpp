#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <nlohmann/json.hpp>

#include "app/loss/light_run.h"
#include "app/loss/loss_desk.h"
#include "files/files.h"
#include "record/rules/read_again.h"
#include "record/state/complete_act.h"
#include "sim/simulation.h"
#include "varrow_journal.h"
#include "window_driver.h"
#include "world/scenario.h"

using namespace clendo;

namespace {

/// A window with the demo's cable, and the simulated instruments on their lines, in one process.
struct Bench {
    QTemporaryDir dir;
    MainWindow window;
    sim::Simulation simulation;
    std::unique_ptr<WindowDriver> driver;

    /// `crossed`: fibres 11 and 12 are, as in the demo.
    explicit Bench(bool crossed = true) : simulation(worldOf(crossed), 10) {}
    static world::World worldOf(bool crossed)
    {
        auto scenario = nlohmann::json::parse(*readFile(dataFolder() / "scenarios/varrow-point.json"));
        if (!crossed) scenario["cables"][0].erase("crossed");
        return *world::readScenario(scenario.dump(), dataFolder());
    }

    bool start(const CablePlan& cable = varrowCable())
    {
        window.resize(1280, 800);
        if (!simulation.start() || !created(window, dir.filePath("light.clendo"), "Light")) return false;
        driver = std::make_unique<WindowDriver>(window);
        if (!filed(*window.session(), CablePlanned{cable})) return false;
        window.choose({cable.id + "/1", End::A, Side::Port});
        return run().use(place("meter 1"), place("source 1")).has_value();
    }
    LightRun& run() { return window.deskOf<LossDesk>().run(); }
    [[nodiscard]] QString place(const char* name) const
    {
        const auto ready = simulation.ready();
        for (const auto& one : ready["instruments"])
            if (one["name"] == name) return QStringLiteral("127.0.0.1:%1").arg(one["port"].get<int>());
        return {};
    }
    world::World& world() { return simulation.now(); }
    world::Source& source() { return std::get<world::Source>(world().instrument("source 1")->unit); }
    world::Meter& meter() { return std::get<world::Meter>(world().instrument("meter 1")->unit); }
    const JobState& state() { return window.session()->state(); }

    /// Cords as for the reference: the source cord straight into the meter.
    void forReference()
    {
        for (const char* face : {"RC-1/B", "RC-2/A", "RC-2/B"}) static_cast<void>(world().part(face));
        QVERIFY(world().connect("meter 1", "RC-1/B"));
    }
    void forProof()
    {
        static_cast<void>(world().part("RC-1/B"));
        static_cast<void>(world().part("RC-2/A"));
        QVERIFY(world().mate("RC-1/B", "RC-2/A"));
        QVERIFY(world().connect("meter 1", "RC-2/B"));
    }
    /// Both cords on one fibre.
    void onFibre(int n)
    {
        for (const char* face : {"RC-1/B", "RC-2/A"}) static_cast<void>(world().part(face));
        if (const auto* meterPort = world().face("meter 1"); meterPort) QVERIFY(world().connect("meter 1", "RC-2/B"));
        QVERIFY(world().mate("RC-1/B", "VP-04/" + std::to_string(n) + "/A/port"));
        QVERIFY(world().mate("RC-2/A", "VP-04/" + std::to_string(n) + "/B/port"));
    }
    void offFibre()
    {
        static_cast<void>(world().part("RC-1/B"));
        static_cast<void>(world().part("RC-2/A"));
    }
    [[nodiscard]] bool waited(const std::function<bool()>& done, int ms = 15000) { return QTest::qWaitFor(done, ms); }
    bool referenceSet()
    {
        forReference();
        driver->key(Qt::Key_R);
        return waited([&] {
            return !run().running() && state().reference(run().direction(), Nanometre(1310)) && state().reference(run().direction(), Nanometre(1550));
        });
    }
    /// Into a field of the loss view, with Enter.
    void type(const char* field, const char* figure)
    {
        window.showDesk("loss");
        auto* edit = window.findChild<QLineEdit*>(field);
        QVERIFY(edit);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, figure);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    [[nodiscard]] QString asked() { return window.findChild<QLabel*>("lossTrouble")->text(); }
    [[nodiscard]] std::size_t readings(int fibre) { return state().state("VP-04/" + std::to_string(fibre)).readings.size(); }
    [[nodiscard]] bool warned(int fibre, const char* code)
    {
        const auto& loss = state().state("VP-04/" + std::to_string(fibre)).loss;
        return loss && std::any_of(loss->warnings.begin(), loss->warnings.end(), [&](const auto& w) { return w.code == code; });
    }
    /// Reads one fibre at both wavelengths.
    bool read(int fibre)
    {
        window.choose({"VP-04/" + std::to_string(fibre), End::A, Side::Port});
        const std::size_t before = readings(fibre);
        window.setFocus();  // keys are commands again
        driver->key(Qt::Key_I);
        onFibre(fibre);
        const bool done = waited([&] { return readings(fibre) == before + 2; });
        run().stop();
        offFibre();
        return done;
    }
};

using Fault = std::function<void(Bench&)>;

}  // namespace

Q_DECLARE_METATYPE(Fault)

/// The loss test through the real window, with instruments that speak over TCP out of one simulated world.
class TestLightWindow : public QObject {
    Q_OBJECT
private slots:
    void twelveFibresAreReadWithoutAKeyAfterTheFirst()
    {
        Bench b(false);
        QVERIFY(b.start());
        for (const Direction direction : {Direction::AtoB, Direction::BtoA}) {
            if (direction == Direction::BtoA) b.driver->key(Qt::Key_D, Qt::ShiftModifier);
            QVERIFY(b.referenceSet());
            b.window.choose({"VP-04/1", End::A, Side::Port});
            const int keys = b.driver->keys;
            b.driver->key(Qt::Key_I);
            for (int n = 1; n <= 12; ++n) {
                QVERIFY2(b.waited([&] { return b.run().shown().wanted && b.run().shown().wanted->link == "VP-04/" + std::to_string(n); }),
                         qPrintable(b.run().prompt()));
                const std::size_t before = b.readings(n);
                b.onFibre(n);
                QVERIFY2(b.waited([&] { return b.readings(n) == before + 2; }), qPrintable(b.run().prompt()));
                b.offFibre();
                QVERIFY(b.waited([&] { return b.run().shown().state == AcquisitionState::NoLight; }));
            }
            QCOMPARE(b.driver->keys, keys + 1);
            QVERIFY(!b.run().running());
        }
        const auto* limits = b.state().plan->limitsFor(b.state().plan->cables.front());
        for (int n = 1; n <= 12; ++n) {
            const std::string id = "VP-04/" + std::to_string(n);
            const auto& loss = b.state().state(id).loss;
            QVERIFY(loss && loss->results.size() == 2 && limits);
            for (const auto& result : loss->results) QVERIFY(result.lossAb && result.lossBa);
            // what was read agrees with the world: fibre, splices and two connections
            const double fibre = b.world().lossBetween(id + "/A/port", id + "/B/port", Nanometre(1310))->value();
            const double seen = loss->results[0].lossAb->value();
            QVERIFY2(seen > fibre - 0.1 && seen < fibre + 1.6, qPrintable(QString("%1: %2 %3").arg(n).arg(seen).arg(fibre)));
            QCOMPARE(b.state().state(id).lightSeen->what.out, std::optional(n));  // light came through: it is the right fibre
            for (const auto& reading : b.state().state(id).readings) QVERIFY(reading.what.acquired && reading.what.acquired->samples >= 5);
        }
    }
    void aLevelIsShownWhileItIsRead()
    {
        Bench b;
        QVERIFY(b.start());
        b.window.showDesk("loss");
        b.forReference();
        auto* bar = b.window.findChild<QWidget*>("benchBar");
        QVERIFY(bar);
        QTRY_VERIFY_WITH_TIMEOUT(bar->isVisible() && bar->accessibleName().contains("dBm"), 8000);
        QVERIFY(b.run().shown().meter.contains("PM-2207"));
        QVERIFY(b.world().part("RC-1/B"));
        QTRY_VERIFY_WITH_TIMEOUT(bar->accessibleName().contains("no light"), 8000);
    }
    void instrumentsAreChosenAndSpokenToFromTheWindow()
    {
        Bench b;
        QVERIFY(b.start());
        b.driver->inDialog([&](QWidget* dialog) {
            dialog->findChild<QLineEdit*>("meterPlace")->setText("nowhere");
            dialog->findChild<QLineEdit*>("sourcePlace")->clear();
            auto* answer = dialog->findChild<QLabel*>("meterAnswer");
            QPushButton* ask = nullptr;
            for (auto* button : dialog->findChildren<QPushButton*>())
                if (button->text().contains("Say")) ask = button;
            QVERIFY(answer && ask);
            ask->click();
            QVERIFY(answer->text().contains("no place"));
            dialog->findChild<QLineEdit*>("meterPlace")->setText(b.place("meter 1"));
            ask->click();
            QTRY_VERIFY_WITH_TIMEOUT(answer->text().contains("PM-2207"), 8000);
            qobject_cast<QDialog*>(dialog)->accept();
        });
        b.driver->key(Qt::Key_I, Qt::ShiftModifier);
        QVERIFY(b.run().meterOnLine());
        QCOMPARE(b.window.desk(), QString("loss"));
    }
    void aToneFindsAFibreAndGoesWhenSomethingIsRead()
    {
        Bench b;
        QVERIFY(b.start());
        b.forReference();
        b.driver->key(Qt::Key_N, Qt::ShiftModifier);
        QVERIFY(b.waited([&] { return b.source().toneHz == 2; }));
        QVERIFY(b.run().prompt().contains("tone"));
        b.driver->key(Qt::Key_R);
        QVERIFY(b.waited([&] { return b.state().reference(Direction::AtoB, Nanometre(1310)) != nullptr; }));
        QCOMPARE(b.source().toneHz, 0.0);
        QVERIFY(!b.run().toneOn());
    }
    void aDriverOfOnesOwnIsLoadedAndWhatWasSaidIsKept()
    {
        const QTemporaryDir home;
        qputenv("XDG_DATA_HOME", home.path().toLocal8Bit());
        Bench b;
        QVERIFY(b.start());
        const auto file = [&](const char* name, const std::function<void(nlohmann::json&)>& change) {
            auto driver = nlohmann::json::parse(*readFile(dataFolder() / "drivers/scpi-meter.json"));
            driver["name"] = "Bench meter";
            change(driver);
            const QString path = home.filePath(name);
            QVERIFY2(writeFile(path.toStdString(), driver.dump()), name);
        };
        file("no-read.json", [](nlohmann::json& d) { d["commands"].erase("read"); });
        file("bench.json", [](nlohmann::json& d) { d["commands"]["read"] = "FETC:POW?"; });
        QVERIFY(!b.run().addDriver(home.filePath("no-read.json")));
        QVERIFY(!b.run().addDriver(home.filePath("nowhere.json")));
        const auto name = b.run().addDriver(home.filePath("bench.json"));
        QVERIFY(name);
        QCOMPARE(*name, QString("Bench meter"));
        QVERIFY(b.run().drivers(InstrumentKind::Meter).contains(*name));
        QVERIFY(!b.run().use(b.place("meter 1"), {}, "no such driver"));
        QVERIFY(b.run().use(b.place("meter 1"), {}, *name));
        QVERIFY(b.waited([&] { return b.run().shown().sample.has_value(); }));
        b.driver->inDialog([&](QWidget* dialog) {
            QCOMPARE(dialog->findChild<QComboBox*>("meterDriver")->currentText(), *name);
            dialog->findChild<QPushButton*>("keepLog")->click();
            QTRY_VERIFY_WITH_TIMEOUT(dialog->findChild<QLabel*>("meterAnswer")->text().contains("Kept"), 8000);
            qobject_cast<QDialog*>(dialog)->reject();
        });
        b.driver->key(Qt::Key_I, Qt::ShiftModifier);
        const auto entries = b.window.session()->snapshot().journal.all();
        const auto kept = std::find_if(entries.begin(), entries.end(), [](const Entry& e) { return std::holds_alternative<LineLogKept>(e.fact); });
        QVERIFY(kept != entries.end());
        const auto text = b.window.session()->service().evidence(evidenceOf(kept->fact)).get();
        QVERIFY(text && text->find("> FETC:POW?") != std::string::npos);
        // another run of the program has it too
        LightRun later(b.window);
        QVERIFY(later.drivers(InstrumentKind::Meter).contains(*name));
    }
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
            for (int i = 0; i < 3; ++i) QVERIFY(b.world().drop("RC-2/A"));
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

QTEST_MAIN(TestLightWindow)
#include "test_light_window.moc"
