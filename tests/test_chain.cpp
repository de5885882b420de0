#include <QtTest>
#include <nlohmann/json.hpp>
#include <random>

#include "files/canonical_json.h"
#include "record/fold.h"
#include "record/journal/acts.h"
#include "record/journal/chain.h"
#include "record/journal/order.h"
#include "record/journal/schema1.h"
#include "record/journal/unite.h"
#include "record/signatures.h"
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

std::vector<Digest> hashesOf(const std::vector<EntryRecord>& journal)
{
    std::vector<Digest> out;
    for (const auto& e : journal) out.push_back(e.hash);
    return out;
}

std::vector<EntryRecord> recordsOfJournal(const Journal& j)
{
    std::vector<EntryRecord> out;
    for (const auto& e : j.entries) out.push_back(recordOf(e).value());
    return out;
}

std::vector<std::string> whats(const std::vector<Contradiction>& found)
{
    std::vector<std::string> out;
    for (const auto& c : found) out.push_back(c.what);
    return out;
}

}  // namespace

/// The identity of entries: what is hashed, chains, the order of the journal, union.
class TestChain : public QObject {
    Q_OBJECT
private slots:
    void canonicalJsonIsThatOfTheRfc_data()
    {
        QTest::addColumn<QString>("in");
        QTest::addColumn<QString>("out");
        // RFC 8785, section 3.2.2 and appendix B
        QTest::newRow("the example")
            << R"({"numbers":[333333333.33333329,1E30,4.50,2e-3,0.000000000000000000000000001],"literals":[null,true,false]})"
            << R"({"literals":[null,true,false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27]})";
        QTest::newRow("sorted by UTF-16") << "{\"\u20ac\":1,\"\\r\":2,\"\ufb33\":3,\"1\":4,\"\U0001F600\":5,\"\u0080\":6,\"\u00f6\":7}"
                                          << "{\"\\r\":2,\"1\":4,\"\u0080\":6,\"\u00f6\":7,\"\u20ac\":1,\"\U0001F600\":5,\"\ufb33\":3}";
        QTest::newRow("control characters") << "[\"\\u000f\\n\\\"\\\\\\/\\u0041\"]"
                                            << "[\"\\u000f\\n\\\"\\\\/A\"]";
        QTest::newRow("zeros") << "[-0.0,0,0.0]"
                               << "[0,0,0]";
        QTest::newRow("from where exponents begin") << "[1e20,1e21,123456789012345680000,1e-6,1e-7,-1.5e-9,0.1]"
                                                    << "[100000000000000000000,1e+21,123456789012345680000,0.000001,1e-7,-1.5e-9,0.1]";
        QTest::newRow("extremes") << "[5e-324,1.7976931348623157e308,9007199254740992,-9007199254740991]"
                                  << "[5e-324,1.7976931348623157e+308,9007199254740992,-9007199254740991]";
    }
    void canonicalJsonIsThatOfTheRfc()
    {
        QFETCH(QString, in);
        QFETCH(QString, out);
        const auto value = nlohmann::json::parse(in.toStdString());
        QCOMPARE(QString::fromStdString(canonicalJson(value)), out);
        QCOMPARE(canonicalJson(nlohmann::json::parse(canonicalJson(value))), canonicalJson(value));
    }
    void whatIsNoTextBecomesOne()
    {
        QCOMPARE(canonicalText("a\xff"), std::string("\"a\ufffd\""));
        QCOMPARE(canonicalJson(nlohmann::json(std::nan(""))), std::string("null"));
    }
    /// Should this fail, then every job that was ever written has another hash: the schema needs another number.
    void theHashOfAnEntryIsAsDocumented()
    {
        ChainEnd end{"0123456789ab", {}, {}};
        const auto e =
            recordsOf({"technician 1", {FaceHandled{cordA, "touched"}}, 1'794'902'400'000'000, 1'794'902'401'000'000, "act1"}, end).front();
        QCOMPARE(canonicalEntry(e),
                 std::string(R"({"act":"act1","body":{"face":"VP-04/1/A/cord","how":"touched"},"device":"0123456789ab",)"
                             R"("filed":1794902401000000,"happened":1794902400000000,"kind":"face_handled","previous":null,"sequence":1,)"
                             R"("who":"technician 1"})"));
        QCOMPARE(e.hash.hex(), sha256(canonicalEntry(e)));
        QVERIFY(Digest::parse(e.hash.hex()) == e.hash);
        QVERIFY(!Digest::parse(e.hash.hex().substr(1)) && !Digest::parse(std::string(64, 'G')));
    }
    void everyPartOfAnEntryCounts()
    {
        const auto records = recordsOfJournal(mated());
        const EntryRecord good = records[4];
        const auto differs = [&](auto change) {
            EntryRecord other = good;
            change(other);
            return hashOf(other) != good.hash;
        };
        QVERIFY(!differs([](EntryRecord&) {}));
        QVERIFY(differs([](EntryRecord& e) { e.act += "x"; }));
        QVERIFY(differs([](EntryRecord& e) { ++e.happened; }));
        QVERIFY(differs([](EntryRecord& e) { ++e.filed; }));
        QVERIFY(differs([](EntryRecord& e) { e.who = "technician 2"; }));
        QVERIFY(differs([](EntryRecord& e) { e.device = "d"; }));
        QVERIFY(differs([](EntryRecord& e) { ++e.sequence; }));
        QVERIFY(differs([](EntryRecord& e) { e.previous.bytes[31] ^= 1; }));
        QVERIFY(differs([](EntryRecord& e) { e.kind = "mated"; }));
        QVERIFY(differs([](EntryRecord& e) { e.body.back() = ' '; }));
    }

