#include <QtTest>
#include <nlohmann/json.hpp>

#include "record/output/contact_picture.h"
#include "record/output/journal_view.h"
#include "record/output/learning.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

const FaceId testCord{"RC-1", End::A, Side::Cord};

Journal fullDay()
{
    Journal j = mated();
    j.add(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false})
        .add(KitKept{"pen 1", "pen", {"LC"}, {}, 0, 100, {}, false})
        .add(KitProved{"RC-1", "loss proven", true})
        .add(KitChecked{{"a battery"}, "no other here"})
        .add(FaceCleaned{cordA, "dry", 2, "pen 1"})
        .add(SleeveCleaned{"VP-04/1", End::A})
        .add(FaceHandled{cordA, "touched"})
        .add(FaceCovered{cordA, "capped"})
        .add(Joined{portA, testCord})
        .light(-7, -8.5)
        .add(shot())
        .add(ReferenceVoided{Direction::BtoA, "cord moved"})
        .add(Signed{"VP-04/1", "well"})
        .add(FindingOverruled{cordA, digestOf("a look"), 0, FindingOverruled::As::Missed, "seen by eye", {}, Micrometre(2)})
        .add(CriteriaKept{"House rule", "{}"})
        .add(ScopeCalibrated{"scope 2", Scale(0.412)})
        .add(LightSeen{"VP-04", 2, 1})
        .add(LengthMeasured{"VP-04/2", Metre(2410), "sheath marks"})
        .add(ReferenceProved{
            Direction::BtoA, Nanometre(1310), DecibelMilliwatt(-7.21), "RC-2", {}, Acquired{"meter 1", Decibel(0.004), Decibel(0.01), 11, Second(1)}})
        .add(ReferenceChecked{Direction::AtoB, Nanometre(1550), DecibelMilliwatt(-7.4), {}, {}})
        .add(SourceSwitchedOn{"source 1"})
        .add(MeterSignKept{"meter 1", true})
        .add(CordRead{"VP-P-017", "A", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7.3), {}, {}})
        .add(LineLogKept{std::string(64, 'b')})
        .add(ReelDelivered{varrowReel()})
        .add(ReelPictured{"R-7", std::string(64, 'c'), "drum.jpg", "a dent in the drum"})
        .add(ReelSampled{"R-7", "II", 1.0, 7, {{12, 3, 0, 1}, {2, 5, 11}}})
        .add(ReelJointMade{"R-7", 2, "mechanical splice and a pigtail", "splice 1", {"strip", "clean"}, {"lock"}})
        .add(ReelTraced{"R-7", 2, std::string(64, 'd'), "R-7-002.sor", Nanometre(1550), Metre(150), "launch 1", Metre(0.5), shot().found})
        .add(ReelDecided{"R-7", reel::ReelVerdict::AcceptWithNote, reel::ReelVerdict::Accept, "short by two metres"})
        .add(CutsPlanned{
            {{{"R-7", Metre(990)}}, {{"sea wall", Metre(410), Metre(20)}}, false, Metre(50)}, {{"R-7", {{"sea wall", Metre(430)}}, {}}}, true})
        .add(CableLaid{"VP-04", "R-7", false})
        .add(UnknownFact{"from_tomorrow", "{}"})
        .add(RulesKept{"limits/generic-sm.json", "{}"})
        .add(LossesNoted{"torn.clendo", {{"d1", 3, 9}}, {"aa"}, true});
    TraceShot through = shot();
    through.link = "VP-04/3";
    through.launchEnd = FaceId{"launch 1", End::B, Side::Cord};
    through.tailEnd = FaceId{"launch 2", End::A, Side::Cord};
    PowerRead received{"VP-04/3", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8.1), {}, {}};
    received.receiveEnd = FaceId{"RC-2", End::A, Side::Cord};
    j.add(through).add(received).add(Corrected{j.entries[12].hash, "wrong face"});
    return j;
}

const Share* named(const std::vector<Share>& shares, std::string_view of)
{
    const auto it = std::find_if(shares.begin(), shares.end(), [&](const Share& s) { return s.of == of; });
    return it == shares.end() ? nullptr : &*it;
}

}  // namespace

