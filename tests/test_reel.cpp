// A delivery of cable: marks, lengths, samples, temporary joints, the verdict.
#include <QtTest>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "reel/delivery_text.h"
#include "reel/joint_kinds.h"
#include "reel/reel_json.h"

using namespace clendo;
using namespace clendo::reel;

namespace {

SamplingTable table() { return SamplingTable::load(RuleFiles(dataFolder())).value(); }

/// A shot of a reel: `launch` m of launch cord, a joint of so many dB, then `fibre` m.
otdr::Analysis shotOf(double launch, std::optional<double> joint, double fibre, double attenuation = 0.2)
{
    using otdr::Event;
    using otdr::EventKind;
    otdr::Analysis out;
    Event first;
    first.kind = EventKind::Launch;
    out.events.push_back(first);
    if (joint) {
        Event e;
        e.kind = EventKind::Reflective;
        e.at = Metre(launch);
        e.loss = Decibel(*joint);
        e.lossUncertainty = Decibel(0.01);
        e.reflectance = Decibel(-45);
        out.events.push_back(e);
    }
    Event end;
    end.kind = EventKind::End;
    end.at = Metre(launch + fibre);
    out.events.push_back(end);
    if (fibre > 0) out.span = otdr::Span{Metre(launch), Metre(launch + fibre), {}, DecibelPerKilometre(attenuation), {}};
    return out;
}
ReelShot shotInto(int fibre, double length, double attenuation = 0.2)
{
    return {fibre, Nanometre(1550), Metre(0.5), Metre(150), shotOf(150, 0.3, length, attenuation)};
}
Delivery delivery()
{
    Delivery d;
    d.reel = "R-7";
    d.ordered = Metre(1000);
    d.fibres = 1;
    d.type = "OS2";
    d.allowed = {{1550, DecibelPerKilometre(0.3)}};
    d.marks = SheathMarks{48210, 44930, MarkUnit::Feet, 5};
    d.excess = 0.01;
    return d;
}
bool has(const std::vector<std::string>& sentences, const char* words)
{
    return std::any_of(sentences.begin(), sentences.end(), [&](const auto& s) { return s.find(words) != std::string::npos; });
}
bool warns(const ReelReport& r, const char* code)
{
    return std::any_of(r.warnings.begin(), r.warnings.end(), [&](const auto& w) { return w.code == code; });
}

}  // namespace

