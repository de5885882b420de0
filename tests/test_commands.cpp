#include <QLineEdit>
#include <QMimeData>
#include <QTableWidget>
#include <QtTest>

#include "app/frame/command_search.h"
#include "app/frame/main_window.h"
#include "app/frame/window_frame.h"
#include "demo/demo_job.h"
#include "record/advice/command_ids.h"
#include "window_driver.h"

using namespace clendo;

namespace {

/// All that a new desk and its command need: they are in the window because this file is.
class ToyDesk : public Desk {
public:
    explicit ToyDesk(WindowFrame& frame) : frame_(frame) { setObjectName(QStringLiteral("toy")); }
    [[nodiscard]] QString id() const override { return QStringLiteral("toy"); }
    [[nodiscard]] QString title() const override { return QStringLiteral("Toys"); }
    QWidget* view() override
    {
        if (!view_) view_ = new QWidget(frame_.widget());
        return view_;
    }
    void show(const Shown& shown) override { shownLink = shown.link ? shown.link->id : "none"; }
    [[nodiscard]] Advice advice(const Shown&) const override
    {
        Advice out;
        out.headline = "Play";
        out.actions = {{"toy.wind", "Wind it up"}};
        return out;
    }
    [[nodiscard]] bool accepts(const QString& file) const override { return file.endsWith(QLatin1String(".toy")); }
    void take(const QString& file) override { taken = file; }

    std::string shownLink;
    QString taken;
    int wound = 0;

private:
    WindowFrame& frame_;
    QWidget* view_ = nullptr;
};

const DeskEntry toyEntry(99, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<ToyDesk>(frame); });
const CommandGroup toyCommands(90, [](WindowFrame& frame) -> std::vector<Command> {
    return {{"toy.wind",
             CommandMenu::Step,
             QStringLiteral("Wind the toy up"),
             {Qt::Key_M},
             [&frame] { ++static_cast<ToyDesk*>(frame.widget()->findChild<Desk*>(QStringLiteral("toy")))->wound; },
             {},
             QStringLiteral("toy")}};
});

ToyDesk& toyOf(MainWindow& w) { return *static_cast<ToyDesk*>(w.findChild<Desk*>(QStringLiteral("toy"))); }

}  // namespace

