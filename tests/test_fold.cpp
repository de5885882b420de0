#include <fmt/format.h>

#include <QtTest>
#include <random>

#include "record/fold/fold.h"
#include "record/fold/growing_fold.h"
#include "record/rules/gates.h"
#include "record/state/fitness.h"
#include "record/state/rules.h"
#include "tests/varrow_journal.h"

using namespace clendo;

namespace {

/// All that a state says of faces, links and kit, as text.
std::string told(const JobState& state)
{
    std::string out = fmt::format("{} {} troubles {}\n", state.plan->job.edition, state.lastEntryAt, state.troubles.size());
    for (const auto& [id, f] : state.faces) {
        out += fmt::format("{} {} mated {} cleanings {} since {} handled '{}' covered '{}' old {}", id.text(), name(f.condition), f.mated,
                           f.cleanings, f.cleanedSince.size(), f.handled, f.covered, int(f.waiting));
        for (const auto& t : f.looks)
            out += fmt::format(" [{} {} {} {}]", t.entry.brief(),
                               !t.verdict       ? "none"
                               : t.verdict->fit ? "fit"
                                                : "bad",
                               t.cleanedBefore.size(), t.seen.measured.findings.size());
        if (f.suspicion) out += fmt::format(" suspect of {} by {} contacts", f.suspicion->found.text(), f.suspicion->way.size());
        out += "\n";
    }
    for (const auto& [id, l] : state.linkStates)
        out += fmt::format("{} done {}{}{}{} mated {} because {} sleeves {} readings {} loss {} signed {}\n", id, l.done.loss, l.done.rightFibre,
                           l.done.length, l.done.traces, l.mated.size(), l.mated.empty() ? std::string() : l.mated.begin()->second.what.reason,
                           l.sleeves.size(), l.readings.size(), l.loss ? std::string(name(l.loss->verdict)) : "none",
                           l.signature ? l.signature->who : std::string());
    for (const auto& [id, item] : state.kit) out += fmt::format("{} used {} proofs {}\n", id, item.used, item.proofs.size());
    return out + fmt::format("{} references, {} events", state.references.size(), state.events.size());
}

face::FaceMeasurement lookAt(double cladding)
{
    face::FaceMeasurement out;
    out.claddingDiameter = Pixel(cladding);
    return out;
}

/// A journal of anything: looks, touches, readings, and the facts that change what earlier ones mean.
std::vector<Entry> anyJournal(unsigned seed, int length, bool shared)
{
    std::mt19937 random(seed);
    const auto below = [&](int n) { return int(random() % unsigned(n)); };
    Journal j;
    CablePlan trunk = varrowCable(8);
    trunk.id = "VP-11";
    trunk.ferruleFibres = 4;
    trunk.className = "sm-multi";
    trunk.endA.firstPort = trunk.endB.firstPort = 41;
    j.add(CablePlanned{trunk});
    j.add(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false});
    j.add(KitKept{"pen 1", "pen", {"LC"}, {}, 0, 500, {}, false});
    const auto anyFace = [&]() -> FaceId {
        const std::string cable = shared && below(2) ? fmt::format("VP-11/{}", below(8) + 1) : fmt::format("VP-04/{}", below(2) + 1);
        return {cable, below(2) ? End::A : End::B, below(2) ? Side::Cord : Side::Port};
    };
    const auto anyEntry = [&] { return j.entries[std::size_t(below(int(j.entries.size())))].hash; };
    while (std::ssize(j.entries) < length) {
        const FaceId face = anyFace();
        switch (below(20)) {
            case 0:
            case 1:
            case 2:
            case 3: j.look(face, below(3) ? std::vector<Finding>() : std::vector{dirt(30)}); break;
            case 4: j.blurred(face); break;
            case 5: j.add(FaceCleaned{face, below(2) ? "dry" : "wet-then-dry", 1, "pen 1"}); break;
            case 6: j.add(Mated{face.link, face.connection, below(2) ? "" : "all the same"}); break;
            case 7: j.add(SleeveCleaned{face.link, face.connection}); break;
            case 8: j.add(FaceHandled{face, "touched"}); break;
            case 9: j.add(FaceCovered{face, below(2) ? "capped" : "open"}); break;
            case 10:
            case 11: j.add(Joined{face, {"RC-1", below(2) ? End::A : End::B, Side::Cord}}); break;
            case 12: j.add(Joined{face, anyFace()}); break;
            case 13: j.light(-5, -6 - below(3), face.link); break;
            case 14: j.add(ReferenceVoided{Direction::AtoB, "taken off"}); break;
            case 15: j.add(Signed{face.link, {}}); break;
            case 16: {
                FindingOverruled said{face, anyEntry(), 1, FindingOverruled::As::NotReal, "dust on the lens", {}, {}};
                j.add(said);
                break;
            }
            case 17: j.add(KitProved{"RC-1", "clean", true}); break;
            case 18: j.act({FaceSeen{face, "sha", "late.png", lookAt(300), {}}}, 70 * (below(4) + 1)); break;  // judged minutes later
            default:
                if (below(4)) break;
                if (below(2)) {
                    j.add(Corrected{anyEntry(), "by hand"});
                } else {
                    JobSettings job;
                    job.edition = below(2) ? "2009" : "2015";
                    job.policies["open"] = below(2) ? "30" : "never";
                    j.set(job);
                }
        }
    }
    return j.entries;
}

}  // namespace