class TestReel : public QObject {
    Q_OBJECT
private slots:
    void marksGiveALength_data()
    {
        QTest::addColumn<double>("outer");
        QTest::addColumn<double>("inner");
        QTest::addColumn<bool>("feet");
        QTest::addColumn<int>("digits");
        QTest::addColumn<double>("expected");  // 0: nothing is
        QTest::addColumn<double>("length");    // m; -1: refused
        QTest::newRow("metres, rising inwards") << 2000.0 << 3000.0 << false << 5 << 0.0 << 1000.0;
        QTest::newRow("falling inwards") << 3000.0 << 2000.0 << false << 5 << 0.0 << 1000.0;
        QTest::newRow("feet") << 48210.0 << 45004.0 << true << 5 << 1000.0 << 977.2;
        QTest::newRow("past its highest number") << 99400.0 << 500.0 << false << 5 << 1100.0 << 1100.0;
        QTest::newRow("past it the other way") << 500.0 << 99400.0 << false << 5 << 1100.0 << 1100.0;
        QTest::newRow("past it, nothing expected: the shorter way") << 9900.0 << 300.0 << false << 4 << 0.0 << 400.0;
        QTest::newRow("a long reel on a short counter") << 1000.0 << 9000.0 << false << 4 << 8100.0 << 8000.0;
        QTest::newRow("more digits than the counter has") << 12345.0 << 300.0 << false << 4 << 0.0 << -1.0;
        QTest::newRow("the same mark twice") << 300.0 << 300.0 << false << 5 << 0.0 << -1.0;
        QTest::newRow("no number") << std::nan("") << 300.0 << false << 5 << 0.0 << -1.0;
    }
    void marksGiveALength()
    {
        QFETCH(const double, outer);
        QFETCH(const double, inner);
        QFETCH(const bool, feet);
        QFETCH(const int, digits);
        QFETCH(const double, expected);
        QFETCH(const double, length);
        const auto read = lengthBetween({outer, inner, feet ? MarkUnit::Feet : MarkUnit::Metres, digits},
                                        expected > 0 ? std::optional(Metre(expected)) : std::nullopt);
        QCOMPARE(read.has_value(), length >= 0);
        if (read) QVERIFY2(qAbs(read->length.value() - length) < 0.1, qPrintable(QString::number(read->length.value())));
    }
    void lengthsAreWeighedByWhatIsKnownOfThem()
    {
        const auto marks = lengthBetween({48210, 45004, MarkUnit::Feet, 5}, Metre(1000)).value();
        const auto length = combineLengths(Metre(1000), marks, Metre(988.1), 0.01, Metre(0.5));
        QVERIFY(qAbs(length.optical->length.value() - 978.3) < 0.1);
        QVERIFY2(qAbs(length.best->length.value() - 977.9) < 0.3, qPrintable(QString::number(length.best->length.value())));
        QVERIFY(length.best->uncertainty < marks.uncertainty && length.best->uncertainty < length.optical->uncertainty);
        QVERIFY(length.doubt.empty() && length.shorter());
        // as much as the measurement leaves open is no shortfall
        QVERIFY(!combineLengths(Metre(980), marks, Metre(988.1), 0.01, Metre(0.5)).shorter());
    }
    void mistakesOfUnitAndExcessAreNamed_data()
    {
        QTest::addColumn<double>("marks");  // m, as they were taken
        QTest::addColumn<QString>("says");
        QTest::newRow("feet taken for metres") << 3206.0 << "in feet and were taken for metres";
        QTest::newRow("metres taken for feet") << 298.0 << "in metres and were taken for feet";
        QTest::newRow("the excess is in it already") << 988.0 << "excess is left out";
        QTest::newRow("a fibre that is broken") << 1200.0 << "broken before";
        QTest::newRow("a mark that was read wrong") << 878.0 << "read wrong";
        QTest::newRow("all is well") << 979.0 << "";
    }
    void mistakesOfUnitAndExcessAreNamed()
    {
        QFETCH(const double, marks);
        QFETCH(const QString, says);
        const LengthByMarks read{Metre(marks), Metre(1), false};
        const auto length = combineLengths(Metre(1000), read, Metre(988.1), 0.01, Metre(0.1));
        QVERIFY2(says.isEmpty() ? length.doubt.empty() : QString::fromStdString(length.doubt).contains(says), length.doubt.c_str());
        if (!says.isEmpty()) QCOMPARE(length.best->length, length.optical->length);  // the light counts
    }

    void samplesFollowThePlan_data()
    {
        QTest::addColumn<int>("lot");
        QTest::addColumn<double>("aql");
        QTest::addColumn<int>("size");
        QTest::addColumn<int>("accept");
        QTest::newRow("288 at 1.0") << 288 << 1.0 << 50 << 1;
        QTest::newRow("288 at 0.65") << 288 << 0.65 << 80 << 1;
        QTest::newRow("12 at 1.0: 13 are more than all") << 12 << 1.0 << 12 << 0;
        QTest::newRow("8 at 0.65: all") << 8 << 0.65 << 8 << 0;
        QTest::newRow("1200 at 2.5") << 1200 << 2.5 << 80 << 5;
        QTest::newRow("one") << 1 << 1.0 << 1 << 0;
        QTest::newRow("too many") << 5000 << 1.0 << -1 << 0;
        QTest::newRow("an AQL that is not shipped") << 288 << 4.0 << -1 << 0;
    }
    void samplesFollowThePlan()
    {
        QFETCH(const int, lot);
        QFETCH(const double, aql);
        QFETCH(const int, size);
        QFETCH(const int, accept);
        const auto plan = table().plan(lot, "II", aql);
        QCOMPARE(plan ? plan->size : -1, size);
        if (!plan) return;
        QCOMPARE(plan->accept, accept);
        QCOMPARE(plan->reject, accept + 1);
    }
    void theOddsOfAcceptanceAreRight()
    {
        const SamplingPlan plan{288, 50, 1, 2};
        QCOMPARE(acceptedWith(plan, 0), 1.0);
        QCOMPARE(acceptedWith(plan, 288), 0.0);
        QVERIFY(acceptedWith(plan, 1) > 1 - 1e-12);
        double last = 1;
        for (int bad = 1; bad < 60; ++bad) {
            QVERIFY(acceptedWith(plan, bad) <= last);
            last = acceptedWith(plan, bad);
        }
        // two bad of ten, three drawn, none accepted: 8 of 10, 7 of 9, 6 of 8
        QVERIFY(qAbs(acceptedWith({10, 3, 0, 1}, 2) - 0.8 * 7 / 9 * 6 / 8) < 1e-9);
        // what is drawn agrees with it
        int accepted = 0;
        constexpr int trials = 4000;
        for (std::uint32_t seed = 1; seed <= trials; ++seed) {
            int bad = 0;
            for (const int fibre : draw(plan, seed)) bad += fibre <= 14;
            accepted += bad <= 1;
        }
        QVERIFY2(qAbs(accepted / double(trials) - acceptedWith(plan, 14)) < 0.03, qPrintable(QString::number(accepted)));
    }
    void theSameSeedDrawsTheSameFibres()
    {
        const SamplingPlan plan{12, 4, 0, 1};
        const auto drawn = draw(plan, 7);
        QCOMPARE(drawn.size(), std::size_t(4));
        QVERIFY(std::is_sorted(drawn.begin(), drawn.end()) && std::adjacent_find(drawn.begin(), drawn.end()) == drawn.end());
        QVERIFY(drawn.front() >= 1 && drawn.back() <= 12);
        QVERIFY(draw(plan, 7) == drawn && draw(plan, 8) != drawn);
        // each fibre is drawn as often as another
        std::array<int, 12> often{};
        for (std::uint32_t seed = 1; seed <= 6000; ++seed)
            for (const int fibre : draw(plan, seed)) ++often[std::size_t(fibre - 1)];
        for (const int n : often) QVERIFY2(qAbs(n - 2000) < 180, qPrintable(QString::number(n)));
    }