    void aClockIsNeverBehindWhatItHeard()
    {
        HybridClock clock;
        QCOMPARE(clock.next(1000), std::int64_t{1000});
        QCOMPARE(clock.next(1000), std::int64_t{1001});
        QCOMPARE(clock.next(10), std::int64_t{1002});  // set back
        clock.heard(5000);
        QCOMPARE(clock.next(2000), std::int64_t{5001});
        QCOMPARE(clock.next(9000), std::int64_t{9000});
    }
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
        QCOMPARE(one.job.attempts, two.job.attempts);
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

    void aBrokenChainIsTold_data()
    {
        QTest::addColumn<QString>("how");
        QTest::addColumn<QString>("says");
        QTest::newRow("whole") << ""
                               << "";
        QTest::newRow("one in the middle is gone") << "middle"
                                                   << "Entry 4 of device device1 is missing.";
        QTest::newRow("the first three are gone") << "first"
                                                  << "Entries 1 to 3 of device device1 are missing.";
        QTest::newRow("the end is gone") << "tail"
                                         << "are missing";
        QTest::newRow("one was replaced") << "replaced"
                                          << "one of the two was replaced";
        QTest::newRow("two at one place") << "fork"
                                          << "Two entries claim place 4";
        QTest::newRow("an end that nobody knows") << "no head"
                                                  << "does not know how far";
        QTest::newRow("another end") << "other head"
                                     << "is not the one that the job says";
    }
    void aBrokenChainIsTold()
    {
        QFETCH(QString, how);
        QFETCH(QString, says);
        auto records = recordsOfJournal(mated());
        auto heads = headsOf(headsIn(records));
        const auto at = [&](int n) { return records.begin() + n; };
        if (how == "middle") records.erase(at(3));
        if (how == "first") records.erase(at(0), at(3));
        if (how == "tail") records.erase(at(10), records.end());
        if (how == "replaced") records[3].who = "somebody", records[3].hash = hashOf(records[3]);
        if (how == "fork") records.push_back(records[3]), records.back().who = "somebody", records.back().hash = hashOf(records.back());
        if (how == "no head") heads.clear();
        if (how == "other head") heads["device1"].hash = digestOf("x");
        const auto wrong = checkChains(headsIn(records), heads, {});
        QCOMPARE(wrong.empty(), says.isEmpty());
        if (says.isEmpty()) return;
        QVERIFY2(std::any_of(wrong.begin(), wrong.end(), [&](const Wrong& w) { return QString::fromStdString(w.message).contains(says); }),
                 wrong.front().message.c_str());
        // what was noted as lost is not wrong again
        const LossesNoted noted{"torn", gapsIn(headsIn(records), heads), {}, false};
        if (how == "middle" || how == "first" || how == "tail") QVERIFY(checkChains(headsIn(records), heads, std::span(&noted, 1)).empty());
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
        QCOMPARE(effectTimes(j.entries).back(), j.entries.back().filed);
    }

