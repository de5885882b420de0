// A job taken elsewhere as plain files: nothing is lost, and nothing that was changed comes in.
#include <QDir>
#include <QProcess>
#include <QRandomGenerator>
#include <QTemporaryDir>
#include <QtTest>

#include "demo/demo_job.h"
#include "job_files.h"
#include "store/job_folder.h"

using namespace clendo;

namespace {

std::vector<std::string> texts(const JobStore& store)
{
    std::vector<std::string> out;
    for (const auto& r : store.records()) out.push_back(r.hash.hex() + canonicalEntry(r));
    return out;
}

}  // namespace

class TestJobFolder : public QObject {
    Q_OBJECT
private slots:
    void init() { dir_ = std::make_unique<QTemporaryDir>(); }

    void aRoundTripLosesNothing()
    {
        const QString path = makeDemo(dir_->filePath("demo")).value().job, folder = dir_->filePath("as files"), back = dir_->filePath("back.clendo");
        const auto before = JobStore::open(path, JobStore::Access::Read).value();
        const auto out = exportJob(*before, folder).value();
        const auto in = importJob(folder, back).value();
        QCOMPARE(in.entries, out.entries);
        QCOMPARE(in.evidence, out.evidence);
        QVERIFY(in.entries > 100 && in.evidence > 40);
        const auto after = JobStore::open(back).value();
        QCOMPARE(texts(*after), texts(*before));
        QCOMPARE(after->heads(), before->heads());
        QCOMPARE(after->evidenceHashes(), before->evidenceHashes());
        for (const auto& sha : before->evidenceHashes()) QCOMPARE(after->evidence(sha).value(), before->evidence(sha).value());
        QVERIFY(after->checkAll().empty());
        // and once more: the folder is the same, byte by byte
        QVERIFY(exportJob(*after, dir_->filePath("again")));
        QProcess diff;
        diff.start("diff", {"-r", folder, dir_->filePath("again")});
        QVERIFY(diff.waitForFinished() && diff.exitCode() == 0);
    }
    void strangeNamesSurvive()
    {
        const QString path = dir_->filePath("a.clendo");
        auto store = JobStore::create(path, founding()).value();
        for (const std::string& who :
             {std::string("Größe \"x\" \\ \n\t"), std::string("\xD7\x90\xD7\x91\xD7\x92"), std::string(300, 'x'), std::string("=cmd()")})
            QVERIFY(store->append(actOf({FaceHandled{{"VP-04/1", End::A, Side::Cord}, who}}, someDay, who.c_str())));
        QVERIFY(exportJob(*store, dir_->filePath("f")));
        const auto made = importJob(dir_->filePath("f"), dir_->filePath("b.clendo"));
        QVERIFY2(made.has_value(), made ? "" : made.error().message.c_str());
        QCOMPARE(texts(*JobStore::open(dir_->filePath("b.clendo")).value()), texts(*store));
    }
    void whatWasChangedDoesNotComeIn_data()
    {
        QTest::addColumn<int>("what");
        for (const char* row :
             {"a line changed", "the last line cut off", "cut within a line", "a line taken out", "two lines swapped", "a picture changed",
              "a picture taken away", "no heads", "heads that are none", "heads of fewer", "a picture that nobody filed", "an empty journal"})
            QTest::newRow(row) << rows_++;
    }
    void whatWasChangedDoesNotComeIn()
    {
        QFETCH(int, what);
        auto store = jobWith(dir_->filePath("a.clendo"), 6);
        const QString folder = dir_->filePath("f");
        QVERIFY(exportJob(*store, folder));
        const std::string journal = folder.toStdString() + "/journal.jsonl", heads = folder.toStdString() + "/heads.json";
        std::string text = readFile(journal).value();
        const QStringList pictures = QDir(folder + "/evidence").entryList(QDir::Files);
        const auto lines = QString::fromStdString(text).split('\n', Qt::SkipEmptyParts);
        const auto put = [&](QStringList all) { return writeFile(journal, (all.join('\n') + '\n').toStdString()).has_value(); };
        QStringList some = lines;
        switch (what) {
            case 0:
                text[text.size() / 2] ^= 1;
                QVERIFY(writeFile(journal, text));
                break;
            case 1:
                some.removeLast();
                QVERIFY(put(some));
                break;
            case 2: QVERIFY(writeFile(journal, text.substr(0, text.size() - 20))); break;
            case 3:
                some.removeAt(3);
                QVERIFY(put(some));
                break;
            case 4:
                some.swapItemsAt(2, 3);
                QVERIFY(put(some));
                break;
            case 5: QVERIFY(writeFile((folder + "/evidence/" + pictures[0]).toStdString(), "other")); break;
            case 6: QVERIFY(QFile::remove(folder + "/evidence/" + pictures[1])); break;
            case 7: QVERIFY(QFile::remove(QString::fromStdString(heads))); break;
            case 8: QVERIFY(writeFile(heads, "{\"heads\":{\"x\":7}}")); break;
            case 9: QVERIFY(writeFile(heads, "{\"heads\":{}}")); break;
            case 10: QVERIFY(writeFile((folder + "/evidence/" + QString(64, 'a')).toStdString(), "mine")); break;
            default: QVERIFY(writeFile(journal, ""));
        }
        const QString to = dir_->filePath("b.clendo");
        const auto made = importJob(folder, to);
        // the order of lines does not matter where each names the one before it
        if (what == 4) {
            QVERIFY(made && texts(*JobStore::open(to).value()) == texts(*store));
            return;
        }
        QVERIFY(!made);
        QVERIFY(made.error().code == (what == 7 ? Error::Code::JobNotClendo : Error::Code::JobDamaged));
        QVERIFY(!QFileInfo::exists(to));
    }
    void nothingIsWrittenOverAndNothingHalf()
    {
        auto store = jobWith(dir_->filePath("a.clendo"), 2);
        QVERIFY(QDir().mkpath(dir_->filePath("f")));
        QVERIFY(!exportJob(*store, dir_->filePath("f")));
        QVERIFY(QDir(dir_->filePath("f")).isEmpty());
        QVERIFY(!exportJob(*store, "/proc/no/such"));
        QVERIFY(exportJob(*store, dir_->filePath("g")));
        QVERIFY(writeFile(dir_->filePath("there.clendo").toStdString(), "mine"));
        QVERIFY(!importJob(dir_->filePath("g"), dir_->filePath("there.clendo")));
        QCOMPARE(readFile(dir_->filePath("there.clendo").toStdString()).value(), std::string("mine"));
        QVERIFY(!importJob(dir_->path(), dir_->filePath("c.clendo")));
        QCOMPARE(QDir(dir_->path()).entryList({"*.part-*"}, QDir::AllEntries | QDir::Hidden).size(), 0);
    }

private:
    static inline int rows_ = 0;
    std::unique_ptr<QTemporaryDir> dir_;
};

QTEST_GUILESS_MAIN(TestJobFolder)
#include "test_job_folder.moc"