    void deadIsNotAlwaysTheReel_data()
    {
        QTest::addColumn<double>("end");  // m from the front panel
        QTest::addColumn<double>("joint");
        QTest::addColumn<QString>("state");
        QTest::addColumn<QString>("next");
        QTest::newRow("good") << 1138.0 << 0.3 << "good"
                              << "";
        QTest::newRow("a poor joint") << 1138.0 << 1.6 << "poor"
                                      << "Do it again";
        QTest::newRow("dead at the joint") << 150.5 << 0.0 << "dead"
                                           << "put it in again";
        QTest::newRow("dead in the launch cord") << 62.0 << 0.0 << "unknown"
                                                 << "not the reel";
        QTest::newRow("broken in the reel") << 640.0 << 0.3 << "good"
                                            << "broken in the reel";
    }
    void deadIsNotAlwaysTheReel()
    {
        QFETCH(const double, end);
        QFETCH(const double, joint);
        QFETCH(const QString, state);
        QFETCH(const QString, next);
        const auto found = shotOf(150, joint > 0 ? std::optional(joint) : std::nullopt, end - 150);
        const auto reading = readJoint(found, Metre(150), Decibel(1), Metre(1000));
        QCOMPARE(QString::fromStdString(std::string(name(reading.joint))), state);
        QVERIFY2(next.isEmpty() ? reading.next.empty() : QString::fromStdString(reading.next).contains(next), reading.next.c_str());
    }
    void withoutALaunchCordTheJointIsNotKnown()
    {
        const auto reading = readJoint(shotOf(0, {}, 1000), Metre(0), Decibel(1), Metre(1000));
        QVERIFY(reading.joint == JointState::NotKnown && !reading.jointLoss && reading.fibre == std::optional(Metre(1000)));
        QVERIFY(readJoint({}, Metre(0), Decibel(1), {}).joint == JointState::Dead);
        QVERIFY(readJoint({}, Metre(150), Decibel(1), {}).where == JointReading::Where::LaunchCord);
    }