/// The state of a growing journal is that of the whole journal, however it came.
class TestFold : public QObject {
    Q_OBJECT
private slots:
    void aJournalThatGrowsSaysTheSame_data()
    {
        QTest::addColumn<int>("seed");
        QTest::addColumn<bool>("shared");
        for (int seed = 1; seed <= 12; ++seed) QTest::addRow("journal %d", seed) << seed << (seed % 2 == 0);
    }
    void aJournalThatGrowsSaysTheSame()
    {
        QFETCH(int, seed);
        QFETCH(bool, shared);
        const auto journal = anyJournal(unsigned(seed), 160, shared);
        const Rules rules(dataFolder());
        GrowingFold growing(rules);
        std::mt19937 random{unsigned(seed)};
        for (std::size_t have = 0; have < journal.size();) {
            have = std::min(journal.size(), have + 1 + random() % 7);
            const auto now = journal[have - 1].at() + std::int64_t(random() % 4000);
            const auto part = std::span(journal).first(have);
            growing.update(part, now);
            QCOMPARE(told(growing.state()), told(fold(part, rules, now)));
        }
    }
    void theClockAloneAgesAFace()
    {
        Journal j;
        JobSettings job;
        job.policies["open"] = "30";
        j.set(job).look({"VP-04/1", End::A, Side::Cord});
        const std::int64_t seen = j.entries.back().at();
        GrowingFold growing{j.rules};
        const FaceId id{"VP-04/1", End::A, Side::Cord};
        growing.update(j.entries, seen + 60);
        QVERIFY(growing.state().face(id).condition == FaceCondition::Fit);
        growing.update(j.entries, seen + 3600);
        QVERIFY(growing.state().face(id).condition == FaceCondition::Stale);
        QVERIFY(whyNotFit(growing.state(), id).find("open too long") != std::string::npos);
        growing.update(j.entries, seen + 60);  // the clock was set back
        QVERIFY(growing.state().face(id).condition == FaceCondition::Fit);
        j.look(id);
        growing.update(j.entries, j.entries.back().at());
        QCOMPARE(growing.state().face(id).looks.size(), std::size_t(2));
    }
    void aShorterJournalIsAnother()
    {
        const auto journal = anyJournal(5, 60, false);
        GrowingFold growing{Rules(dataFolder())};
        growing.update(journal, 0);
        growing.update(std::span(journal).first(20), 0);
        QCOMPARE(told(growing.state()), told(fold(std::span(journal).first(20), Rules(dataFolder()))));
    }
    void whatCouldNotBeReadStaysSaid()
    {
        Journal j;
        GrowingFold growing{j.rules, {"3 entries could not be read."}};
        for (int i = 0; i < 2; ++i) {
            growing.update(j.entries, 0);
            QCOMPARE(std::count(growing.state().troubles.begin(), growing.state().troubles.end(), "3 entries could not be read."), 1);
            j.add(Corrected{j.entries[1].hash, "by hand"});
        }
    }
    void aSuspectIsClearedByItsLook()
    {
        Journal j;
        const FaceId a{"VP-04/1", End::A, Side::Cord}, b{"VP-04/2", End::A, Side::Cord}, cord{"RC-1", End::A, Side::Cord};
        j.add(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false}).look(a).look(b).look(cord);
        GrowingFold growing{j.rules};
        growing.update(j.entries, 0);
        j.add(Joined{cord, a}).add(Joined{cord, b});
        growing.update(j.entries, 0);
        QVERIFY(!growing.state().face(a).suspicion);
        j.look(b, {dirt(30)});
        growing.update(j.entries, 0);
        QVERIFY(growing.state().face(a).suspicion);
        QVERIFY(growing.state().face(a).condition == FaceCondition::Stale);
        j.look(a);
        growing.update(j.entries, 0);
        QVERIFY(!growing.state().face(a).suspicion);
        QVERIFY(growing.state().face(a).condition == FaceCondition::Fit);
    }
};
QTEST_APPLESS_MAIN(TestFold)
#include "test_fold.moc"
