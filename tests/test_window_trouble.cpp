#include <time.h>

#include <QComboBox>
#include <QImage>

#include "app/frame/job_commands.h"
#include "app/look/look_desk.h"
#include "app/look/look_view.h"
#include "app/trace/trace_desk.h"
#include "app/trace/trace_intake.h"
#include "files/files.h"
#include "record/journal/time_text.h"
#include "record/rules/trace_naming.h"
#include "record/state/complete_act.h"
#include "window_driver.h"

using namespace clendo;

/// Bad input in the window: a clear sentence, and nothing that was filed is lost.
class TestWindowTrouble : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { applyTheme(*qApp, false); }
    void init()
    {
        path_ = dir_.filePath(QString::number(++n_) + ".clendo");
        window_ = std::make_unique<MainWindow>();
        QVERIFY(created(*window_, path_, "Varrow Point"));
        QVERIFY(filed(*window_->session(), CablePlanned{varrow()}));
        window_->choose({"VP-04/1", End::A, Side::Cord});
    }
    void cleanup() { window_.reset(); }

    void badPictures_data()
    {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("says");
        QTest::newRow("not a picture") << "text"
                                       << "not a picture";
        QTest::newRow("1 x 1") << "pixel"
                               << "only 1 × 1";
        QTest::newRow("20,000 wide") << "wide"
                                     << "20000";
        QTest::newRow("missing") << "missing"
                                 << "not a file";
    }
    void badPictures()
    {
        QFETCH(QString, kind);
        QFETCH(QString, says);
        WindowDriver d(*window_);
        const QString file = dir_.filePath(kind + ".png");
        if (kind == "text") QVERIFY(writeFile(file.toStdString(), "hello"));
        if (kind == "pixel") QImage(1, 1, QImage::Format_RGB32).save(file);
        if (kind == "wide") QImage(20000, 30, QImage::Format_Grayscale8).save(file);
        const auto entries = window_->session()->entries().size();
        window_->deskOf<LookDesk>().take(file);
        QTRY_VERIFY2_WITH_TIMEOUT(d.said().contains(says), qPrintable(d.said()), 10000);
        QCOMPARE(window_->session()->entries().size(), entries);
    }
    void aBlackPictureIsFiledAsNoEvidence()
    {
        WindowDriver d(*window_);
        QImage black(640, 480, QImage::Format_Grayscale8);
        black.fill(0);
        black.save(dir_.filePath("black.png"));
        window_->deskOf<LookDesk>().take(dir_.filePath("black.png"));
        QTRY_COMPARE_WITH_TIMEOUT(d.headline(), QStringLiteral("Take the picture again"), 10000);
        QVERIFY(d.text("adviceSentence").contains("too dark"));
        QVERIFY(window_->session()->state().face(window_->chosen()).condition == FaceCondition::NotSeen);
    }
    void aPictureStaysWithItsFace()
    {
        // the user moves on while the picture is judged
        QImage black(640, 480, QImage::Format_Grayscale8);
        black.fill(0);
        black.save(dir_.filePath("late.png"));
        const FaceId face = window_->chosen();
        window_->deskOf<LookDesk>().take(dir_.filePath("late.png"));
        window_->choose({"VP-04/2", End::B, Side::Port});
        QTRY_COMPARE_WITH_TIMEOUT(window_->session()->state().face(face).looks.size(), std::size_t{1}, 10000);
        QVERIFY(window_->session()->state().face({"VP-04/2", End::B, Side::Port}).looks.empty());
    }
    void badTraces_data()
    {
        QTest::addColumn<QString>("file");
        QTest::newRow("cut off") << "damaged-cut_header.sor";
        QTest::newRow("index 0") << "damaged-index_zero.sor";
        QTest::newRow("text") << "damaged-text.sor";
    }
    void badTraces()
    {
        QFETCH(QString, file);
        WindowDriver d(*window_);
        const auto entries = window_->session()->entries().size();
        window_->deskOf<TraceDesk>().take(QString(TEST_DATA "/traces/") + file);
        QTRY_VERIFY(d.said().contains(file));
        QVERIFY(d.said().size() > file.size() + 20);
        QCOMPARE(window_->session()->entries().size(), entries);
    }
    void aDamagedButReadableTraceIsFiledWithAWarning()
    {
        WindowDriver d(*window_);
        // neither its header nor its name says from which end it was shot: that is asked, never guessed
        d.inDialogToCome([](QWidget* dialog) {
            dialog->findChild<QComboBox*>()->setCurrentIndex(1);
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        window_->deskOf<TraceDesk>().take(QString(TEST_DATA "/traces/damaged-bad_sum.sor"));
        QTRY_VERIFY(d.said().contains("checksum"));
        QCOMPARE(window_->session()->state().state("VP-04/1").traces.size(), std::size_t{1});
        QVERIFY(window_->session()->state().state("VP-04/1").traces.front().what.direction == Direction::BtoA);
        d.inDialogToCome([](QWidget* dialog) { QTest::keyClick(dialog, Qt::Key_Escape); });
        window_->deskOf<TraceDesk>().take(QString(TEST_DATA "/traces/damaged-bad_sum.sor"));
        QTRY_VERIFY(d.said().startsWith("Not filed"));
        QCOMPARE(window_->session()->state().state("VP-04/1").traces.size(), std::size_t{1});
    }
    void fromWhichEndATraceWasShot_data()
    {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("way");
        QTest::newRow("header, A") << "Tide Hall"
                                   << "Breakwater Hut"
                                   << "x-ba.sor"
                                   << "ab";
        QTest::newRow("header, B") << "Breakwater Hut"
                                   << ""
                                   << "x.sor"
                                   << "ba";
        QTest::newRow("header, only where it went") << ""
                                                    << "Breakwater Hut"
                                                    << "x.sor"
                                                    << "ab";
        QTest::newRow("name") << ""
                              << ""
                              << "VP-04-01-1310-ba.sor"
                              << "ba";
        QTest::newRow("name, capitals") << "van 3"
                                        << ""
                                        << "AB_01.SOR"
                                        << "ab";
        QTest::newRow("a part of a word is none") << ""
                                                  << ""
                                                  << "cable-lab-01.sor"
                                                  << "";
        QTest::newRow("both") << ""
                              << ""
                              << "ab-ba.sor"
                              << "";
        QTest::newRow("neither") << ""
                                 << ""
                                 << "0001.sor"
                                 << "";
    }
    void fromWhichEndATraceWasShot()
    {
        QFETCH(const QString, from);
        QFETCH(const QString, to);
        QFETCH(const QString, file);
        QFETCH(const QString, way);
        otdr::Trace trace;
        trace.locationA = from.toStdString();
        trace.locationB = to.toStdString();
        const auto is = shotFrom(trace, file.toStdString(), "Tide Hall", "Breakwater Hut");
        QCOMPARE(is ? QString::fromStdString(std::string(name(*is))) : QString(), way);
    }
    void aJobThatIsLeftFilesWhatWasBeingJudged()
    {
        QImage black(1600, 1200, QImage::Format_Grayscale8);
        black.fill(0);
        black.save(dir_.filePath("left.png"));
        const FaceId face = window_->chosen();
        window_->deskOf<LookDesk>().take(dir_.filePath("left.png"));
        QVERIFY(created(*window_, dir_.filePath("next.clendo"), "Next"));
        QVERIFY(window_->session()->state().faces.empty());
        WindowDriver d(*window_);
        // the window does not go before it is filed either
        window_->close();
        QTRY_VERIFY_WITH_TIMEOUT(!window_->isVisible(), 10000);
        window_.reset();
        const auto job = readJob(path_);
        QVERIFY(job);
        QCOMPARE(job->fold.state().face(face).looks.size(), std::size_t{1});
    }
    void whatWasJustFiledIsThereWhenTheWindowGoes()
    {
        WindowDriver d(*window_);
        window_->session()->file(FaceHandled{window_->chosen(), "touched"});
        window_->close();
        QTRY_VERIFY(!window_->isVisible());
        window_.reset();
        const auto job = readJob(path_);
        QVERIFY(job && std::holds_alternative<FaceHandled>(job->journal.back().fact));
    }
    void whatCouldNotBeFiledKeepsTheWindow()
    {
        WindowDriver d(*window_);
        using Pages = Result<int>;
        QVERIFY(window_->session()->service().withStore<int>([](JobStore& store) { return store.limitPages(store.pageCount()), Pages(0); }).get());
        const std::string noise(3'000'000, 'x');
        window_->session()->file(Filing{{FaceSeen{window_->chosen(), sha256(noise), "a.png", {}, {}}}, {{"a.png", noise}}, 0});
        window_->close();
        QTRY_VERIFY2(d.said().contains("disk is full"), qPrintable(d.said()));
        QTest::qWait(50);
        QVERIFY(window_->isVisible());
        window_->close();  // it was read
        QTRY_VERIFY(!window_->isVisible());
    }
    void aSecondClickDoesNotOpenAJobTwice()
    {
        const QString other = dir_.filePath("twice.clendo");
        QVERIFY(createJob(other, JobSettings{}, "technician 1"));
        window_->openJob(other);
        window_->openJob(other);
        QTRY_VERIFY(!window_->opening());
        QCOMPARE(window_->session()->path(), QFileInfo(other).canonicalFilePath());
        QVERIFY2(window_->session()->jobFile().readOnlyReason.empty(), window_->session()->jobFile().readOnlyReason.c_str());
    }
    void aPictureIsAsOldAsItsFile()
    {
        WindowDriver d(*window_);
        QImage grey(640, 480, QImage::Format_Grayscale8);
        grey.fill(0);
        const QString path = dir_.filePath("old.png");
        grey.save(path);
        const FaceId face = window_->chosen();
        const auto last = [&] { return window_->session()->entries().back(); };
        // taken, then the face was touched, then somebody opens the file
        QTest::qWait(30);
        QVERIFY(filed(*window_->session(), FaceHandled{face, "touched"}));
        const auto touched = last().happened;
        window_->deskOf<LookDesk>().take(path);
        QTRY_COMPARE_WITH_TIMEOUT(window_->session()->state().face(face).looks.size(), std::size_t{1}, 10000);
        QVERIFY(last().happened < touched);
        QVERIFY(window_->session()->state().face(face).condition == FaceCondition::Stale);
        // a camera without a clock: the moment at which it was chosen is all that is known
        QFile file(path);
        QVERIFY(file.open(QIODevice::ReadWrite));
        QVERIFY(file.setFileTime(QDateTime::fromSecsSinceEpoch(315532800), QFileDevice::FileModificationTime));
        file.close();
        window_->deskOf<LookDesk>().take(path);
        QTRY_COMPARE_WITH_TIMEOUT(window_->session()->state().face(face).looks.size(), std::size_t{2}, 10000);
        QVERIFY(last().happened > touched);
    }
    void aDateIsTheSameEverywhere()
    {
        const QByteArray zone = qgetenv("TZ");
        for (const char* place : {"America/Los_Angeles", "Pacific/Kiritimati"}) {
            qputenv("TZ", place);
            tzset();
            const QString id = QString(place).section('/', 1);
            WindowDriver d(*window_);
            QString said;
            d.inDialog([&](QWidget* dialog) {
                dialog->findChild<QComboBox*>("kitKind")->setCurrentText("power meter");
                dialog->findChild<QLineEdit*>("kitUntil")->setText("2027-03-01");
                auto* name = dialog->findChild<QLineEdit*>("kitId");
                name->setFocus();
                name->setText(id);
                QTest::keyClick(name, Qt::Key_Return);
                said = dialog->findChild<QWidget*>("kitSaid")->accessibleName();
                QTest::keyClick(dialog, Qt::Key_Escape);
            });
            for (auto* action : window_->actions())
                if (action->shortcut() == QKeySequence(Qt::Key_F5)) action->trigger();
            d.settle();
            const auto& kit = window_->session()->state().kit;
            QVERIFY2(kit.contains(id.toStdString()), qPrintable(said));
            QCOMPARE(timeText(kit.find(id.toStdString())->second.what.calibratedUntil).substr(0, 10), std::string("2027-03-01"));
        }
        zone.isEmpty() ? qunsetenv("TZ") : qputenv("TZ", zone);
        tzset();
    }
    void badReadings_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("says");
        QTest::newRow("a ratio") << "-8.6 dB"
                                 << "ratio";
        QTest::newRow("impossible") << "-863"
                                    << "outside";
        QTest::newRow("no number") << "eight"
                                   << "not a reading";
        QTest::newRow("nothing") << ""
                                 << "not a reading";
    }
    void badReadings()
    {
        QFETCH(QString, typed);
        QFETCH(QString, says);
        WindowDriver d(*window_);
        d.key(Qt::Key_R);
        auto* field = window_->findChild<QLineEdit*>("reference-1310-ab");
        QVERIFY(field->hasFocus());
        d.type(typed);
        d.key(Qt::Key_Return);
        QVERIFY2(d.text("lossTrouble").contains(says), qPrintable(d.text("lossTrouble")));
        QVERIFY(window_->session()->state().references.empty());
        QCOMPARE(field->text(), typed);  // what was typed stays to be mended
        QVERIFY(field->hasFocus());
        field->selectAll();
        d.type("-7,02 dBm");
        d.key(Qt::Key_Return);
        QCOMPARE(window_->session()->state().references.begin()->second.level.value(), -7.02);
        QVERIFY(d.text("lossTrouble").isEmpty());
    }
    void aReadingWithoutAReferenceIsNotValid()
    {
        WindowDriver d(*window_);
        d.key(Qt::Key_T);
        d.type("-8.6");
        d.key(Qt::Key_Return);
        d.key(Qt::Key_Escape);
        QCOMPARE(d.headline(), QStringLiteral("Not valid: reference first"));
    }
    void aFullDiskIsSaidAndNothingIsHalfFiled()
    {
        WindowDriver d(*window_);
        using Pages = Result<int>;
        QVERIFY(window_->session()->service().withStore<int>([](JobStore& store) { return store.limitPages(store.pageCount()), Pages(0); }).get());
        std::string noise(3'000'000, 'x');
        const auto before = window_->session()->entries().size();
        QVERIFY(!filed(*window_->session(), Filing{{FaceSeen{window_->chosen(), sha256(noise), "a.png", {}, {}}}, {{"a.png", noise}}, 0}));
        QVERIFY(d.said().contains("disk is full"));
        QCOMPARE(window_->session()->entries().size(), before);
        auto records =
            window_->session()->service().withStore<std::size_t>([](JobStore& store) { return Result<std::size_t>(store.records().size()); });
        QCOMPARE(records.get().value(), before);
    }
    void badJobsLeaveTheOpenOneOpen_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::newRow("not SQLite") << QByteArray("just text");
        QTest::newRow("empty") << QByteArray();
    }
    void badJobsLeaveTheOpenOneOpen()
    {
        QFETCH(QByteArray, bytes);
        WindowDriver d(*window_);
        const QString bad = dir_.filePath("bad.clendo");
        QVERIFY(writeFile(bad.toStdString(), bytes.toStdString()));
        QVERIFY(!opened(*window_, bad));
        QVERIFY(d.said().contains("can be read as a job"));
        QCOMPARE(window_->session()->path(), path_);
    }
    void aDamagedJobIsSavedAndGoesOn()
    {
        for (int n = 0; n < 30; ++n) QVERIFY(filed(*window_->session(), FaceHandled{window_->chosen(), "touched"}));
        const std::string whole = readFile(path_.toStdString()).value();
        const QString torn = dir_.filePath("torn.clendo"), saved = dir_.filePath("torn (saved).clendo");
        QVERIFY(writeFile(torn.toStdString(), whole.substr(0, whole.size() * 8 / 10)));
        WindowDriver d(*window_);
        QVERIFY(opened(*window_, torn));
        QVERIFY2(d.said().contains("damaged"), qPrintable(d.said()));
        QVERIFY(d.text("rulesLabel").startsWith("damaged, can only be read"));
        QVERIFY(!filed(*window_->session(), FaceCleaned{window_->chosen(), "dry", 1, {}}));
        d.key(Qt::Key_W);
        QVERIFY2(d.said().contains("damaged") || !window_->session()->state().link(window_->chosen().link), qPrintable(d.said()));
        saveWhatIsLeft(*window_, saved);
        QTRY_COMPARE(window_->session()->path(), QFileInfo(saved).canonicalFilePath());
        QTRY_VERIFY(d.said().startsWith("Saved and opened"));
        QVERIFY(!window_->session()->state().losses.empty());
        QVERIFY(filed(*window_->session(), CablePlanned{varrow()}));
    }
    void aJobThatIsLostUnderTheWindowGoesOnInACopy()
    {
        WindowDriver d(*window_);
        const auto before = window_->session()->entries().size();
        QVERIFY(QFile::rename(path_, path_ + ".away"));
        QVERIFY(filed(*window_->session(), FaceHandled{window_->chosen(), "touched"}));
        QVERIFY2(d.said().contains("Nothing that was filed is lost"), qPrintable(d.said()));
        QCOMPARE(window_->session()->jobFile().rescuedFrom, path_);
        QCOMPARE(window_->session()->entries().size(), before + 1);
        QVERIFY(window_->session()->path() != path_);
        QVERIFY(QFile::rename(path_ + ".away", path_));
        const QString copy = window_->session()->path();
        QVERIFY(window_->session()->service().joinAgain().get());
        QVERIFY(opened(*window_, path_));
        QCOMPARE(window_->session()->entries().size(), before + 1);
        QVERIFY(QFile::exists(copy));
    }
    void zTakesBackAWholeActAndASetting()
    {
        WindowDriver d(*window_);
        JobSession& session = *window_->session();
        filed(session, KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false});
        QVERIFY(filed(session, std::vector<Fact>{KitProved{"RC-1", "a", true}, KitProved{"RC-1", "b", true}, KitProved{"RC-1", "c", true}}));
        JobSettings job = session.state().plan->job;
        job.attempts = 2;
        QVERIFY(filed(session, settingFacts(session.state().plan->job, job)));
        d.key(Qt::Key_Z);
        QCOMPARE(session.state().plan->job.attempts, 5);
        QCOMPARE(session.state().kit.at("RC-1").proofs.size(), std::size_t{3});
        d.key(Qt::Key_Z);
        QVERIFY2(d.said().contains("and 2 more"), qPrintable(d.said()));
        QVERIFY(session.state().kit.at("RC-1").proofs.empty());
        session.setWho("technician 2");
        d.key(Qt::Key_Z);  // what is left is somebody else's
        QVERIFY(d.said().contains("nothing of yours"));
        QVERIFY(session.state().kit.contains("RC-1"));
    }
    void zAndZGoBehindTheRulesThatAnActKept()
    {
        WindowDriver d(*window_);
        JobSession& session = *window_->session();
        QVERIFY(filed(session, KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false}));
        d.key(Qt::Key_Z);
        QVERIFY(session.state().kit.empty());
        d.key(Qt::Key_Z);  // the cable: the job kept its limits with that act
        QVERIFY(session.state().plan->cables.empty());
        QVERIFY(session.state().plan->keptRules.contains("limits/generic-sm.json"));
        d.key(Qt::Key_Z);
        QVERIFY2(d.said().contains("nothing of yours"), qPrintable(d.said()));
        QCOMPARE(session.state().plan->job.name, std::string("Varrow Point"));
    }
    void thePictureThatWasFiledTwiceIsSaid()
    {
        WindowDriver d(*window_);
        const QString file = TEST_DATA "/faces/passes-dusty.jpg";
        window_->deskOf<LookDesk>().take(file);
        QTRY_VERIFY_WITH_TIMEOUT(!window_->session()->state().face(window_->chosen()).looks.empty(), 20000);
        d.settle();
        QVERIFY(!d.said().contains("filed before"));
        window_->deskOf<LookDesk>().take(file);
        QTRY_VERIFY2_WITH_TIMEOUT(d.said().contains("the very same picture was filed before", Qt::CaseInsensitive), qPrintable(d.said()), 20000);
    }
    void aSecondWindowSaysThatItOnlyReads()
    {
        MainWindow second;
        QVERIFY(opened(second, path_));
        WindowDriver d(second);
        QVERIFY(d.said().contains("another window"));
        second.choose({"VP-04/1", End::A, Side::Cord});
        QVERIFY(!filed(*second.session(), FaceCleaned{second.chosen(), "dry", 1}));
        QVERIFY(d.said().startsWith("Not saved"));
        QVERIFY(filed(*window_->session(), FaceCleaned{window_->chosen(), "dry", 1}));
    }
    void keysWithoutAJobHarmNothing()
    {
        MainWindow empty;
        WindowDriver d(empty);
        const auto giveUp = [&] { d.inDialog([](QWidget* asked) { QTest::keyClick(asked, Qt::Key_Escape); }); };
        for (int k = Qt::Key_A; k <= Qt::Key_Z; ++k) {
            if (k == Qt::Key_O) giveUp();  // a picture needs no job
            d.key(Qt::Key(k));
        }
        for (const auto k : {Qt::Key_1, Qt::Key_2, Qt::Key_3, Qt::Key_4, Qt::Key_Return, Qt::Key_Left, Qt::Key_Down, Qt::Key_Space, Qt::Key_Escape}) {
            if (k == Qt::Key_Return) giveUp();  // the first thing to do is to open a job
            d.key(k);
        }
        QCOMPARE(d.headline(), QStringLiteral("Open or make a job"));
        empty.deskOf<LookDesk>().take("/no/such.png");
        QVERIFY(d.said().contains("Open a job"));
    }

private:
    static CablePlan varrow()
    {
        CablePlan c;
        c.id = "VP-04";
        c.placeA = c.panelA = "Tide Hall";
        c.placeB = c.panelB = "Breakwater Hut";
        c.fibres = 2;
        c.length = Metre(2400);
        return c;
    }

    QTemporaryDir dir_;
    QString path_;
    std::unique_ptr<MainWindow> window_;
    int n_ = 0;
};
QTEST_MAIN(TestWindowTrouble)
#include "test_window_trouble.moc"
