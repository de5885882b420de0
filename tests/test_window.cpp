#include <QDialogButtonBox>
#include <QProcess>
#include <QPushButton>
#include <QSignalSpy>
#include <QTableWidget>
#include <nlohmann/json.hpp>

#include "app/look/look_desk.h"
#include "demo/demo_job.h"
#include "files/files.h"
#include "record/advice/round.h"
#include "window_driver.h"

using namespace clendo;

/// The whole flow in the real window, by keys alone, and what stands in the job, the PDF, the JSON and the CSV afterwards.
class TestWindow : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        applyTheme(*qApp, false);
        demo_ = makeDemo(dir_.path()).value();
    }

    void theDemoJobShowsFacesInAllStates()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        std::set<FaceCondition> seen;
        const JobState& s = w.session()->state();
        for (const auto& link : s.plan->links)
            for (const auto& face : link.faces()) seen.insert(s.face(face).condition);
        QCOMPARE(seen.size(), std::size_t{5});
        QCOMPARE(s.plan->links.size(), std::size_t{24});
        QCOMPARE(s.plan->cables.front().splices.size(), std::size_t{2});
        QVERIFY(s.state("VP-04/1").signature->stands && !s.state("VP-04/2").signature->stands && !s.state("VP-04/4").signature);
    }

    void aLinkFromDirtToCertificate()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        w.deskOf<LookDesk>().useSimulatedScope(demo_.scope);
        WindowDriver d(w);
        const auto state = [&]() -> const JobState& { return w.session()->state(); };
        const auto seen = [&](std::size_t looks) { return [&, looks] { return state().face(w.chosen()).looks.size() == looks; }; };
        // to fibre 7 at end A, behind the adapter, by the arrow keys
        while (w.chosen().link != "VP-04/7") d.key(Qt::Key_Down);
        while (w.chosen().side != Side::Port) d.key(Qt::Key_Right);
        QCOMPARE(w.chosen().text(), std::string("VP-04/7/A/port"));
        QCOMPARE(d.headline(), QStringLiteral("Clean, then look again"));
        QVERIFY(d.text("adviceSentence").contains("zone B"));
        // not fit: mating is refused with the reason
        d.key(Qt::Key_M);
        QVERIFY(d.said().contains("needs cleaning"));
        // clean (what is advised), look again, until it is fit
        int cleanings = 0;
        while (state().face(w.chosen()).condition != FaceCondition::Fit) {
            QVERIFY(cleanings < 5);
            d.inDialog([](QWidget* dialog) { QTest::keyClick(dialog, Qt::Key_Return); });
            d.key(Qt::Key_C);
            QVERIFY(state().face(w.chosen()).condition == FaceCondition::Stale);
            QCOMPARE(d.headline(), QStringLiteral("Look again"));
            const std::size_t before = state().face(w.chosen()).looks.size();
            d.key(Qt::Key_Return);  // the first action: take a picture
            QTRY_VERIFY_WITH_TIMEOUT(seen(before + 1)(), 20000);
            ++cleanings;
        }
        QCOMPARE(d.headline(), QStringLiteral("Fit: now the sleeve"));
        QVERIFY(w.findChild<QWidget*>("look2"));
        d.key(Qt::Key_Return);
        QCOMPARE(d.headline(), QStringLiteral("Fit: mate now"));
        d.key(Qt::Key_Return);
        QVERIFY(state().state("VP-04/7").mated.contains(End::A));
        // end B: both faces unseen; look, clean where needed, mate
        for (int n = 0; n < 2; ++n) {
            d.key(Qt::Key_Right);
            d.key(Qt::Key_P);
            QTRY_VERIFY_WITH_TIMEOUT(!state().face(w.chosen()).looks.empty(), 20000);
            for (int looks = 0; state().face(w.chosen()).condition != FaceCondition::Fit && looks < 5; ++looks) {
                d.inDialog([](QWidget* dialog) { QTest::keyClick(dialog, Qt::Key_Return); });
                d.key(Qt::Key_C);
                const std::size_t before = state().face(w.chosen()).looks.size();
                d.key(Qt::Key_P);
                QTRY_VERIFY_WITH_TIMEOUT(seen(before + 1)(), 20000);
            }
        }
        QVERIFY(w.chosen().connection == End::B);
        d.key(Qt::Key_A);
        d.key(Qt::Key_M);
        QCOMPARE(state().state("VP-04/7").mated.size(), std::size_t{2});
        // light: a new reference, then the readings
        d.key(Qt::Key_R);
        QVERIFY(w.desk() == QLatin1String("loss"));
        auto* first = w.findChild<QLineEdit*>("reference-1310-ab");  // not the one that is missing in the demo
        first->setFocus();
        first->selectAll();
        for (const char* level : {"-7.00 dBm", "-7.10", "-7,30 dBm", "−7.40"}) {
            d.type(level);
            d.key(Qt::Key_Return);
        }
        d.key(Qt::Key_T);
        for (const char* level : {"-8.51", "-8.58", "-8.55 dBm", "-8.67"}) {
            d.type(level);
            d.key(Qt::Key_Return);
        }
        QVERIFY(state().state("VP-04/7").loss);
        const LossReport& loss = *state().state("VP-04/7").loss;
        QVERIFY(qAbs(loss.results[0].lossAb->value() - 1.51) < 1e-9);
        QVERIFY(qAbs(loss.results[0].lossBa->value() - 1.48) < 1e-9);
        QVERIFY(qAbs(loss.results[1].lossAb->value() - 1.25) < 1e-9);
        QVERIFY(qAbs(loss.results[1].lossBa->value() - 1.27) < 1e-9);
        QCOMPARE(d.headline(), QStringLiteral("Within the limit"));
        QVERIFY(d.text("adviceSentence").contains("= 3.30 dB"));
        QCOMPARE(d.text("loss-1310-ab"), QStringLiteral("<b>1.51 dB</b>"));
        // it is the right fibre
        d.key(Qt::Key_F);
        QVERIFY(state().state("VP-04/7").lightSeen->what.out == 7);
        // the traces
        d.key(Qt::Key_3);
        for (const char* file : {"VP-04-07-1310-ab.sor", "VP-04-07-1310-ba.sor", "VP-04-07-1550-ab.sor", "VP-04-07-1550-ba.sor"}) {
            const std::size_t before = state().state("VP-04/7").traces.size();
            const QString path = QDir(demo_.traces).filePath(file);
            d.inDialog([path](QWidget* dialog) {
                auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
                QTest::keyClicks(name, path, Qt::NoModifier, 5);  // the chooser reads folders on a thread as one types
                const auto* open = dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Open);
                QTRY_VERIFY(open->isEnabled());
                QTest::keyClick(name, Qt::Key_Return);
            });
            d.key(Qt::Key_O);
            QTRY_COMPARE(state().state("VP-04/7").traces.size(), before + 1);
        }
        QCOMPARE(state().state("VP-04/7").traces.size(), std::size_t{4});
        QVERIFY(state().state("VP-04/7").traces[1].what.direction == Direction::BtoA);
        QVERIFY(qAbs(state().state("VP-04/7").traces[0].what.found.span->length().value() - 2400) < 5);
        auto* pieces = w.findChild<QTableWidget*>("pieces");
        QVERIFY(pieces->rowCount() >= 4);
        QCOMPARE(pieces->item(1, 0)->text(), QStringLiteral("splice manhole 3"));
        d.key(Qt::Key_D);
        QVERIFY(d.text("traceTitle").contains("1310 nm, A to B"));
        // sign and certify
        d.key(Qt::Key_4);
        QCOMPARE(d.headline(), QStringLiteral("Sign off"));
        d.key(Qt::Key_S);
        QVERIFY(state().state("VP-04/7").signature->stands);
        d.inDialog([](QWidget* dialog) {
            QCOMPARE(dialog->objectName(), QStringLiteral("certificateDialog"));
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_W);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().contains("certificates are in"), 30000);
        QVERIFY(d.said().contains("signed by no key"));
        QDirIterator folder(QFileInfo(demo_.job).dir().filePath("certificates"), {"VP*.pdf", "VP*.json", "VP*.csv"}, QDir::Files,
                            QDirIterator::Subdirectories);
        while (folder.hasNext()) files_ << folder.next();
        const auto rank = [](const QString& file) {  // the fibre's before the cable's; PDF, JSON, CSV
            const QString name = QFileInfo(file).fileName();
            return (name.contains(QRegularExpression("VP-04.7")) ? 0 : 3) + (name.endsWith(".pdf") ? 0 : name.endsWith(".json") ? 1 : 2);
        };
        std::sort(files_.begin(), files_.end(), [&](const QString& a, const QString& b) { return rank(a) < rank(b); });
        QCOMPARE(files_.size(), 6);
        checkFiled(w);
        // the cable cannot be signed while fibres are open
        d.key(Qt::Key_S, Qt::ShiftModifier);
        QVERIFY(d.said().startsWith("Not yet"));
        qInfo("keys pressed for the link: %d", d.keys);
    }

    void whatStandsInTheCertificate()
    {
        QVERIFY(!files_.isEmpty());
        QProcess pdf;
        pdf.start(PDFTOTEXT, {"-layout", files_[0], "-"});
        QVERIFY(pdf.waitForFinished());
        const QString text = QString::fromUtf8(pdf.readAllStandardOutput());
        for (const char* wanted : {"Certificate VP-04/7", "Tide Hall to Breakwater Hut", "1.51", "1.48", "3.30", "Fibre 7, red", "before", "after",
                                   "Traces, 1550 nm", "technician 1", "licensed copy", "one-cord", "PM-2207", "LS-3310"})
            QVERIFY2(text.contains(QString::fromUtf8(wanted)), wanted);
        const auto json = nlohmann::json::parse(readFile(files_[1].toStdString()).value());
        QCOMPARE(json["cables"][0]["links"].size(), std::size_t{1});
        QCOMPARE(json["cables"][0]["links"][0]["verdict"], "pass");
        QCOMPARE(json["cables"][0]["links"][0]["loss"]["results"][0]["loss_ab_db"], 1.51);
        QCOMPARE(json["cables"][0]["links"][0]["traces"].size(), std::size_t{4});
        QCOMPARE(json["cables"][0]["links"][0]["tier"], 2);
        QCOMPARE(json["cables"][0]["links"][0]["signature"]["state"], "stands");
        for (const auto& face : json["cables"][0]["links"][0]["faces"]) QCOMPARE(face["condition"], "fit");
        QVERIFY(readFile(files_[2].toStdString())->find("VP-04/7,7,red,1310,1.510,1.480") != std::string::npos);
        const auto whole = nlohmann::json::parse(readFile(files_[4].toStdString()).value());
        QCOMPARE(whole["cables"][0]["links"].size(), std::size_t{12});
    }

    void everythingIsWhereItWas()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        const JobState& s = w.session()->state();
        QVERIFY(s.state("VP-04/7").signature->stands);
        QCOMPARE(s.state("VP-04/7").traces.size(), std::size_t{4});
        QVERIFY(s.face({"VP-04/7", End::A, Side::Port}).looks.size() >= 2);
        QVERIFY(w.session()->service().evidence(s.face({"VP-04/7", End::A, Side::Port}).looks[0].seen.picture).get());
        QCOMPARE(w.session()->entries().size(), entries_);
        for (const auto& step : roundOf(s).left) QVERIFY(step.link != "VP-04/7");
    }

    void theNextStepIsAlwaysOneKeyAway()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        d.key(Qt::Key_N);
        QVERIFY(w.desk() == QLatin1String("look"));
        const auto first = w.chosen();
        d.key(Qt::Key_Space);
        QVERIFY(w.chosen() != first);
        QVERIFY(d.text("nextStep").contains("Tide Hall"));
        QVERIFY(d.text("roundProgress").contains("of 204 done"));
    }

    void aSecondJobFromNothing()
    {
        const QString path = dir_.filePath("second.clendo");
        {
            MainWindow w;
            QVERIFY(created(w, path, "Sea wall"));
            WindowDriver d(w);
            QCOMPARE(d.headline(), QStringLiteral("Plan the first cable"));
            d.inDialog([](QWidget* dialog) {
                const auto fill = [&](const char* name, const QString& text) { QTest::keyClicks(dialog->findChild<QLineEdit*>(name), text); };
                fill("cableId", "VP-20");
                fill("placeA", "Tide Hall");
                fill("cableLength", "0,8 km");
                QTest::keyClick(dialog->findChild<QLineEdit*>("cableLength"), Qt::Key_Return);  // not complete yet
                QVERIFY(dialog->isVisible());
                QVERIFY(!dialog->findChild<QLabel*>("planTrouble")->text().isEmpty());
                QCOMPARE(dialog->focusWidget()->objectName(), QStringLiteral("placeB"));  // the one that is missing
                const auto drawn = [&] { return dialog->findChild<QWidget*>("planDrawing")->accessibleName(); };
                QVERIFY(drawn().contains("Tide Hall") && drawn().contains("VP-20/12 aqua"));
                fill("placeB", "Boathouse");
                fill("splices", "400 quay");
                QVERIFY(drawn().contains("Boathouse"));
                QTest::keyClick(dialog->findChild<QLineEdit*>("splices"), Qt::Key_Return);
            });
            d.key(Qt::Key_B);
            QCOMPARE(w.session()->state().plan->links.size(), std::size_t{12});
            QCOMPARE(w.session()->state().plan->cables[0].length.value(), 800.0);
            QCOMPARE(w.chosen().link, std::string("VP-20/1"));
        }
        MainWindow again;
        QVERIFY(opened(again, path));
        QCOMPARE(again.session()->state().plan->job.name, std::string("Sea wall"));
        QCOMPARE(again.session()->state().plan->cables[0].splices[0].name, std::string("quay"));
    }

    void takingBackAndDarkTheme()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        while (w.chosen().link != "VP-04/12") d.key(Qt::Key_Down);
        d.inDialog([](QWidget* dialog) {
            QTest::keyClick(dialog, Qt::Key_2);
            QTest::keyClick(dialog, Qt::Key_Plus);
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_C);
        const auto cleaned = w.session()->state().face(w.chosen()).cleanedSince;
        QCOMPARE(cleaned.size(), std::size_t{1});
        QCOMPARE(cleaned[0].method, std::string("wet-then-dry"));
        QCOMPARE(cleaned[0].strokes, 2);
        d.key(Qt::Key_Z);
        QVERIFY(w.session()->state().face(w.chosen()).cleanedSince.empty());
        QVERIFY(d.said().startsWith("Taken back"));
        applyTheme(*qApp, true);
        QVERIFY(theme().dark);
        applyTheme(*qApp, false);
    }

    void textOnItsGroundIsReadable_data()
    {
        QTest::addColumn<bool>("dark");
        QTest::newRow("light") << false;
        QTest::newRow("dark") << true;
    }
    void textOnItsGroundIsReadable()
    {
        QFETCH(bool, dark);
        applyTheme(*qApp, dark);
        const auto luminance = [](const QColor& c) {
            const auto part = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
            return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
        };
        const auto contrast = [&](const QColor& a, const QColor& b) {
            const double x = luminance(a), y = luminance(b);
            return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
        };
        const Theme& t = theme();
        for (const QColor& ground : {t.ground, t.panel, t.card, t.chosen})
            for (const QColor& text : {t.ink, t.soft, t.fit, t.work, t.damaged})
                QVERIFY2(contrast(text, ground) >= 4.5,
                         qPrintable(QStringLiteral("%1 on %2: %3").arg(text.name(), ground.name()).arg(contrast(text, ground))));
        QVERIFY(contrast(t.barText, t.bar) >= 4.5);
        applyTheme(*qApp, false);
    }

private:
    void checkFiled(MainWindow& w)
    {
        entries_ = w.session()->entries().size();
        int looks = 0, cleanings = 0, readings = 0, traces = 0;
        for (const auto& entry : w.session()->entries()) {
            if (const auto* f = std::get_if<FaceSeen>(&entry.fact)) looks += f->face.link == "VP-04/7";
            if (const auto* f = std::get_if<FaceCleaned>(&entry.fact)) cleanings += f->face.link == "VP-04/7";
            if (const auto* f = std::get_if<PowerRead>(&entry.fact)) readings += f->link == "VP-04/7";
            if (const auto* f = std::get_if<TraceShot>(&entry.fact)) traces += f->link == "VP-04/7";
        }
        QVERIFY(looks >= 5 && cleanings >= 1);
        QCOMPARE(readings, 4);
        QCOMPARE(traces, 4);
    }

    QTemporaryDir dir_;
    DemoFolder demo_;
    QStringList files_;
    std::size_t entries_ = 0;
};
QTEST_MAIN(TestWindow)
#include "test_window.moc"
