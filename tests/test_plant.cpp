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
    void badPlansSayWhatIsWrong()
    {
        QVERIFY(check(varrowCable()));
        CablePlan c = varrowCable();
        c.id = "a/b";
        QVERIFY(!check(c));
        c = varrowCable();
        c.id.clear();
        QVERIFY(!check(c));
        c = varrowCable();
        c.fibres = 0;
        QVERIFY(!check(c));
        c = varrowCable();
        c.fibres = 5000;
        QVERIFY(!check(c));
        c = varrowCable();
        c.tubeFibres = 0;
        QVERIFY(!check(c));
        c = varrowCable();
        c.length = Metre(0);
        QVERIFY(!check(c));
        c = varrowCable();
        c.placeB.clear();
        QVERIFY(!check(c));
        c = varrowCable();
        c.splices.push_back({"behind the end", Metre(2500)});
        const auto bad = check(c);
        QVERIFY(!bad);
        QVERIFY(QString::fromStdString(bad.error().message).contains("behind the end"));
    }
};
QTEST_APPLESS_MAIN(TestPlant)
#include "test_plant.moc"
