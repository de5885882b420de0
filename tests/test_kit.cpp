#include <QtTest>
#include <random>

#include "record/advice/cleaning_advice.h"
#include "record/advice/round.h"
#include "record/output/learning.h"
#include "record/rules/golden_face.h"
#include "record/rules/kit.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

constexpr std::int64_t morning = 1794902400, day = 86400;

KitKept pen(int most = 500) { return {"pen 1", "pen", {"LC"}, {}, 0, most, {}, false}; }

bool says(const std::vector<KitTrouble>& troubles, const char* words)
{
    return std::any_of(troubles.begin(), troubles.end(), [&](const KitTrouble& t) { return t.sentence.find(words) != std::string::npos; });
}

CablePlan cable(const std::string& id)
{
    CablePlan c = varrowCable(4);
    c.id = id;
    return c;
}

}  // namespace

/// The kit, the rules of planning, and the round's order.
class TestKit : public QObject {
    Q_OBJECT
private slots:
    void strokesAndMatingsAreCountedFromTheJournal()
    {
        Journal j;
        j.add(pen(10)).add(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false});
        j.add(FaceCleaned{cordA, "dry", 4, "pen 1"}).add(FaceCleaned{portA, "dry", 5, "pen 1"}).add(FaceCleaned{portA, "dry", 9, "another"});
        j.add(Joined{portA, {"RC-1", End::A, Side::Cord}});
        const JobState s = j.state();
        QCOMPARE(s.kit.find("pen 1")->second.used, 9);
        QCOMPARE(s.kit.find("RC-1")->second.used, 1);
        QCOMPARE(leftOn(s.kit.find("pen 1")->second), std::optional(1));
        QVERIFY(says(readiness(s, morning), "pen 1 has 1 of 10 strokes left"));
        j.add(FaceCleaned{portA, "dry", 1, "pen 1"});
        QVERIFY(says(readiness(j.state(), morning), "pen 1 is used up"));
    }
    void readinessNamesWhatIsOpen_data()
    {
        QTest::addColumn<int>("calibratedDays");  // from now; 0: no date
        QTest::addColumn<QString>("expected");
        QTest::newRow("no date") << 0 << "no calibration date";
        QTest::newRow("over") << -3 << "ended 3 days ago";
        QTest::newRow("soon") << 5 << "ends in 5 days";
        QTest::newRow("good") << 100 << "";
    }
    void readinessNamesWhatIsOpen()
    {
        QFETCH(int, calibratedDays);
        QFETCH(QString, expected);
        Journal j;
        j.add(KitKept{"meter 1", "meter", {}, "PM-2207", calibratedDays == 0 ? 0 : morning + calibratedDays * day, 0, {}, false});
        const auto open = readiness(j.state(), morning);
        if (expected.isEmpty())
            QVERIFY(!says(open, "calibration"));
        else
            QVERIFY(says(open, expected.toUtf8().constData()));
        QVERIFY(says(open, "meter 1: battery charged?"));
        j.add(KitProved{"meter 1", "battery charged", true}).add(KitProved{"meter 1", "port seen clean", false});
        const auto after = readiness(j.state(), morning + 600);
        QVERIFY(!says(after, "battery charged"));
        QVERIFY(says(after, "meter 1: not port seen clean"));
        QVERIFY(says(readiness(j.state(), morning + 2 * day), "battery charged?"));  // yesterday's battery
    }
    /// A scope looked at through its golden face, once a day: what is said of it after the last look.
    void aGoldenFaceTellsOfItsScope_data()
    {
        QTest::addColumn<int>("looks");
        QTest::addColumn<double>("scale");  // of the last look, and what it grows by each day before
        QTest::addColumn<double>("scaleADay");
        QTest::addColumn<double>("blur");
        QTest::addColumn<double>("light");
        QTest::addColumn<int>("lonePixels");
        QTest::addColumn<int>("fresh");  // things on the last look that were not on the one before
        QTest::addColumn<int>("daysAgo");
        QTest::addColumn<QStringList>("says");  // all of it, each by its beginning
        const auto row = [](const char* name, int looks, double scale, double aDay, double blur, double light, int lone, int fresh, int ago,
                            const QStringList& says) {
            QTest::newRow(name) << looks << scale << aDay << blur << light << lone << fresh << ago << says;
        };
        row("never", 0, 0.417, 0, 0.5, 0.4, 0, 0, 0, {"it was never looked at"});
        row("too few to know", 3, 0.417, 0, 0.5, 0.4, 0, 0, 0, {"3 of 4 looks"});
        row("as before", 10, 0.417, 0, 0.5, 0.4, 0, 0, 0, {});
        row("yesterday", 10, 0.417, 0, 0.5, 0.4, 0, 0, 2, {"not looked at since"});
        row("another zoom", 10, 0.430, 0, 0.5, 0.4, 0, 0, 0, {"scale 0.4300 µm per pixel, usually 0.41"});
        row("a lens that creeps", 20, 0.4170, 0.00015, 0.5, 0.4, 0, 0, 0, {"scale drifts: 0.41"});
        row("a dirty tip", 10, 0.417, 0, 0.8, 0.4, 0, 0, 0, {"blur 0.80 µm, usually 0.5"});
        row("a little less sharp", 10, 0.417, 0, 0.58, 0.4, 0, 0, 0, {});
        row("a lamp that fails", 10, 0.417, 0, 0.5, 0.2, 0, 0, 0, {"light 20 % of white, usually 4"});
        row("a camera that ages", 10, 0.417, 0, 0.5, 0.4, 60, 0, 0, {"lone pixels 60, usually 4"});
        row("dirt on the golden face", 10, 0.417, 0, 0.5, 0.4, 0, 4, 0, {"4 things are on it that were not"});
    }
    void aGoldenFaceTellsOfItsScope()
    {
        QFETCH(int, looks);
        QFETCH(double, scale);
        QFETCH(double, scaleADay);
        QFETCH(double, blur);
        QFETCH(double, light);
        QFETCH(int, lonePixels);
        QFETCH(int, fresh);
        QFETCH(int, daysAgo);
        QFETCH(QStringList, says);
        Journal j;
        j.add(KitKept{"GF-1", std::string(goldenKind), {"LC"}, {}, 0, 0, "sm-upc", false});
        const FaceId face{"GF-1", End::A, Side::Cord};
        std::mt19937 random(3);
        std::normal_distribution<double> scatter(0, 1);
        for (int n = looks; n-- > 0;) {
            const bool last = n == 0;
            FaceSeen seen{face, "sha" + std::to_string(n), "golden.png", {}, {}};
            auto& m = seen.measured;
            m.claddingDiameter = Pixel(300);
            const double usual = scaleADay > 0 ? scale - scaleADay * n : 0.417;
            m.scale = Scale(last ? scale : usual + 1e-4 * scatter(random));
            m.blur = Micrometre(last ? blur : 0.5 + 0.01 * scatter(random));
            m.light = last ? light : 0.4 + 0.003 * scatter(random);
            m.lonePixels = last && lonePixels > 0 ? lonePixels : 4;
            m.findings = {dirt(40, 3, 1)};
            for (int i = 0; last && i < fresh; ++i) m.findings.push_back(dirt(10 + 7 * i, 3, 2 + i));
            j.act({seen}, (n + daysAgo) * day);
        }
        QVERIFY(learn(j.state()).byCord.empty());  // it is no test cord
        const auto said = goldenFaces(j.state(), j.now());
        QCOMPARE(said.size(), std::size_t{1});
        QCOMPARE(said.front().looks, looks);
        QStringList troubles;
        for (const auto& t : said.front().troubles) troubles << QString::fromStdString(t);
        QVERIFY2(troubles.size() == says.size(), qPrintable(troubles.join(" | ")));
        for (int i = 0; i < says.size(); ++i) QVERIFY2(troubles[i].startsWith("Golden face GF-1: " + says[i]), qPrintable(troubles[i]));
        for (const auto& t : said.front().troubles) QVERIFY(::says(readiness(j.state(), j.now()), t.c_str()));
    }
    void connectorsWithoutToolOrTipAreSaid()
    {
        Journal j;
        auto open = readiness(j.state(), morning);
        QVERIFY(says(open, "Nothing in the kit cleans LC cord ends (1.25 mm)"));
        QVERIFY(says(open, "cleans LC behind an adapter"));
        QVERIFY(says(open, "No scope tip in the kit fits LC"));
        j.add(pen()).add(KitKept{"tip", "tip", {"SC"}, {}, 0, 0, {}, false});
        open = readiness(j.state(), morning);
        QVERIFY(!says(open, "Nothing in the kit"));
        QVERIFY(says(open, "No scope tip"));
        CablePlan outdoor = cable("VP-30");
        outdoor.connector = "hardened SC";
        outdoor.endB.access = Access::Hardened;
        j.add(CablePlanned{outdoor});
        QVERIFY(says(readiness(j.state(), morning), "hardened SC in a hardened port"));
        KitKept gone = pen();
        gone.gone = true;
        j.add(gone);
        QVERIFY(says(readiness(j.state(), morning), "cleans LC cord ends"));
    }
    void whatIsDryDoesNothingWetAndNothingWetGoesIntoADevice()
    {
        Journal j;
        CablePlan c = varrowCable(2);
        c.endA.access = Access::Device;
        j.add(CablePlanned{c})
            .add(pen())
            .add(KitKept{"wipes 1", "wipes", {}, {}, 0, 90, {}, false})
            .add(KitKept{"jet", "jet", {"LC"}, {}, 0, 0, {}, false});
        const JobState s = j.state();
        const auto does = [&](const char* tool, const char* method) { return doesMethod(s, s.kit.find(std::string(tool))->second, method); };
        QVERIFY(does("pen 1", "dry") && !does("pen 1", "wet-then-dry"));
        QVERIFY(does("wipes 1", "dry") && does("wipes 1", "wet-then-dry"));
        QVERIFY(!does("jet", "dry") && does("jet", "wet-then-dry"));
        QCOMPARE(toolsFor(s, "LC", "adapter").size(), std::size_t{2});  // the pen, and the jet through its adapter
        FaceState dirty;
        for (int cleanings = 0; cleanings < 6; ++cleanings) {
            dirty.cleanings = cleanings;
            QCOMPARE(adviceFor(dirty, "wet", cleaningTarget(s, portA)).method, std::string("dry"));
        }
        QCOMPARE(adviceFor(dirty, "dry", cleaningTarget(s, cordA)).method, std::string("fresh-tool"));
    }
    void theEndsOfACableMayHaveOtherConnectors()
    {
        Journal j;
        CablePlan c = varrowCable(2);
        c.connector = "SC";
        c.endB.connector = "LC";
        c.endB.className = "sm-apc";
        c.endB.cordClass = "sm-apc";
        const auto back = factFrom("cable_planned", bodyOf(CablePlanned{c}).dump());
        QCOMPARE(bodyOf(*back), bodyOf(CablePlanned{c}));
        j.add(CablePlanned{c})
            .add(KitKept{"tip 2.5", "tip", {"FC"}, {}, 0, 0, {}, false})
            .add(KitKept{"tip 1.25", "tip", {"LC"}, {}, 0, 0, {}, false});
        const JobState s = j.state();
        QCOMPARE(carryFor(s, cordA, false).front(), std::string("tip 2.5, cord end"));
        QCOMPARE(carryFor(s, cordB, false).front(), std::string("tip 1.25, cord end"));
        QVERIFY(s.faceClass(portA)->name == "sm-upc" && s.faceClass(portB)->name == "sm-apc" && s.faceClass(cordB)->name == "sm-apc");
        QVERIFY(!says(readiness(s, morning), "No scope tip"));
    }
    void theLeastUsedToolIsProposedFirstAndAWornOneLast()
    {
        Journal j;
        j.add(pen(10)).add(KitKept{"pen 2", "pen", {"MU"}, {}, 0, 10, {}, false}).add(KitKept{"mpo", "pen", {"MPO"}, {}, 0, 10, {}, false});
        j.add(FaceCleaned{cordA, "dry", 3, "pen 1"});
        const auto names = [&](const JobState& s) {
            std::string out;
            for (const auto* tool : toolsFor(s, "LC", "cord")) out += tool->what.id + ";";
            return out;
        };
        QCOMPARE(names(j.state()), std::string("pen 2;pen 1;"));  // MU has a ferrule of 1.25 mm, too
        j.add(KitKept{"pen SC", "pen", {"SC"}, {}, 0, 10, {}, false});
        QCOMPARE(names(j.state()), std::string("pen 2;pen 1;"));  // of the wrong diameter
        j.add(FaceCleaned{cordA, "dry", 10, "pen 2"});
        QCOMPARE(names(j.state()), std::string("pen 1;pen 2;"));
        QVERIFY(toolsFor(j.state(), "LC", "sleeve").empty());
        QCOMPARE(carryFor(j.state(), cordA, true), (std::vector<std::string>{"pen 1", "tip for LC, cord end"}));
    }

    void theRulesOfPlanning_data()
    {
        QTest::addColumn<QString>("change");
        QTest::addColumn<QString>("expected");  // empty: nothing is said
        QTest::newRow("sound") << ""
                               << "";
        QTest::newRow("angled with flat") << "apc cord"
                                          << "an angled face would meet a flat one";
        QTest::newRow("angled with angled") << "all apc"
                                            << "";
        QTest::newRow("core sizes") << "om4 cord"
                                    << "core sizes are mixed";
        QTest::newRow("unknown family") << "family"
                                        << "is not known";
        QTest::newRow("too many for the ferrule") << "ferrule"
                                                  << "does not hold 2 fibres";
        QTest::newRow("class of the other kind") << "class"
                                                 << "choose the class that fits";
        QTest::newRow("one port twice") << "port"
                                        << "port 3 is taken by cable VP-04";
        QTest::newRow("same panel, next ports") << "next ports"
                                                << "";
        QTest::newRow("pins without a row of fibres") << "pins"
                                                      << "ferrules of one fibre have none";
        QTest::newRow("a range inside another") << "inside"
                                                << "port 2 is taken by cable VP-04";
    }
    void theRulesOfPlanning()
    {
        QFETCH(QString, change);
        QFETCH(QString, expected);
        CablePlan c = cable("VP-04");
        std::vector<CablePlan> all{c};
        if (change == "apc cord") all[0].endB.cordClass = "sm-apc";
        if (change == "all apc") all[0].className = all[0].endA.cordClass = "sm-apc";
        if (change == "om4 cord") all[0].endA.cordFibre = "OM4";
        if (change == "family") all[0].connector = "XY";
        if (change == "ferrule") all[0].ferruleFibres = 2;
        if (change == "pins") all[0].endA.pins = Side::Cord;
        if (change == "class") all[0].fibre = "OM3";
        if (change == "port" || change == "next ports") {
            CablePlan second = cable("VP-05");
            second.endA.firstPort = second.endB.firstPort = change == "port" ? 3 : 5;
            all.push_back(second);
        }
        if (change == "inside") {
            CablePlan second = cable("VP-05");
            second.fibres = 2;
            second.endA.firstPort = 2;
            second.placeB = "Boathouse";
            all.push_back(second);
        }
        const auto families = loadConnectors(dataFolder());
        QVERIFY(families);
        const auto troubles = planTroubles(all, *families);
        if (expected.isEmpty())
            QVERIFY2(troubles.empty(), troubles.empty() ? "" : troubles.front().sentence.c_str());
        else
            QVERIFY(says(troubles, expected.toUtf8().constData()));
    }
    void dataFilesThatAreDamagedAreErrors_data()
    {
        QTest::addColumn<QString>("text");
        QTest::newRow("nothing") << "";
        QTest::newRow("a list") << "[]";
        QTest::newRow("another file") << R"({"format":"clendo-polish"})";
        QTest::newRow("no names") << R"({"format":"clendo-connectors","families":[{"fibres":[1]}]})";
        QTest::newRow("minus one fibre") << R"({"format":"clendo-connectors","families":[{"name":"a","fibres":[-1]}]})";
        QTest::newRow("kit without titles") << R"({"format":"clendo-kit","kinds":[{"kind":"pen"}]})";
    }
    void dataFilesThatAreDamagedAreErrors()
    {
        QFETCH(QString, text);
        QVERIFY(!parseConnectors(text.toStdString()));
        QVERIFY(!parseKitKinds(text.toStdString()));
    }

    void theRoundGoesByPlaceAndChangesTheTipOnce()
    {
        Journal j;
        CablePlan second = cable("VP-05");
        second.connector = "SC";
        second.endA.firstPort = second.endB.firstPort = 21;
        j.add(CablePlanned{second});
        const auto changes = [](const Round& round, const char* place) {
            int n = 0;
            std::vector<std::string> tip;
            for (const auto& step : round.left)
                if (step.kind == StepKind::Look && step.place == place && step.carry != std::exchange(tip, step.carry)) ++n;
            return n;
        };
        JobState s = j.state();
        const Round byTips = roundOf(s);
        QCOMPARE(changes(byTips, "Tide Hall"), 4);  // two families, cord ends and adapters
        // all that is to do at Tide Hall comes before anything at the hut
        const auto firstAtB = std::find_if(byTips.left.begin(), byTips.left.end(), [](const Step& step) { return step.place == "Breakwater Hut"; });
        QVERIFY(std::none_of(firstAtB, byTips.left.end(), [](const Step& step) { return step.place == "Tide Hall"; }));
        JobSettings job = s.plan->job;
        job.policies["order"] = "ports";
        j.set(job);
        s = j.state();
        const Round byPorts = roundOf(s);
        QVERIFY(changes(byPorts, "Tide Hall") > 4);
        QCOMPARE(byPorts.all, byTips.all);
        // two people: each has the own place, and light in both
        const Round hut = roundOf(s, "Breakwater Hut");
        QVERIFY(std::all_of(hut.left.begin(), hut.left.end(), [](const Step& step) { return step.place != "Tide Hall"; }));
        QVERIFY(std::any_of(hut.left.begin(), hut.left.end(), [](const Step& step) { return step.kind == StepKind::Loss; }));
        QCOMPARE(placesOf(*s.plan), (std::vector<std::string>{"Tide Hall", "Breakwater Hut"}));
        const auto list = carryList(byPorts.left, "Tide Hall");
        QVERIFY(list.size() >= 4);
        QCOMPARE(std::set<std::string>(list.begin(), list.end()).size(), list.size());
    }
    void theRoundGoesAlongTheRacksAndWhatNeedsAnotherToolStaysTogether()
    {
        Journal j;
        const auto plan = [&](const char* id, const char* rack, Access access) {
            CablePlan c = cable(id);
            c.fibres = 1;
            c.endA.firstPort = c.endB.firstPort = int(j.entries.size()) * 20;
            c.endA.rack = rack;
            c.endA.access = access;
            j.add(CablePlanned{c});
        };
        plan("C-1", "R3", Access::Device);
        plan("C-2", "R2", Access::Adapter);
        plan("C-3", "R1", Access::Device);
        plan("C-4", "R1", Access::Adapter);
        std::vector<std::string> order;
        const JobState s = j.state();
        for (const auto& step : roundOf(s, "Tide Hall").left)
            if (step.kind == StepKind::Look && step.face.side == Side::Port && step.face.connection == End::A && step.link.starts_with("C-"))
                order.push_back(step.link);
        QCOMPARE(order, (std::vector<std::string>{"C-4/1", "C-2/1", "C-3/1", "C-1/1"}));
    }
    void panelsOfOneNameInTwoRacksDoNotClash()
    {
        const auto families = loadConnectors(dataFolder()).value();
        CablePlan a = cable("C-1"), b = cable("C-2");
        b.endB.firstPort = 101;  // only end A can clash
        QVERIFY(says(planTroubles({a, b}, families), "taken by cable C-1"));
        b.endA.rack = "R2";
        QVERIFY(planTroubles({a, b}, families).empty());
        a.endA.rack = "R2";
        QVERIFY(says(planTroubles({a, b}, families), "taken by cable C-1"));
    }
    void whatToCarryIsNamedThingByThing()
    {
        Journal j;
        j.add(KitKept{"pen 7", "pen", {"LC"}, {}, 0, 500, {}, false}).look(cordA, {dirt(30)}).look(portA, {dirt(30)});
        const auto list = carryList(roundOf(j.state()).left, "Tide Hall");
        QCOMPARE(std::count(list.begin(), list.end(), "pen 7"), 1);
        QVERIFY(std::none_of(list.begin(), list.end(), [](const std::string& thing) { return thing.find("pen 7,") != std::string::npos; }));
        QVERIFY(std::find(list.begin(), list.end(), "alcohol") != list.end());
    }
    void workOutOfOrderIsTakenOutOfTheRound()
    {
        std::mt19937 random(3);
        Journal j;
        int left = int(roundOf(j.state()).left.size());
        std::vector<FaceId> faces{cordA, portA, cordB, portB};
        std::shuffle(faces.begin(), faces.end(), random);
        for (const auto& face : faces) {
            j.look(face);
            const JobState s = j.state();
            const Round round = roundOf(s);
            QCOMPARE(int(round.left.size()), --left);
            QVERIFY(std::none_of(round.left.begin(), round.left.end(),
                                 [&](const Step& step) { return step.kind == StepKind::Look && step.face == face; }));
        }
    }
};
QTEST_APPLESS_MAIN(TestKit)
#include "test_kit.moc"
