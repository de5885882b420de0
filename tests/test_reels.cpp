// Reels in the record: which shots count, what is open, what is advised, which cord it was, and what a cutting plan rests on.
#include <QtTest>

#include "record/advice/reel_advice.h"
#include "record/output/labels.h"
#include "record/rules/reels.h"
#include "record/rules/trace_naming.h"
#include "varrow_journal.h"

using namespace clendo;
using reel::ReelVerdict;

namespace {

struct Light {
    double fibre = 1010;       ///< m of fibre behind the launch cord; 0: the light ends at the joint
    double attenuation = 0.2;  ///< dB/km
    double joint = 0.2;        ///< dB
    double crushedAt = 0;      ///< m, in the launch cord
};

otdr::Analysis seen(const Light& light, double launch = 150)
{
    using otdr::EventKind;
    otdr::Analysis out;
    const auto event = [&](EventKind kind, double at, std::optional<double> loss = {}) {
        otdr::Event e;
        e.kind = kind;
        e.at = Metre(at);
        if (loss) e.loss = Decibel(*loss), e.lossUncertainty = Decibel(0.01);
        out.events.push_back(e);
    };
    event(EventKind::Launch, 0);
    if (light.crushedAt > 0) {
        event(EventKind::Loss, light.crushedAt, 16);
        event(EventKind::End, light.crushedAt + 70);
        return out;
    }
    if (light.fibre > 0) event(EventKind::Reflective, launch, light.joint);
    event(EventKind::End, launch + light.fibre);
    if (light.fibre > 0) out.span = otdr::Span{Metre(launch), Metre(launch + light.fibre), {}, DecibelPerKilometre(light.attenuation), {}};
    return out;
}

ReelTraced traced(int fibre, const Light& light = {}, const std::string& reel = "R-7")
{
    return {reel, fibre, std::string(64, 'a'), "x.sor", Nanometre(1550), Metre(150), "launch 1", Metre(0.5), seen(light)};
}
ReelSampled sampled(std::vector<int> fibres, const std::string& reel = "R-7")
{
    return {reel, "II", 2.5, 20, {{12, static_cast<int>(fibres.size()), 0, 1}, std::move(fibres)}};
}
/// A job that a reel came to.
Journal delivery()
{
    Journal j;
    j.add(KitKept{"launch 1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false}).add(ReelDelivered{varrowReel()});
    return j;
}
ReelStanding standing(const Journal& j, const std::string& reel = "R-7")
{
    static std::vector<JobState> kept;  // what a standing points into
    kept.push_back(j.state());
    return standingOf(kept.back(), reel);
}
bool has(const std::vector<std::string>& sentences, const char* words)
{
    return std::any_of(sentences.begin(), sentences.end(), [&](const auto& s) { return s.find(words) != std::string::npos; });
}

}  // namespace

class TestReels : public QObject {
    Q_OBJECT
private slots:
    void theAdviceLeadsFromTheMarksToTheDecision_data()
    {
        using Facts = std::vector<Fact>;
        QTest::addColumn<Facts>("filed");
        QTest::addColumn<QString>("headline");
        QTest::addColumn<QString>("action");
        const Fact sample = sampled({2, 5}), joint = ReelJointMade{"R-7", 2, "fusion", "", {}, {}};
        const Light dead{0}, poor{1010, 0.2, 1.8}, crushed{0, 0, 0, 80};
        QTest::newRow("nothing yet") << Facts{} << "Draw the fibres"
                                     << "reel.sample";
        QTest::newRow("drawn") << Facts{sample} << "Get light into fibre 2"
                               << "reel.joint";
        QTest::newRow("joined") << Facts{sample, joint} << "Shoot fibre 2"
                                << "reel.trace";
        QTest::newRow("dead at the joint") << Facts{sample, joint, traced(2, dead)} << "No light gets through the joint"
                                           << "reel.joint";
        QTest::newRow("a poor joint") << Facts{sample, joint, traced(2, poor)} << "The joint loses too much"
                                      << "reel.joint";
        QTest::newRow("a crushed cord") << Facts{sample, joint, traced(2, crushed)} << "It is the launch cord"
                                        << "reel.cord-out";
        QTest::newRow("one of two") << Facts{sample, traced(2)} << "Get light into fibre 5"
                                    << "reel.joint";
        QTest::newRow("all right") << Facts{sample, traced(2), traced(5)} << "Can be accepted"
                                   << "reel.decide";
        QTest::newRow("the joint was done again") << Facts{sample, traced(2, dead), traced(2), traced(5)} << "Can be accepted"
                                                  << "reel.decide";
        QTest::newRow("loses too much") << Facts{sample, traced(2), traced(5, {1010, 0.4})} << "Reject it"
                                        << "reel.decide";
        QTest::newRow("broken in the reel") << Facts{sample, traced(2, {400})} << "Reject it"
                                            << "reel.decide";
        QTest::newRow("decided") << Facts{sample, traced(2), traced(5), ReelDecided{"R-7", ReelVerdict::Accept, ReelVerdict::Accept, ""}}
                                 << "Accepted"
                                 << "reel.report";
        QTest::newRow("shot again since") << Facts{sample, traced(2), ReelDecided{"R-7", ReelVerdict::Accept, ReelVerdict::NotJudged, "in a hurry"},
                                                   traced(5, {1010, 0.4})}
                                          << "Reject it"
                                          << "reel.decide";
    }
    void theAdviceLeadsFromTheMarksToTheDecision()
    {
        QFETCH(const std::vector<Fact>, filed);
        QFETCH(const QString, headline);
        QFETCH(const QString, action);
        Journal j = delivery();
        for (const auto& fact : filed) j.add(fact);
        const Advice advice = reelAdvice(j.state(), "R-7");
        QVERIFY2(QString::fromStdString(advice.headline).startsWith(headline), advice.headline.c_str());
        QCOMPARE(QString::fromUtf8(advice.actions.front().command.data(), qsizetype(advice.actions.front().command.size())), action);
        QVERIFY(!advice.sentence.empty() && advice.actions.size() <= 3);
    }
    void aReelThatIsOnlyNamedIsAskedFor()
    {
        Journal j;
        QVERIFY(QString::fromStdString(reelAdvice(j.state(), "").headline).contains("what came"));
        j.add(traced(1, {}, "R-9"));
        QVERIFY(QString::fromStdString(reelAdvice(j.state(), "R-9").headline).contains("what was ordered"));
        QVERIFY(standingOf(j.state(), "no such reel").filed == nullptr);
    }
    void nothingIsProposedWhileFibresAreOpen()
    {
        Journal j = delivery();
        j.add(sampled({2, 5, 9})).add(traced(2));
        QCOMPARE(standing(j).open, (std::vector<int>{5, 9}));
        QVERIFY(standing(j).proposed == ReelVerdict::NotJudged);
        j.add(traced(5)).add(traced(9));
        QVERIFY(standing(j).open.empty() && standing(j).proposed == ReelVerdict::Accept);
        j.add(ReelDecided{"R-7", ReelVerdict::AcceptWithNote, ReelVerdict::Accept, "watch fibre 9"});
        QVERIFY(standing(j).decided() && standing(j).verdict == ReelVerdict::AcceptWithNote);
        j.add(traced(9, {1010, 0.4}));
        QVERIFY(!standing(j).decided() && standing(j).decisionOvertaken && standing(j).verdict == ReelVerdict::Reject);
    }
    void theJobSaysHowMany_data()
    {
        QTest::addColumn<QString>("policy");
        QTest::addColumn<int>("wanted");
        QTest::newRow("one") << "one" << 1;
        QTest::newRow("all") << "all" << 12;
        QTest::newRow("sample") << "sample" << 3;
    }
    void theJobSaysHowMany()
    {
        QFETCH(const QString, policy);
        QFETCH(const int, wanted);
        Journal j = delivery();
        JobSettings job = j.state().plan->job;
        job.policies["reel"] = policy.toStdString();
        j.set(job).add(sampled({2, 5, 9}));
        QCOMPARE(static_cast<int>(standing(j).wanted.size()), wanted);
    }
    void everyWavelengthThatWasOrderedIsAskedFor()
    {
        Journal j = delivery();
        reel::Delivery both = varrowReel();
        both.allowed[1310] = DecibelPerKilometre(0.4);
        j.add(ReelDelivered{both}).add(sampled({2})).add(traced(2));
        QCOMPARE(standing(j).open, std::vector<int>{2});
        ReelTraced other = traced(2, {1010, 0.34});
        other.wavelength = Nanometre(1310);
        QVERIFY(standing(j.add(other)).open.empty());
    }
    void marksAloneRejectNothing()
    {
        Journal j;
        reel::Delivery shorter = varrowReel();
        shorter.marks = reel::SheathMarks{1000, 1900, reel::MarkUnit::Metres, 5};
        j.add(ReelDelivered{shorter});
        QVERIFY(standing(j).report.verdict == ReelVerdict::NotJudged && has(standing(j).report.why, "marks alone"));
        QVERIFY(standing(j.add(traced(1, {910}))).report.verdict == ReelVerdict::Reject);
        shorter.marks = reel::SheathMarks{123456, 7, reel::MarkUnit::Metres, 5};
        QVERIFY(!standing(j.add(ReelDelivered{shorter})).trouble.empty());
    }
    void theKindOfFibreIsToldWhereItCanBe()
    {
        Journal j = delivery();
        QVERIFY(standing(j.add(sampled({2})).add(traced(2))).report.kind.starts_with("single-mode"));
        Journal wrong;
        reel::Delivery multimode = varrowReel();
        multimode.type = "OM4";
        multimode.allowed.clear();
        const auto told = standing(wrong.add(ReelDelivered{multimode}).add(sampled({2})).add(traced(2)));
        QVERIFY(told.report.verdict == ReelVerdict::Reject && has(told.report.why, "OM4 was ordered"));
    }
    void aCordsHistoryNamesWhoHadItLast()
    {
        Journal j = delivery();
        j.add(KitProved{"launch 1", "loss proven", true});
        j.who = "technician 2";
        j.add(traced(2));
        j.who = "technician 1";
        j.add(traced(5, {}, "R-8"));
        const JobState state = j.state();
        const auto history = historyOf(state, j.entries, "launch 1");
        QCOMPARE(history.who, std::string("technician 1"));
        QVERIFY(history.provenAt > 0 && history.sentence("launch 1").find("last proven") != std::string::npos);
        QVERIFY(historyOf(state, j.entries, "launch 9").sentence("launch 9").find("Nobody is on record") == 0);
        QVERIFY(historyOf(state, j.entries, "launch 9").sentence("launch 9").find("never proven") != std::string::npos);
    }
    void aPlanThatLostItsReelSaysSo()
    {
        Journal j = delivery();
        j.add(sampled({2})).add(traced(2));
        const auto stock = stockOf(j.state());
        QCOMPARE(stock.size(), std::size_t{1});
        QVERIFY(stock.front().length > Metre(990) && stock.front().length < Metre(1000));  // what it holds for sure
        QCOMPARE(notAccepted(j.state(), stock).size(), std::size_t{1});
        const CutsPlanned plan{{stock, {{"sea wall", Metre(400), Metre(20)}}, false, Metre(50)}, {{"R-7", {{"sea wall", Metre(420)}}, {}}}, false};
        j.add(plan);
        QVERIFY(cutTroubles(j.state(), plan).empty());
        CutsPlanned more = plan;
        more.cuts.front().cuts.push_back({"to the hut", Metre(700)});
        QVERIFY(has(cutTroubles(j.state(), more), "are to be cut from it"));
        j.add(ReelDecided{"R-7", ReelVerdict::Reject, ReelVerdict::Accept, "wet"});
        QVERIFY(has(cutTroubles(j.state(), plan), "rejected") && stockOf(j.state()).empty());
        QVERIFY(has(reelAdvice(j.state(), "R-7").help, "plan again"));
    }
    void theFibreOfATraceIsTold_data()
    {
        QTest::addColumn<QString>("header");
        QTest::addColumn<QString>("file");
        QTest::addColumn<int>("fibre");  // 0: nothing
        QTest::newRow("header") << "7"
                                << "x" << 7;
        QTest::newRow("header of words, name") << "blue"
                                               << "R-7-003-1550" << 3;
        QTest::newRow("the reel's own number is none") << ""
                                                       << "R-7" << 0;
        QTest::newRow("the wavelength is none") << ""
                                                << "R-7_1550_11" << 11;
        QTest::newRow("too many") << "13"
                                  << "R-7" << 0;
        QTest::newRow("a long number") << ""
                                       << "20261127123456" << 0;
    }
    void theFibreOfATraceIsTold()
    {
        QFETCH(const QString, header);
        QFETCH(const QString, file);
        QFETCH(const int, fibre);
        otdr::Trace trace;
        trace.fibre = header.toStdString();
        trace.wavelength = Nanometre(1550);
        QCOMPARE(fibreOnReel(trace, file.toStdString(), "R-7", 12).value_or(0), fibre);
    }
    void theReelsTraceIsTheBaselineOfTheCable()
    {
        Journal j = delivery();
        j.add(traced(2)).add(CableLaid{"VP-04", "R-7", true});
        const JobState state = j.state();
        TraceShot now;
        now.link = "VP-04/2";
        now.wavelength = Nanometre(1550);
        const Link& two = *state.link("VP-04/2");
        const auto then = asOnTheReel(state, two, now);
        QVERIFY(then && then->traceName == "x.sor" && then->cords.launch == Metre(150));
        now.direction = Direction::BtoA;
        QVERIFY(!asOnTheReel(state, two, now));  // shot into the other end
        now.direction = Direction::AtoB;
        now.wavelength = Nanometre(1310);
        QVERIFY(!asOnTheReel(state, two, now));
        now.wavelength = Nanometre(1550);
        QVERIFY(!asOnTheReel(state, *state.link("VP-04/1"), now));
    }
    void aReelsLabelSaysWhatIsKnown()
    {
        Journal j = delivery();
        const auto before = labelsOfReels(j.state()).front();
        QVERIFY(before.title == "Reel R-7" && before.lines.back() == "not decided" && before.code.ends_with(":none"));
        j.add(sampled({2})).add(traced(2)).add(ReelDecided{"R-7", ReelVerdict::Accept, ReelVerdict::Accept, ""});
        const auto after = labelsOfReels(j.state()).front();
        QVERIFY(after.lines.front().find("±") != std::string::npos && after.lines.back().starts_with("accepted 20"));
        QVERIFY(after.code.size() > 60);
    }
    void usesOfAPartAreCountedOverAllReels()
    {
        Journal j = delivery();
        for (const char* reel : {"R-7", "R-8"}) j.add(ReelJointMade{reel, 1, "mechanical splice and a pigtail", "splice A", {}, {}});
        QCOMPARE(usesOf(j.state(), "splice A"), 2);
        QCOMPARE(usesOf(j.state(), "splice B"), 0);
    }
};

QTEST_APPLESS_MAIN(TestReels)
#include "test_reels.moc"
