#include <QtTest>
#include <random>

#include "record/advice/face_advice.h"
#include "record/advice/link_advice.h"
#include "record/advice/round.h"
#include "record/fold/fold.h"
#include "record/rules/completeness.h"
#include "record/rules/gates.h"
#include "record/state/fitness.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

Completeness of(const Journal& j)
{
    const JobState s = j.state();
    return completeness(s, *s.link("VP-04/1"));
}

Journal& policy(Journal& j, const char* key, const char* answer)
{
    JobSettings job = j.state().plan->job;
    job.policies[key] = answer;
    return j.set(job);
}

bool mentions(const std::vector<std::string>& list, const char* words)
{
    return std::any_of(list.begin(), list.end(), [&](const std::string& s) { return s.find(words) != std::string::npos; });
}

/// All that finished() files about the link, act by act, to be left out or mixed.
std::vector<Fact> deeds()
{
    std::vector<Fact> out;
    const Journal j = finished();
    for (const auto& e : j.entries)
        if (!isPlan(e.fact)) out.push_back(e.fact);
    return out;
}

Journal from(const std::vector<Fact>& facts)
{
    Journal j;
    for (Fact fact : facts) {
        if (auto* read = std::get_if<PowerRead>(&fact)) read->reference = {};  // names the one that is set in this journal
        j.add(std::move(fact));
    }
    return j;
}

}  // namespace

