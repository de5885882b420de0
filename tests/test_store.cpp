#include <sys/stat.h>
#include <unistd.h>

#include <QTemporaryDir>
#include <QtTest>
#include <thread>

#include "job_files.h"
#include "record/fold/fold.h"
#include "record/state/rules.h"

using namespace clendo;

class TestStore : public QObject {
    Q_OBJECT
private slots:
    void init() { path_ = dir_.filePath(QString::number(++n_) + ".clendo"); }

    void whatWasFiledIsThereAgain()
    {
        const Evidence evidence{"a.png", std::string("\x89PNG\0bytes", 10)};
        const std::string sha = sha256(evidence.bytes);
        Digest hash;
        {
            auto store = JobStore::create(path_, founding()).value();
            const auto filed = store->append(actOf({lookAt(sha)}, someDay + second, "technician 2"), std::span(&evidence, 1)).value();
            hash = filed.front().hash;
            QCOMPARE(filed.front().sequence, std::int64_t(founding().facts.size()) + 1);
        }
        QVERIFY(!QFile::exists(path_ + "-journal") && !QFile::exists(path_ + ".lock"));
        auto store = JobStore::open(path_).value();
        QVERIFY2(store->readOnlyReason().empty() && store->notice().empty(), store->readOnlyReason().c_str());
        const auto& entries = store->entries();
        QCOMPARE(entries.size(), founding().facts.size() + 1);
        QCOMPARE(entries.back().who, std::string("technician 2"));
        QCOMPARE(entries.back().happened, someDay + second);
        QVERIFY(entries.back().hash == hash && entries.back().previous == entries[entries.size() - 2].hash);
        QCOMPARE(std::get<FaceSeen>(entries.back().fact).picture, sha);
        QCOMPARE(store->evidence(sha).value(), evidence.bytes);
        QVERIFY(!store->evidence("0000"));
        QVERIFY(store->checkAll().empty());
    }
    void aJobReadInOneThreadIsUsedInAnother()
    {
        const std::string sha = [&] { return *jobWith(path_, 1)->evidenceHashes().begin(); }();
        std::unique_ptr<JobStore> store;
        std::thread([&] {
            store = JobStore::open(path_).value();
            store->handOver();
        }).join();
        QVERIFY(store->evidence(sha));
        const auto sequence = store->entries().back().sequence;
        QCOMPARE(store->append(actOf({FaceCleaned{lookAt(sha).face, "dry", 1, {}}}))->front().sequence, sequence + 1);  // the same chain goes on
        store->handOver();
        QVERIFY(QFile::remove(path_));
        QVERIFY(!store->evidence(sha));  // the drive is gone: an error, not an end
        QVERIFY(store->append(founding()).error().code == Error::Code::JobMoved);
    }
    void theJournalOnlyGrows()
    {
        QVERIFY(jobWith(path_, 1));
        QVERIFY(!meddle(path_, "UPDATE journal SET who = 'somebody else'"));
        QVERIFY(!meddle(path_, "DELETE FROM journal"));
        QVERIFY(JobStore::open(path_).value()->wrong().empty());
    }
    void aNewJobOverwritesNothing()
    {
        QVERIFY(JobStore::create(path_, founding()));
        const QByteArray before = bytesOf(path_);
        const auto again = JobStore::create(path_, founding());
        QVERIFY(!again && again.error().message.find("exists already") != std::string::npos);
        QCOMPARE(bytesOf(path_), before);
        QVERIFY(!JobStore::create("/no/such/folder/job.clendo"));
        const QString link = dir_.filePath("planted.clendo");
        QVERIFY(QFile::link(dir_.filePath("elsewhere"), link));  // a link into nowhere is not followed
        QVERIFY(!JobStore::create(link, founding()) && !QFile::exists(dir_.filePath("elsewhere")));
        QCOMPARE(QDir(dir_.path()).entryList({"*.new-*"}, QDir::Files).size(), 0);
    }
    void whatIsNoJobIsRefused_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("name");
        QTest::addColumn<bool>("damaged");  // what is called a job is a damaged one
        for (const bool named : {true, false}) {
            const QString name = named ? "%1.clendo" : "%1.txt";
            QTest::addRow("empty, %d", named) << QByteArray() << name << named;
            QTest::addRow("text, %d", named) << QByteArray("This is a shopping list.") << name << named;
            QTest::addRow("half a header, %d", named) << QByteArray("SQLite format 3\0", 16) << name << true;
            QTest::addRow("noise, %d", named) << QByteArray(5000, '\xAB') << name << named;
        }
    }
    void whatIsNoJobIsRefused()
    {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, name);
        QFETCH(bool, damaged);
        const QString path = dir_.filePath(name.arg(n_));
        QVERIFY(putBytes(path, bytes));
        const auto store = JobStore::open(path);
        QVERIFY(!store);
        QCOMPARE(store.error().code, damaged ? Error::Code::JobDamaged : Error::Code::JobNotClendo);
        QCOMPARE(bytesOf(path), bytes);  // and is left as it was
        QVERIFY(!QFile::exists(path + ".lock"));
    }
    void aMissingFileAndAFolderAreRefused()
    {
        QVERIFY(JobStore::open(path_).error().code == Error::Code::FileUnreadable);
        QVERIFY(!JobStore::open(dir_.path()));
    }
    void anotherDatabaseIsRefused()
    {
        QVERIFY(meddle(path_, "CREATE TABLE cats (name TEXT)"));
        const QByteArray before = bytesOf(path_);
        QVERIFY(JobStore::open(path_).error().code == Error::Code::JobNotClendo);
        QCOMPARE(bytesOf(path_), before);
    }
    void aJobOfTomorrow()
    {
        QVERIFY(jobWith(path_, 1));
        QVERIFY(meddle(path_, "UPDATE meta SET value = '3' WHERE key = 'schema'"));
        {
            auto store = JobStore::open(path_).value();  // newer, but readable
            QVERIFY(QString::fromStdString(store->readOnlyReason()).contains("newer"));
            QCOMPARE(store->entries().size(), founding().facts.size() + 1);
            QVERIFY(store->append(founding()).error().code == Error::Code::JobReadOnly);
        }
        QVERIFY(meddle(path_, "UPDATE meta SET value = '3' WHERE key = 'oldest_reader'"));
        QVERIFY(JobStore::open(path_).error().code == Error::Code::JobNewer);
    }
    void aSecondWindowOnlyReads_data()
    {
        QTest::addColumn<QString>("by");
        QTest::newRow("the same name") << "";
        QTest::newRow("a symbolic link") << "symbolic";
        QTest::newRow("a hard link") << "hard";
    }
    void aSecondWindowOnlyReads()
    {
        QFETCH(QString, by);
        auto first = jobWith(path_, 1);
        const QString other = by.isEmpty() ? path_ : dir_.filePath(by + ".clendo");
        if (by == "symbolic") QVERIFY(QFile::link(path_, other));
        if (by == "hard") QCOMPARE(::link(path_.toUtf8().constData(), other.toUtf8().constData()), 0);
        auto second = JobStore::open(other).value();
        QVERIFY2(QString::fromStdString(second->readOnlyReason()).contains("another window"), second->readOnlyReason().c_str());
        QCOMPARE(second->entries().size(), founding().facts.size() + 1);
        QVERIFY(!second->append(founding()));
        QVERIFY(first->append(actOf({FaceHandled{lookAt("").face, "touched"}})));  // the first is not disturbed
        second.reset();
        first.reset();
        QVERIFY(JobStore::open(other).value()->readOnlyReason().empty());
    }
    void locksOfOthersHaveTheirWordsAndTheirWayOut_data()
    {
        QTest::addColumn<QString>("lock");
        QTest::addColumn<QString>("says");
        QTest::addColumn<bool>("canBeTaken");
        QTest::newRow("another computer") << "host"
                                          << "computer “rack-laptop” since" << true;
        QTest::newRow("a folder") << "folder"
                                  << "is a folder, where the lock of the job should be" << false;
        QTest::newRow("a pipe") << "pipe"
                                << "is no file" << false;
        QTest::newRow("just now, empty") << "empty"
                                         << "at this moment" << true;
        QTest::newRow("empty, long ago") << "old"
                                         << "" << false;
        QTest::newRow("a program that died") << "dead"
                                             << "" << false;
    }
    void locksOfOthersHaveTheirWordsAndTheirWayOut()
    {
        QFETCH(QString, lock);
        QFETCH(QString, says);
        QFETCH(bool, canBeTaken);
        QVERIFY(jobWith(path_, 1));
        const QString place = path_ + ".lock";
        if (lock == "host") QVERIFY(putBytes(place, "4711\nclendo\nrack-laptop\n1\n2\n"));
        if (lock == "folder") QVERIFY(QDir().mkpath(place));
        if (lock == "pipe") QCOMPARE(::mkfifo(place.toUtf8().constData(), 0600), 0);
        if (lock == "empty" || lock == "old") QVERIFY(putBytes(place, {}));
        if (lock == "old") {
            QFile file(place);
            QVERIFY(file.open(QIODevice::ReadWrite) &&
                    file.setFileTime(QDateTime::currentDateTime().addSecs(-60), QFileDevice::FileModificationTime));
        }
        if (lock == "dead") QVERIFY(putBytes(place, "999999\nclendo\n" + QSysInfo::machineHostName().toUtf8() + "\n\n\n"));
        {
            const auto store = JobStore::open(path_).value();
            QCOMPARE(store->readOnlyReason().empty(), says.isEmpty());
            QVERIFY2(QString::fromStdString(store->readOnlyReason()).contains(says), store->readOnlyReason().c_str());
            QCOMPARE(store->lockCanBeTaken(), canBeTaken);
            QCOMPARE(store->entries().size(), founding().facts.size() + 1);  // read it can be, always
        }
        if (canBeTaken) {
            QVERIFY(JobLock::breakOpen(path_));
            QVERIFY(JobStore::open(path_).value()->readOnlyReason().empty());
        }
    }
    void readingChangesNothing()
    {
        QVERIFY(jobWith(path_, 1));
        const QByteArray before = bytesOf(path_);
        auto writer = JobStore::open(path_).value();
        const auto store = JobStore::open(path_, JobStore::Access::Read).value();
        QVERIFY(store->readOnlyReason().empty() || !store->append(founding()));
        QVERIFY(store->checkAll().empty());
        QCOMPARE(bytesOf(path_), before);
    }
    void aWriteProtectedJobOnlyReads()
    {
        QVERIFY(jobWith(path_, 1));
        if (geteuid() == 0) QSKIP("permissions do not hold for root");
        QFile::setPermissions(path_, QFile::ReadOwner);
        auto store = JobStore::open(path_).value();
        QVERIFY(!store->readOnlyReason().empty());
        QCOMPARE(store->entries().size(), founding().facts.size() + 1);
    }
    void aFullDiskLeavesTheFactWhollyOut()
    {
        auto store = JobStore::create(path_, founding()).value();
        store->limitPages(store->pageCount() + 2);
        const Evidence large{"large.png", std::string(4'000'000, 'x')};
        const auto refused = store->append(actOf({lookAt(sha256(large.bytes))}), std::span(&large, 1));
        QVERIFY(!refused);
        QVERIFY(refused.error().code == Error::Code::DiskFull);
        QVERIFY(QString::fromStdString(refused.error().message).contains("disk is full"));
        QCOMPARE(store->records().size(), founding().facts.size());
        QVERIFY(!store->evidence(sha256(large.bytes)));
        store->limitPages(1'000'000);  // space again
        QVERIFY(store->append(actOf({lookAt(sha256(large.bytes))}), std::span(&large, 1)));
        store.reset();
        store = JobStore::open(path_).value();
        QVERIFY(store->wrong().empty());
        QCOMPARE(store->evidence(sha256(large.bytes))->size(), large.bytes.size());
    }
    void aLongJournalComesInOrderAndKeepsWhatItDoesNotKnow()
    {
        constexpr int many = 4500;  // more than one thread reads
        {
            auto store = JobStore::create(path_, founding()).value();
            std::vector<Fact> facts;
            for (int n = 0; n < many; ++n)
                facts.emplace_back(FaceHandled{{"VP-04/" + std::to_string(n), n % 2 ? End::A : End::B, Side::Port},
                                               n % 7 ? "touched" : "fell into \"water\" at 5 °C"});
            facts.emplace_back(UnknownFact{"of tomorrow", R"({"deep":[{"a":1.50}]})"});
            QVERIFY(store->append(actOf(facts, someDay, "technician ä")));
        }
        const auto store = JobStore::open(path_).value();
        QVERIFY(store->wrong().empty());
        const auto& entries = store->entries();
        const auto first = founding().facts.size();
        QCOMPARE(entries.size(), first + many + 1);
        for (int n = 0; n < many; ++n) {
            const auto* what = std::get_if<FaceHandled>(&entries[first + std::size_t(n)].fact);
            QVERIFY(what && what->face.link == "VP-04/" + std::to_string(n));
            QCOMPARE(what->how.size(), n % 7 ? std::size_t(7) : std::string("fell into \"water\" at 5 °C").size());
        }
        QCOMPARE(entries.back().who, std::string("technician ä"));
        const auto* unknown = std::get_if<UnknownFact>(&entries.back().fact);
        QVERIFY(unknown);
        QCOMPARE(unknown->text, std::string(R"({"deep":[{"a":1.5}]})"));
    }
    void anOldCopyIsNoticedAndGoesOnInAChainOfItsOwn()
    {
        QVERIFY(jobWith(path_, 1));
        const QByteArray old = bytesOf(path_);
        std::string device;
        {
            auto store = JobStore::open(path_).value();
            device = store->append(actOf({FaceHandled{lookAt("").face, "touched"}}))->front().device;
            QCOMPARE(device, store->entries().front().device);
        }
        QVERIFY(putBytes(path_, old));  // a backup was put back over the file
        QVERIFY(JobStore::open(path_, JobStore::Access::Read).value()->olderThanKnown());
        auto store = JobStore::open(path_).value();
        QVERIFY2(QString::fromStdString(store->notice()).contains("1 more entry was filed"), store->notice().c_str());
        QVERIFY(store->olderThanKnown() && store->readOnlyReason().empty());
        const auto filed = store->append(actOf({FaceHandled{lookAt("").face, "dropped"}})).value();
        QVERIFY(filed.front().device != device && filed.front().sequence == 1);
        store.reset();
        QVERIFY(JobStore::open(path_).value()->wrong().empty());
    }
    void twoCopiesAreUnited()
    {
        const QString other = dir_.filePath("copy.clendo"), united = dir_.filePath("united.clendo");
        QFile::remove(other);
        QVERIFY(jobWith(path_, 2));
        QVERIFY(QFile::copy(path_, other));
        const Evidence mine{"m.png", "mine"}, yours{"y.png", "yours"};
        const auto edit = [](const QString& path, const Evidence& picture, const char* attempts) {
            auto store = JobStore::open(path).value();
            return store->append(actOf({lookAt(sha256(picture.bytes)), SettingSet{"attempts", attempts}}), std::span(&picture, 1)).has_value();
        };
        QVERIFY(edit(path_, mine, "3") && edit(other, yours, "4"));
        const QByteArray a = bytesOf(path_), b = bytesOf(other);
        const auto left = JobStore::open(path_, JobStore::Access::Read).value(), right = JobStore::open(other, JobStore::Access::Read).value();
        const auto merged = mergeJobs(*left, *right, united).value();
        const auto common = founding().facts.size() + 2;
        QVERIFY(merged.entries == common + 4 && merged.both == common && merged.fromA == 2 && merged.fromB == 2);
        QCOMPARE(merged.contradictions.size(), std::size_t{1});
        QVERIFY(bytesOf(path_) == a && bytesOf(other) == b);
        const auto job = JobStore::open(united).value();
        QVERIFY(job->checkAll().empty());
        QVERIFY(job->evidence(sha256(mine.bytes)) && job->evidence(sha256(yours.bytes)));
        QVERIFY(!mergeJobs(*left, *right, united));  // it is there already
        QVERIFY(jobWith(dir_.filePath("foreign.clendo"), 1));
        const auto foreign = JobStore::open(dir_.filePath("foreign.clendo"), JobStore::Access::Read).value();
        QVERIFY(mergeJobs(*left, *foreign, dir_.filePath("never.clendo")).error().code == Error::Code::JobOther);
        QVERIFY(!QFile::exists(dir_.filePath("never.clendo")));
        // a picture that only reading finds changed is not left out in silence
        QVERIFY(meddle(other, "UPDATE evidence SET bytes = x'00'"));
        const auto changed = JobStore::open(other, JobStore::Access::Read).value();
        QVERIFY(mergeJobs(*changed, *changed, dir_.filePath("never.clendo")).error().code == Error::Code::JobDamaged);
        QVERIFY(!QFile::exists(dir_.filePath("never.clendo")));
    }
    void goldenJobsOpen_data()
    {
        QTest::addColumn<QString>("file");
        QTest::addColumn<int>("entries");
        QTest::addColumn<QString>("last");
        QTest::newRow("schema 1") << "schema-1.clendo" << 47 << "63d577bd84ea6b01ad4406eefe47805ca0061f215c160c58e377504348fbaeab";
        QTest::newRow("schema 2") << "schema-2.clendo" << 57 << "a056434ba71e6954ece77ec4fdcde9c8596e6f03b9dfce28695734261e00012a";
    }
    /// Files that a version of each schema wrote: what they say must never change.
    void goldenJobsOpen()
    {
        QFETCH(QString, file);
        QFETCH(int, entries);
        QFETCH(QString, last);
        const QString path = dir_.filePath("golden-" + file);
        QVERIFY(QFile::copy(QString(TEST_DATA "/jobs/") + file, path));
        const QByteArray before = bytesOf(path);
        const auto reader = JobStore::open(path, JobStore::Access::Read).value();
        QVERIFY(reader->checkAll().empty());
        std::vector<Entry> read = reader->takeEntries();
        auto store = JobStore::open(path).value();
        QVERIFY2(store->readOnlyReason().empty(), store->readOnlyReason().c_str());
        QCOMPARE(store->entries().size(), read.size());
        for (std::size_t i = 0; i < read.size(); ++i) QVERIFY(read[i].hash == store->entries()[i].hash);
        QCOMPARE(int(read.size()), entries);
        QCOMPARE(QString::fromStdString(read.back().hash.hex()), last);
        // carried over once, and the file as it was is kept beside it
        const QString kept = dir_.filePath("golden-schema-1 (schema 1).clendo");
        if (file == "schema-1.clendo") {
            QVERIFY(QString::fromStdString(store->notice()).contains("golden-schema-1 (schema 1).clendo"));
            QCOMPARE(int(JobStore::open(kept, JobStore::Access::Read).value()->entries().size()), entries);
            store.reset();
            QVERIFY(JobStore::open(path).value()->notice().empty());
            QCOMPARE(QDir(dir_.path()).entryList({"golden-schema-1*.clendo"}).size(), 2);
        } else {
            QCOMPARE(bytesOf(path), before);
        }
        const JobState s = fold(read, Rules(dataFolder()));
        QCOMPARE(s.plan->job.name, std::string("Varrow Point"));
        QCOMPARE(s.plan->job.attempts, 4);
        QCOMPARE(std::string(s.policy("open")), std::string("30"));
        const FaceState& cord = s.face({"VP-04/1", End::A, Side::Cord});
        QVERIFY(cord.condition == FaceCondition::Fit && cord.mated);
        QCOMPARE(cord.looks.front().overruled.size(), std::size_t{1});
        const LinkState& link = s.state("VP-04/1");
        QCOMPARE(link.signature->who, std::string("crew lead"));
        QVERIFY(link.loss->verdict == LossVerdict::Pass && qAbs(link.loss->results[0].worst->value() - 1.5) < 1e-9);
        QCOMPARE(s.state("VP-04/2").readings.size(), std::size_t{1});        // the other one was taken back
        QVERIFY(s.state("VP-04/2").loss->verdict == LossVerdict::NotValid);  // its reference had been voided
        QVERIFY(s.plan->ownCriteria.contains("House rule") && s.calibrations.contains("scope 1"));
        if (file == "schema-1.clendo") return;
        QVERIFY(s.face({"VP-04/3", End::B, Side::Cord}).condition == FaceCondition::Fit);  // judged late, by a clock that was set back: as filed
        QVERIFY(!std::get<FaceSeen>(read[52].fact).made.rules.empty());
        QCOMPARE(s.losses.size(), std::size_t{1});
        QVERIFY(s.plan->keptRules.contains("limits/generic-sm.json"));
    }

private:
    QTemporaryDir dir_;
    QString path_;
    int n_ = 0;
};
QTEST_GUILESS_MAIN(TestStore)
#include "test_store.moc"