/// Menu, keys, help, search and buttons are made of one table; desks and commands come into it by themselves.
class TestCommands : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        QVERIFY(dir_.isValid());
        auto made = makeDemo(dir_.path());
        QVERIFY(made);
        demo_ = *made;
    }
    void noKeyMeansTwoThingsInOnePlace()
    {
        MainWindow w;
        std::map<std::pair<QString, int>, std::string> taken;
        for (const auto& c : w.commands().all())
            for (const auto key : c.keys) {
                const auto [it, fresh] = taken.try_emplace({c.desk, key.toCombined()}, c.id);
                QVERIFY2(fresh, (c.id + " and " + it->second).c_str());
            }
    }
    void idsAreTheirOwn()
    {
        MainWindow w;
        std::set<std::string> ids;
        for (const auto& c : w.commands().all()) {
            QVERIFY2(ids.insert(c.id).second, c.id.c_str());
            QVERIFY2(!c.words.isEmpty() && c.id.find('.') != std::string::npos, c.id.c_str());
        }
    }
    void everyCommandIsReachedByKeyboard()
    {
        MainWindow w;
        for (const auto& c : w.commands().all()) {
            QVERIFY2(!c.key().isEmpty(), c.id.c_str());
            const QString desk = c.desk.isEmpty() ? QStringLiteral("look") : c.desk;
            for (const auto key : c.keys) QVERIFY2(w.commands().at(key, desk) == w.commands().find(c.id), c.id.c_str());
        }
    }
    void everyCommandIsInTheHelp()
    {
        MainWindow w;
        for (const char* desk : {"look", "batch", "journal", "toy"}) {
            CommandSearch help(w.commands(), QString::fromLatin1(desk), &w);
            const auto* list = help.findChild<QTableWidget*>("commands");
            QStringList words;
            for (int row = 0; row < list->rowCount(); ++row) {
                words << list->item(row, 0)->text();
                QVERIFY(!list->item(row, 1)->text().isEmpty());  // its key
            }
            for (const auto& c : w.commands().all()) QCOMPARE(words.contains(c.words), c.desk.isEmpty() || c.desk == QLatin1String(desk));
        }
    }
    void whatAdviceCanAskForIsThere()
    {
        MainWindow w;
        using namespace command;
        for (const auto id : {takePicture, clean, cleanSleeve, mate, command::nextStep, setReference, readPower, proveFibre, openPicture, openTrace,
                              sign, certificate, takeBack, planCable})
            QVERIFY2(w.commands().find(id), std::string(id).c_str());
    }
    void whatCannotBeDoneSaysWhy()
    {
        MainWindow w;  // without a job
        WindowDriver d(w);
        for (const Qt::Key key : {Qt::Key_H, Qt::Key_M, Qt::Key_W, Qt::Key_N, Qt::Key_B, Qt::Key_F5}) {
            d.key(key);
            QVERIFY2(d.said().contains("Open or make a job first"), qPrintable(QKeySequence(key).toString()));
        }
        d.key(Qt::Key_6);
        QCOMPARE(w.desk(), QStringLiteral("quick"));
        d.key(Qt::Key_5);
        QCOMPARE(w.desk(), QStringLiteral("batch"));  // needs none
    }
    void aFewLettersFindACommand_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("first");
        QTest::newRow("its beginning") << "mate"
                                       << "face.mate";
        QTest::newRow("words in any order") << "table cable"
                                            << "plan.table";
        QTest::newRow("capitals do not matter") << "LARGE"
                                                << "window.words";
        QTest::newRow("with its menu") << "sign-off cable off"
                                       << "sign.cable";
        QTest::newRow("nothing") << "no such thing"
                                 << "";
    }
    void aFewLettersFindACommand()
    {
        QFETCH(QString, typed);
        QFETCH(QString, first);
        MainWindow w;
        const auto found = w.commands().matching(typed, QStringLiteral("look"));
        QCOMPARE(found.empty() ? QString() : QString::fromStdString(found.front()->id), first);
    }
    void whatWasFoundIsRunByEnter()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        d.inDialog([](QWidget* dialog) {
            QTest::keyClicks(dialog->findChild<QLineEdit*>("typed"), "journal");
            QTest::keyClick(dialog->findChild<QLineEdit*>("typed"), Qt::Key_Return);
        });
        d.key(Qt::Key_Slash);
        QCOMPARE(w.desk(), QStringLiteral("journal"));
        // Enter alone runs nothing
        d.inDialog([](QWidget* dialog) {
            QTest::keyClick(dialog->findChild<QLineEdit*>("typed"), Qt::Key_Return);
            QVERIFY(dialog->isVisible());
            QTest::keyClick(dialog->findChild<QLineEdit*>("typed"), Qt::Key_Escape);
        });
        d.key(Qt::Key_F1);
        QVERIFY(w.isVisible());
        // the arrows move in the list while the letters go into the field
        d.inDialog([](QWidget* dialog) {
            auto* typed = dialog->findChild<QLineEdit*>("typed");
            QTest::keyClicks(typed, "fibre");
            const int before = dialog->findChild<QTableWidget*>("commands")->currentRow();
            QTest::keyClick(typed, Qt::Key_Down);
            QCOMPARE(dialog->findChild<QTableWidget*>("commands")->currentRow(), before + 1);
            QTest::keyClick(typed, Qt::Key_Escape);
        });
        d.key(Qt::Key_F1);
        QCOMPARE(w.desk(), QStringLiteral("journal"));
    }
    void aNewDeskIsThereByItself()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.choose({"VP-04/3", End::A, Side::Cord});
        d.key(Qt::Key_2, Qt::AltModifier);
        QCOMPARE(w.desk(), QStringLiteral("toy"));
        QCOMPARE(toyOf(w).shownLink, std::string("VP-04/3"));
        QCOMPARE(d.headline(), QStringLiteral("Play"));
        d.key(Qt::Key_M);       // here it is the desk's own
        d.key(Qt::Key_Return);  // and the first thing that the advice asks for
        QCOMPARE(toyOf(w).wound, 2);
        w.showDesk(QStringLiteral("look"));
        d.key(Qt::Key_M);  // elsewhere it mates
        QCOMPARE(toyOf(w).wound, 2);
        QVERIFY(w.commands().find("desk.toy"));
    }
    void aDroppedFileGoesToTheDeskThatKnowsIt()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        const auto drop = [&](const QUrl& url) {
            QMimeData data;
            data.setUrls({url});
            QDropEvent event(QPointF(5, 5), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            static_cast<QObject&>(w).event(&event);
        };
        drop(QUrl::fromLocalFile("/tmp/a.toy"));
        QCOMPARE(toyOf(w).taken, QStringLiteral("/tmp/a.toy"));
        drop(QUrl("http://example.invalid/b.toy"));  // nothing is fetched
        QCOMPARE(toyOf(w).taken, QStringLiteral("/tmp/a.toy"));
        drop(QUrl::fromLocalFile("/tmp/b.xyz"));
        QVERIFY(d.said().contains("b.xyz"));
    }

private:
    QTemporaryDir dir_;
    DemoFolder demo_;
};

QTEST_MAIN(TestCommands)
#include "test_commands.moc"
