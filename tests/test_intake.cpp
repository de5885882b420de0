#include <QLineEdit>
#include <QListWidget>
#include <QTableView>
#include <nlohmann/json.hpp>

#include "app/batch/batch_desk.h"
#include "app/batch/batch_view.h"
#include "app/look/face_elsewhere.h"
#include "app/look/look_desk.h"
#include "app/widgets/face_picture.h"
#include "app/widgets/live_picture.h"
#include "demo/demo_job.h"
#include "files/files.h"
#include "modules/vision.h"
#include "pictures/decode.h"
#include "varrow_journal.h"
#include "window_driver.h"

using namespace clendo;

/// How pictures come into the window: live, a row at once, a folder, a line of cords.
class TestIntake : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        applyTheme(*qApp, false);
        demo_ = makeDemo(dir_.path()).value();
    }

    void aCaptureFromTheLivePictureFilesTheSharpestLook()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        const FaceId face{"VP-04/11", End::A, Side::Cord};
        w.choose(face);
        d.key(Qt::Key_V);
        QVERIFY(d.said().contains("Choose a scope"));
        w.deskOf<LookDesk>().live().useSimulatedScope();
        d.key(Qt::Key_V);
        auto* picture = w.findChild<FacePicture*>("facePicture");
        QTRY_VERIFY(picture->accessibleName().startsWith("live, not filed"));
        QTRY_VERIFY_WITH_TIMEOUT(w.deskOf<LookDesk>().live().scope()->judged() > 1, 10000);
        d.key(Qt::Key_P);  // out of focus
        QVERIFY2(d.said().contains("Nothing was taken"), qPrintable(d.said()));
        QVERIFY(w.session()->state().face(face).looks.empty());
        for (int i = 0; i < 6; ++i) d.key(Qt::Key_Period);
        if (!QTest::qWaitFor([&] { return w.deskOf<LookDesk>().live().scope()->sharpest() != nullptr; }, 4000))
            for (int i = 0; i < 12; ++i) d.key(Qt::Key_Comma);
        QTRY_VERIFY_WITH_TIMEOUT(w.deskOf<LookDesk>().live().scope()->usableFrames().size() >= 4, 10000);
        d.key(Qt::Key_P);
        QTRY_COMPARE_WITH_TIMEOUT(w.session()->state().face(face).looks.size(), std::size_t(1), 20000);
        const FaceSeen seen = w.session()->state().face(face).looks[0].seen;
        QVERIFY(seen.frames && seen.frames->used >= 3 && seen.frames->used <= seen.frames->taken && seen.frames->best != seen.picture);
        QVERIFY(w.session()->service().evidence(seen.frames->best).get());  // its best single frame is kept beside it
        const auto& entry = *std::find_if(w.session()->entries().begin(), w.session()->entries().end(),
                                          [&](const Entry& e) { return evidenceOf(e.fact) == seen.picture; });
        QVERIFY(
            sentenceOf(entry.fact, w.session()->state()).ends_with(QStringLiteral("combined from %1 frames").arg(seen.frames->used).toStdString()));
        QVERIFY(!w.deskOf<LookDesk>().live().running());  // frozen: what is seen is what was filed
        QVERIFY(picture->accessibleName().isEmpty());
        QVERIFY(w.session()->state().face(face).lastJudged());
        QVERIFY(w.session()->service().evidence(w.session()->state().face(face).looks[0].seen.picture).get());
        d.key(Qt::Key_V);
        QVERIFY(w.deskOf<LookDesk>().live().running());
        d.key(Qt::Key_2);  // nobody sees it there
        QVERIFY(!w.deskOf<LookDesk>().live().running());
    }
    /// A port is the same for years, whatever a job calls it.
    void aFaceIsFoundInAnotherJob()
    {
        QTemporaryDir dir;
        const FaceId pitted{"VP-04/8", End::A, Side::Port}, first{"VP-04/1", End::A, Side::Port}, second{"VP-04/2", End::A, Side::Port};
        const auto job = [&](MainWindow& w, const QString& name) {
            const bool made = created(w, dir.filePath(name + ".clendo"), name);
            w.session()->file(CablePlanned{varrowCable(2)});
            w.session()->settle();
            return made;
        };
        const auto look = [&](MainWindow& w, const FaceId& of, const FaceId& as, int cleanings) {
            const QString file = dir.filePath("look.png");
            QVERIFY(writeFile(file.toStdString(), encodePng(vision()->simulatedPicture(of, cleanings))));
            w.choose(as);
            w.deskOf<LookDesk>().take(file);
            QTRY_VERIFY_WITH_TIMEOUT(!w.session()->state().face(as).looks.empty(), 20000);
        };
        {
            MainWindow then;
            QVERIFY(job(then, "Last year"));
            look(then, pitted, second, 5);
        }
        MainWindow w;
        QVERIFY(job(w, "This year"));
        look(w, pitted, first, 6);
        look(w, {"VP-04/1", End::A, Side::Cord}, second, 1);
        const auto searched = [&](const FaceId& id, const QString& name) {
            auto future = searchElsewhere(*w.session(), lastLooks(w.session()->state(), id, {}).front(), dir.filePath(name));
            future.waitForFinished();
            return future.result();
        };
        const auto found = searched(first, "Last year.clendo");
        QVERIFY2(found && found->startsWith("TH-R2 port 1, behind is TH-R2 port 2, behind of “Last year”, seen 20"),
                 qPrintable(found.value_or(QString())));
        QVERIFY2(found->contains("marks lie over each other, by chance in less than 1 in 10 000 of searches"), qPrintable(*found));
        const auto none = searched(second, "Last year.clendo");
        QVERIFY2(none && none->contains("was not found among the only face of “Last year”"), qPrintable(none.value_or(QString())));
        QVERIFY(!searched(first, "no such job.clendo"));
    }
    void aWrongFaceIsPointedOut()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        const FaceId pitted{"VP-04/8", End::A, Side::Port};
        const auto look = [&](const FaceId& of, const FaceId& as, int cleanings) {
            QTemporaryDir dir;
            const QString file = dir.filePath("look.png");
            QVERIFY(writeFile(file.toStdString(), encodePng(vision()->simulatedPicture(of, cleanings))));
            w.choose(as);
            const std::size_t before = w.session()->state().face(as).looks.size();
            w.deskOf<LookDesk>().take(file);
            QTRY_COMPARE_WITH_TIMEOUT(w.session()->state().face(as).looks.size(), before + 1, 20000);
        };
        look(pitted, pitted, 5);
        w.session()->workers().waitForDone();
        look(pitted, FaceId{"VP-04/5", End::A, Side::Port}, 6);  // another picture of the same face
        QTRY_VERIFY2_WITH_TIMEOUT(d.said().contains("This looks like"), qPrintable(d.said()), 20000);
        QVERIFY2(d.said().contains("port 8") || d.said().contains("VP-04-8"), qPrintable(d.said()));
    }
    void onePictureJudgesAWholeFerrule()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.deskOf<LookDesk>().useSimulatedScope(demo_.scope);
        const FaceId face{"VP-11/5", End::B, Side::Port};
        w.choose(face);
        QVERIFY(d.text("ferruleTally").contains("0 of 12 fibres fit"));
        d.key(Qt::Key_P);
        QTRY_VERIFY_WITH_TIMEOUT(d.text("ferruleTally").contains("12 of 12 fibres fit"), 20000);
        QVERIFY(d.text("ferruleTally").contains("Guide holes"));
        QTest::mouseClick(w.findChild<QWidget*>("fibre9"), Qt::LeftButton);
        QCOMPARE(w.chosen().link, std::string("VP-11/9"));
        d.key(Qt::Key_K);
        QVERIFY(d.text("ferruleTally").contains("Key down"));
        d.key(Qt::Key_Z);  // the picture goes back as a whole
        QVERIFY(d.text("ferruleTally").contains("0 of 12 fibres fit"));
    }
    void aFolderOfCordsIsJudgedAndExported()
    {
        MainWindow w;
        WindowDriver d(w);  // without a job
        d.key(Qt::Key_5);
        QCOMPARE(d.headline(), QString("Batch inspection"));
        w.deskOf<BatchDesk>().sheet().judgeFolder(demo_.line);
        QTRY_VERIFY_WITH_TIMEOUT(!w.deskOf<BatchDesk>().sheet().busy() && w.deskOf<BatchDesk>().sheet().sheet().taken().size() == 15, 30000);
        QCOMPARE(d.headline(), QString("4 of 15 fail"));
        const auto* table = w.findChild<QTableView*>("sheet");
        QCOMPARE(table->model()->index(0, 1).data().toString(), QString("fail"));
        QTemporaryDir dir;
        w.deskOf<BatchDesk>().sheet().exportTo(dir.filePath("sheet.csv"));
        QTRY_VERIFY(d.said().contains("sheet.csv"));
        w.deskOf<BatchDesk>().sheet().exportTo(dir.filePath("sheet.json"));
        QTRY_VERIFY(d.said().contains("sheet.json"));
        QCOMPARE(nlohmann::json::parse(readFile(dir.filePath("sheet.json").toStdString()).value())["pictures"].size(), std::size_t(15));
        QFile csv(dir.filePath("sheet.csv"));
        QVERIFY(csv.open(QIODevice::ReadOnly));
        QCOMPARE(csv.readAll().count('\n'), 16);
        w.deskOf<BatchDesk>().sheet().exportTo("/no/such/folder/sheet.csv");
        QTRY_VERIFY2(!d.said().contains("Exported"), qPrintable(d.said()));
    }
    void aLineCountsCordsUntilTheyAreFit()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        d.key(Qt::Key_5);
        QTemporaryDir dir;
        w.deskOf<BatchDesk>().sheet().watchLine(dir.path());
        const auto comes = [&](const char* cord, const char* name, std::size_t so_far) {
            QVERIFY(QFile::copy(demo_.line + "/" + cord, dir.filePath(name)));
            QTRY_COMPARE_WITH_TIMEOUT(w.deskOf<BatchDesk>().sheet().sheet().taken().size(), so_far, 20000);
        };
        comes("cord-001.png", "a.png", 1);
        QCOMPARE(d.headline(), QString("Cord 1 passes: take the next"));
        comes("cord-003.png", "b.png", 2);
        QCOMPARE(d.headline(), QString("Cord 2 fails: clean, then look again"));
        comes("cord-009.png", "c.png", 3);
        QCOMPARE(d.headline(), QString("Cord 2: take the picture again"));
        d.key(Qt::Key_N);  // given up
        comes("cord-002.png", "d.png", 4);
        QCOMPARE(d.headline(), QString("Cord 3 passes: take the next"));
        QVERIFY(d.text("adviceHelp").contains("2 of 3 cords"));
        d.key(Qt::Key_Escape);
        d.key(Qt::Key_1);
        QVERIFY(w.desk() == QLatin1String("look"));
    }
    void aLabelledCordWithBothEndsGetsItsCertificate()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        d.key(Qt::Key_5);
        QTemporaryDir dir;
        d.key(Qt::Key_T);  // no line yet
        QVERIFY(d.said().contains("L watches one"));
        w.deskOf<BatchDesk>().sheet().watchLine(dir.path());
        d.key(Qt::Key_W);
        QVERIFY(d.said().contains("No cord"));
        d.key(Qt::Key_D);
        d.inDialog([](QWidget* dialog) {
            auto* label = dialog->findChild<QLineEdit*>();
            label->clear();
            QTest::keyClicks(label, "VP/P-009");  // what a scanner types, with its Enter
            QTest::keyClick(label, Qt::Key_Return);
        });
        d.key(Qt::Key_T);
        d.inDialog([](QWidget* dialog) {
            auto* list = dialog->findChild<QListWidget*>("checkList");
            for (int i = 0; i + 1 < list->count(); ++i) QTest::keyClick(list, Qt::Key_Space);  // all but the last
            QTest::keyClick(list, Qt::Key_Return);
        });
        d.key(Qt::Key_J);
        QVERIFY(d.said().startsWith("Open: profile chosen"));
        std::size_t n = 0;
        for (const char* cord : {"cord-001.png", "cord-003.png", "cord-002.png", "cord-004.png"}) {
            QVERIFY(QFile::copy(demo_.line + "/" + cord, dir.filePath(QString::number(n) + ".png")));
            ++n;
            QTRY_COMPARE_WITH_TIMEOUT(w.deskOf<BatchDesk>().sheet().sheet().taken().size(), n, 20000);
        }
        const auto& rows = w.deskOf<BatchDesk>().sheet().sheet().taken();
        QCOMPARE(rows[0].called(), std::string("VP/P-009 end A"));
        QCOMPARE(rows[1].called(), std::string("VP/P-009 end B"));  // not fit: looked at again
        QCOMPARE(rows[2].called(), std::string("VP/P-009 end B"));
        QCOMPARE(rows[3].called(), std::string("VP/P-010 end A"));
        d.key(Qt::Key_W);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().startsWith("Certificate of VP/P-009"), 20000);
        QFile csv(dir.filePath("certificates/VP_P-009/VP_P-009.csv"));
        QVERIFY(csv.open(QIODevice::ReadOnly));
        const QByteArray text = csv.readAll();
        QCOMPARE(text.count("VP/P-009"), 3);
        QVERIFY(!text.contains("VP/P-010"));
        const auto json = nlohmann::json::parse(readFile(dir.filePath("certificates/VP_P-009/VP_P-009.json").toStdString()).value());
        QCOMPARE(json["verdict"].get<std::string>(), std::string("pass"));
        QCOMPARE(json["cleaner"]["open"].size(), std::size_t(1));
        QFile pdf(dir.filePath("certificates/VP_P-009/VP_P-009.pdf"));
        QVERIFY(pdf.open(QIODevice::ReadOnly));
        QVERIFY(pdf.read(5) == "%PDF-");
        d.key(Qt::Key_Escape);
    }

private:
    QTemporaryDir dir_;
    DemoFolder demo_;
};
QTEST_MAIN(TestIntake)
#include "test_intake.moc"