    void theVerdictFollowsWhatWasMeasured_data()
    {
        QTest::addColumn<double>("fibre");  // optical length, m
        QTest::addColumn<double>("attenuation");
        QTest::addColumn<double>("joint");
        QTest::addColumn<QString>("verdict");
        QTest::addColumn<QString>("why");
        QTest::newRow("as ordered") << 1010.0 << 0.2 << 0.3 << "accept"
                                    << "";
        QTest::newRow("loses too much") << 1010.0 << 0.36 << 0.3 << "reject"
                                        << "0.300 are ordered";
        QTest::newRow("a bad joint comes first") << 1010.0 << 0.36 << 2.0 << "not-judged"
                                                 << "Do it again";
        QTest::newRow("broken") << 500.0 << 0.2 << 0.3 << "reject"
                                << "broken in the reel";
    }
    void theVerdictFollowsWhatWasMeasured()
    {
        QFETCH(const double, fibre);
        QFETCH(const double, attenuation);
        QFETCH(const double, joint);
        QFETCH(const QString, verdict);
        QFETCH(const QString, why);
        const auto report = judgeReel(delivery(), {}, {{1, Nanometre(1550), Metre(0.5), Metre(150), shotOf(150, joint, fibre, attenuation)}}).value();
        QCOMPARE(QString::fromStdString(std::string(name(report.verdict))), verdict);
        if (!why.isEmpty()) QVERIFY2(has(report.why, qPrintable(why)), report.why.empty() ? "" : report.why.front().c_str());
    }
    void aShortReelIsRejectedWithItsPrice()
    {
        Delivery d = delivery();
        d.marks = SheathMarks{48210, 45004, MarkUnit::Feet, 5};
        d.pricePerMetre = 2;
        const auto report = judgeReel(d, {}, {shotInto(1, 988.1)}).value();
        QVERIFY(report.verdict == ReelVerdict::Reject);
        QVERIFY2(has(report.why, "shorter than ordered (2.2 %), 44."), report.why.front().c_str());
    }
    void aSampleAcceptsSoManyAndNoMore()
    {
        Delivery d = delivery();
        d.fibres = 288;
        const SamplingPlan plan = table().plan(288, "II", 1.0).value();
        const Sample sample{plan, draw(plan, 7)};
        const auto shots = [&](int bad, std::size_t tested) {
            std::vector<ReelShot> out;
            for (std::size_t i = 0; i < tested; ++i) out.push_back(shotInto(sample.drawn[i], 1010, static_cast<int>(i) < bad ? 0.4 : 0.2));
            return out;
        };
        QVERIFY(judgeReel(d, sample, shots(0, 50)).value().verdict == ReelVerdict::Accept);
        QVERIFY(judgeReel(d, sample, shots(1, 50)).value().verdict == ReelVerdict::AcceptWithNote);
        const auto rejected = judgeReel(d, sample, shots(2, 50)).value();
        QVERIFY(rejected.verdict == ReelVerdict::Reject && has(rejected.why, "All fibres are to be tested"));
        const auto some = judgeReel(d, sample, shots(0, 20)).value();
        QVERIFY(some.verdict == ReelVerdict::AcceptWithNote && warns(some, "sample_incomplete"));
    }
    void whatIsNotKnownIsSaid()
    {
        Delivery d = delivery();
        d.excess = 0;
        d.fibres = 12;
        d.jacket = "indoor";
        d.environment = "outdoor";
        const auto report = judgeReel(d, {}, {{1, Nanometre(1550), Metre(0.5), Metre(0), shotOf(0, {}, 1000)}}).value();
        for (const char* code : {"no_launch", "no_excess", "not_all", "indoor_outdoors"}) QVERIFY2(warns(report, code), code);
        QVERIFY(report.joint == JointState::NotKnown);
        const auto marksOnly = judgeReel(delivery(), {}, {}).value();
        QVERIFY(marksOnly.verdict == ReelVerdict::NotJudged && has(marksOnly.why, "only its marks"));
    }

