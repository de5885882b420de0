#include <QFontMetrics>
#include <QLineEdit>
#include <QPromise>
#include <QPushButton>
#include <QSignalSpy>
#include <QThreadPool>
#include <QtTest>

#include "app/frame/clocks_bar.h"
#include "app/frame/round_strips.h"
#include "app/frame/round_view.h"
#include "app/widgets/label_places.h"
#include "app/widgets/text_block.h"
#include "app/widgets/theme.h"
#include "app/widgets/when_done.h"
#include "record/advice/next_step.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

QFuture<int> inAWorker(const std::function<int()>& work)
{
    auto promise = std::make_shared<QPromise<int>>();
    promise->start();
    QThreadPool::globalInstance()->start([promise, work] {
        promise->addResult(work());
        promise->finish();
    });
    return promise->future();
}

}  // namespace

/// The small painted parts that the views are made of.
class TestWidgets : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { applyTheme(*qApp, false); }
    void cleanup() { applyTheme(*qApp, false); }

    void wordsWrapToTheRoom_data()
    {
        QTest::addColumn<QString>("text");
        QTest::newRow("plain") << "one two three four five six seven eight nine ten eleven twelve";
        QTest::newRow("paragraphs") << "one two three four five six\n\nseven eight nine ten";
        QTest::newRow("a word longer than the room") << QString(60, QLatin1Char('W'));
    }
    void wordsWrapToTheRoom()
    {
        QFETCH(QString, text);
        TextBlock block;
        block.setText(text);
        const int line = QFontMetrics(block.font()).lineSpacing();
        const auto lines = [&](int width) { return double(block.heightForWidth(width)) / line; };
        const double paragraphs = double(text.count('\n')) + 1;
        QVERIFY(qAbs(lines(5000) - paragraphs) < 0.2);
        const int words = int(text.count(' ')) + 1;
        if (words > 1) QVERIFY(lines(em(5)) > paragraphs + 0.8);
        QVERIFY(lines(1) < paragraphs + words + 0.2);  // a word that does not fit stays on its line
    }
    void aSingleLineGivesWay()
    {
        TextBlock block;
        block.setSingleLine();
        block.setText("Tide Hall to Breakwater Hut, cable VP-04, fibre 7 of 12");
        QCOMPARE(block.heightForWidth(10), block.heightForWidth(5000));
        QVERIFY(block.minimumSizeHint().width() < block.sizeHint().width() / 3);
        block.resize(em(8), em(2));
        const QImage narrow = block.grab().toImage();
        for (int y = 0; y < narrow.height(); ++y)  // nothing is painted over the edge: the last column stays free
            QCOMPARE(narrow.pixelColor(narrow.width() - 1, y), narrow.pixelColor(narrow.width() - 1, 0));
    }
    void wordsFromAFileCannotFormat()
    {
        TextBlock block;
        block.setText("<b>bold</b> <img src=x>");
        QCOMPARE(block.text(), QStringLiteral("<b>bold</b> <img src=x>"));
        TextBlock bold;
        bold.setText("bold", true);
        QVERIFY(block.sizeHint().width() > 2 * bold.sizeHint().width());
    }
    void runsAreJoinedAsWritten()
    {
        TextBlock runs, whole;
        runs.setSingleLine();
        whole.setSingleLine();
        runs.setParagraphs({{{"port"}, {" 7"}, {", fibre"}, {" 7"}}});
        whole.setText("port 7, fibre 7");
        QCOMPARE(runs.text(), whole.text());
        QVERIFY(qAbs(runs.sizeHint().width() - whole.sizeHint().width()) <= 2);
    }
    void colourAndCardArePainted()
    {
        TextBlock block;
        block.setText("seen", true, theme().damaged);
        block.resize(200, 60);
        const auto count = [&](const QColor& colour) {
            const QImage image = block.grab().toImage();
            int n = 0;
            for (int y = 0; y < image.height(); ++y)
                for (int x = 0; x < image.width(); ++x) n += image.pixelColor(x, y) == colour;
            return n;
        };
        QVERIFY(count(theme().damaged) > 20);
        QCOMPARE(count(theme().card), 0);
        const int bare = block.heightForWidth(200);
        block.setCard(theme().fit);
        QVERIFY(count(theme().card) > 3000 && count(theme().fit) > 200);
        QVERIFY(block.heightForWidth(200) > bare);
    }
    void itGrowsWithTheFont()
    {
        TextBlock block;
        block.setText("fit");
        const QSize before = block.sizeHint();
        QFont twice = block.font();
        twice.setPointSizeF(twice.pointSizeF() * 2);
        block.setFont(twice);
        QVERIFY(block.sizeHint().height() > before.height() * 1.7 && block.sizeHint().width() > before.width() * 1.7);
    }

    void targetsHaveTheirSize_data()
    {
        QTest::addColumn<bool>("dark");
        QTest::newRow("light") << false;
        QTest::newRow("dark") << true;
    }
    void targetsHaveTheirSize()
    {
        QFETCH(bool, dark);
        applyTheme(*qApp, dark);
        QPushButton button(QStringLiteral("Take a picture   (P)")), first(QStringLiteral("I cleaned it"));
        first.setProperty("first", true);
        QLineEdit field;
        QVERIFY(button.sizeHint().height() >= 42);
        QVERIFY(button.sizeHint().width() > QFontMetrics(button.font()).horizontalAdvance(button.text()));
        QVERIFY(field.sizeHint().height() >= 34);
        first.resize(first.sizeHint());
        button.resize(button.sizeHint());
        QCOMPARE(first.grab().toImage().pixelColor(6, first.height() / 2), theme().fit);
        QCOMPARE(button.grab().toImage().pixelColor(6, button.height() / 2), theme().card);
    }

    void theRoundSaysWhatComesNextAndCountsTheRest()
    {
        Journal j;
        j.look(cordA, {dirt(30)});
        const auto state = std::make_shared<const JobState>(j.state());
        RoundView view;
        const auto said = [&](const char* name) { return view.findChild<QWidget*>(name)->accessibleName(); };
        view.show(state, roundOf(*state), nextSteps(*state, roundOf(*state).left, {}), cordA, {});
        QVERIFY(said("nextStep").contains("Tide Hall") && said("nextStep").contains("Clean the cord's end"));
        QCOMPARE(said("stepsAfter").count("then"), 2);
        QCOMPARE(said("roundStrips").count("0 of 4 faces fit"), 2);
        QVERIFY(said("roundStrips").contains("Insertion loss: 0 of 2"));
        // two people: only what is to be done at the hut
        const Round hut = roundOf(*state, "Breakwater Hut");
        view.show(state, hut, nextSteps(*state, hut.left, {}), cordA, "Breakwater Hut");
        QCOMPARE(said("roundTitle"), QStringLiteral("Breakwater Hut"));
        QCOMPARE(said("roundStrips").count("faces fit"), 1);
    }
    void aClickOnAPortChoosesItsFace()
    {
        const auto state = std::make_shared<const JobState>(Journal().state());
        RoundView view;
        view.resize(300, 700);
        view.show(state, roundOf(*state), {}, {"VP-04/2", End::A, Side::Port}, {});
        view.QWidget::show();
        std::vector<std::string> chosen;
        connect(&view, &RoundView::faceChosen, this, [&](const FaceId& face) { chosen.push_back(face.text()); });
        auto* strips = view.findChild<RoundStrips*>();
        const QRect port = strips->chosenPort();
        QVERIFY(port.isValid());
        const auto click = [&](QPoint at) { QTest::mouseClick(strips, Qt::LeftButton, {}, at); };
        click({port.center().x(), port.top() + 4});  // above: the cord
        click({port.center().x(), port.center().y()});
        click({port.center().x() - port.width(), port.center().y()});
        QCOMPARE(chosen, (std::vector<std::string>{"VP-04/2/A/cord", "VP-04/2/A/port", "VP-04/1/A/port"}));
        click({strips->width() - 2, port.center().y()});  // there is no twelfth
        click({5, 2});                                    // a heading
        QCOMPARE(chosen.size(), std::size_t{3});
        StepKind kind = StepKind::Look;
        connect(&view, &RoundView::kindChosen, this, [&](StepKind of) { kind = of; });
        click({5, strips->height() - em(1)});
        QVERIFY(kind == StepKind::Sign);
    }
    void theClocksSayWhatAges_data()
    {
        QTest::addColumn<qint64>("later");
        QTest::addColumn<QString>("says");
        QTest::newRow("just now") << qint64(30) << "Reference 0 min old    Fit and open 1, longest 1 min";
        QTest::newRow("an hour") << qint64(7000) << "Reference 1 h old";
        QTest::newRow("the next day") << qint64(30 * 3600) << "Reference 30 h old";
        QTest::newRow("a week") << qint64(7 * 86400) << "Reference 7 days old";
        QTest::newRow("a clock that was set back") << qint64(-9000) << "Reference 0 min old";
    }
    void theClocksSayWhatAges()
    {
        QFETCH(qint64, later);
        QFETCH(QString, says);
        Journal j;
        j.look(cordA).add(ReferenceSet{ReferenceMethod::OneCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)});
        ClocksBar bar;
        const JobState state = j.state();
        bar.show(state, j.entries.back().at() + later);
        QStringList words;
        for (const auto* block : bar.findChildren<TextBlock*>()) words << block->text();
        QVERIFY2(words.join('|').contains(says), qPrintable(words.join('|')));
    }
    void wordsBesideCloseMarksStayApart()
    {
        const QRectF field(0, 0, 200, 120);
        const std::vector<QRectF> marks{{90, 50, 14, 14}, {108, 50, 14, 14}, {183, 20, 14, 14}};
        LabelPlaces places(field, marks);
        const QSizeF words(24, 12);
        std::vector<QRectF> placed;
        for (std::size_t i = 0; i < marks.size(); ++i) placed.push_back(places.place(i, words));
        QVERIFY(placed[0].right() < marks[0].left());  // to the right is the other mark
        QVERIFY(placed[1].left() > marks[1].right());  // where there is room: to the right
        QVERIFY(placed[2].right() < marks[2].left());  // at the border
        for (std::size_t i = 0; i < placed.size(); ++i) {
            QVERIFY(field.contains(placed[i]));
            for (std::size_t k = 0; k < i; ++k) QVERIFY(!placed[i].intersects(placed[k]));
            for (const auto& mark : marks) QVERIFY(!placed[i].intersects(mark));
        }
        LabelPlaces crowded(field, {{90, 50, 14, 14}, {90, 50, 14, 14}, {40, 0, 120, 120}});
        QVERIFY(crowded.place(0, words).left() > 104);  // no free place: to the right all the same
    }
    void workThatEndsAtOnceIsHeardOfOnce()
    {
        // most of these end just as it is said who listens
        constexpr int jobs = 20000;
        QObject listener;
        std::vector<int> heard(jobs, 0);
        int all = 0;
        for (int i = 0; i < jobs; ++i)
            whenDone(inAWorker([i] { return i; }), &listener, [&](int job) {
                ++heard[std::size_t(job)];
                ++all;
            });
        QTRY_COMPARE(all, jobs);
        QCoreApplication::processEvents();
        QCOMPARE(std::count(heard.begin(), heard.end(), 1), jobs);
    }
    void nobodyListensWhereTheListenerIsGone()
    {
        auto listener = std::make_unique<QObject>();
        int heard = 0;
        auto work = inAWorker([] {
            QThread::msleep(20);
            return 1;
        });
        whenDone(work, listener.get(), [&](int) { ++heard; });
        listener.reset();
        work.waitForFinished();
        whenDone(work, qApp, [&](int) { heard += 10; });  // over already
        QTRY_COMPARE(heard, 10);
        QPromise<int> stopped;
        stopped.start();
        whenDone(stopped.future(), qApp, [&](int) { ++heard; });
        stopped.future().cancel();
        stopped.finish();
        QTest::qWait(20);
        QCOMPARE(heard, 10);
    }
};
QTEST_MAIN(TestWidgets)
#include "test_widgets.moc"
