#include <QClipboard>
#include <QComboBox>
#include <QMimeData>
#include <QPushButton>
#include <QtTest>

#include "app/frame/main_window.h"
#include "app/hands/demo_hands.h"
#include "app/look/look_desk.h"
#include "app/quick/quick_desk.h"
#include "app/quick/recent_jobs.h"
#include "app/widgets/face_picture.h"
#include "app/widgets/live_picture.h"
#include "demo/demo_job.h"
#include "files/files.h"
#include "pictures/decode.h"
#include "record/advice/face_advice.h"
#include "window_driver.h"
#include "world/face_world.h"

using namespace clendo;

/// A picture that belongs to no job: judged at once, kept nowhere, filed on wish.
class TestQuick : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        QVERIFY(dir_.isValid());
        dirty_ = dir_.filePath("dirty.png");
        clean_ = dir_.filePath("clean.png");
        QVERIFY(writeFile(dirty_.toStdString(), encodePng(world::takePicture(world::makeFace(world::Story::Dusty, 7), {}))));
        QVERIFY(writeFile(clean_.toStdString(), encodePng(world::takePicture(world::makeFace(world::Story::Clean, 7), {}))));
        QVERIFY(QDir().mkpath(dir_.filePath("demo")));
        demo_ = makeDemo(dir_.filePath("demo")).value();
    }
    void theWindowBeginsWithIt()
    {
        MainWindow w;
        WindowDriver d(w);
        QCOMPARE(w.desk(), QStringLiteral("quick"));
        QCOMPARE(d.headline(), QStringLiteral("Open or make a job"));
        d.key(Qt::Key_S);
        QVERIFY(d.said().contains("Nothing was looked at"));
    }
    void aPictureIsJudgedWithoutAJob_data()
    {
        QTest::addColumn<bool>("dirty");
        QTest::addColumn<QString>("way");
        for (const char* way : {"drop", "paste a picture", "paste a file"}) {
            QTest::newRow(qPrintable(QString("dirty, %1").arg(way))) << true << way;
            QTest::newRow(qPrintable(QString("clean, %1").arg(way))) << false << way;
        }
    }
    void aPictureIsJudgedWithoutAJob()
    {
        QFETCH(bool, dirty);
        QFETCH(QString, way);
        const QString file = dirty ? dirty_ : clean_;
        MainWindow w;
        WindowDriver d(w);
        if (way == "drop") {
            w.takeFile(file);
        } else {
            auto* data = new QMimeData;
            if (way == "paste a file")
                data->setUrls({QUrl::fromLocalFile(file)});
            else
                data->setImageData(QImage(file));
            QGuiApplication::clipboard()->setMimeData(data);
            d.key(Qt::Key_V, Qt::ControlModifier);
        }
        QTRY_VERIFY_WITH_TIMEOUT(w.deskOf<QuickDesk>().looked(), 20000);
        QCOMPARE(d.headline().contains("Clean"), dirty);
        QVERIFY(!w.session());
        // saved with its marks, and copied
        const QString saved = dir_.filePath("marks.png");
        w.deskOf<QuickDesk>().saveTo(saved);
        QTRY_VERIFY(d.said().startsWith("Saved"));
        QVERIFY(QImage(saved).width() > 300);
        w.deskOf<QuickDesk>().saveTo("/no/such/folder/marks.png");
        QTRY_VERIFY2(d.said().contains("/no/such/folder"), qPrintable(d.said()));
        d.key(Qt::Key_C);
        QVERIFY(!QGuiApplication::clipboard()->image().isNull());
        d.key(Qt::Key_F);
        QVERIFY(d.said().contains("Open or make a job first"));
    }
    void aScopeIsLookedThroughWithoutAJob()
    {
        MainWindow w;
        WindowDriver d(w);
        d.key(Qt::Key_P);
        QVERIFY(d.said().contains("No live picture"));
        d.key(Qt::Key_V);
        QVERIFY(d.said().contains("Choose a scope"));
        LivePicture& live = w.deskOf<LookDesk>().live();
        live.useSimulatedScope();
        d.key(Qt::Key_V);
        QVERIFY(live.running());
        QVERIFY(d.headline().contains("live picture"));
        QVERIFY(!w.findChild<QWidget*>("recentJobs")->isVisible());  // the picture has its room
        QTRY_VERIFY_WITH_TIMEOUT(live.scope()->judged() > 1, 10000);
        QVERIFY(w.deskOf<QuickDesk>().picture()->accessibleName().startsWith("live"));
        for (int i = 0; i < 6; ++i) d.key(Qt::Key_Period);
        if (!QTest::qWaitFor([&] { return live.scope()->sharpest() != nullptr; }, 4000))
            for (int i = 0; i < 12; ++i) d.key(Qt::Key_Comma);
        QTRY_VERIFY_WITH_TIMEOUT(live.scope()->sharpest(), 10000);
        QTRY_VERIFY_WITH_TIMEOUT(live.scope()->usableFrames().size() >= 3, 10000);
        d.key(Qt::Key_P);
        QTRY_VERIFY_WITH_TIMEOUT(w.deskOf<QuickDesk>().looked(), 20000);
        QVERIFY2(w.deskOf<QuickDesk>().picture()->accessibleDescription().contains("frames combined"),
                 qPrintable(w.deskOf<QuickDesk>().picture()->accessibleDescription()));
        QVERIFY(!live.running());
        QVERIFY(!w.session());
        d.key(Qt::Key_V);
        QVERIFY(live.running());
        QVERIFY(opened(w, demo_.job));  // what is live belongs to no job
        QVERIFY(!live.running());
    }
    void theClassDecides()
    {
        MainWindow w;
        WindowDriver d(w);
        w.takeFile(clean_);
        QTRY_VERIFY_WITH_TIMEOUT(w.deskOf<QuickDesk>().looked(), 20000);
        const QString before = d.headline();
        auto* classes = w.findChild<QComboBox*>("quickClass");
        classes->setCurrentIndex(classes->findData("mm-pc"));
        QVERIFY(d.headline() != before);  // a single-mode core where the class wants a multimode one
    }
    void whatIsNoPictureIsSaid()
    {
        MainWindow w;
        WindowDriver d(w);
        const QString broken = dir_.filePath("broken.png");
        QVERIFY(writeFile(broken.toStdString(), "no picture"));
        w.takeFile(broken);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().contains("broken.png"), 20000);
        QVERIFY(!w.deskOf<QuickDesk>().looked());
        QGuiApplication::clipboard()->setText("words");
        d.key(Qt::Key_V, Qt::ControlModifier);
        QVERIFY(d.said().contains("no picture"));
        w.takeFile(dir_.filePath("a.docx"));
        QVERIFY(d.said().contains("a.docx"));
    }
    void itIsFiledLaterOnWish()
    {
        MainWindow w;
        WindowDriver d(w);
        w.takeFile(dirty_);
        QTRY_VERIFY_WITH_TIMEOUT(w.deskOf<QuickDesk>().looked(), 20000);
        QVERIFY(opened(w, demo_.job));
        const FaceId face{"VP-04/12", End::B, Side::Port};
        w.choose(face);
        const auto before = w.session()->state().face(face).looks.size();
        d.key(Qt::Key_8);
        d.key(Qt::Key_F);
        QTRY_COMPARE_WITH_TIMEOUT(w.session()->state().face(face).looks.size(), before + 1, 20000);
        const Look look = w.session()->state().face(face).looks.back();
        QCOMPARE(look.seen.pictureName, std::string("dirty.png"));
        QCOMPARE(w.session()->service().evidence(look.seen.picture).get().value(), readFile(dirty_.toStdString()).value());
        QCOMPARE(w.desk(), QStringLiteral("look"));
    }
    void jobsThatWereOpenedAreOffered()
    {
        {
            MainWindow w;
            QVERIFY(opened(w, demo_.job));
        }
        QTRY_VERIFY(!recentJobs().empty() && recentJobs().front().path == QFileInfo(demo_.job).absoluteFilePath());
        MainWindow w;
        WindowDriver d(w);
        QTRY_VERIFY(w.findChild<QPushButton*>("recentJob"));
        QTest::mouseClick(w.findChild<QPushButton*>("recentJob"), Qt::LeftButton);
        QTRY_VERIFY(w.session() && w.session()->path() == demo_.job);
        rememberJob("/gone/away.clendo");
        for (const RecentJob& job : recentJobs()) QVERIFY(job.path != "/gone/away.clendo");
    }
    void theDemoIsOneKeyAway()
    {
        qputenv("XDG_DATA_HOME", dir_.filePath("data").toLocal8Bit());  // it is made there
        MainWindow w;
        WindowDriver d(w);
        d.key(Qt::Key_D, Qt::ControlModifier);
        QTRY_VERIFY_WITH_TIMEOUT(w.session(), 60000);
        QCOMPARE(w.session()->state().plan->job.name, std::string("Varrow Point"));
        const auto looks = [&] { return w.session()->state().face(w.chosen()).looks.size(); };
        const std::size_t before = looks();
        QTRY_VERIFY_WITH_TIMEOUT(DemoHands::of(w), 20000);  // its world too
        d.key(Qt::Key_P);
        QTRY_COMPARE_WITH_TIMEOUT(looks(), before + 1, 20000);
        qunsetenv("XDG_DATA_HOME");
    }

private:
    QTemporaryDir dir_;
    QString dirty_, clean_;
    DemoFolder demo_;
};

QTEST_MAIN(TestQuick)
#include "test_quick.moc"
