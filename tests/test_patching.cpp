#include <QtTest>
#include <nlohmann/json.hpp>

#include "plant/plan_csv.h"
#include "plant/plan_text.h"
#include "record/advice/round.h"
#include "record/output/certificate.h"
#include "record/output/planned_loss.h"
#include "record/rules/completeness.h"
#include "record/rules/kit.h"
#include "record/rules/plan_match.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

/// Patched through at two panels; the cord at B goes into a switch.
CablePlan patched(int fibres = 2)
{
    CablePlan c = varrowCable(fibres);
    c.inner = {{"IDF-2", Metre(620), 25}, {"IDF-3", Metre(624)}};
    c.endB.device = "switch CR-1";
    return c;
}

const Connection first = Connection::inner(1), second = Connection::inner(2), device = Connection::device(End::B);

Journal journalOf(const CablePlan& cable)
{
    Journal j;
    j.add(CablePlanned{cable});
    return j;
}

/// finished(), on that cable; then everything at the places in between and at the device.
Journal allOf(const CablePlan& cable)
{
    Journal j = journalOf(cable);
    for (const auto& e : finished().entries)
        if (!isPlan(e.fact)) {
            Fact fact = e.fact;
            if (auto* read = std::get_if<PowerRead>(&fact)) read->reference = {};
            if (auto* seen = std::get_if<TraceShot>(&fact))
                for (auto& event : seen->found.events)
                    if (event.kind == otdr::EventKind::Loss && std::abs(event.at.value() - 2300) < 1) event.kind = otdr::EventKind::Ghost;
            j.add(std::move(fact));
        }
    for (const Connection at : {first, second, device}) {
        for (const Side side : {Side::Cord, Side::Port}) j.look({"VP-04/1", at, side});
        j.add(SleeveCleaned{"VP-04/1", at}).add(Mated{"VP-04/1", at});
    }
    return j;
}

std::string joined(const std::vector<std::string>& list) { return fmt::format("{}", fmt::join(list, "; ")); }

}  // namespace

