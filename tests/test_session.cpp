#include <QTemporaryDir>
#include <QtTest>
#include <atomic>
#include <thread>

#include "session/job_service.h"
#include "varrow_journal.h"

using namespace clendo;

/// The job service: what is posted from any thread is filed in turn, and what is read never changes. These are the tests for ThreadSanitizer.
class TestSession : public QObject {
    Q_OBJECT
private slots:
    void init()
    {
        path_ = dir_.filePath(QString::number(++n_) + ".clendo");
        JobSettings settings;
        settings.name = "Varrow Point";
        auto made = createJob(path_, settings, "technician 1");
        QVERIFY(made);
        JobService job(std::move(*made));
        QVERIFY(job.post("technician 1", Filing{{CablePlanned{varrowCable(12)}}, {}, 0}).get());
    }

    void whatIsPostedIsInTheSnapshotThatFollows()
    {
        JobService job(*readJob(path_));
        const JobSnapshot before = job.snapshot();
        QVERIFY(before.changes.all);
        QVERIFY(job.post("technician 1", touched(portA)).get());
        const JobSnapshot after = job.snapshot();
        QCOMPARE(after.number, before.number + 1);
        QCOMPARE(after.journal.size(), before.journal.size() + 1);
        QVERIFY(!after.changes.all && after.changes.entries);
        QVERIFY(after.changes.faces == std::set<FaceId>{portA});
        QVERIFY(after.changes.links == std::set<std::string>{portA.link});
        QCOMPARE(after.state->face(portA).handled, std::string("touched"));
        // and the one before is what it was
        QVERIFY(before.state->face(portA).handled.empty());
        QCOMPARE(before.state->entries, before.journal.size());
        QCOMPARE(before.state->plan.get(), after.state->plan.get());
    }
    void aNewPlanIsAnotherOneAndTheOldStays()
    {
        JobService job(*readJob(path_));
        const JobSnapshot before = job.snapshot();
        const Link* link = before.state->link("VP-04/7");
        CablePlan longer = varrowCable(24);
        QVERIFY(job.post("technician 1", Filing{{CablePlanned{longer}}, {}, 0}).get());
        QVERIFY(job.snapshot().changes.all);
        QCOMPARE(job.snapshot().state->plan->links.size(), std::size_t{24});
        QCOMPARE(before.state->plan->links.size(), std::size_t{12});
        QCOMPARE(link->id, std::string("VP-04/7"));
    }
    void manyPostWhileOthersRead()
    {
        constexpr int writers = 3, each = 60;
        std::atomic<int> told{0};
        JobService::Listener listener;
        listener.changed = [&](const JobSnapshot& s) { told += s.state->entries == s.journal.size(); };
        JobService job(*readJob(path_), listener);
        const std::size_t before = job.snapshot().journal.size();
        std::atomic<bool> reading{true};
        std::atomic<int> odd{0}, read{0};
        std::vector<std::thread> threads;
        for (int r = 0; r < 2; ++r)
            threads.emplace_back([&] {
                std::uint64_t last = 0;
                while (reading) {
                    const JobSnapshot s = job.snapshot();
                    std::size_t seen = 0;
                    for (const auto& [id, face] : s.state->faces) seen += face.handled.empty() ? 0 : 1;
                    const bool whole = s.state->entries == s.journal.size() && s.number >= last && seen <= s.journal.size() &&
                                       s.journal.back().hash == s.state->lastEntry;
                    odd += whole ? 0 : 1;
                    last = s.number;
                    ++read;
                }
            });
        std::vector<std::thread> posting;
        for (int w = 0; w < writers; ++w)
            posting.emplace_back([&job, w] {
                for (int n = 0; n < each; ++n) {
                    const FaceId face{"VP-04/" + std::to_string(n % 12 + 1), End::A, w % 2 ? Side::Cord : Side::Port};
                    job.post("technician " + std::to_string(w + 1), touched(face));
                }
            });
        for (auto& thread : posting) thread.join();
        job.settle();
        reading = false;
        for (auto& thread : threads) thread.join();
        QCOMPARE(job.snapshot().journal.size(), before + writers * each);
        QCOMPARE(odd.load(), 0);
        QVERIFY(read > 0);
        QCOMPARE(told.load(), writers * each);
    }
    void whatFollowsFromTheStateIsDecidedInTurn()
    {
        // ten people want to enter the same thing: one of them is the first
        JobService job(*readJob(path_));
        const auto onlyIfNew = [](const JobState& now) -> Result<Filing> {
            if (now.kit.contains("RC-1")) return failure(Error::Code::StepRefused, "There is an RC-1 already.");
            return Filing{{KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false}}, {}, 0};
        };
        std::vector<std::future<Result<void>>> all;
        for (int n = 0; n < 10; ++n) all.push_back(job.post("technician 1", onlyIfNew));
        int filed = 0;
        for (auto& one : all) {
            const auto result = one.get();
            filed += result.has_value();
            if (!result) QVERIFY(result.error().code == Error::Code::StepRefused);
        }
        QCOMPARE(filed, 1);
    }
    void whatWasPostedIsDoneBeforeItGoes()
    {
        {
            JobService job(*readJob(path_));
            for (int n = 0; n < 20; ++n) job.post("technician 1", touched(portA));
        }
        const auto again = readJob(path_, JobStore::Access::Read);
        QVERIFY(again);
        QCOMPARE(std::count_if(again->journal.all().begin(), again->journal.all().end(),
                               [](const Entry& e) { return std::holds_alternative<FaceHandled>(e.fact); }),
                 std::ptrdiff_t{20});
    }
    void theResultComesAfterTheSnapshot()
    {
        std::vector<std::string> order;
        JobService::Listener listener;
        listener.changed = [&](const JobSnapshot& s) { order.push_back("snapshot " + std::to_string(s.number)); };
        JobService job(*readJob(path_), listener);
        job.settle();
        order.clear();
        job.post("technician 1", touched(portA), [&](const Result<void>& r) { order.emplace_back(r ? "done" : "failed"); }).wait();
        QCOMPARE(order.size(), std::size_t{2});
        QVERIFY(order[0].starts_with("snapshot") && order[1] == "done");
        order.clear();
        job.sign("technician 1", "VP-99/1", {}, [&](const Result<void>& r) { order.emplace_back(r ? "done" : "failed"); }).wait();
        QCOMPARE(order, std::vector<std::string>{"failed"});
    }
    void facesAgeWhenTheirTimeHasCome()
    {
        std::atomic<std::int64_t> now{timeOfDay()};
        std::atomic<int> told{0};
        JobService::Listener listener;
        listener.changed = [&](const JobSnapshot&) { ++told; };
        JobService job(*readJob(path_), listener, [&] { return now.load(); });
        FaceSeen seen{portA, sha256(std::string("p")), "p.png", {}, {}};
        seen.measured.claddingDiameter = Pixel(300);
        QVERIFY(job.post("technician 1", Filing{{seen}, {{"p.png", "p"}}, 0}).get());
        QVERIFY(job.snapshot().state->face(portA).condition == FaceCondition::Fit);
        const int before = told;
        now += std::int64_t{31} * 60 * 1'000'000;
        job.settle();  // after any work the clock is looked at
        job.settle();
        QVERIFY(job.snapshot().state->face(portA).waiting == Waiting::OpenTooLong);
        QVERIFY(job.snapshot().changes.faces == std::set<FaceId>{portA});
        QVERIFY(!job.snapshot().changes.entries);
        QCOMPARE(told.load(), before + 1);
        // the clock is set back: it is younger again
        now -= std::int64_t{10} * 60 * 1'000'000;
        QVERIFY(job.post("technician 1", touched({"VP-04/9", End::B, Side::Port})).get());
        QVERIFY(job.snapshot().state->face(portA).condition == FaceCondition::Fit);
    }
    void whoOnlyReadsHearsWhatIsFiledElsewhere()
    {
        JobService writing(*readJob(path_));
        JobService reading(*readJob(path_));
        QVERIFY(!reading.snapshot().file->readOnlyReason.empty());
        const auto refused = reading.post("technician 2", touched(portA)).get();
        QVERIFY(!refused && refused.error().code == Error::Code::JobReadOnly);
        QVERIFY(writing.post("technician 1", touched(portA)).get());
        QTRY_VERIFY_WITH_TIMEOUT((reading.settle(), reading.snapshot().journal.size() == writing.snapshot().journal.size()), 10000);
        QCOMPARE(reading.snapshot().state->face(portA).handled, std::string("touched"));
        QVERIFY(reading.snapshot().state->lastEntry == writing.snapshot().state->lastEntry);
    }
    void theLastActIsTakenBack()
    {
        JobService job(*readJob(path_));
        QVERIFY(job.post("technician 1", touched(portA)).get());
        QVERIFY(!job.takeBackLast("technician 7").get());
        const auto said = job.takeBackLast("technician 1").get();
        QVERIFY(said && said->find("touched") != std::string::npos);
        QVERIFY(job.snapshot().state->face(portA).handled.empty());
    }

private:
    static Filing touched(const FaceId& face) { return {{FaceHandled{face, "touched"}}, {}, 0}; }

    QTemporaryDir dir_;
    QString path_;
    int n_ = 0;
};

QTEST_GUILESS_MAIN(TestSession)
#include "test_session.moc"