    void lightLostInTheLaunchCordIsTheCords()
    {
        otdr::Analysis crushed = shotOf(150, 0.2, 1000);
        otdr::Event bend;
        bend.kind = otdr::EventKind::Loss;
        bend.at = Metre(83);
        bend.loss = Decibel(6);
        crushed.events.insert(crushed.events.begin() + 1, bend);
        QVERIFY(readJoint(crushed, Metre(150), Decibel(1), {}).where == JointReading::Where::LaunchCord);
        crushed.events[1].loss = Decibel(0.4);
        QVERIFY(readJoint(crushed, Metre(150), Decibel(1), {}).where == JointReading::Where::Reel);
    }
    void whatThePapersSayIsHeldAgainstWhatWasMeasured()
    {
        Delivery d = delivery();
        d.supplierLength = Metre(1030);
        d.supplier = {{1550, DecibelPerKilometre(0.17)}};
        const auto report = judgeReel(d, {}, {shotInto(1, 1010, 0.22)}).value();
        QVERIFY(warns(report, "papers_length") && warns(report, "papers_attenuation"));
        d.supplierLength = Metre(1001);
        d.supplier = {{1550, DecibelPerKilometre(0.21)}};
        QVERIFY(judgeReel(d, {}, {shotInto(1, 1010, 0.22)}).value().verdict == ReelVerdict::Accept);
    }
    void attenuationsAreReadAsPeopleWriteThem_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("read");  // empty: refused
        QTest::newRow("as asked") << "0.36 at 1310, 0.22 at 1550"
                                  << "0.36 at 1310, 0.22 at 1550";
        QTest::newRow("wavelength first, commas") << "1310: 0,36; 1550: 0,22"
                                                  << "0.36 at 1310, 0.22 at 1550";
        QTest::newRow("close together") << "1310:0.36,1550:0.22"
                                        << "0.36 at 1310, 0.22 at 1550";
        QTest::newRow("one") << "850 nm 2.5 dB/km"
                             << "2.5 at 850";
        QTest::newRow("no wavelength") << "0.36"
                                       << "";
        QTest::newRow("two attenuations") << "0.36 0.22"
                                          << "";
        QTest::newRow("words") << "as usual"
                               << "";
        QTest::newRow("too much") << "400 at 1310"
                                  << "";
    }
    void attenuationsAreReadAsPeopleWriteThem()
    {
        QFETCH(const QString, typed);
        QFETCH(const QString, read);
        const auto out = attenuationsFromText(typed.toStdString());
        QCOMPARE(out.has_value(), !read.isEmpty());
        if (out) QCOMPARE(QString::fromStdString(textOf(*out)), read);
    }
    void kindsOfJointsAreDataThatAUserAddsTo()
    {
        const auto shipped = jointKinds({dataFolder() / "joints"});
        QVERIFY(shipped.troubles.empty() && shipped.all.size() >= 4);
        for (const auto& kind : shipped.all) {
            QVERIFY(kind.strip && kind.cleave && kind.uses > 0 && !kind.seated.empty() && !kind.wayRound.empty());
            QVERIFY(std::any_of(kind.steps.begin(), kind.steps.end(), [](const auto& s) { return s.caution.starts_with("Eyes"); }));
            QVERIFY(std::any_of(kind.steps.begin(), kind.steps.end(), [](const auto& s) { return s.caution.starts_with("Shards"); }));
        }
        QTemporaryDir own;
        const auto write = [&](const char* name, const char* text) { return writeFile(own.filePath(name).toStdString(), text).has_value(); };
        QVERIFY(
            write("mine.json",
                  R"({"format": "clendo-joint", "id": "fusion", "title": "our splicer", "strip_mm": 35, "steps": [{"id": "a", "do": "Do it."}]})"));
        QVERIFY(write("torn.json", "{"));
        QVERIFY(write("other.json", R"({"format": "clendo-limits"})"));
        QVERIFY(write("empty.json", R"({"format": "clendo-joint", "id": "x", "title": "x", "steps": []})"));
        const auto both = jointKinds({dataFolder() / "joints", own.path().toStdString(), "/no/such/folder"});
        QCOMPARE(both.all.size(), shipped.all.size());
        QVERIFY(both.find("fusion") && both.find("fusion")->title == "our splicer" && figuresOf(*both.find("fusion")) == "strip 35 mm");
        QCOMPARE(both.troubles.size(), std::size_t{3});
    }

    void hostileDeliveriesAreRefused_data()
    {
        QTest::addColumn<QString>("text");
        QTest::newRow("nothing") << "";
        QTest::newRow("a list") << "[]";
        QTest::newRow("nothing ordered") << R"({"reel": "R"})";
        QTest::newRow("a length of words") << R"({"reel": "R", "ordered": {"length_m": "long"}})";
        QTest::newRow("an unknown unit") << R"({"reel": "R", "ordered": {}, "marks": {"outer": 1, "inner": 2, "unit": "yd"}})";
        QTest::newRow("another sampling plan") << R"({"reel": "R", "ordered": {"fibres": 288}, "sample": {"plan": "own", "aql": 1}})";
        QTest::newRow("a negative attenuation") << R"({"reel": "R", "ordered": {"attenuation_db_per_km": {"1550": -1}}})";
    }
    void hostileDeliveriesAreRefused()
    {
        QFETCH(const QString, text);
        QVERIFY(!deliveryFromJson(text.toStdString(), table()));
    }
};

QTEST_APPLESS_MAIN(TestReel)
#include "test_reel.moc"