/// Links that are patched through at panels in between, and whose cords go into devices: each mated pair is a place with two faces.
class TestPatching : public QObject {
    Q_OBJECT
private slots:
    void placesHaveNames_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("is");
        for (const char* good : {"A", "B", "1", "42", "99", "A-device", "B-device"}) QTest::newRow(good) << good << true;
        for (const char* bad : {"", "a", "C", "0", "100", "-1", "+1", "01", "1 ", "1x", "device", "C-device", "A-", "99999999999999999999"})
            QTest::newRow(*bad ? bad : "empty") << bad << false;
    }
    void placesHaveNames()
    {
        QFETCH(QString, text);
        QFETCH(bool, is);
        const auto found = Connection::parse(text.toStdString());
        QCOMPARE(found.has_value(), is);
        const auto face = FaceId::parse("VP-04/7/" + text.toStdString() + "/cord");
        QCOMPARE(face.has_value(), is);
        if (!is) return;
        QCOMPARE(found->text(), text.toStdString());
        QCOMPARE(face->connection, *found);
    }
    void facesStandInOrderFromAToB()
    {
        const CablePlan c = patched();
        const auto links = linksOf(c);
        std::vector<std::string> names;
        for (const auto& face : links[0].faces()) names.push_back(face.text().substr(8));
        QCOMPARE(joined(names), std::string("A/cord; A/port; 1/port; 1/cord; 2/cord; 2/port; B/port; B/cord; B-device/cord; B-device/port"));
        QVERIFY(Connection(End::A) < first && first < second && second < Connection(End::B) && Connection(End::B) < device);
        QVERIFY(Connection::device(End::A) < Connection(End::A));
        std::set<std::size_t> hashes;
        for (const auto& face : links[0].faces()) hashes.insert(FaceIdHash()(face));
        QCOMPARE(hashes.size(), links[0].faces().size());
        QCOMPARE(links[1].where({"VP-04/2", first, Side::Port}), std::string("IDF-2 port 26, behind"));
        QCOMPARE(links[1].where({"VP-04/2", second, Side::Cord}), std::string("IDF-3 port 2, cord side"));
        QCOMPARE(links[1].where({"VP-04/2", device, Side::Port}), std::string("switch CR-1, for BH box port 2"));
        QCOMPARE(links[1].where({"VP-04/2", device, Side::Cord}), std::string("BH box port 2, the cord's far end"));
    }
    void whatIsTypedBecomesPanels_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("panels");
        QTest::newRow("none") << ""
                              << "";
        QTest::newRow("with a port, and without") << "620 IDF-2 port 25; 0,624 km IDF-3"
                                                  << "620 IDF-2 25,624 IDF-3 1,";
        QTest::newRow("a name with the word in it") << "12 port room"
                                                    << "12 port room 1,";
        QTest::newRow("no number behind the word") << "12 IDF port x"
                                                   << "12 IDF port x 1,";
        QTest::newRow("no name") << "620"
                                 << "no";
        QTest::newRow("no distance") << "IDF-2"
                                     << "no";
    }
    void whatIsTypedBecomesPanels()
    {
        QFETCH(QString, text);
        QFETCH(QString, panels);
        const auto read = parsePanels(text.toStdString());
        std::string out = read ? "" : "no";
        if (read)
            for (const auto& p : *read) out += fmt::format("{:g} {} {},", p.at.value(), p.name, p.firstPort);
        else
            QVERIFY(read.error().message.find("620 IDF-2") != std::string::npos);
        QCOMPARE(out, panels.toStdString());
    }
    void badPanelsAreRefused_data()
    {
        QTest::addColumn<QString>("panels");
        QTest::newRow("outside the cable") << "2500 IDF-2";
        QTest::newRow("not in order") << "700 IDF-2; 600 IDF-3";
        QTest::newRow("twice the same") << "700 IDF-2; 800 IDF-2";
        QTest::newRow("the name of an end") << "700 Tide Hall";
        QTest::newRow("a slash") << "700 IDF/2";
        QTest::newRow("a port that no panel has") << "700 IDF-2 port 10000";
    }
    void badPanelsAreRefused()
    {
        QFETCH(QString, panels);
        CablePlan c = varrowCable();
        c.inner = parsePanels(panels.toStdString()).value();
        QVERIFY(!check(c));
    }
    void aTableAndAJobKeepThem()
    {
        const auto lines = readPlanCsv(
            "cable,place a,place b,length,fibres,patched at,device b,connector b,end faces b\n"
            "T,a,b,86,12,30 P1 port 13; 32 P2,switch,SC,sm-apc\nU,a,b,86,12,99 P1,,,\n");
        QVERIFY(lines && (*lines)[0].cable);
        const CablePlan& c = *(*lines)[0].cable;
        QVERIFY(c.inner.size() == 2 && c.inner[0].firstPort == 13 && c.inner[1].at == Metre(32));
        QCOMPARE(c.connectorAt(End::B), std::string("SC"));
        QCOMPARE(c.connectorAt(Connection::device(End::B)), std::string("SC"));
        QCOMPARE(c.connectorAt(first), std::string("LC"));
        QCOMPARE(c.classAt(End::B), std::string("sm-apc"));
        QVERIFY((*lines)[1].trouble.find("P1") != std::string::npos);
        const JobState s = journalOf(c).state();
        const CablePlan& kept = s.plan->cables.back();
        QVERIFY(kept.inner.size() == 2 && kept.inner[0].name == "P1" && kept.inner[0].firstPort == 13 && kept.endB.device == "switch");
    }
    void everyPairIsWanted()
    {
        const Journal j = allOf(patched());
        const JobState s = j.state();
        const Completeness all = completeness(s, *s.link("VP-04/1"));
        QVERIFY2(all.missing().empty(), joined(all.missing()).c_str());
        QCOMPARE(std::count_if(all.parts.begin(), all.parts.end(), [](const Part& p) { return p.kind == PartKind::Face; }), 10);
        QVERIFY(all.tier() == std::optional(2));
        // nothing of what stands in between is taken for granted
        const JobState bare = journalOf(patched()).state();
        const std::string lacks = joined(completeness(bare, *bare.link("VP-04/1")).missing());
        for (const char* words :
             {"IDF-2 port 25, behind: was not looked at", "IDF-3 port 1, cord side: was not looked at", "IDF-2 was not mated",
              "the sleeve at IDF-3 was not cleaned", "switch CR-1, for BH box port 1: was not looked at", "switch CR-1 at end B was not mated"})
            QVERIFY2(lacks.find(words) != std::string::npos, words);
    }
    void dirtIsTracedThroughThem()
    {
        Journal j = allOf(patched());
        j.look({"VP-04/1", second, Side::Cord}, {dirt(20)});
        const JobState s = j.state();
        QVERIFY(s.face({"VP-04/1", second, Side::Port}).suspicion);
        QVERIFY(!s.face({"VP-04/1", first, Side::Port}).suspicion);
        QVERIFY(!maySign(s, *s.link("VP-04/1")));
    }
    void theRoundGoesThere()
    {
        const JobState s = journalOf(patched()).state();
        QCOMPARE(joined(placesOf(*s.plan)), std::string("Tide Hall; IDF-2; IDF-3; Breakwater Hut"));
        const auto at = roundOf(s, "IDF-2");
        QCOMPARE(at.all, 2 * 4);  // two faces, a sleeve and a mating for each of two fibres
        QVERIFY(
            std::all_of(at.left.begin(), at.left.end(), [](const Step& step) { return step.connection == first || step.face.connection == first; }));
        const auto all = roundOf(s).left;
        const auto intoDevice =
            std::find_if(all.begin(), all.end(), [](const Step& step) { return step.face.connection == device && step.face.side == Side::Port; });
        QVERIFY(intoDevice != all.end());
        QCOMPARE(intoDevice->title, std::string("Look inside the device"));
        QCOMPARE(intoDevice->place, std::string("Breakwater Hut"));
        QCOMPARE(cleaningTarget(s, intoDevice->face), std::string_view("device"));
    }
    void portsInBetweenClashToo()
    {
        CablePlan one = patched(12), other = patched(12);
        other.id = "VP-05";
        other.endA.firstPort = other.endB.firstPort = 13;
        other.inner = {{"IDF-2", Metre(620), 36}};
        const JobState s = Journal().state();
        std::string said;
        for (const auto& trouble : planTroubles({one, other}, s.plan->connectors)) said += trouble.sentence;
        QVERIFY2(said.find("IDF-2 port 36 is taken by cable VP-04") != std::string::npos, said.c_str());
        other.inner[0].firstPort = 37;
        for (const auto& trouble : planTroubles({one, other}, s.plan->connectors)) QVERIFY2(trouble.sentence.find("taken") == std::string::npos, "");
    }
    void theLimitCountsThem()
    {
        const JobState s = allOf(patched()).state(), without = finished().state();
        const auto& loss = s.state("VP-04/1").loss;
        QVERIFY(loss && without.state("VP-04/1").loss);
        QCOMPARE(loss->results[0].limit->connectionsCounted(), 4);  // one cord: both ends; never the device
        QCOMPARE((loss->results[0].limit->total - without.state("VP-04/1").loss->results[0].limit->total).value(), 2 * 0.75);
    }
    void whatMayBeLostIsDrawnForEachWavelength()
    {
        const JobState s = allOf(patched()).state();
        const auto planned = plannedLoss(s, *s.link("VP-04/1"));
        QCOMPARE(planned.size(), std::size_t{2});
        for (const auto& one : planned) {
            const auto& r = *std::find_if(s.state("VP-04/1").loss->results.begin(), s.state("VP-04/1").loss->results.end(),
                                          [&](const auto& result) { return result.wavelength == one.wavelength; });
            QVERIFY(std::abs((one.points.back().loss - r.limit->total).value()) < 1e-9);
            QVERIFY(
                std::is_sorted(one.points.begin(), one.points.end(), [](const auto& a, const auto& b) { return a.at < b.at || a.loss < b.loss; }));
            for (const double metre : {0.0, 620.0, 624.0, 2400.0}) {  // a step at each connection
                const auto is = [&](const auto& p) { return p.at == Metre(metre); };
                const auto before = std::find_if(one.points.begin(), one.points.end(), is);
                const auto after = std::find_if(one.points.rbegin(), one.points.rend(), is);
                QVERIFY(std::abs((after->loss - before->loss).value() - 0.75) < 1e-9);
            }
        }
    }
    void theTraceIsReadAgainstThem()
    {
        const JobState s = journalOf(patched()).state();
        TraceShot seen = shot();
        otdr::Event at;
        at.kind = otdr::EventKind::Reflective;
        at.at = Metre(150 + 622);
        at.loss = Decibel(0.9);
        at.reflectance = Decibel(-45);
        seen.found.events.insert(seen.found.events.begin() + 2, at);
        const auto rows = matchPlan(s, *s.link("VP-04/1"), seen);
        const auto row = std::find_if(rows.begin(), rows.end(), [](const LineRow& r) { return r.name == "IDF-2 port 25"; });
        QVERIFY(row != rows.end());
        QCOMPARE(row->kind, std::string("connection"));
        QVERIFY(row->found == Metre(622) && row->overLimit());
    }
    void theCertificateNamesThem()
    {
        const JobState s = allOf(patched()).state();
        const auto made = certificate(s, "VP-04/1").value();
        QCOMPARE(made["cables"][0]["patched_at"].size(), std::size_t{2});
        QCOMPARE(made["cables"][0]["patched_at"][1]["panel"].get<std::string>(), std::string("IDF-3"));
        QCOMPARE(made["cables"][0]["device_to"].get<std::string>(), std::string("switch CR-1"));
        QVERIFY(made["cables"][0]["device_from"].is_null());
        QCOMPARE(made["cables"][0]["links"][0]["faces"].size(), std::size_t{10});
    }
    void anInstrumentsPortIsAFace()
    {
        Journal j;
        const FaceId port{"PM-01", End::A, Side::Port}, cord{"RC-1", End::B, Side::Cord};
        KitKept meter{"PM-01", "meter", {"LC"}, {}, 0, 0, "sm-upc", false}, kept{"RC-1", "cord", {"LC"}, {}, 500, 0, "sm-upc", false};
        j.add(meter).add(kept).look(port).look(cord).add(Joined{cord, port});
        JobState s = j.state();
        QCOMPARE(s.where(port), std::string("port of PM-01"));
        QVERIFY(s.faceClass(port) && s.face(port).condition == FaceCondition::Fit);
        QCOMPARE(cleaningTarget(s, port), std::string_view("device"));
        // what is found on it may have come to the cord, and to what the cord touches
        j.add(Joined{{"RC-1", End::A, Side::Cord}, portA}).look(port, {dirt(20)});
        s = j.state();
        QVERIFY(s.face(cord).suspicion);
        QVERIFY(kitKindNamed(s.plan->kitKinds, "meter")->port && !kitKindNamed(s.plan->kitKinds, "cord")->port);
    }
};

QTEST_APPLESS_MAIN(TestPatching)
#include "test_patching.moc"
