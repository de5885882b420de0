#include <QTemporaryDir>
#include <QtTest>
#include <random>

#include "job_files.h"
#include "record/fold/fold.h"
#include "record/state/rules.h"

using namespace clendo;

namespace {

constexpr int looks = 40;

/// What a damaged copy was taken for.
enum class Answer { Whole, Told, Refused };

Answer answerOf(const QString& path)
{
    const auto job = JobStore::open(path, JobStore::Access::Read);
    if (!job) return Answer::Refused;
    return (*job)->checkAll().empty() ? Answer::Whole : Answer::Told;
}

}  // namespace

/// Job files that something happened to: each loss and each change is told, and what is left can be saved.
class TestDamagedJobs : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        good_ = dir_.filePath("good.clendo");
        QVERIFY(jobWith(good_, looks));
        bytes_ = bytesOf(good_);
        tables_ = *tablesOf(good_);
    }
    void init() { path_ = dir_.filePath(QString("copy-%1.clendo").arg(++n_)); }

    void singleBytesAnywhereInTheTablesAreFound()
    {
        std::mt19937 random(7);
        int changed = 0, unseen = 0;
        for (int i = 0; i < 600; ++i) {
            QByteArray copy = bytes_;
            const auto at = qsizetype(random() % std::size_t(copy.size()));
            copy[at] = char(copy[at] ^ char(1 << (random() % 8)));
            QVERIFY(putBytes(path_, copy));
            const auto tables = tablesOf(path_);
            if (tables && *tables == tables_) continue;  // in the header or between the rows: nothing that is kept was changed
            ++changed;
            if (answerOf(path_) == Answer::Whole) {
                ++unseen;
                qWarning("byte %lld was changed and not found", qlonglong(at));
            }
        }
        QVERIFY2(changed > 200, qPrintable(QString::number(changed)));
        QCOMPARE(unseen, 0);
    }
    void aChangedPageIsToldAndNothingCanBeFiled_data()
    {
        QTest::addColumn<int>("page");
        for (int page = 0; page < bytes_.size() / 4096; page += 3) QTest::addRow("page %d", page) << page;
    }
    void aChangedPageIsToldAndNothingCanBeFiled()
    {
        QFETCH(int, page);
        QByteArray copy = bytes_;
        copy.replace(page * 4096, 4096, QByteArray(4096, '\0'));
        QVERIFY(putBytes(path_, copy));
        if (const auto tables = tablesOf(path_); tables && *tables == tables_) QSKIP("nothing lies there");
        const auto job = JobStore::open(path_);
        if (!job) return;  // said, too
        const bool inEvidence = (*job)->wrong().empty();
        QVERIFY(!(*job)->checkAll().empty());
        if (inEvidence) return;  // what only reading a picture finds: it is told then
        QVERIFY2(QString::fromStdString((*job)->readOnlyReason()).contains("damaged"), (*job)->readOnlyReason().c_str());
        QVERIFY(!(*job)->append(founding()));
    }
    void aCutOffJobIsADamagedJob_data()
    {
        QTest::addColumn<int>("percent");
        for (const int percent : {0, 1, 5, 20, 50, 80, 95, 99}) QTest::addRow("%d %%", percent) << percent;
    }
    void aCutOffJobIsADamagedJob()
    {
        QFETCH(int, percent);
        QVERIFY(putBytes(path_, bytes_.left(bytes_.size() * percent / 100)));
        const auto job = JobStore::open(path_);
        if (!job) {
            QCOMPARE(job.error().code, Error::Code::JobDamaged);
            return;
        }
        QVERIFY(!(*job)->wrong().empty());
        QVERIFY(!(*job)->readOnlyReason().empty());
        if (percent >= 50) QVERIFY2((*job)->entries().size() > 5, "what is there can be read");
    }
    void losingEntriesByHandIsTold_data()
    {
        QTest::addColumn<QString>("sql");
        QTest::addColumn<QString>("says");
        QTest::newRow("one in the middle") << "DELETE FROM journal WHERE position = 20"
                                           << "is missing";
        QTest::newRow("the last ten") << "DELETE FROM journal WHERE position > 39"
                                      << "are missing";
        QTest::newRow("the last ten, and the end") << "DELETE FROM journal WHERE position > 39;; DELETE FROM heads"
                                                   << "does not know how far";
        QTest::newRow("all") << "DELETE FROM journal"
                             << "are missing";
        QTest::newRow("a person") << "UPDATE journal SET who = 'somebody' WHERE position = 12"
                                  << "was changed after it was filed";
        QTest::newRow("a verdict") << "UPDATE journal SET body = replace(body, 'a.png', 'b.png') WHERE position = 12"
                                   << "was changed after it was filed";
        QTest::newRow("the order") << "UPDATE journal SET position = 500 WHERE position = 12"
                                   << "not numbered one after another";
        QTest::newRow("the count") << "UPDATE meta SET value = '12' WHERE key = 'entries'"
                                   << "says that it has 12 entries";
        QTest::newRow("a picture") << "DELETE FROM evidence WHERE rowid = 3"
                                   << "pictures and traces; 39 are there";
        QTest::newRow("a picture's bytes") << "UPDATE evidence SET bytes = x'00' WHERE rowid = 3"
                                           << "";  // found when it is read, and by verify
        QTest::newRow("the name of a trigger")
            << "PRAGMA writable_schema = ON;; UPDATE sqlite_master SET name = 'journal_stayz' WHERE name = 'journal_stays'"
            << "cannot be read";
        QTest::newRow("a table more") << "CREATE TABLE cats (name TEXT)"
                                      << "not those that Clendo makes";
    }
    void losingEntriesByHandIsTold()
    {
        QFETCH(QString, sql);
        QFETCH(QString, says);
        QVERIFY(putBytes(path_, bytes_));
        QVERIFY(meddle(path_, "DROP TRIGGER journal_keeps") && meddle(path_, "DROP TRIGGER journal_stays"));
        const bool renamed = QByteArray(QTest::currentDataTag()) == "the name of a trigger";
        if (!renamed) QVERIFY(meddle(path_, sql));
        QVERIFY(meddle(path_, "CREATE TRIGGER journal_keeps BEFORE UPDATE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END") &&
                meddle(path_, "CREATE TRIGGER journal_stays BEFORE DELETE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END"));
        if (renamed) QVERIFY(meddle(path_, sql));
        const auto job = JobStore::open(path_, JobStore::Access::Read).value();
        const auto told = [&](const std::vector<Wrong>& wrong) {
            return std::any_of(wrong.begin(), wrong.end(), [&](const Wrong& w) { return QString::fromStdString(w.message).contains(says); });
        };
        QVERIFY(!job->checkAll().empty());
        if (!says.isEmpty()) QVERIFY2(told(job->wrong()), job->wrong().empty() ? "nothing" : job->wrong().front().message.c_str());
    }
    void whatIsLeftIsSaved_data()
    {
        QTest::addColumn<QString>("how");
        QTest::newRow("cut in the middle") << "cut";
        QTest::newRow("the beginning overwritten") << "head";
        QTest::newRow("pages zeroed") << "pages";
        QTest::newRow("entries deleted") << "deleted";
    }
    void whatIsLeftIsSaved()
    {
        QFETCH(QString, how);
        QByteArray copy = bytes_;
        if (how == "cut") copy.truncate(copy.size() * 6 / 10);
        if (how == "head") copy.replace(0, 4096, QByteArray(4096, '\xAB'));
        if (how == "pages")
            for (int page = 12; page < 20; page += 2) copy.replace(page * 4096, 4096, QByteArray(4096, '\0'));
        QVERIFY(putBytes(path_, copy));
        if (how == "deleted")
            QVERIFY(meddle(path_, "DROP TRIGGER journal_stays") && meddle(path_, "DELETE FROM journal WHERE position IN (15, 16, 17, 49)"));
        const QString saved = freeNameBeside(path_, "saved");
        std::size_t left = 0;
        {
            const auto damaged = JobStore::open(path_).value();
            QVERIFY(!damaged->checkAll().empty());
            left = damaged->entries().size();
            const auto done = saveWhatIsLeft(*damaged, saved, "crew lead", someDay + 9999 * second);
            QVERIFY2(done, done ? "" : done.error().message.c_str());
            QCOMPARE(done->entries, left + (done->lost.entries() > 0 || !done->lost.evidence.empty() || done->lost.perhapsMore ? 1 : 0));
            if (how == "deleted") QCOMPARE(done->lost.gaps.size(), std::size_t{2});
            if (how == "head") QCOMPARE(left, founding().facts.size() + looks);  // nothing of the journal was lost
        }
        QVERIFY(left > 5);
        auto job = JobStore::open(saved).value();
        QVERIFY2(job->checkAll().empty(), job->checkAll().empty() ? "" : job->checkAll().front().message.c_str());
        QVERIFY2(job->readOnlyReason().empty(), job->readOnlyReason().c_str());
        QVERIFY(job->append(actOf({FaceHandled{lookAt("").face, "touched"}})));  // and it goes on
        const JobState state = fold(job->entries(), Rules(dataFolder()));
        QCOMPARE(state.losses.empty(), how == "head");
        QCOMPARE(bytesOf(path_).size(), QFileInfo(path_).size());
    }
    void aJobThatMovesUnderItsWindowIsNoticed_data()
    {
        QTest::addColumn<QString>("how");
        QTest::newRow("deleted") << "deleted";
        QTest::newRow("replaced") << "replaced";
        QTest::newRow("renamed") << "renamed";
        QTest::newRow("its folder is gone") << "folder";
    }
    void aJobThatMovesUnderItsWindowIsNoticed()
    {
        QFETCH(QString, how);
        const QString folder = dir_.filePath("under-" + how), file = folder + "/job.clendo", copy = dir_.filePath("rescue-" + how + ".clendo");
        QVERIFY(QDir().mkpath(folder));
        auto store = jobWith(file, 3);
        std::vector<Entry> entries = JobStore::open(file, JobStore::Access::Read).value()->takeEntries();
        if (how == "deleted") QVERIFY(QFile::remove(file));
        if (how == "replaced") QVERIFY(putBytes(file + ".new", bytes_) && QFile::remove(file) && QFile::rename(file + ".new", file));
        if (how == "renamed") QVERIFY(QFile::rename(file, folder + "/other.clendo"));
        if (how == "folder") QVERIFY(QDir(folder).removeRecursively());
        const auto refused = store->append(actOf({FaceHandled{lookAt("").face, "touched"}}));
        QVERIFY(!refused);
        QCOMPARE(refused.error().code, Error::Code::JobMoved);
        auto rescued = rescue(*store, entries, copy, "technician 1", someDay).value();
        QVERIFY2(rescued->checkAll().empty(), rescued->checkAll().empty() ? "" : rescued->checkAll().front().message.c_str());
        QCOMPARE(rescued->entries().size(), entries.size());
        QCOMPARE(rescued->evidenceHashes().size(), std::size_t{3});
        QVERIFY(rescued->append(actOf({FaceHandled{lookAt("").face, "touched"}})));
        // and together again, where that can be
        const auto joined = joinAgain(*rescued, file);
        QCOMPARE(joined.has_value(), how != "replaced" && how != "folder");
        if (how == "replaced") QCOMPARE(joined.error().code, Error::Code::JobOther);
        if (joined) QCOMPARE(JobStore::open(file, JobStore::Access::Read).value()->entries().size(), entries.size() + 1);
    }
    void aRescueJoinsItsFileThatCameBack()
    {
        const QString file = path_, away = path_ + ".away", copy = freeNameBeside(path_, "rescued");
        auto store = jobWith(file, 3);
        const auto entries = JobStore::open(file, JobStore::Access::Read).value()->takeEntries();
        QVERIFY(QFile::rename(file, away));
        QVERIFY(!store->append(founding()));
        const Evidence late{"late.png", "late"};
        auto rescued = rescue(*store, entries, copy, "technician 1", someDay).value();
        QVERIFY(rescued->append(actOf({lookAt(sha256(late.bytes))}), std::span(&late, 1)));
        store.reset();
        QVERIFY(QFile::rename(away, file));
        QVERIFY(joinAgain(*rescued, file));
        const auto job = JobStore::open(file).value();
        QVERIFY(job->checkAll().empty());
        QCOMPARE(job->entries().size(), entries.size() + 1);
        QCOMPARE(job->evidence(sha256(late.bytes)).value(), late.bytes);
        QVERIFY(joinAgain(*rescued, file).has_value() == false);  // it is open: said, not forced
    }

private:
    QTemporaryDir dir_;
    QString good_, path_;
    QByteArray bytes_, tables_;
    int n_ = 0;
};
QTEST_GUILESS_MAIN(TestDamagedJobs)
#include "test_damaged_jobs.moc"
