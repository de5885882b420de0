#include <unistd.h>

#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QtTest>
#include <thread>

#include "files/files.h"
#include "store/job_store.h"

using namespace clendo;

namespace {

JobSet job()
{
    JobSet j;
    j.name = "Varrow Point";
    return j;
}

FaceSeen look(const std::string& sha) { return {{"VP-04/1", End::A, Side::Cord}, sha, "a.png", {}}; }

/// Runs SQL on a closed job file, as another program could.
bool meddle(const QString& path, const QString& sql)
{
    bool ok = false;
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "meddler");
        db.setDatabaseName(path);
        ok = db.open() && QSqlQuery(db).exec(sql);
        db.close();
    }
    QSqlDatabase::removeDatabase("meddler");
    return ok;
}

}  // namespace

class TestStore : public QObject {
    Q_OBJECT
private slots:
    void init() { path_ = dir_.filePath(QString::number(++n_) + ".clendo"); }

    void whatWasFiledIsThereAgain()
    {
        const Evidence evidence{"a.png", std::string("\x89PNG\0bytes", 10)};
        const std::string sha = sha256(evidence.bytes);
        {
            auto store = JobStore::create(path_).value();
            QVERIFY(store->file(job(), "technician 1", 1000));
            QCOMPARE(store->file(look(sha), "technician 2", 1001, &evidence)->id, std::int64_t{2});
        }
        auto store = JobStore::open(path_).value();
        QVERIFY(store->readOnlyReason().empty());
        const auto entries = store->entries().value();
        QCOMPARE(entries.size(), std::size_t{2});
        QCOMPARE(entries[1].who, std::string("technician 2"));
        QCOMPARE(entries[1].at, std::int64_t{1001});
        QCOMPARE(std::get<FaceSeen>(entries[1].fact).picture, sha);
        QCOMPARE(store->evidence(sha).value(), evidence.bytes);
        QVERIFY(!store->evidence("0000"));
    }
    void aJobReadInOneThreadIsUsedInAnother()
    {
        const Evidence evidence{"a.png", "bytes"};
        const std::string sha = sha256(evidence.bytes);
        {
            auto store = JobStore::create(path_).value();
            QVERIFY(store->file(look(sha), "technician 1", 1, &evidence));
        }
        std::unique_ptr<JobStore> store;
        std::thread([&] {
            store = JobStore::open(path_).value();
            store->handOver();
        }).join();
        QCOMPARE(store->evidence(sha).value(), evidence.bytes);
        QCOMPARE(store->file(job(), "technician 1", 2)->id, std::int64_t{2});
        QCOMPARE(store->entries()->size(), std::size_t{2});
        store->handOver();
        QVERIFY(QFile::remove(path_));
        QVERIFY(!store->evidence(sha));  // the drive is gone: an error, not an end
        QVERIFY(!store->file(job(), "technician 1", 3));
    }
    void theJournalOnlyGrows()
    {
        {
            auto store = JobStore::create(path_).value();
            QVERIFY(store->file(job(), "t", 1));
        }
        QVERIFY(!meddle(path_, "UPDATE journal SET who = 'somebody else'"));
        QVERIFY(!meddle(path_, "DELETE FROM journal"));
        QCOMPARE(JobStore::open(path_).value()->entries()->size(), std::size_t{1});
    }
    void aNewJobOverwritesNothing()
    {
        QVERIFY(JobStore::create(path_));
        const auto again = JobStore::create(path_);
        QVERIFY(!again);
        QVERIFY(!JobStore::create("/no/such/folder/job.clendo"));
    }
    void whatIsNoJobIsRefused_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::newRow("empty") << QByteArray();
        QTest::newRow("text") << QByteArray("This is a shopping list.");
        QTest::newRow("half a header") << QByteArray("SQLite format 3\0", 16);
        QTest::newRow("noise") << QByteArray(5000, '\xAB');
    }
    void whatIsNoJobIsRefused()
    {
        QFETCH(QByteArray, bytes);
        QVERIFY(writeFile(path_.toStdString(), bytes.toStdString()));
        const auto store = JobStore::open(path_);
        QVERIFY(!store);
        QVERIFY(store.error().code == Error::Code::JobNotClendo);
        QCOMPARE(readFile(path_.toStdString()).value(), bytes.toStdString());  // and is left as it was
    }
    void aMissingFileAndAFolderAreRefused()
    {
        QVERIFY(JobStore::open(path_).error().code == Error::Code::FileUnreadable);
        QVERIFY(!JobStore::open(dir_.path()));
    }
    void anotherDatabaseIsRefused()
    {
        QVERIFY(meddle(path_, "CREATE TABLE cats (name TEXT)"));
        QVERIFY(JobStore::open(path_).error().code == Error::Code::JobNotClendo);
    }
    void aJobOfTomorrow()
    {
        {
            auto store = JobStore::create(path_).value();
            QVERIFY(store->file(job(), "t", 1));
        }
        QVERIFY(meddle(path_, "UPDATE meta SET value = '2' WHERE key = 'schema'"));
        {
            auto store = JobStore::open(path_).value();  // newer, but readable
            QVERIFY(QString::fromStdString(store->readOnlyReason()).contains("newer"));
            QCOMPARE(store->entries()->size(), std::size_t{1});
            QVERIFY(store->file(job(), "t", 2).error().code == Error::Code::JobReadOnly);
        }
        QVERIFY(meddle(path_, "UPDATE meta SET value = '2' WHERE key = 'oldest_reader'"));
        QVERIFY(JobStore::open(path_).error().code == Error::Code::JobNewer);
    }
    void aSecondWindowOnlyReads()
    {
        auto first = JobStore::create(path_).value();
        QVERIFY(first->file(job(), "t", 1));
        auto second = JobStore::open(path_).value();
        QVERIFY(QString::fromStdString(second->readOnlyReason()).contains("another window"));
        QCOMPARE(second->entries()->size(), std::size_t{1});
        QVERIFY(!second->file(job(), "t", 2));
        QVERIFY(first->file(job(), "t", 3));  // the first is not disturbed
        second.reset();
        first.reset();
        QVERIFY(JobStore::open(path_).value()->readOnlyReason().empty());
    }
    void aWriteProtectedJobOnlyReads()
    {
        {
            auto store = JobStore::create(path_).value();
            QVERIFY(store->file(job(), "t", 1));
        }
        if (geteuid() == 0) QSKIP("permissions do not hold for root");
        QFile::setPermissions(path_, QFile::ReadOwner);
        auto store = JobStore::open(path_).value();
        QVERIFY(!store->readOnlyReason().empty());
        QCOMPARE(store->entries()->size(), std::size_t{1});
    }
    void aFullDiskLeavesTheFactWhollyOut()
    {
        auto store = JobStore::create(path_).value();
        QVERIFY(store->file(job(), "t", 1));
        store->limitPages(store->pageCount() + 2);
        const Evidence large{"large.png", std::string(4'000'000, 'x')};
        const auto refused = store->file(look(sha256(large.bytes)), "t", 2, &large);
        QVERIFY(!refused);
        QVERIFY(refused.error().code == Error::Code::DiskFull);
        QVERIFY(QString::fromStdString(refused.error().message).contains("disk is full"));
        QCOMPARE(store->entries()->size(), std::size_t{1});
        QVERIFY(!store->evidence(sha256(large.bytes)));
        store->limitPages(1'000'000);  // space again
        QVERIFY(store->file(look(sha256(large.bytes)), "t", 3, &large));
        store.reset();
        store = JobStore::open(path_).value();
        QCOMPARE(store->entries()->size(), std::size_t{2});
        QCOMPARE(store->evidence(sha256(large.bytes))->size(), large.bytes.size());
    }
    void anUnreadableEntryDoesNotHideTheOthers()
    {
        {
            auto store = JobStore::create(path_).value();
            QVERIFY(store->file(job(), "t", 1));
        }
        QVERIFY(meddle(path_, "INSERT INTO journal (at, who, kind, body) VALUES (2, 't', 'mated', 'garbage')"));
        QVERIFY(meddle(path_, "INSERT INTO journal (at, who, kind, body) VALUES (3, 't', 'mated', '{\"link\":\"a\",\"end\":\"A\"}')"));
        int unreadable = 0;
        QCOMPARE(JobStore::open(path_).value()->entries(&unreadable)->size(), std::size_t{2});
        QCOMPARE(unreadable, 1);
    }
    void aLongJournalComesInOrderWithoutItsBrokenLines()
    {
        constexpr int many = 4500;  // more than one thread reads
        {
            auto store = JobStore::create(path_).value();
            std::vector<Fact> facts;
            for (int n = 0; n < many; ++n) {
                FaceHandled what;
                what.face = {"VP-04/" + std::to_string(n), n % 2 ? End::A : End::B, Side::Port};
                what.how = n % 7 ? "touched" : "fell into \"water\" at 5 \u00b0C";
                facts.emplace_back(what);
            }
            QVERIFY(store->file(facts, "technician \u00e4", 1000));
        }
        for (const char* line : {"(7, 1, 'x', 'face_handled', '{\"face\":')", "(2000, 1, 'x', 'face_handled', '[]')", "(2001, 1, '', 'joined', '{}')",
                                 "(4400, 1, 'x', 'face_seen', '{\"face\":\"VP-04/1/A/port\"}')"})
            QVERIFY(meddle(path_, QStringLiteral("INSERT OR REPLACE INTO journal VALUES %1").arg(line)));
        QVERIFY(meddle(path_, "INSERT INTO journal VALUES (9999, 1, 'x', 'of tomorrow', '{\"deep\":[{\"a\":1}]}')"));
        int unreadable = 0;
        const auto entries = JobStore::open(path_).value()->entries(&unreadable).value();
        QCOMPARE(unreadable, 4);
        QCOMPARE(int(entries.size()), many - 4 + 1);
        std::int64_t last = 0;
        for (const auto& e : entries) {
            QVERIFY(e.id > last);
            last = e.id;
            if (const auto* what = std::get_if<FaceHandled>(&e.fact)) {
                QCOMPARE(what->face.link, "VP-04/" + std::to_string(e.id - 1));
                QCOMPARE(what->how.size(), (e.id - 1) % 7 ? std::size_t(7) : std::string("fell into \"water\" at 5 \u00b0C").size());
                QCOMPARE(e.who, std::string("technician \u00e4"));
            }
        }
        const auto* unknown = std::get_if<UnknownFact>(&entries.back().fact);
        QVERIFY(unknown);
        QCOMPARE(unknown->body, std::string(R"({"deep":[{"a":1}]})"));
    }
    void changedEvidenceIsNoticed()
    {
        const Evidence evidence{"a.png", "picture"};
        {
            auto store = JobStore::create(path_).value();
            QVERIFY(store->file(look(sha256(evidence.bytes)), "t", 1, &evidence));
        }
        QVERIFY(meddle(path_, "UPDATE evidence SET bytes = 'another picture'"));
        const auto read = JobStore::open(path_).value()->evidence(sha256(evidence.bytes));
        QVERIFY(!read);
        QVERIFY(QString::fromStdString(read.error().message).contains("changed"));
    }

private:
    QTemporaryDir dir_;
    QString path_;
    int n_ = 0;
};
QTEST_GUILESS_MAIN(TestStore)
#include "test_store.moc"
