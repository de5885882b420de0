#include <QtTest>
#include <nlohmann/json.hpp>

#include "varrow_journal.h"

using namespace clendo;

class TestPlant : public QObject {
    Q_OBJECT
private slots:
    void faceNamesRoundTrip()
    {
        for (const End end : {End::A, End::B})
            for (const Side side : {Side::Cord, Side::Port}) {
                const FaceId id{"VP-04/7", end, side};
                QCOMPARE(FaceId::parse(id.text()).value(), id);
            }
        for (const char* bad : {"", "VP-04", "VP-04/7", "VP-04/7/A", "VP-04/7/C/port", "VP-04/7/A/hole", "/A/port", "//"})
            QVERIFY(!FaceId::parse(bad));
    }
    void aCableBecomesLinks()
    {
        const CablePlan cable = varrowCable();
        const auto links = linksOf(cable);
        QCOMPARE(links.size(), std::size_t{12});
        QCOMPARE(links[6].id, std::string("VP-04/7"));
        QCOMPARE(links[6].colour, std::string("red"));
        QCOMPARE(links[6].faces().size(), std::size_t{4});
        QCOMPARE(links[6].where({"VP-04/7", End::A, Side::Port}), std::string("TH-R2 port 7, behind"));
        QCOMPARE(links[6].where({"VP-04/7", End::B, Side::Cord}), std::string("BH box port 7, cord side"));
        QCOMPARE(links[6].place(End::B), std::string("Breakwater Hut"));
    }
    void coloursAreThoseOfTheDataFile()
    {
        const auto file = nlohmann::json::parse(readFile(dataFolder() / "plant/colours.json").value());
        const auto& colours = file["schemes"][0]["colours"];
        for (int n = 1; n <= 12; ++n) QCOMPARE(orderColour(n), colours[static_cast<std::size_t>(n - 1)].get<std::string>());
        QCOMPARE(orderColour(13), std::string("blue with tracer"));
        QCOMPARE(orderColour(25), std::string("blue"));
    }
    void tubesAreCountedByTheSameColours_data()
    {
        QTest::addColumn<int>("fibres");
        QTest::addColumn<int>("inTube");
        QTest::addColumn<int>("fibre");
        QTest::addColumn<int>("tube");
        QTest::addColumn<QString>("colour");
        QTest::newRow("one tube has no name") << 12 << 12 << 12 << 1 << "aqua";
        QTest::newRow("first of the second") << 24 << 12 << 13 << 2 << "blue, tube 2 orange";
        QTest::newRow("first tube of two") << 24 << 12 << 2 << 1 << "orange, tube 1 blue";
        QTest::newRow("tubes of four") << 12 << 4 << 10 << 3 << "orange, tube 3 green";
        QTest::newRow("one tube of 24: a tracer") << 24 << 24 << 13 << 1 << "blue with tracer";
        QTest::newRow("the last of many") << 864 << 12 << 864 << 72 << "aqua, tube 72 aqua with tracer";
    }
    void tubesAreCountedByTheSameColours()
    {
        QFETCH(int, fibres);
        QFETCH(int, inTube);
        QFETCH(int, fibre);
        QFETCH(int, tube);
        QFETCH(QString, colour);
        CablePlan c = varrowCable(fibres);
        c.tubeFibres = inTube;
        QVERIFY(check(c));
        const auto links = linksOf(c);
        const Link& link = links[static_cast<std::size_t>(fibre - 1)];
        QCOMPARE(link.tube, tube);
        QCOMPARE(link.colour, colour.toStdString());
    }
    void aRackStandsBeforeItsPanel()
    {
        CablePlan c = varrowCable();
        c.endB.rack = "rack 2";
        const auto links = linksOf(c);
        QCOMPARE(links[6].where({"VP-04/7", End::A, Side::Port}), std::string("TH-R2 port 7, behind"));
        QCOMPARE(links[6].where({"VP-04/7", End::B, Side::Cord}), std::string("rack 2, BH box port 7, cord side"));
    }
    void badPlansSayWhatIsWrong_data()
    {
        QTest::addColumn<std::function<void(CablePlan&)>>("spoil");
        QTest::addColumn<QString>("field");
        const auto row = [](const char* what, const char* field, std::function<void(CablePlan&)> spoil) {
            QTest::newRow(what) << std::move(spoil) << QString(field);
        };
        row("a slash", "id", [](CablePlan& c) { c.id = "a/b"; });
        row("no name", "id", [](CablePlan& c) { c.id.clear(); });
        row("no place at A", "place_a", [](CablePlan& c) { c.placeA.clear(); });
        row("no place at B", "place_b", [](CablePlan& c) { c.placeB.clear(); });
        row("no fibre", "fibres", [](CablePlan& c) { c.fibres = 0; });
        row("too many fibres", "fibres", [](CablePlan& c) { c.fibres = 5000; });
        row("ferrules that do not divide them", "ferrule_fibres", [](CablePlan& c) { c.ferruleFibres = 5; });
        row("no fibre in a tube", "tube_fibres", [](CablePlan& c) { c.tubeFibres = 0; });
        row("no length", "length_m", [](CablePlan& c) { c.length = Metre(0); });
        row("ports below 1 at B", "end_b", [](CablePlan& c) { c.endB.firstPort = 0; });
        row("a splice behind the end", "splices", [](CablePlan& c) { c.splices.push_back({"outside", Metre(2500)}); });
        row("two panels of one name", "patched_at", [](CablePlan& c) { c.inner = {{"P", Metre(100)}, {"P", Metre(200)}}; });
        row("panels out of order", "patched_at", [](CablePlan& c) { c.inner = {{"P", Metre(200)}, {"Q", Metre(100)}}; });
    }
    void badPlansSayWhatIsWrong()
    {
        QFETCH(std::function<void(CablePlan&)>, spoil);
        QFETCH(QString, field);
        CablePlan cable = varrowCable();
        QVERIFY(check(cable));
        spoil(cable);
        const auto bad = check(cable);
        QVERIFY(!bad);
        QCOMPARE(QString::fromStdString(bad.error().detail), field);
        QVERIFY(!bad.error().message.empty());
    }
};
QTEST_APPLESS_MAIN(TestPlant)
#include "test_plant.moc"
