// Keys, signed certificates, disputes, jobs united and taken elsewhere: in the window.
#include <QAbstractButton>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QListWidget>
#include <QPushButton>
#include <QRadioButton>
#include <QSpinBox>
#include <QTableWidget>

#include "app/frame/contradictions_dialog.h"
#include "app/learn/price_dialog.h"
#include "app/sign/check_dialog.h"
#include "app/sign/signer.h"
#include "demo/demo_job.h"
#include "files/files.h"
#include "store/job_folder.h"
#include "store/save_job.h"
#include "window_driver.h"

using namespace clendo;

namespace {

void press(const QWidget* dialog, const char* words)
{
    for (auto* button : dialog->findChildren<QPushButton*>())
        if (button->text().remove('&').startsWith(QLatin1String(words))) return button->click();
    QFAIL(words);
}

/// Types a path into the file dialog that is open.
void choose(QWidget* dialog, const QString& path)
{
    auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
    QVERIFY(name);
    name->setText(path);
    QTest::keyClick(name, Qt::Key_Return);
}

}  // namespace

class TestHandingOver : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        QCoreApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
        qputenv("XDG_DATA_HOME", dir_.filePath("home").toUtf8());
        qunsetenv("DBUS_SESSION_BUS_ADDRESS");  // no keyring of whoever runs the tests
        demo_ = makeDemo(dir_.filePath("demo")).value();
        applyTheme(*qApp, false);
    }
    void aKeyIsMadeAndACertificateSignedAndChecked()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        d.inDialog([&d, this](QWidget* dialog) {
            QCOMPARE(dialog->objectName(), QStringLiteral("keysDialog"));
            d.inDialog([](QWidget* asked) {
                const auto accept = asked->findChild<QDialogButtonBox*>()->buttons().constFirst();
                asked->findChild<QLineEdit*>("keyHolder")->setText("technician 1");
                asked->findChild<QLineEdit*>("keyPassphrase")->setText("low");
                QVERIFY(!accept->isEnabled());  // too short
                asked->findChild<QLineEdit*>("keyPassphrase")->setText("low tide at noon");
                QVERIFY(!accept->isEnabled());  // not said again
                asked->findChild<QLineEdit*>("keyPassphraseAgain")->setText("low tide at noon");
                QVERIFY(accept->isEnabled());
                QTest::keyClick(asked, Qt::Key_Return);
            });
            press(dialog, "Make a key");
            const auto* said = dialog->findChild<QLabel*>("keysSaid");
            QTRY_VERIFY_WITH_TIMEOUT(said->text().startsWith("Made"), 20000);
            QVERIFY(dialog->findChild<QListWidget*>("ownKeys")->item(0)->text().contains("technician 1"));
            const QString paper = dir_.filePath("key.pdf"), half = dir_.filePath("public.json");
            d.inDialog([paper](QWidget* asked) { choose(asked, paper); });
            press(dialog, "On paper");
            QTRY_VERIFY_WITH_TIMEOUT(said->text().contains("still sealed"), 20000);
            d.inDialog([half](QWidget* asked) { choose(asked, half); });
            press(dialog, "Export its public half");
            QTRY_VERIFY_WITH_TIMEOUT(said->text().contains("no secret"), 20000);
            QVERIFY(seal::readPublicKey(readFile(half.toStdString()).value()));
            QVERIFY(readFile(paper.toStdString())->starts_with("%PDF"));
            dialog->close();
        });
        d.key(Qt::Key_K, Qt::ControlModifier);
        d.inDialog([](QWidget* dialog) {
            QVERIFY(!dialog->findChild<QLineEdit*>("certificatePassphrase")->isEnabled());  // the key is open
            dialog->findChild<QComboBox*>("certificateOf")->setCurrentIndex(3);             // the whole job
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_W);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().contains("signed with the key of technician 1"), 60000);
        const QString folder = QFileInfo(demo_.job).dir().filePath("certificates/Varrow+Point");
        for (const bool changed : {false, true}) {
            if (changed) QVERIFY(writeFile((folder + "/Varrow+Point.csv").toStdString(), "mine"));
            d.inDialog([&d, folder, changed](QWidget* dialog) {
                d.inDialogToCome([changed](QWidget* told) {
                    if (told->objectName() != QLatin1String("checkDialog")) return;
                    const QString sentence = told->findChild<QLabel*>("checkSentence")->text();
                    QVERIFY2(sentence.contains(changed ? "Varrow+Point.csv" : "known here as technician 1"), qPrintable(sentence));
                    QCOMPARE(told->findChild<QTableWidget*>("checkWrong") != nullptr, changed);
                    QVERIFY(told->findChild<QTableWidget*>("checkSignOffs"));
                    told->close();
                });
                choose(dialog, folder);
            });
            d.key(Qt::Key_E, Qt::ControlModifier);
            QTRY_VERIFY_WITH_TIMEOUT(d.said().contains(changed ? "was changed" : "Nothing was changed"), 20000);
        }
    }
    void aWrongPassphraseWritesNothing()
    {
        MainWindow w;  // a new window: no key is open
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        const QDir certificates(QFileInfo(demo_.job).dir().filePath("certificates"));
        d.inDialog([](QWidget* dialog) {
            auto* passphrase = dialog->findChild<QLineEdit*>("certificatePassphrase");
            QVERIFY(passphrase->isEnabled());
            QCOMPARE(dialog->focusWidget(), passphrase);
            passphrase->setText("high tide at noon");
            QTest::keyClick(dialog, Qt::Key_Return);
        });
        d.key(Qt::Key_W);
        QTRY_VERIFY2_WITH_TIMEOUT(d.said().contains("does not open the key"), qPrintable(d.said()), 20000);
        QVERIFY(!certificates.exists("VP-04"));
    }
    void whoItCouldHaveBeenIsWrittenDown()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        w.choose({"VP-04/1", End::A, Side::Port});
        d.key(Qt::Key_Y, Qt::ShiftModifier);
        QVERIFY(d.said().contains("never found bad"));
        const FaceId bad{"VP-04/8", End::A, Side::Port};
        QVERIFY(!w.session()->state().face(bad).looks.empty());
        w.choose(bad);
        d.inDialog([](QWidget* dialog) {
            auto* said = dialog->findChild<QLineEdit*>();
            QVERIFY(said && said->echoMode() == QLineEdit::Password);
            said->setText("low tide at noon");
            QTest::keyClick(said, Qt::Key_Return);
        });
        d.key(Qt::Key_Y, Qt::ShiftModifier);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().startsWith("The page is in"), 20000);
        const QString folder = QFileInfo(demo_.job).dir().filePath("certificates/who+touched+VP-04_8_A_port");
        const auto check = seal::checkFolder(folder.toStdString(), seal::KeyRing::ofUser().known());
        QVERIFY(check && check->ok() && check->standing == seal::Standing::Known);
        QVERIFY(QFileInfo::exists(folder + "/pictures/found-bad.png"));
    }
    void thePriceOfLooksFollowsItsAssumptions()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        const JobSnapshot shown = w.session()->snapshot();
        PriceDialog dialog(*shown.state, shown.journal.all(), &w);
        const auto words = [&] { return dialog.findChild<QWidget*>("priceWords")->accessibleName(); };
        QVERIFY2(words().contains("Assumed: 25 %"), qPrintable(words()));
        const QString before = words();
        dialog.findChild<QSpinBox*>("priceShare")->setValue(80);
        QVERIFY(words().contains("Assumed: 80 %") && words() != before);
    }
    void twoCopiesAreUnitedAndWhatDiffersIsSettled()
    {
        const QString mine = dir_.filePath("mine.clendo"), theirs = dir_.filePath("theirs.clendo");
        MainWindow w;
        QVERIFY(created(w, mine, "Varrow Point"));
        WindowDriver d(w);
        QVERIFY(filed(*w.session(), KitKept{"pen 1", "pen", {}, "A-1", 0, 500, {}, false}));
        QVERIFY(QFile::copy(mine, theirs));
        QVERIFY(filed(*w.session(), SettingSet{"attempts", "4"}));
        {
            MainWindow other;
            QVERIFY(opened(other, theirs));
            QVERIFY(filed(*other.session(), SettingSet{"attempts", "7"}));
            QVERIFY(filed(*other.session(), FaceHandled{{"VP-04/1", End::A, Side::Cord}, "touched"}));
        }
        d.inDialog([&d, theirs](QWidget* dialog) {
            d.inDialogToCome([](QWidget* told) {
                QCOMPARE(told->objectName(), QStringLiteral("contradictionsDialog"));
                const auto buttons = told->findChildren<QRadioButton*>();
                for (auto* button : buttons)
                    if (button->text().contains("decides: 4")) button->setChecked(true);
                QCOMPARE(buttons.size(), 3);  // either, or neither yet
                QTest::keyClick(told, Qt::Key_Return);
            });
            choose(dialog, theirs);
        });
        d.key(Qt::Key_M, Qt::ControlModifier);
        QTRY_VERIFY2_WITH_TIMEOUT(d.said().startsWith("Settled"), qPrintable(d.said()), 30000);
        QVERIFY(w.session()->path() != mine);
        const auto entries = w.session()->entries();
        const auto* last = std::get_if<SettingSet>(&entries.back().fact);
        QVERIFY(last && last->value == "4");  // the earlier of the two, said once more
        QVERIFY(QFileInfo::exists(mine) && QFileInfo::exists(theirs));
        // another job is none
        d.inDialog([this](QWidget* dialog) { choose(dialog, demo_.job); });
        d.key(Qt::Key_M, Qt::ControlModifier);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().contains("two different jobs"), 20000);
    }
    void aJobGoesThroughAFolder()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        const QString folder = dir_.filePath("as files"), back = dir_.filePath("back.clendo");
        d.inDialog([folder](QWidget* dialog) { choose(dialog, folder); });
        d.key(Qt::Key_X, Qt::ControlModifier);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().startsWith("The whole job lies in"), 20000);
        d.inDialog([&d, folder, back](QWidget* dialog) {
            d.inDialogToCome([back](QWidget* asked) { choose(asked, back); });
            choose(dialog, folder);
        });
        const auto entries = w.session()->entries().size();
        d.key(Qt::Key_U, Qt::ControlModifier);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().startsWith("Taken in"), 30000);
        QCOMPARE(w.session()->path(), QFileInfo(back).canonicalFilePath());
        QCOMPARE(w.session()->entries().size(), entries);
    }
    void aPlanIsTakenOver()
    {
        MainWindow w;
        QVERIFY(created(w, dir_.filePath("new.clendo"), "Another"));
        WindowDriver d(w);
        d.inDialog([&d, this](QWidget* dialog) {
            d.inDialogToCome([](QWidget* import) { QTest::keyClick(import, Qt::Key_Return); });
            choose(dialog, demo_.job);
        });
        d.key(Qt::Key_R, Qt::ControlModifier);
        QTRY_VERIFY_WITH_TIMEOUT(d.said().startsWith("Planned: 2 cables"), 30000);
        QCOMPARE(w.session()->state().plan->cables.size(), std::size_t{2});
        QVERIFY(w.session()->state().face({"VP-04/1", End::A, Side::Port}).looks.empty());
    }

private:
    QTemporaryDir dir_;
    DemoFolder demo_;
};

QTEST_MAIN(TestHandingOver)
#include "test_handing_over.moc"
