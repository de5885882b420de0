#include <QDialog>
#include <QPushButton>

#include "app/batch/batch_desk.h"
#include "app/batch/batch_view.h"
#include "light_bench.h"
#include "record/rules/patch_cords.h"

using namespace clendo;

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
    /// A box of patch cords, single-ended, after one key: each connector at the reference cord, then the next cord.
    void patchCordsAreReadOneAfterTheOther()
    {
        Bench b;
        QVERIFY(b.start());
        auto job = b.state().plan->job;
        job.method = ReferenceMethod::SingleEnded;
        auto& session = *b.window.session();
        session.file(settingFacts(b.state().plan->job, job));
        QTRY_VERIFY(b.state().plan->job.method == ReferenceMethod::SingleEnded);
        QVERIFY(b.referenceSet());
        auto& sheet = b.window.deskOf<BatchDesk>().sheet();
        b.window.showDesk("batch");
        sheet.watchLine(b.dir.path());
        sheet.toggleBothEnds();
        sheet.relabel("VP-P-017");
        QVERIFY(sheet.line());
        b.window.setFocus();
        const int keys = b.driver->keys;
        b.driver->key(Qt::Key_M, Qt::ShiftModifier);
        auto* bar = b.window.findChild<QWidget*>("cordBar");
        QVERIFY(bar && bar->isVisible());
        const auto losses = [&](const char* cord) { return cordLosses(b.state(), cord, b.state().plan->cables.front()); };
        for (const char* cord : {"VP-P-017", "VP-P-018"})
            for (const char* end : {"A", "B"}) {
                QVERIFY2(b.waited([&] { return b.run().prompt().contains(QString("%1 end %2").arg(cord, end)); }), qPrintable(b.run().prompt()));
                for (const char* face : {"RC-1/B", "RC-3/A", "RC-3/B"}) static_cast<void>(b.world().part(face));
                const bool endA = *end == 'A';
                QVERIFY(b.world().mate("RC-1/B", endA ? "RC-3/A" : "RC-3/B"));
                QVERIFY(b.world().connect("meter 1", endA ? "RC-3/B" : "RC-3/A"));
                QVERIFY2(b.waited([&] { return losses(cord).size() == (endA ? 2U : 4U); }), qPrintable(b.run().prompt()));
                static_cast<void>(b.world().part("RC-1/B"));
                QVERIFY(b.waited([&] { return b.run().shown().state == AcquisitionState::NoLight; }));
            }
        QCOMPARE(b.driver->keys, keys + 1);
        for (const auto& row : losses("VP-P-017")) QVERIFY2(row.loss && row.loss->value() > -0.05 && row.loss->value() < 1, row.verdict.c_str());
        b.driver->key(Qt::Key_M, Qt::ShiftModifier);
        QVERIFY(!b.run().running());
        QVERIFY(!bar->isVisible());
        QVERIFY(losses("VP-P-019").empty());
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
    void aToneIsNotClaimedOfASourceThatHasNone()
    {
        const QTemporaryDir home;
        qputenv("XDG_DATA_HOME", home.path().toLocal8Bit());
        Bench b;
        QVERIFY(b.start());
        auto driver = nlohmann::json::parse(*readFile(dataFolder() / "drivers/scpi-source.json"));
        driver["name"] = "Plain source";
        driver["commands"].erase("tone");
        const QString file = home.filePath("plain.json");
        QVERIFY(writeFile(file.toStdString(), driver.dump()));
        QVERIFY(b.run().addDriver(file));
        QVERIFY(b.run().use(b.place("meter 1"), b.place("source 1"), {}, "Plain source"));
        b.driver->key(Qt::Key_N, Qt::ShiftModifier);
        QVERIFY(!b.run().toneOn());
        QVERIFY(b.driver->said().contains("knows no tone"));
        QVERIFY(!b.run().prompt().contains("tone"));
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
};

QTEST_MAIN(TestLightWindow)
#include "test_light_window.moc"