/// What the journal says, how it is searched, what it teaches, and who touched whom.
class TestJournal : public QObject {
    Q_OBJECT
private slots:
    void everyKindOfEntryHasItsSentenceAndItsKind()
    {
        const Journal j = fullDay();
        const JobState s = j.state();
        std::set<std::size_t> kinds;
        for (const auto& entry : j.entries) {
            kinds.insert(entry.fact.index());
            QVERIFY(sentenceOf(entry.fact, s).size() > 8);
            QCOMPARE(kindWords(entry.fact) == "other", std::holds_alternative<UnknownFact>(entry.fact));
        }
        QCOMPARE(kinds.size(), std::variant_size_v<Fact>);  // a new kind of fact needs its sentence here too
    }
    void everyKindSurvivesTheFile()
    {
        for (const auto& entry : fullDay().entries) {
            const auto back = factFrom(kindOf(entry.fact), bodyOf(entry.fact).dump());
            QVERIFY2(back.has_value(), back ? "" : back.error().message.c_str());
            QCOMPARE(bodyOf(*back), bodyOf(entry.fact));
            QCOMPARE(back->index(), entry.fact.index());
        }
    }
    void aJournalIsFiltered_data()
    {
        QTest::addColumn<QString>("words");
        QTest::addColumn<QString>("subject");
        QTest::addColumn<QString>("who");
        QTest::addColumn<QString>("kind");
        QTest::addColumn<int>("count");
        QTest::newRow("all") << ""
                             << ""
                             << ""
                             << "" << int(fullDay().entries.size());
        QTest::newRow("word, any case") << "STROKES"
                                        << ""
                                        << ""
                                        << "" << 1;
        QTest::newRow("two words") << "dry pen"
                                   << ""
                                   << ""
                                   << "" << 1;
        QTest::newRow("kind as a word") << "mating"
                                        << ""
                                        << ""
                                        << "" << 2;
        QTest::newRow("kind") << ""
                              << ""
                              << ""
                              << "mating" << 2;
        QTest::newRow("face") << ""
                              << "VP-04/1/A/cord"
                              << ""
                              << "" << 5;
        QTest::newRow("link holds both ends") << ""
                                              << "VP-04/1"
                                              << ""
                                              << "trace" << 1;
        QTest::newRow("link 1 is not link 10") << ""
                                               << "VP-04/10"
                                               << ""
                                               << "" << 0;
        QTest::newRow("the other side of a touch") << ""
                                                   << "RC-1/A/cord"
                                                   << ""
                                                   << "" << 1;
        QTest::newRow("nobody") << ""
                                << ""
                                << "crew lead"
                                << "" << 0;
        QTest::newRow("nothing") << "quay"
                                 << ""
                                 << ""
                                 << "" << 0;
    }
    void aJournalIsFiltered()
    {
        QFETCH(QString, words);
        QFETCH(QString, subject);
        QFETCH(QString, who);
        QFETCH(QString, kind);
        QFETCH(int, count);
        const Journal j = fullDay();
        const JobState s = j.state();
        const auto found = journalMatches(j.entries, s, {words.toStdString(), subject.toStdString(), who.toStdString(), kind.toStdString()});
        QCOMPARE(int(found.size()), count);
        QVERIFY(std::is_sorted(found.begin(), found.end()));
    }
    void correctionsAndASetBackClockAreFound()
    {
        Journal j = fullDay();
        QVERIFY(correctedEntries(j.entries) == Corrections{j.entries[12].hash});
        const std::string line = lineOf(j.entries.back(), j.entries, j.state());
        QVERIFY2(line.starts_with("No. 13 no longer counts: ") && line.ends_with(" (wrong face)"), line.c_str());
        QVERIFY(clockSetBack(j.entries).empty());
        const auto last = j.entries.size() - 1;
        j.entries[last].happened -= 4'000'000'000;  // the clock was set back: pushed behind the entry before
        j.entries[last].filed = j.entries[last - 1].filed + 1;
        QCOMPARE(clockSetBack(j.entries), std::vector<std::size_t>{last});
    }

