#include <QtTest>
#include <nlohmann/json.hpp>
#include <random>

#include "record/fold/fold.h"
#include "record/fold/growing_fold.h"
#include "record/journal/chain.h"
#include "record/journal/order.h"
#include "record/journal/unite.h"
#include "record/state/rules.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

/// Several people at one job, each with a computer of his own and a clock that is wrong in its own way; now and then one hears what others filed.
class Crew {
public:
    explicit Crew(unsigned seed, int people = 3) : random_(seed)
    {
        const auto founding = recordsOf({"lead", settingFacts(JobSettings{}), 1000, 1000, "begin"}, begin_);
        for (int n = 0; n < people; ++n) {
            ends_.push_back({"device" + std::to_string(n), {}, {}});
            for (const auto& e : founding) ends_.back().clock.heard(e.filed);
            journals_.emplace_back(founding);
        }
    }
    void work(int acts)
    {
        for (int i = 0; i < acts; ++i) {
            const auto n = below(journals_.size());
            if (below(6) == 0) hear(n, below(journals_.size()));
            wall_ += below(2) ? 1'000'000 : 0;
            const std::int64_t clock = wall_ + std::int64_t(n) * 7'000'000 - (below(9) == 0 ? 3'600'000'000 : 0);  // set back now and then
            Act act{"person" + std::to_string(n), {}, clock - std::int64_t(below(3)) * 400'000, clock, "act" + std::to_string(++acts_)};
            for (std::size_t k = 0; k <= below(3); ++k) act.facts.push_back(anyFact(n));
            for (auto& e : recordsOf(act, ends_[n])) journals_[n].push_back(std::move(e));
        }
    }
    [[nodiscard]] const std::vector<EntryRecord>& journal(std::size_t n) const { return journals_[n]; }

private:
    std::size_t below(std::size_t n) { return random_() % n; }
    void hear(std::size_t n, std::size_t from)
    {
        journals_[n] = unite(journals_[n], journals_[from]);
        for (const auto& e : journals_[n]) ends_[n].clock.heard(e.filed);
    }
    Fact anyFact(std::size_t n)
    {
        const FaceId face{"VP-04/" + std::to_string(below(4) + 1), below(2) ? End::A : End::B, Side::Cord};
        switch (below(5)) {
            case 0: return SettingSet{"attempts", std::to_string(below(9) + 1)};
            case 1: return FaceCleaned{face, "dry", 1, {}};
            case 2: return Corrected{journals_[n][below(journals_[n].size())].hash, "by hand"};
            case 3: return KitKept{"pen 1", "pen", {}, std::to_string(below(3)), 0, 0, {}, false};
            default: return FaceHandled{face, "touched"};
        }
    }

    std::mt19937 random_;
    ChainEnd begin_{"begin", {}, {}};
    std::int64_t wall_ = 1'794'902'400'000'000;
    int acts_ = 0;
    std::vector<ChainEnd> ends_;
    std::vector<std::vector<EntryRecord>> journals_;
};

std::vector<std::string> whats(const std::vector<Contradiction>& found)
{
    std::vector<std::string> out;
    for (const auto& c : found) out.push_back(c.what);
    return out;
}

}  // namespace

/// The order of a journal that several devices fill, when entries have their effect, and the union of two journals.
class TestUnite : public QObject {
    Q_OBJECT
private slots:
    void theOrderIsTotalAndKeepsEachDevicesOwn_data() { seeds(); }
    void theOrderIsTotalAndKeepsEachDevicesOwn()
    {
        QFETCH(int, seed);
        Crew crew{unsigned(seed), 4};
        crew.work(150);
        std::vector<EntryRecord> all;
        for (std::size_t n = 0; n < 4; ++n) all = unite(all, crew.journal(n));
        std::map<std::string, std::int64_t> last;
        for (const auto& e : all) QCOMPARE(e.sequence, ++last[e.device]);
        for (std::size_t i = 1; i < all.size(); ++i) QVERIFY(filedBefore(all[i - 1], all[i]) && !filedBefore(all[i], all[i - 1]));
        QVERIFY(checkChains(headsIn(all), headsOf(headsIn(all)), {}).empty());
    }
    void unionIsCommutativeAssociativeIdempotent_data() { seeds(); }
    void unionIsCommutativeAssociativeIdempotent()
    {
        QFETCH(int, seed);
        Crew crew{unsigned(seed)};
        crew.work(120);
        const auto &a = crew.journal(0), &b = crew.journal(1), &c = crew.journal(2);
        QVERIFY(sameJob(a, b) && sameJob(b, c));
        QVERIFY(hashesOf(unite(a, b)) == hashesOf(unite(b, a)));
        QVERIFY(hashesOf(unite(unite(a, b), c)) == hashesOf(unite(a, unite(b, c))));
        QVERIFY(hashesOf(unite(a, a)) == hashesOf(unite(a, {})));
        QVERIFY(hashesOf(unite(unite(a, b), b)) == hashesOf(unite(a, b)));
        QVERIFY(contradictions(a, b) == contradictions(b, a));
        QVERIFY(contradictions(a, a).empty());
        QVERIFY(contradictions(unite(a, b), a).empty());  // who knows all of the other contradicts nothing
        const std::size_t in = unite(a, b).size();
        QVERIFY(in >= std::max(a.size(), b.size()) && in <= a.size() + b.size());
    }
    /// The state of a union is the same, whoever united what first.
    void aUnionSaysTheSameEverywhere()
    {
        Crew crew(5);
        crew.work(80);
        const auto stateOf = [](const std::vector<EntryRecord>& records) {
            std::vector<Entry> entries;
            for (const auto& r : records) entries.push_back(entryOf(r));
            return fold(entries, Rules(dataFolder()));
        };
        const JobState one = stateOf(unite(unite(crew.journal(0), crew.journal(1)), crew.journal(2)));
        const JobState two = stateOf(unite(crew.journal(2), unite(crew.journal(1), crew.journal(0))));
        QCOMPARE(one.plan->job.attempts, two.plan->job.attempts);
        QCOMPARE(one.kit.at("pen 1").what.serial, two.kit.at("pen 1").what.serial);
        QCOMPARE(one.faces.size(), two.faces.size());
    }
    void whatCannotBothHoldIsListed()
    {
        Journal common;
        common.look(cordA, {dirt(30)}).add(ReferenceSet{ReferenceMethod::OneCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)});
        const auto reference = common.entries.back().hash, look = common.entries.back().previous;
        const auto with = [&](const char* device, std::vector<Fact> facts) {
            auto out = recordsOfJournal(common);
            ChainEnd end{device, {}, {}};
            for (const auto& e : out) end.clock.heard(e.filed);
            for (auto& e : recordsOf({device, std::move(facts), common.now() * 1'000'000, common.now() * 1'000'000, device}, end)) out.push_back(e);
            return out;
        };
        CablePlan other = varrowCable(2);
        other.length = Metre(2500);
        using As = FindingOverruled::As;
        const auto a =
            with("a", {SettingSet{"limits", "\"iso-link-sm\""}, SettingSet{"attempts", "3"}, CablePlanned{varrowCable(3)},
                       FindingOverruled{cordA, look, 1, As::NotReal, "dust", {}, {}}, Corrected{reference, "moved"}, FaceHandled{cordB, "touched"}});
        const auto b =
            with("b", {SettingSet{"limits", "\"generic-sm\""}, SettingSet{"attempts", "3"}, CablePlanned{other},
                       FindingOverruled{cordA, look, 1, As::Scratch, "a line", {}, {}},
                       PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8), reference, {}}, FaceHandled{cordB, "touched"}});
        QCOMPARE(whats(contradictions(a, b)), (std::vector<std::string>{"correction", "overruling", "plan", "setting"}));
        for (const auto& c : contradictions(a, b)) QVERIFY(c.entries.size() == 2 && c.message.size() > 20);
        // two entries at one place of a chain: somebody went on with an old copy
        QCOMPARE(whats(contradictions(with("d", {FaceHandled{cordA, "touched"}}), with("d", {FaceHandled{cordA, "dropped"}}))),
                 std::vector<std::string>{"chain"});
        // what its own side took back contradicts nothing any more
        auto taken = with("t", {SettingSet{"limits", "\"iso-link-sm\""}});
        ChainEnd end{"t2", {}, {}};
        for (const auto& e : taken) end.clock.heard(e.filed);
        for (auto& e : recordsOf({"t", {Corrected{taken.back().hash, "no"}}, 0, 0, "t2"}, end)) taken.push_back(e);
        QVERIFY(contradictions(taken, with("b", {SettingSet{"limits", "\"generic-sm\""}})).empty());
        ChainEnd elsewhere{"e", {}, {}};
        QVERIFY(!sameJob(a, recordsOf({"t", {FaceHandled{cordA, "touched"}}, 1, 1, "x"}, elsewhere)));
        QVERIFY(sameJob(a, {}));
    }
    void aLookThatWasJudgedLateLiesBeforeTheTouch()
    {
        Journal j;
        j.add(FaceHandled{cordA, "touched"});
        FaceSeen seen{cordA, "sha", "p.png", {}, {}};
        seen.measured.claddingDiameter = Pixel(300);
        j.act({seen}, 90);  // the picture was taken before the touch, a minute before
        QVERIFY(j.state().face(cordA).condition == FaceCondition::Stale);
        GrowingFold growing{j.rules};
        growing.update(std::span(j.entries).first(3), 0);
        growing.update(j.entries, 0);
        QVERIFY(growing.state().face(cordA).condition == FaceCondition::Stale);
        j.act({seen}, 0);
        QVERIFY(j.state().face(cordA).condition == FaceCondition::Fit);
    }
    void whereAClockWasSetBackTheOrderOfFilingHolds()
    {
        Journal j;
        j.look(cordA).add(FaceHandled{cordA, "touched"});
        ChainEnd end{"device1", {j.entries.back().sequence, j.entries.back().hash}, {}};
        end.clock.heard(j.entries.back().filed);
        const std::int64_t hourBefore = j.entries.front().happened - 3'600'000'000;
        FaceSeen seen{cordA, "sha", "p.png", {}, {}};
        seen.measured.claddingDiameter = Pixel(300);
        for (auto& e : recordsOf({"t", {seen}, hourBefore, hourBefore, "late"}, end)) j.entries.push_back({e, seen});
        QVERIFY(j.state().face(cordA).condition == FaceCondition::Fit);
        EffectClock clock;
        const auto times = effectTimes(j.entries, clock);
        QCOMPARE(times.back(), j.entries.back().filed);
    }

private:
    static void seeds()
    {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed <= 10; ++seed) QTest::addRow("crew %d", seed) << seed;
    }
};
QTEST_APPLESS_MAIN(TestUnite)
#include "test_unite.moc"
