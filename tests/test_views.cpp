#include <QComboBox>
#include <QLineEdit>
#include <QListView>
#include <QListWidget>
#include <QMimeData>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalSpy>
#include <QStackedWidget>

#include "app/frame/advice_view.h"
#include "app/frame/ribbon_view.h"
#include "app/frame/round_strips.h"
#include "app/frame/round_view.h"
#include "app/look/clean_dialog.h"
#include "app/look/unrolled_view.h"
#include "app/widgets/face_picture.h"
#include "app/widgets/fold_strip.h"
#include "demo/demo_job.h"
#include "files/log_file.h"
#include "window_driver.h"

using namespace clendo;

/// The parts of the window by themselves: what they show, what they ask for.
class TestViews : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        applyTheme(*qApp, false);
        demo_ = makeDemo(dir_.path()).value();
    }

    void everyConditionOfAFaceLooksDifferent()
    {
        // by shape alone: painted in one colour, no two may be the same picture
        std::vector<QImage> pictures;
        for (const auto condition : {FaceCondition::NotSeen, FaceCondition::Fit, FaceCondition::Work, FaceCondition::Damaged, FaceCondition::Stale}) {
            QImage image(60, 60, QImage::Format_Grayscale8);
            image.fill(255);
            QPainter p(&image);
            paintFace(p, {40, 30}, 22, true, condition);
            p.end();
            for (int y = 0; y < 60; ++y)
                for (int x = 0; x < 60; ++x) image.scanLine(y)[x] = image.constScanLine(y)[x] < 210 ? 0 : 255;
            for (const auto& other : pictures) {
                int different = 0;
                for (int y = 0; y < 60; ++y)
                    for (int x = 0; x < 60; ++x) different += image.constScanLine(y)[x] != other.constScanLine(y)[x];
                QVERIFY2(different > 40, qPrintable(QString::number(different)));
            }
            pictures.push_back(image);
        }
    }
    void leftAndRightFacesMirror()
    {
        QImage left(80, 40, QImage::Format_RGB32), right(80, 40, QImage::Format_RGB32);
        for (QImage* image : {&left, &right}) {
            image->fill(Qt::white);
            QPainter p(image);
            paintFace(p, {40, 20}, 14, image == &left, FaceCondition::Fit);
        }
        int same = 0;
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 80; ++x) same += left.pixel(x, y) == right.mirrored(true, false).pixel(x, y);
        QVERIFY(same > 3000);
        QVERIFY(left.pixelColor(30, 20) != left.pixelColor(50, 20));
    }
    void aClickOnTheRibbonChoosesAFace()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.showDesk(QStringLiteral("loss"));
        auto* ribbon = w.findChild<RibbonView*>("ribbon");
        const double right = ribbon->width() - em(8);
        QTest::mouseClick(ribbon, Qt::LeftButton, Qt::NoModifier, QPoint(int(right) + em(0.9), em(2.75)));
        QVERIFY(w.chosen().connection == End::B && w.chosen().side == Side::Cord);
        QVERIFY(w.desk() == QLatin1String("look"));
        const auto before = w.chosen();
        QTest::mouseClick(ribbon, Qt::LeftButton, Qt::NoModifier, QPoint(ribbon->width() / 2, em(6)));  // nothing there
        QVERIFY(w.chosen() == before);
    }
    void whatToTakeAlongIsTickedPlaceByPlace()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        QStringList headings, ticked;
        d.inDialog([&](QWidget* dialog) {
            auto* list = dialog->findChild<QListWidget*>("checkList");
            for (int i = 0; i < list->count(); ++i)
                if (!list->item(i)->flags().testFlag(Qt::ItemIsUserCheckable)) headings << list->item(i)->text();
            for (int i = 0; i < 3; ++i) QTest::keyClick(list, Qt::Key_Space);
            for (int i = 0; i < list->count(); ++i)
                if (list->item(i)->checkState() == Qt::Checked && list->item(i)->flags().testFlag(Qt::ItemIsUserCheckable))
                    ticked << list->item(i)->text();
            QTest::keyClick(list, Qt::Key_Return);
        });
        d.key(Qt::Key_Y);
        QCOMPARE(headings, QStringList({"Tide Hall", "Breakwater Hut", "Glass Lab", "Both ends"}));
        QCOMPARE(ticked.size(), 3);  // the heading above them was passed over
        QVERIFY(ticked.first().startsWith("tip LC"));
    }
    void aStepOfTheRoundCanBeChosen()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        auto* strips = w.findChild<RoundStrips*>();
        emit strips->faceChosen({"VP-04/9", End::B, Side::Port});
        QVERIFY(w.desk() == QLatin1String("look"));
        QCOMPARE(w.chosen().text(), std::string("VP-04/9/B/port"));
        emit strips->kindChosen(StepKind::Trace);
        QVERIFY(w.desk() == QLatin1String("trace"));
        QCOMPARE(w.chosen().link, std::string("VP-04/9"));
        QCOMPARE(d.headline(), QStringLiteral("Shoot the fibre"));
    }
    void theButtonsOfTheAdviceDoWhatTheirKeysDo()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.choose({"VP-04/5", End::B, Side::Cord});
        auto* second = w.findChild<QPushButton*>("action2");
        QVERIFY(second->text().contains("(N)"));
        QTest::mouseClick(second, Qt::LeftButton);
        QVERIFY(w.chosen() != (FaceId{"VP-04/5", End::B, Side::Cord}));
    }
    void theUnrolledViewComparesWithTheLookBefore()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.choose({"VP-04/8", End::A, Side::Port});
        QVERIFY(!w.findChild<UnrolledView*>("unrolled"));
        d.key(Qt::Key_U);
        auto* view = w.findChild<UnrolledView*>("unrolled");
        QVERIFY(view && view->isVisible());
        QCOMPARE(view->comparison().count(face::Fate::Stayed), 3);  // the damage of this face
        QVERIFY(view->accessibleName().contains("3 stayed"));
        QTRY_VERIFY([&] {  // the pictures come from the job by themselves
            const QImage image = view->grab().toImage();
            std::set<QRgb> seen;
            for (int x = 0; x < image.width(); ++x) seen.insert(image.pixel(x, image.height() - em(1)));
            return seen.size() > 20;
        }());
        w.choose({"VP-04/12", End::B, Side::Cord});  // not seen yet: nothing to unroll
        QVERIFY(!view->isVisible());
        w.choose({"VP-04/8", End::A, Side::Port});
        QVERIFY(view->isVisible());
        d.key(Qt::Key_U);
        QVERIFY(!view->isVisible());
        QVERIFY(d.text("lookTitle").contains("if mated so, +"));
    }
    void aFindingIsOverruledByKeys()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.choose({"VP-04/8", End::A, Side::Port});
        const auto look = [&]() -> const Look& { return *w.session()->state().face(w.chosen()).lastJudged(); };
        const std::size_t before = look().seen.measured.findings.size();
        d.inDialog([](QWidget* dialog) {
            auto* reason = dialog->findChild<QLineEdit*>("reason");
            QTest::keyClick(reason, Qt::Key_Return);
            QVERIFY(dialog->isVisible());  // without a reason nothing is filed
            QTest::keyClicks(reason, "a reflection");
            QTest::keyClick(reason, Qt::Key_Return);
        });
        d.key(Qt::Key_X);
        QCOMPARE(look().overruled.size(), std::size_t{1});
        QCOMPARE(look().seen.measured.findings.size(), before - 1);
        QVERIFY(d.text("adviceHelp").contains("a reflection"));
        d.key(Qt::Key_Z);
        QCOMPARE(look().seen.measured.findings.size(), before);
        w.choose({"VP-04/12", End::B, Side::Cord});
        d.key(Qt::Key_X);
        QVERIFY(d.said().contains("not judged yet"));
    }
    void targetsAreLargeEnough()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        for (const auto* button : w.findChildren<QPushButton*>(QRegularExpression("^action\\d$")))
            if (button->isVisible()) QVERIFY2(button->height() >= 36, qPrintable(button->text()));
    }
    void theAdviceTableMarksTheBrokenRule()
    {
        CommandTable commands;
        commands.add({std::string(command::clean), CommandMenu::Step, "I cleaned it", {Qt::Key_C}, [] {}});
        AdviceView view(commands);
        Advice r;
        r.headline = "Clean";
        r.rows = {{"A", "scratches", "none", "0", true}, {"B", "defects over 5 µm", "none", "2", false}};
        r.actions = {{command::clean, "I cleaned it"}};
        view.show(r);
        auto* table = view.findChild<RuleTable*>("adviceRows");
        QCOMPARE(table->rows().size(), std::size_t{2});
        QVERIFY(table->accessibleName().endsWith("defects over 5 µm: allowed none, found 2 (broken)"));
        view.resize(320, 600);
        const QImage image = table->grab().toImage();
        const auto inks = [&](int row) {
            int n = 0;
            const int high = image.height() / 3;
            for (int y = row * high; y < (row + 1) * high; ++y)
                for (int x = 0; x < image.width(); ++x) n += image.pixelColor(x, y) == theme().damaged;
            return n;
        };
        QVERIFY(inks(1) == 0 && inks(2) > 10);
        QSignalSpy wanted(&view, &AdviceView::wanted);
        QTest::mouseClick(view.findChild<QPushButton*>("action1"), Qt::LeftButton);
        QCOMPARE(wanted.size(), 1);
        QVERIFY(view.findChild<QPushButton*>("action2")->isHidden());
        r.rows.clear();
        view.show(r);
        QVERIFY(!table->isVisibleTo(&view));
    }
    void thePictureIsZoomedAndMovedWithItsMarks()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        const FaceState face = w.session()->state().face({"VP-04/7", End::A, Side::Port});
        const auto faceClass = optionalOf(w.session()->state().faceClass({"VP-04/7", End::A, Side::Port}));
        FacePicture view;
        view.resize(400, 400);
        view.setZoomable();
        QImage image(800, 600, QImage::Format_RGB32);
        image.fill(Qt::black);
        view.show(image, face.lastJudged(), faceClass, {});
        const auto grab = [&] { return view.grab().toImage(); };
        const QImage first = grab();
        view.zoomBy(2);
        QCOMPARE(view.zoom(), 2.0);
        const QImage larger = grab();
        QVERIFY(larger != first);  // the marks move with it: there is nothing else to be seen on black
        QTest::mousePress(&view, Qt::LeftButton, {}, {200, 200});
        QTest::mouseMove(&view, {240, 200});
        QMouseEvent drag(QEvent::MouseMove, QPointF(250, 200), QPointF(250, 200), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&view, &drag);
        QVERIFY(grab() != larger);
        view.show(image, face.lastJudged(), faceClass, {});  // the same look again: nothing jumps
        QCOMPARE(view.zoom(), 2.0);
        view.fit();
        QCOMPARE(grab(), first);
        for (const int turns : {-50, 50}) {
            QWheelEvent wheel(QPointF(100, 100), QPointF(100, 100), {}, {0, 120 * turns}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
            QApplication::sendEvent(&view, &wheel);
            QVERIFY(view.zoom() >= 1 && view.zoom() <= 16);
        }
        view.show(image, nullptr, faceClass, {});  // another look begins anew
        QCOMPARE(view.zoom(), 1.0);
        // without its marks it is the picture alone
        view.show(image, face.lastJudged(), faceClass, {});
        view.setOverlay(false);
        const QImage bare = grab();
        QVERIFY(bare != first);
        view.setOverlay(true);
        QCOMPARE(grab(), first);
    }
    void columnsFoldAndStayFolded()
    {
        QFile::remove(QString::fromStdString((stateFolder() / "window.ini").string()));
        {
            MainWindow w;
            QVERIFY(opened(w, demo_.job));
            w.resize(1280, 800);
            WindowDriver d(w);
            auto* picture = w.findChild<FacePicture*>("facePicture");
            const int before = picture->width();
            d.key(Qt::Key_BracketLeft);
            d.key(Qt::Key_BracketRight);
            QCoreApplication::processEvents();
            QVERIFY(picture->width() > before);
            QVERIFY(picture->width() >= w.width() * 2 / 3);
            QVERIFY(!w.findChild<RoundView*>()->isVisible());
        }
        MainWindow again;
        QVERIFY(opened(again, demo_.job));
        again.resize(1280, 800);
        WindowDriver d(again);
        QVERIFY(!again.findChild<RoundView*>()->isVisible() && !again.findChild<AdviceView*>()->isVisible());
        for (auto* strip : again.findChildren<FoldStrip*>()) QTest::mouseClick(strip, Qt::LeftButton);
        QVERIFY(again.findChild<RoundView*>()->isVisible() && again.findChild<AdviceView*>()->isVisible());
    }
    void aNarrowWindowKeepsItsMiddle()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        auto* round = w.findChild<RoundView*>();
        const auto resize = [&](int width) {
            w.resize(width, 700);
            QCoreApplication::processEvents();
        };
        resize(1280);
        QVERIFY(round->isVisible());
        resize(1024);
        QVERIFY(!round->isVisible());  // by itself
        d.key(Qt::Key_BracketLeft);
        QVERIFY(round->isVisible());  // because it was asked for
        d.key(Qt::Key_BracketLeft);
        QVERIFY(!round->isVisible());
        resize(1280);
        QVERIFY(round->isVisible());  // nothing of it was remembered
    }
    void nothingIsCutOffInALowWindow()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.resize(1024, 600);
        for (const char* desk : {"loss", "sign", "look", "trace", "journal", "batch", "learn", "right-fibre"}) {
            w.showDesk(desk);
            QCoreApplication::processEvents();
            const auto* room = qobject_cast<QScrollArea*>(w.findChild<QStackedWidget*>()->currentWidget());
            QVERIFY(room);
            const auto least = [room] { return room->widget()->minimumSizeHint(); };
            QTRY_VERIFY2(room->viewport()->width() >= least().width() && room->viewport()->width() > w.width() / 2, desk);  // never sideways
            QTRY_VERIFY2(room->widget()->height() >= least().height(), desk);
            QCOMPARE(w.size(), QSize(1024, 600));
        }
        // a face with many looks beside both columns
        w.resize(1280, 800);
        w.choose({"VP-04/8", End::A, Side::Port});
        w.showDesk("look");
        QVERIFY(w.session()->state().face(w.chosen()).looks.size() >= 4);
        const auto* room = qobject_cast<QScrollArea*>(w.findChild<QStackedWidget*>()->currentWidget());
        QTRY_VERIFY(room->viewport()->width() >= room->widget()->minimumSizeHint().width() && w.width() == 1280);
    }
    void thePictureOutlinesWhatBreaksTheRule()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        const FaceState face = w.session()->state().face({"VP-04/7", End::A, Side::Port});
        FacePicture view;
        view.resize(400, 400);
        QImage image(800, 600, QImage::Format_RGB32);
        image.fill(Qt::black);
        const auto markedPixels = [&] {
            const QImage shot = view.grab().toImage();
            int n = 0;
            for (int y = 0; y < shot.height(); ++y)
                for (int x = 0; x < shot.width(); ++x) n += shot.pixelColor(x, y) == theme().pictureMark;
            return n;
        };
        view.show(image, &face.looks.back(), *w.session()->state().faceClass(w.session()->state().plan->links[6].faces().front()), "words");
        QVERIFY(markedPixels() > 30);
        Look fit = face.looks.back();
        fit.verdict = Verdict{};
        view.show(image, &fit, {}, "words");
        QCOMPARE(markedPixels(), 0);
        view.show({}, nullptr, {}, "nothing yet");
        QCOMPARE(markedPixels(), 0);
    }
    void aDroppedFileIsTaken()
    {
        struct Open : FacePicture {
            using FacePicture::dropEvent;  // only the platform's drag can deliver one from outside
        } view;
        QSignalSpy dropped(&view, &FacePicture::dropped);
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile("/tmp/a.png"), QUrl("https://example.org/b.png")});
        QDropEvent event(QPointF(5, 5), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        view.dropEvent(&event);
        QCOMPARE(dropped.size(), 1);  // files only: nothing is fetched
        QCOMPARE(dropped[0][0].toString(), QStringLiteral("/tmp/a.png"));
    }
    void cleaningIsToldByKeys_data()
    {
        QTest::addColumn<QList<int>>("keys");
        QTest::addColumn<QString>("method");
        QTest::addColumn<int>("strokes");
        QTest::newRow("as advised") << QList<int>{} << "wet-then-dry" << 1;
        QTest::newRow("another method") << QList<int>{Qt::Key_3} << "fresh-tool" << 1;
        QTest::newRow("three strokes") << QList<int>{Qt::Key_1, Qt::Key_Plus, Qt::Key_Plus} << "dry" << 3;
        QTest::newRow("arrows") << QList<int>{Qt::Key_Up, Qt::Key_Right, Qt::Key_Left} << "dry" << 1;
        QTest::newRow("another tool") << QList<int>{Qt::Key_W} << "wet-then-dry" << 1;
        QTest::newRow("never below one") << QList<int>{Qt::Key_Minus, Qt::Key_Minus} << "wet-then-dry" << 1;
    }
    void cleaningIsToldByKeys()
    {
        QFETCH(QList<int>, keys);
        QFETCH(QString, method);
        QFETCH(int, strokes);
        CleanDialog dialog({"wet-then-dry", "Wet, then dry."}, {"pen 1", "pen 2"});
        dialog.show();
        for (const int key : keys) QTest::keyClick(&dialog, Qt::Key(key));
        QTest::keyClick(&dialog, Qt::Key_Return);
        QCOMPARE(dialog.result(), int(QDialog::Accepted));
        QCOMPARE(QString::fromStdString(dialog.method()), method);
        QCOMPARE(dialog.strokes(), strokes);
        QCOMPARE(dialog.tool(), keys.contains(Qt::Key_W) ? QStringLiteral("pen 2") : QStringLiteral("pen 1"));
    }
    void everythingFitsSmallAndLarge_data()
    {
        QTest::addColumn<QSize>("size");
        QTest::newRow("1024 x 700") << QSize(1024, 700);
        QTest::newRow("1280 x 800") << QSize(1280, 800);
        QTest::newRow("large screen") << QSize(2560, 1440);
    }
    void everythingFitsSmallAndLarge()
    {
        QFETCH(QSize, size);
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.resize(size);
        for (const auto desk : {"look", "loss", "trace", "sign"}) {
            w.choose({"VP-04/2", End::A, Side::Port});
            w.showDesk(desk);
            QCoreApplication::processEvents();
            QCOMPARE(w.size(), size);  // nothing forces the window larger
            for (const auto* button : w.findChildren<QPushButton*>(QRegularExpression("^action\\d$")))
                if (button->isVisible()) QVERIFY(w.rect().contains(QRect(button->mapTo(&w, QPoint(0, 0)), button->size())));
        }
    }

private:
    QTemporaryDir dir_;
    DemoFolder demo_;
};
QTEST_MAIN(TestViews)
#include "test_views.moc"