    void firstLooksAndMethodsAreCounted()
    {
        Journal j;
        j.look(cordA).look(portA, {dirt(30)});
        j.add(FaceCleaned{portA, "dry", 1, "pen 1"}).look(portA, {dirt(30.3)});
        j.add(FaceCleaned{portA, "wet-then-dry", 1, "pen 1"}).look(portA);
        j.clean(cordB).look(cordB);  // cleaned unseen: fit, and not at the first look
        j.blurred(portB);            // no evidence
        const Learned l = learn(j.state());
        QCOMPARE(l.firstTimeFit.right, 1);
        QCOMPARE(l.firstTimeFit.all, 3);
        const auto is = [](const Share* s, int right, int all) { return s && s->right == right && s->all == all; };
        QVERIFY(is(named(l.byPlace, "Tide Hall"), 1, 2));
        QVERIFY(is(named(l.byPlace, "Breakwater Hut"), 0, 1));
        QVERIFY(is(named(l.byConnector, "LC"), 1, 3));
        QVERIFY(is(named(l.bySide, "ports"), 0, 1));
        QVERIFY(is(named(l.byMethod, "dry, fresh tape"), 1, 2));
        QVERIFY(!named(l.byMethod, "wet, then dry"));  // it came second
        QVERIFY(is(named(l.byTool, "pen 1"), 0, 1));
        QVERIFY(is(named(l.goneByMethod, "dry, fresh tape on particle"), 0, 1));
        QVERIFY(is(named(l.goneByMethod, "wet, then dry on particle"), 1, 1));
        QCOMPARE(l.troublePorts.size(), std::size_t{1});
        QCOMPARE(l.troublePorts.front().of, std::string("TH-R2 port 1, behind"));
        QCOMPARE(l.troublePorts.front().all, 2);
        QCOMPARE(l.byPlace.front().of, std::string("Breakwater Hut"));  // the worst first
    }
    void nothingIsLearnedFromNothing()
    {
        const Learned l = learn(Journal().state());
        QCOMPARE(l.firstTimeFit.all, 0);
        QVERIFY(l.byPlace.empty() && l.byMethod.empty() && l.troublePorts.empty() && l.used.empty());
    }

    void theWayOfASuspicionIsDrawn()
    {
        const FaceId second{"VP-04/2", End::A, Side::Port};
        Journal j;
        j.add(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false});
        j.look(testCord).look(portA).look(second);
        j.add(Joined{portA, testCord}).add(Joined{second, testCord}).look(testCord, {dirt(30)});
        const JobState s = j.state();
        QVERIFY(s.face(portA).suspicion && s.face(second).suspicion);
        const ContactPicture p = contactPicture(s, portA);
        QCOMPARE(p.lanes.front().face, testCord);  // where the dirt was found
        QCOMPARE(p.lanes[1].face, portA);
        QVERIFY(p.lanes[1].suspect && !p.lanes[0].suspect);
        QCOMPARE(p.lanes.size(), std::size_t{3});
        QCOMPARE(p.touches.size(), std::size_t{2});
        QVERIFY(p.touches[0].onWay && p.touches[0].to == 1);
        QVERIFY(!p.touches[1].onWay);
        QCOMPARE(std::count_if(p.looks.begin(), p.looks.end(), [](const auto& look) { return !look.fit; }), 1);
        QVERIFY(std::is_sorted(p.times.begin(), p.times.end()));
        QVERIFY(p.story.find("test cord RC-1, end A → TH-R2 port 1") != std::string::npos);
        // seen from where it was found: both of them
        const ContactPicture source = contactPicture(s, testCord);
        QVERIFY(source.story.find("2 faces that it touched") != std::string::npos);
        QCOMPARE(std::count_if(source.touches.begin(), source.touches.end(), [](const auto& t) { return t.onWay; }), 2);
    }
    void aPictureWithTooManyFacesSaysSo()
    {
        Journal j;
        j.add(CablePlanned{varrowCable(12)}).add(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false});
        for (int n = 1; n <= 12; ++n) j.add(Joined{{"VP-04/" + std::to_string(n), End::A, Side::Port}, testCord});
        const ContactPicture p = contactPicture(j.state(), testCord, 5);
        QCOMPARE(p.lanes.size(), std::size_t{5});
        QVERIFY(p.leftOut >= 8);
        for (const auto& touch : p.touches) QVERIFY(touch.from < 5 && touch.to < 5);
        QVERIFY(contactPicture(j.state(), cordB).story.find("touched nothing") != std::string::npos);
    }
};
QTEST_APPLESS_MAIN(TestJournal)
#include "test_journal.moc"