class TestCompleteness : public QObject {
    Q_OBJECT
private slots:
    void whatIsFinishedIsComplete()
    {
        const Journal j = finished();
        const Completeness all = of(j);
        QVERIFY2(all.notTested().empty(), all.notTested().empty() ? "" : all.notTested().front().c_str());
        QVERIFY(all.verdict() == PartVerdict::Pass && !all.worst());
        QCOMPARE(all.tier(), std::optional(2));
        const JobState s = j.state();
        QVERIFY(maySign(s, *s.link("VP-04/1")));
        QVERIFY(signAdvice(s, *s.link("VP-04/1")).actions.front().command == command::sign);
        for (const auto& step : roundOf(s).left) QVERIFY2(step.link != "VP-04/1" || step.kind == StepKind::Sign, step.title.c_str());
    }
    void eachThingLeftOutIsSaid_data()
    {
        QTest::addColumn<int>("leave");
        const auto all = deeds();
        for (std::size_t i = 0; i < all.size(); ++i) QTest::newRow(QByteArray::number(int(i)) + ' ' + std::string(kindOf(all[i])).c_str()) << int(i);
    }
    void eachThingLeftOutIsSaid()
    {
        QFETCH(const int, leave);
        auto facts = deeds();
        facts.erase(facts.begin() + leave);
        const Journal j = from(facts);
        const Completeness all = of(j);
        QVERIFY(!all.notTested().empty());
        QVERIFY(all.verdict() >= PartVerdict::Incomplete);
        QVERIFY(all.tier() != std::optional(2) || all.verdict(PartKind::Face) != PartVerdict::Pass ||
                all.verdict(PartKind::Mating) != PartVerdict::Pass);
        const JobState s = j.state();
        QVERIFY(!maySign(s, *s.link("VP-04/1")));
    }
    void oneReadingAndTwoTracesFromOneEndAreNotAll()
    {
        Journal j = mated();
        j.add(ReferenceSet{ReferenceMethod::OneCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)});
        j.add(PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8.5)});
        j.add(shot()).add(shot());
        const auto lacks = of(j).missing();
        for (const char* words : {"loss at 1310 nm, source at B", "loss at 1550 nm, source at A", "loss at 1550 nm, source at B", "right fibre",
                                  "trace at 1310 nm, A to B", "trace at 1550 nm, B to A"})
            QVERIFY2(mentions(lacks, words), words);
        QVERIFY(!mentions(lacks, "trace at 1550 nm, A to B") && !mentions(lacks, "length"));
        QVERIFY(!of(j).tier());
    }
    void aCapThatWasTrustedIsNotALook()
    {
        Journal j = finished();
        policy(j, "caps", "trust");
        // a link of its own: one cord went in unseen
        j.add(FaceCovered{{"VP-04/2", End::A, Side::Cord}, "factory cap"}).look({"VP-04/2", End::A, Side::Port});
        j.add(SleeveCleaned{"VP-04/2", End::A}).add(Mated{"VP-04/2", End::A});
        const JobState s = j.state();
        const Completeness all = completeness(s, *s.link("VP-04/2"));
        QVERIFY(mentions(all.notTested(), "its factory cap was trusted"));
        QVERIFY(!mentions(all.missing(), "factory cap"));
        // the policy trusts caps, not what nobody says was capped
        j.look({"VP-04/2", End::B, Side::Port}).add(Mated{"VP-04/2", End::B, "in a hurry"});
        const JobState later = j.state();
        const Completeness bare = completeness(later, *later.link("VP-04/2"));
        QVERIFY(mentions(bare.missing(), "BH box port 2, cord side: was mated anyway: it was not looked at"));
    }
    void aSleeveIsNotCleanedBehindTheConnector()
    {
        Journal j = finished();
        j.add(SleeveCleaned{"VP-04/1", End::A});
        QVERIFY(mentions(of(j).missing(), "end A was not mated") && !mentions(of(j).missing(), "sleeve"));
        j.add(Mated{"VP-04/1", End::A});
        QVERIFY(of(j).complete());
    }
    void oneTraceThatShowsTheLinkIsEnoughFromOneEnd()
    {
        Journal j = mated();
        policy(j, "trace_ways", "one");
        TraceShot blind = shot(Direction::AtoB, 0.1, 1310);
        blind.found.span.reset();
        j.light(-7, -8.5).add(LightSeen{"VP-04", 1, 1}).add(blind).add(shot(Direction::AtoB, 0.1, 1550));
        QVERIFY(mentions(of(j).missing(), "trace at 1310 nm, A to B: it does not show the link"));
        j.add(shot(Direction::BtoA, 0.1, 1310));
        QVERIFY2(of(j).complete(), of(j).missing().empty() ? "" : of(j).missing().front().c_str());
    }
    void whatWasMatedUnseenDidNotGetFitByIt()
    {
        Journal j;
        j.look(cordA).add(SleeveCleaned{"VP-04/1", End::A}).add(Mated{"VP-04/1", End::A, "no time"});
        QVERIFY(mentions(of(j).missing(), "TH-R2 port 1, behind: was mated anyway: it was not looked at"));
        QVERIFY(mentions(of(j).exceptions, "no time"));
        const JobState s = j.state();
        QVERIFY(faceAdvice(s, *s.link("VP-04/1"), cordA).sentence.find("though TH-R2 port 1, behind, was not looked at") != std::string::npos);
        Journal dirty;
        dirty.look(cordA, {dirt(30)}).look(portA).add(Mated{"VP-04/1", End::A, "no time"});
        QVERIFY(of(dirty).verdict() == PartVerdict::Fail);
        QCOMPARE(of(dirty).worst()->about, std::string("TH-R2 port 1, cord side"));
    }
    void whatWaitedTooLongBeforeItWasMatedIsSaid()
    {
        Journal j;
        j.look(cordA).look(portA).add(SleeveCleaned{"VP-04/1", End::A});
        for (int minute = 0; minute < 40; ++minute) j.look({"VP-04/2", End::B, Side::Cord});
        j.add(Mated{"VP-04/1", End::A});
        QVERIFY(mentions(of(j).missing(), "left open too long"));
        policy(j, "open", "60");
        QVERIFY(!mentions(of(j).missing(), "left open too long"));
    }
    void theVerdictIsTheWorstOfItsPartsAndSaysWhich_data()
    {
        QTest::addColumn<int>("what");
        QTest::addColumn<QString>("verdict");
        QTest::addColumn<QString>("because");
        QTest::newRow("a splice over its limit, from both ends") << 0 << "fail"
                                                                 << "splice manhole 3 at 1550 nm";
        QTest::newRow("over its limit from one end, the mean is within") << 1 << "pass"
                                                                         << "";
        QTest::newRow("another fibre") << 2 << "fail"
                                       << "right fibre";
        QTest::newRow("light nowhere") << 3 << "fail"
                                       << "right fibre";
        QTest::newRow("over the limit at one wavelength") << 4 << "fail"
                                                          << "loss at 1550 nm";
        QTest::newRow("near the limit") << 5 << "near limit"
                                        << "loss at 1550 nm";
        QTest::newRow("another length") << 6 << "not valid"
                                        << "length";
        QTest::newRow("a later reading without a reference") << 7 << "not valid"
                                                             << "loss at 1550 nm";
        QTest::newRow("a connection over its limit") << 8 << "fail"
                                                     << "BH box port 1 at 1550 nm";
    }
    void theVerdictIsTheWorstOfItsPartsAndSaysWhich()
    {
        QFETCH(const int, what);
        QFETCH(const QString, verdict);
        QFETCH(const QString, because);
        Journal j = finished();
        const auto connection = [](TraceShot s) {
            for (auto& e : s.found.events)
                if (e.kind == otdr::EventKind::Reflective && e.loss == Decibel(0.4)) e.loss = Decibel(0.9);
            return s;
        };
        if (what == 0) j.add(shot(Direction::AtoB, 0.45)).add(shot(Direction::BtoA, 0.35));
        if (what == 1) j.add(shot(Direction::AtoB, 0.45)).add(shot(Direction::BtoA, 0.05));
        if (what == 2) j.add(LightSeen{"VP-04", 1, 2});
        if (what == 3) j.add(LightSeen{"VP-04", 1, {}});
        if (what == 4) j.add(PowerRead{"VP-04/1", Nanometre(1550), Direction::BtoA, DecibelMilliwatt(-12)});
        if (what == 5) j.add(PowerRead{"VP-04/1", Nanometre(1550), Direction::BtoA, DecibelMilliwatt(-10.28)});
        if (what == 6) {
            CablePlan longer = varrowCable(2);
            longer.length = Metre(2600);
            j.add(CablePlanned{longer});
        }
        if (what == 7) j.act({PowerRead{"VP-04/1", Nanometre(1550), Direction::BtoA, DecibelMilliwatt(-8.5)}});
        if (what == 8) j.add(connection(shot())).add(connection(shot(Direction::BtoA)));
        const Completeness all = of(j);
        QCOMPARE(QString::fromStdString(std::string(name(all.verdict()))), verdict);
        QCOMPARE(all.worst() ? QString::fromStdString(all.worst()->about) : QString(), because);
    }
    void aShortLinkHasASmallTolerance()
    {
        Journal j;
        CablePlan patch = varrowCable(2);
        patch.length = Metre(30);
        patch.splices.clear();
        j.add(CablePlanned{patch});
        j.add(LengthMeasured{"VP-04/1", Metre(31), "sheath marks"});
        QVERIFY(of(j).verdict(PartKind::Length) == PartVerdict::Pass);
        j.add(LengthMeasured{"VP-04/1", Metre(45), "sheath marks"});
        QVERIFY(of(j).verdict(PartKind::Length) == PartVerdict::NotValid);
    }
    void withoutALaunchCordTheFirstConnectionIsNotMeasured()
    {
        Journal j = finished();
        TraceShot bare = shot(Direction::AtoB);
        bare.cords = {};
        bare.found.events.erase(bare.found.events.begin() + 1);
        j.add(bare);
        QVERIFY(mentions(of(j).notTested(), "TH-R2 port 1 at 1550 nm: no launch cord was used"));
    }
    void theTierAndThePolicySayWhatIsWanted()
    {
        Journal j = mated();
        j.light(-7, -8.5);
        policy(j, "tier", "1");
        QCOMPARE(of(j).missing(), (std::vector<std::string>{"right fibre (polarity)", "length"}));
        QVERIFY(mentions(of(j).notTested(), "trace at 1310 nm, A to B, which this job does not ask for"));
        j.add(LightSeen{"VP-04", 1, 1}).add(LengthMeasured{"VP-04/1", Metre(2410), "the light source"});
        QVERIFY(of(j).complete());
        QCOMPARE(of(j).tier(), std::optional(1));
        policy(j, "tier", "2");
        QVERIFY(!of(j).complete());
        policy(j, "trace_ways", "one");
        for (const double nm : {1310.0, 1550.0}) j.add(shot(Direction::BtoA, 0.1, nm));
        QVERIFY2(of(j).complete(), of(j).missing().empty() ? "" : of(j).missing().front().c_str());
        // polarity that nobody asked for is still not tested, and no tier is claimed without it
        Journal blind = mated();
        blind.light(-7, -8.5).add(LengthMeasured{"VP-04/1", Metre(2410), "the light source"});
        policy(blind, "tier", "1");
        policy(blind, "right_fibre", "none");
        QVERIFY(of(blind).complete());
        QVERIFY(mentions(of(blind).notTested(), "polarity"));
        QVERIFY(!of(blind).tier());
    }
    /// Whatever was done in whatever order: where the job's policy is not met something is not tested, and nothing is worth more than what it needs.
    void noOrderEarnsMoreThanWasDone()
    {
        std::mt19937 random(7);
        const auto all = deeds();
        int complete = 0;
        for (int round = 0; round < 150; ++round) {
            auto facts = all;
            // some are left out, some come twice, some are spoiled, and they are mixed: a little or wholly
            std::erase_if(facts, [&](const Fact&) { return random() % 40 == 0; });
            for (int extra = 0; extra < int(random() % 3); ++extra) facts.push_back(all[random() % all.size()]);
            if (random() % 3 == 0) facts.insert(facts.begin() + int(random() % facts.size()), FaceHandled{portA, "touched"});
            if (random() % 4 == 0) facts.insert(facts.begin() + int(random() % facts.size()), ReferenceVoided{Direction::AtoB, "cord taken off"});
            if (random() % 2 == 0)
                std::shuffle(facts.begin(), facts.end(), random);
            else
                std::swap(facts[random() % facts.size()], facts[random() % facts.size()]);
            const Journal j = from(facts);
            const JobState s = j.state();
            const Completeness is = completeness(s, *s.link("VP-04/1"));
            // asked of the facts themselves, not of the parts
            const LinkState& link = s.state("VP-04/1");
            bool met = link.mated.size() == 2 && link.sleeves.size() == 2 && link.lightSeen && link.lightSeen->what.out == 1;
            for (const auto& id : s.link("VP-04/1")->faces()) {
                std::optional<std::size_t> seen, touched, joined;
                for (std::size_t i = 0; i < j.entries.size(); ++i) {
                    const Fact& f = j.entries[i].fact;
                    if (const auto* look = std::get_if<FaceSeen>(&f); look && look->face == id) seen = i;
                    if (const auto* handled = std::get_if<FaceHandled>(&f); handled && handled->face == id) touched = i;
                    if (const auto* mate = std::get_if<Mated>(&f); mate && mate->connection == id.connection) joined = i;
                }
                met = met && seen && joined && *seen < *joined && (!touched || *touched < *seen);
            }
            for (const double nm : {1310.0, 1550.0})
                for (const Direction d : {Direction::AtoB, Direction::BtoA}) {
                    bool read = false, traced = false, referenced = false;
                    for (const auto& e : j.entries) {
                        if (const auto* set = std::get_if<ReferenceSet>(&e.fact); set && set->direction == d && set->wavelength == Nanometre(nm))
                            referenced = true;
                        if (const auto* off = std::get_if<ReferenceVoided>(&e.fact); off && off->direction == d) referenced = false;
                        if (const auto* p = std::get_if<PowerRead>(&e.fact); p && p->direction == d && p->wavelength == Nanometre(nm))
                            read = referenced;
                        if (const auto* t = std::get_if<TraceShot>(&e.fact); t && t->direction == d && t->wavelength == Nanometre(nm)) traced = true;
                    }
                    met = met && read && traced;
                }
            QCOMPARE(is.notTested().empty(), met);
            QCOMPARE(is.verdict() == PartVerdict::Pass, met);
            QCOMPARE(maySign(s, *s.link("VP-04/1")).has_value(), met);
            complete += met ? 1 : 0;
        }
        QVERIFY(complete > 5 && complete < 145);
    }
    void nothingUnderALongestWaitIsKnownAfterTheClockWasSetBack()
    {
        Journal j;
        j.look(cordA);
        const std::int64_t seen = j.entries.back().at();
        const auto at = [&](std::int64_t now) { return fold(j.entries, j.rules, now).face(cordA); };
        QVERIFY(at(seen + 60).condition == FaceCondition::Fit);
        QVERIFY(at(seen - 120).condition == FaceCondition::Fit);  // the clocks of two people differ
        QVERIFY(at(seen - 3600).condition == FaceCondition::Stale);
        QVERIFY(whyNotFit(at(seen - 3600), FaceCondition::Stale).find("clock was set back") != std::string::npos);
    }
    void aCapIsNoLook()
    {
        Journal j;
        j.look(cordA).add(FaceCovered{cordA, "capped"});
        const std::int64_t capped = j.entries.back().at();
        const auto at = [&](std::int64_t hours) { return fold(j.entries, j.rules, capped + hours * 3600).face(cordA).condition; };
        QVERIFY(at(23) == FaceCondition::Fit);
        QVERIFY(at(25) == FaceCondition::Stale);
        policy(j, "capped", "480");
        QVERIFY(at(9) == FaceCondition::Stale);
        policy(j, "capped", "never");
        QVERIFY(at(900) == FaceCondition::Fit);
    }
};
QTEST_APPLESS_MAIN(TestCompleteness)
#include "test_completeness.moc"