    void theLastActGoesBackWholeAndNobodyElses()
    {
        Journal j;
        j.act({KitProved{"RC-1", "a", true}, KitProved{"RC-1", "b", true}, KitProved{"RC-1", "c", true}});
        j.who = "technician 2";
        j.add(FaceHandled{cordA, "touched"});
        const std::set<std::string> here{"device1"};
        const auto lastOf = [&](const char* who, const std::set<std::string>& devices) { return lastActOf(j.entries, who, devices); };
        QCOMPARE(lastOf("technician 1", here).size(), std::size_t{3});
        QCOMPARE(lastOf("technician 2", here).size(), std::size_t{1});
        QVERIFY(lastOf("technician 1", {"device2"}).empty());  // the same name at another computer is somebody else
        QVERIFY(lastOf("technician 3", here).empty());
        j.who = "technician 1";
        std::vector<Fact> corrections;
        for (const auto* e : lastOf("technician 1", here)) corrections.emplace_back(Corrected{e->hash, "by hand"});
        j.act(corrections);
        const auto before = lastOf("technician 1", here);  // the plan; then nothing: a job's beginning stays
        QVERIFY(before.size() == 1 && std::holds_alternative<CablePlanned>(before.front()->fact));
        j.act({Corrected{before.front()->hash, "by hand"}});
        QVERIFY(lastOf("technician 1", here).empty());
    }
    void settingsAreFiledOneByOne()
    {
        Journal j;
        JobSettings mine = j.state().job, theirs = mine;
        mine.attempts = 3;
        theirs.limits = "iso-link-sm";
        theirs.policies["open"] = "30";
        QCOMPARE(settingFacts(j.state().job, mine).size(), std::size_t{1});
        const auto before = j.state().job;
        j.act(settingFacts(before, mine)).act(settingFacts(before, theirs));  // both began from the same
        QCOMPARE(j.state().job.attempts, 3);
        QCOMPARE(j.state().job.limits, std::string("iso-link-sm"));
        JobSettings back = j.state().job;
        back.policies.clear();
        j.set(back);
        QVERIFY(j.state().job.policies.empty());
        j.add(SettingSet{"of tomorrow", "{\"a\":1}"}).add(SettingSet{"attempts", "\"many\""});
        QCOMPARE(j.state().job.attempts, 3);
        QCOMPARE(j.state().troubles.size(), std::size_t{2});
    }
    void whatWasMeasuredNamesWhatItRestsOn()
    {
        Journal j;
        j.add(ReferenceSet{ReferenceMethod::TwoCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)});
        const JobState state = j.state();
        const Digest reference = j.entries.back().hash;
        const auto done =
            completeAct({PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8), {}, {}},
                         PowerRead{"VP-04/1", Nanometre(1550), Direction::AtoB, DecibelMilliwatt(-8), {}, {}}, FaceSeen{cordA, "sha", "p", {}, {}}},
                        state);
        const auto &read = std::get<PowerRead>(done[0]), &other = std::get<PowerRead>(done[1]);
        QVERIFY(read.reference == reference);
        QVERIFY(!other.reference);
        QVERIFY(read.made.program.starts_with("clendo "));
        QCOMPARE(read.made.rules.at(0).name, state.limits.at("OS2").name);
        const auto& seen = std::get<FaceSeen>(done[2]);
        QVERIFY(seen.made.rules == (std::vector<MadeBy::Rules>{{state.profile.name, state.profile.version, state.profile.hash}}));
        // the level and the method are those of the reference that a reading names, whatever the job says now
        j.act(done).add(Corrected{reference, "wrong cord"});
        QVERIFY(j.state().state("VP-04/1").loss->verdict == LossVerdict::NotValid);
    }
    void aJobKeepsTheRulesItUses()
    {
        Journal j;
        const auto kept = rulesToKeep(j.state());
        QCOMPARE(kept.size(), std::size_t{4});  // criteria, limits, two files of fibre constants
        j.act(kept).look(cordA, {dirt(30, 4)});
        QVERIFY(rulesToKeep(j.state()).empty());
        // on a computer with no rules at all the verdicts are the same
        const JobState elsewhere = fold(j.entries, Rules("/no/such/folder"));
        QCOMPARE(elsewhere.profile.hash, j.state().profile.hash);
        QCOMPARE(elsewhere.limits.at("OS2").hash, j.state().limits.at("OS2").hash);
        QVERIFY(elsewhere.face(cordA).condition == j.state().face(cordA).condition);
        QVERIFY(elsewhere.face(cordA).condition != FaceCondition::NotSeen);
    }
    void aSignatureIsOvertakenByWhatChangesIt_data()
    {
        QTest::addColumn<int>("what");
        QTest::addColumn<bool>("overtaken");
        QTest::newRow("nothing") << 0 << false;
        QTest::newRow("another fibre is seen") << 1 << false;
        QTest::newRow("a reading of this one") << 2 << true;
        QTest::newRow("other limits") << 3 << true;
        QTest::newRow("the job is renamed") << 4 << false;
        QTest::newRow("an earlier reading is taken back") << 5 << true;
        QTest::newRow("its face is touched") << 6 << true;
        QTest::newRow("the cable is planned otherwise") << 7 << true;
        QTest::newRow("a touch that was taken back") << 8 << false;
    }
    void aSignatureIsOvertakenByWhatChangesIt()
    {
        QFETCH(int, what);
        QFETCH(bool, overtaken);
        Journal j = mated();
        j.light(-7, -8.5).add(Signed{"VP-04/1", {}});
        const Digest reading = j.entries[j.entries.size() - 2].hash;
        if (what == 1) j.look({"VP-04/2", End::A, Side::Cord});
        if (what == 2) j.light(-7, -12);
        if (what == 3) j.add(SettingSet{"limits", "\"iso-link-sm\""});
        if (what == 4) j.add(SettingSet{"name", "\"Varrow\""});
        if (what == 5) j.add(Corrected{reading, "misread"});
        if (what == 6) j.add(Joined{{"RC-1", End::A, Side::Cord}, cordA});
        if (what == 7) j.add(CablePlanned{varrowCable(4)});
        if (what == 8) j.add(FaceHandled{cordA, "touched"}).add(Corrected{j.entries.back().hash, "not this one"});
        const auto signatures = signaturesIn(j.entries, j.state());
        QCOMPARE(signatures.size(), std::size_t{1});
        QCOMPARE(signatures.front().overtaken.has_value(), overtaken);
        if (overtaken) QVERIFY(signatures.front().overtaken->since > signatures.front().at);
    }

    void aSignatureKnowsHowFarTheJournalWent()
    {
        Journal j = mated();
        const auto others = j.entries;  // what another device files, of which the end is lost
        ChainEnd end{"device2", {}, {}};
        end.clock.heard(others.back().filed);
        for (auto& e : recordsOf({"technician 2", {FaceHandled{cordA, "touched"}, FaceHandled{cordB, "touched"}}, 0, 0, "x"}, end))
            j.entries.push_back(entryOf(e));
        ChainEnd signing{"device3", {}, {}};
        signing.clock.heard(j.entries.back().filed);
        const auto sign = recordsOf({"crew lead", completeAct({Signed{"VP-04/1", {}}}, j.state()), 0, 0, "s"}, signing).front();
        j.entries.push_back(entryOf(sign));
        QCOMPARE(std::get<Signed>(j.entries.back().fact).ends.size(), std::size_t{2});
        QVERIFY(missingUnderSignatures(j.entries).empty());
        const auto lost = j.entries[j.entries.size() - 2];
        j.entries.erase(j.entries.end() - 2);
        const auto wrong = missingUnderSignatures(j.entries);
        QCOMPARE(wrong.size(), std::size_t{1});
        QCOMPARE(wrong.front().id, lost.hash.hex());
        ChainEnd noting{"device4", {}, {}};
        noting.clock.heard(j.entries.back().filed);
        j.entries.push_back(entryOf(recordsOf({"crew lead", {LossesNoted{"torn", {{"device2", 2, 2}}, {}, false}}, 0, 0, "n"}, noting).front()));
        QVERIFY(missingUnderSignatures(j.entries).empty());
    }
    void aSchema1JournalIsCarriedOver()
    {
        const auto row = [](std::int64_t id, std::int64_t at, const char* kind, const char* body) { return Schema1Row{id, at, "t", kind, body}; };
        const char* set =
            R"({"name":"VP","edition":"2015","limits":"generic-sm","method":"one-cord","wavelengths_nm":[1310],"attempts":5,"policies":{},"launch_m":150,"tail_m":150})";
        const char* again =
            R"({"name":"VP","edition":"2015","limits":"generic-sm","method":"one-cord","wavelengths_nm":[1310],"attempts":4,"policies":{"open":"30"},"launch_m":150,"tail_m":150})";
        const std::vector<Schema1Row> rows{
            row(1, 1000, "job_set", set),
            row(2, 1000, "reference_set", R"({"method":"one-cord","wavelength_nm":1310,"direction":"ab","level_dbm":-7})"),
            row(3, 900, "power_read", R"({"link":"VP-04/1","wavelength_nm":1310,"direction":"ab","power_dbm":-8})"),
            row(4, 1010, "corrected", R"({"entry":3,"reason":"misread"})"),
            row(5, 1020, "job_set", again),
            row(6, 1030, "corrected", R"({"entry":5,"reason":"no"})")};
        const auto carried = carriedOver(rows).value();
        QVERIFY(hashesOf(carriedOver(rows).value()) == hashesOf(carried));  // the same on every computer
        QVERIFY(checkChains(headsIn(carried), headsOf(headsIn(carried)), {}).empty());
        QVERIFY(std::is_sorted(carried.begin(), carried.end(), filedBefore));  // whatever the clock said
        std::vector<Entry> entries;
        for (const auto& r : carried) entries.push_back(entryOf(r));
        const auto read = std::find_if(entries.begin(), entries.end(), [](const Entry& e) { return std::holds_alternative<PowerRead>(e.fact); });
        QVERIFY(std::get<PowerRead>(read->fact).reference == std::prev(read)->hash);
        QVERIFY(correctedEntries(entries).contains(read->hash));
        QCOMPARE(correctedEntries(entries).size(), std::size_t{3});  // the reading, and both settings of the second set
        QCOMPARE(fold(entries, Rules(dataFolder())).job.attempts, 5);
        for (const char* bad : {"garbage", "[]", R"({"entry":99,"reason":"x"})"}) QVERIFY(!carriedOver(std::vector{row(1, 1, "corrected", bad)}));
    }

private:
    static void seeds()
    {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed <= 10; ++seed) QTest::addRow("crew %d", seed) << seed;
    }
};
QTEST_APPLESS_MAIN(TestChain)
#include "test_chain.moc"
