#include <QtTest>
#include <nlohmann/json.hpp>

#include "record/fold/fold.h"
#include "record/fold/signatures.h"
#include "record/journal/losses.h"
#include "record/state/rules.h"
#include "varrow_journal.h"

using namespace clendo;

/// What an act files and how it is taken back; settings one by one; rules that a job keeps; what a signature was given for.
class TestActs : public QObject {
    Q_OBJECT
private slots:
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
        JobSettings mine = j.state().plan->job, theirs = mine;
        mine.attempts = 3;
        theirs.limits = "iso-link-sm";
        theirs.policies["open"] = "30";
        QCOMPARE(settingFacts(j.state().plan->job, mine).size(), std::size_t{1});
        const auto before = j.state().plan->job;
        j.act(settingFacts(before, mine)).act(settingFacts(before, theirs));  // both began from the same
        QCOMPARE(j.state().plan->job.attempts, 3);
        QCOMPARE(j.state().plan->job.limits, std::string("iso-link-sm"));
        JobSettings back = j.state().plan->job;
        back.policies.clear();
        j.set(back);
        QVERIFY(j.state().plan->job.policies.empty());
        j.add(SettingSet{"of tomorrow", "{\"a\":1}"}).add(SettingSet{"attempts", "\"many\""});
        QCOMPARE(j.state().plan->job.attempts, 3);
        QCOMPARE(j.state().troubles.size(), std::size_t{2});
    }
    void whatWasMeasuredNamesWhatItRestsOn()
    {
        Journal j;
        j.add(ReferenceSet{ReferenceMethod::OneCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)});
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
        QCOMPARE(read.made.rules.at(0).name, state.plan->limits.at("OS2").name);
        const auto& seen = std::get<FaceSeen>(done[2]);
        QVERIFY(seen.made.rules ==
                (std::vector<MadeBy::Rules>{{state.plan->criteria.name, state.plan->criteria.version, state.plan->criteria.hash}}));
        // by another method there is no reference, whatever was set before
        JobSettings threeCords = state.plan->job;
        threeCords.method = ReferenceMethod::ThreeCord;
        Journal unvoided = j;
        for (const auto& change : settingFacts(state.plan->job, threeCords))
            if (std::holds_alternative<SettingSet>(change)) unvoided.add(change);  // without what it voids
        const JobState three = unvoided.state();
        Fact again = PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8), {}, {}};
        complete(again, three);
        QVERIFY(!std::get<PowerRead>(again).reference);
        // the level and the method are those of the reference that a reading names, whatever the job says now
        j.act(done).add(Corrected{reference, "wrong cord"});
        QVERIFY(j.state().state("VP-04/1").loss->verdict == LossVerdict::NotValid);
    }
    void anotherMethodVoidsTheReferences()
    {
        Journal j;
        j.light(-7, -8.5);
        QCOMPARE(j.state().references.size(), std::size_t{4});
        JobSettings job = j.state().plan->job;
        job.method = ReferenceMethod::ThreeCord;
        j.set(job);  // wherever it is set: the light view, the settings
        QVERIFY(j.state().references.empty());
        job.method = ReferenceMethod::OneCord;
        j.set(job);
        QVERIFY(!j.state().reference(Direction::AtoB, Nanometre(1310)));
        // what was read before is judged by the connections that it held
        QCOMPARE(int(j.state().state("VP-04/1").loss->method), int(ReferenceMethod::OneCord));
        QVERIFY(j.state().state("VP-04/1").loss->verdict == LossVerdict::Pass);
    }
    void aReferenceKeepsWhatItWasTakenWith()
    {
        Journal j;
        ReferenceSet set{ReferenceMethod::OneCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)};
        const std::string bare = bodyOf(set).dump();
        QVERIFY(bare.find("with") == std::string::npos);  // entries of earlier versions keep their hash
        set.with = {"source 1", "meter 1", "RC-1"};
        QCOMPARE(bodyOf(*factFrom("reference_set", bodyOf(set).dump())), bodyOf(set));
        QVERIFY(!factFrom("reference_set", R"({"method":"one-cord","wavelength_nm":1310,"direction":"ab","level_dbm":-7,"with":[7]})"));
        j.add(set).add(PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8.5)});
        QCOMPARE(j.state().state("VP-04/1").measuredWith, (std::set<std::string>{"source 1", "meter 1", "RC-1"}));
        QVERIFY(j.state().state("VP-04/2").measuredWith.empty());
        // of another method: other measurements, with other things
        j.add(ReferenceSet{ReferenceMethod::ThreeCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)});
        j.add(PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7.5)});
        QVERIFY(j.state().state("VP-04/1").measuredWith.empty());
    }
    void aSupersededReadingWarnsNoMore()
    {
        Journal j;
        j.act({PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-80)}});  // no reference, and no light
        const auto warned = [&](const char* code) {
            const JobState s = j.state();
            const auto& w = s.state("VP-04/1").loss->warnings;
            return std::any_of(w.begin(), w.end(), [&](const LossWarning& x) { return x.code == code; });
        };
        QVERIFY(warned("no_reference") && warned("meter_floor") && warned("one_wavelength"));
        j.light(-7, -8.5);
        QVERIFY(!warned("no_reference") && !warned("meter_floor") && !warned("one_wavelength"));
    }
    void aJobKeepsTheRulesItUses()
    {
        Journal j;
        const auto kept = rulesToKeep(j.state());
        QCOMPARE(kept.size(), std::size_t{4});  // criteria, what pictures show, limits, fibre constants
        j.act(kept).look(cordA, {dirt(30, 4)});
        QVERIFY(rulesToKeep(j.state()).empty());
        // on a computer with no rules at all the verdicts are the same
        const JobState elsewhere = fold(j.entries, Rules("/no/such/folder"));
        QCOMPARE(elsewhere.plan->criteria.hash, j.state().plan->criteria.hash);
        QCOMPARE(elsewhere.plan->limits.at("OS2").hash, j.state().plan->limits.at("OS2").hash);
        QVERIFY(elsewhere.face(cordA).condition == j.state().face(cordA).condition);
        QVERIFY(elsewhere.face(cordA).condition != FaceCondition::NotSeen);
    }
    void keptRulesAreNotTakenBack()
    {
        Journal j;
        j.act(rulesToKeep(j.state()));
        const auto last = lastActOf(j.entries, "technician 1", {"device1"});
        QVERIFY(last.size() == 1 && std::holds_alternative<CablePlanned>(last.front()->fact));  // else Z would never come behind them
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
        QVERIFY(missingUnderSignatures(j.entries, lossesIn(j.entries)).empty());
        const auto lost = j.entries[j.entries.size() - 2];
        j.entries.erase(j.entries.end() - 2);
        const auto wrong = missingUnderSignatures(j.entries, lossesIn(j.entries));
        QCOMPARE(wrong.size(), std::size_t{1});
        QCOMPARE(wrong.front().id, lost.hash.hex());
        ChainEnd noting{"device4", {}, {}};
        noting.clock.heard(j.entries.back().filed);
        j.entries.push_back(entryOf(recordsOf({"crew lead", {LossesNoted{"torn", {{"device2", 2, 2}}, {}, false}}, 0, 0, "n"}, noting).front()));
        QVERIFY(missingUnderSignatures(j.entries, lossesIn(j.entries)).empty());
    }
};
QTEST_APPLESS_MAIN(TestActs)
#include "test_acts.moc"
