#include <QtTest>

#include "plant/plan_csv.h"
#include "plant/plan_text.h"

using namespace clendo;

/// What people type and what spreadsheets save.
class TestPlanText : public QObject {
    Q_OBJECT
private slots:
    void lengths_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<double>("metres");  // negative: refused
        QTest::newRow("plain") << "2400" << 2400.0;
        QTest::newRow("with unit") << " 2400 m " << 2400.0;
        QTest::newRow("unit at once") << "86m" << 86.0;
        QTest::newRow("kilometres, comma") << "2,4 km" << 2400.0;
        QTest::newRow("word") << "far" << -1.0;
        QTest::newRow("another unit") << "2400 miles" << -1.0;
        QTest::newRow("two numbers") << "24 00" << -1.0;
        QTest::newRow("empty") << "" << -1.0;
        QTest::newRow("infinite") << "inf" << -1.0;
        QTest::newRow("two points") << "1.2.3" << -1.0;
    }
    void lengths()
    {
        QFETCH(QString, typed);
        QFETCH(double, metres);
        const auto length = parseLength(typed.toStdString());
        QCOMPARE(length.has_value(), metres >= 0);
        if (length) QCOMPARE(length->value(), metres);
    }
    void splices()
    {
        const auto two = parseSplices("1180 manhole 3; 1,905 km sea wall");
        QVERIFY(two);
        QCOMPARE(two->at(1).at.value(), 1905.0);
        QCOMPARE(two->at(1).name, std::string("sea wall"));
        QCOMPARE(two->at(0).name, std::string("manhole 3"));
        QCOMPARE(parseSplices("500")->at(0).name, std::string("1"));
        QVERIFY(parseSplices("")->empty());
        QVERIFY(!parseSplices("near the quay"));
    }
    void ports_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<int>("first");  // 0: refused
        QTest::addColumn<int>("last");
        QTest::newRow("range") << "1-24" << 1 << 24;
        QTest::newRow("with blanks") << " 13 - 24 " << 13 << 24;
        QTest::newRow("one") << "7" << 7 << 7;
        QTest::newRow("backwards") << "24-1" << 0 << 0;
        QTest::newRow("from nothing") << "0-5" << 0 << 0;
        QTest::newRow("half") << "3-" << 0 << 0;
        QTest::newRow("words") << "all" << 0 << 0;
    }
    void ports()
    {
        QFETCH(QString, typed);
        QFETCH(int, first);
        QFETCH(int, last);
        const auto range = parsePorts(typed.toStdString());
        QCOMPARE(range.has_value(), first > 0);
        if (range) QCOMPARE(*range, std::pair(first, last));
    }

    void theExampleReadsAsThePlanItShows()
    {
        const auto lines = readPlanCsv(planCsvExample());
        QVERIFY(lines && lines->size() == 1 && lines->front().cable);
        const CablePlan& c = *lines->front().cable;
        QCOMPARE(c.id, std::string("VP-04"));
        QCOMPARE(c.fibres, 12);
        QCOMPARE(c.length.value(), 2400.0);
        QCOMPARE(c.splices.size(), std::size_t{2});
    }
    void oneTableInManyDresses_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        const QByteArray commas =
            "Cable,Place A,Place_B,Length,Fibres\nVP-30,K\xC3\xBC"
            "ste,Hut,\"1,5 km\",8\n";
        QTest::newRow("commas, quotes, UTF-8") << commas;
        QTest::newRow("byte order mark, CRLF") << QByteArray("\xEF\xBB\xBF") + QByteArray(commas).replace("\n", "\r\n");
        QTest::newRow("semicolons, decimal comma, Latin-1") << QByteArray(
            "Cable;Place A;Place B;Length;Fibres\nVP-30;K\xFC"
            "ste;Hut;1,5 km;8\n");
        QTest::newRow("tabs, other order") << QByteArray("length\tfibres\tcable\tplace b\tplace a\n1500\t8\tVP-30\tHut\tK\xC3\xBCste\n");
        QByteArray wide("\xFF\xFE");
        for (const QChar c : QString::fromUtf8(commas)) wide.append(char(c.unicode() & 0xFF)).append(char(c.unicode() >> 8));
        QTest::newRow("UTF-16") << wide;
        QByteArray halves("\xFF\xFE");
        for (const QChar c : QStringLiteral("cable;place a;place b;length;fibres;panel a\nVP-30;K\u00fcste;Hut;1,5 km;8;\U0001F6A2\n"))
            halves.append(char(c.unicode() & 0xFF)).append(char(c.unicode() >> 8));
        QTest::newRow("UTF-16 with a character of two halves") << halves;
        QTest::newRow("old line ends, empty lines") << QByteArray(commas).replace("\n", "\r") + "\r\r,,,,\r";
    }
    void oneTableInManyDresses()
    {
        QFETCH(QByteArray, bytes);
        const auto lines = readPlanCsv(bytes.toStdString());
        QVERIFY2(lines, lines ? "" : lines.error().message.c_str());
        QCOMPARE(lines->size(), std::size_t{1});
        QVERIFY2(lines->front().cable, lines->front().trouble.c_str());
        QCOMPARE(lines->front().cable->id, std::string("VP-30"));
        QCOMPARE(lines->front().cable->placeA, std::string("K\xC3\xBCste"));
        QCOMPARE(lines->front().cable->length.value(), 1500.0);
        QCOMPARE(lines->front().cable->fibres, 8);
        const std::string& panel = lines->front().cable->panelA;
        QVERIFY(panel == lines->front().cable->placeA || panel == "\xF0\x9F\x9A\xA2");
    }
    void badLinesAreNamedAndTheOthersRead_data()
    {
        QTest::addColumn<QString>("line");
        QTest::addColumn<QString>("says");  // empty: good
        QTest::newRow("good") << "X1,a,b,100,1-24,1-24,,,,"
                              << "";
        QTest::newRow("good, count and first ports") << "X1,a,b,100,25,1,24,,,"
                                                     << "";
        QTest::newRow("no name") << ",a,b,100,1-24,,,,,"
                                 << "“cable”: is empty";
        QTest::newRow("no length") << "X1,a,b,far,1-24,,,,,"
                                   << "“far” is no length";
        QTest::newRow("ends differ") << "X1,a,b,100,1-24,1-12,,,,"
                                     << "“ports b”";
        QTest::newRow("no count") << "X1,a,b,100,,,,,,"
                                  << "“fibres”";
        QTest::newRow("ports backwards") << "X1,a,b,100,24-1,,,,,"
                                         << "no range of ports";
        QTest::newRow("too many fields") << "X1,a,b,100,1-24,,,,,,,"
                                         << "fields";
        QTest::newRow("fibres by word") << "X1,a,b,100,,,many,,,"
                                        << "no whole number";
        QTest::newRow("access") << "X1,a,b,100,1-4,,,window,,"
                                << "adapter, device or hardened";
        QTest::newRow("splice outside") << "X1,a,b,100,1-4,,,,500 quay,"
                                        << "outside the cable";
        QTest::newRow("slash") << "X/1,a,b,100,1-4,,,,,"
                               << "without a slash";
    }
    void badLinesAreNamedAndTheOthersRead()
    {
        QFETCH(QString, line);
        QFETCH(QString, says);
        const std::string table = "cable,place a,place b,length,ports a,ports b,fibres,access a,splices,cord a\nOK-1,a,b,50,,,2,,,\n" +
                                  line.toStdString() + "\nOK-2,a,b,50,,,2,,,sm-apc\n";
        const auto lines = readPlanCsv(table);
        QVERIFY(lines);
        QCOMPARE(lines->size(), std::size_t{3});
        QVERIFY(lines->at(0).cable && lines->at(2).cable);
        QCOMPARE(lines->at(2).cable->endA.cordClass, std::string("sm-apc"));
        QCOMPARE(lines->at(1).cable.has_value(), says.isEmpty());
        QVERIFY2(QString::fromStdString(lines->at(1).trouble).contains(says), lines->at(1).trouble.c_str());
        QCOMPARE(lines->at(1).line, 3);
        if (lines->at(1).cable) QCOMPARE(lines->at(1).cable->fibres, 24);
    }
    void aRangeOfPortsCountsFerrules()
    {
        const auto lines = readPlanCsv("cable,place a,place b,length,ports a,ports b,in one ferrule,fibre\nT,a,b,86,3-4,1-2,12,OM4\n");
        QVERIFY(lines && lines->front().cable);
        QCOMPARE(lines->front().cable->fibres, 24);
        QCOMPARE(lines->front().cable->className, std::string("mm-multi"));
        QCOMPARE(linksOf(*lines->front().cable)[23].where({"T/24", End::A, Side::Port}), std::string("a port 4 fibre 24, behind"));
    }
    void pinsHaveColumns()
    {
        const auto lines =
            readPlanCsv("cable,place a,place b,length,fibres,in one ferrule,pins a,pins b\nT,a,b,86,24,12,port,\nU,a,b,86,24,12,both,\n");
        QVERIFY(lines && lines->front().cable);
        QCOMPARE(lines->front().cable->endA.pins, std::optional(Side::Port));
        QVERIFY(!lines->front().cable->endB.pins);
        QVERIFY(QString::fromStdString(lines->at(1).trouble).contains("pins a"));
    }
    void racksAndTubesHaveColumns()
    {
        const auto lines = readPlanCsv("cable,place a,place b,length,fibres,rack a,rack b,in one tube\nT,a,b,86,24,R1,,8\nU,a,b,86,24,,,0\n");
        QVERIFY(lines && lines->front().cable);
        QCOMPARE(lines->front().cable->endA.rack, std::string("R1"));
        QVERIFY(lines->front().cable->endB.rack.empty());
        QCOMPARE(linksOf(*lines->front().cable)[8].colour, std::string("blue, tube 2 orange"));
        QVERIFY(QString::fromStdString(lines->at(1).trouble).contains("in one tube"));
    }
    void aQuoteThatIsNeverClosedNamesItsLine()
    {
        const auto table = readPlanCsv("cable,place a,place b,length\nVP-1,a,b,100\nVP-2,\"a,b,100\nVP-3,a,b,100\n");
        QVERIFY(!table);
        QVERIFY2(table.error().message.find("line 3") != std::string::npos, table.error().message.c_str());
    }
    void whatIsNoTable_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::newRow("nothing") << QByteArray();
        QTest::newRow("no head") << QByteArray("VP-04,Tide Hall,Boathouse,2400\n");
        QTest::newRow("a picture") << QByteArray("\x89PNG\r\n\x1a\n\0\0\0\rIHDR", 16);
        QTest::newRow("more fibres than any job") << QByteArray("cable,place a,place b,length,fibres\n") + [] {
            QByteArray rows;
            for (int n = 0; n < 60; ++n) rows += "C" + QByteArray::number(n) + ",a,b,100,864\n";
            return rows;
        }();
        QTest::newRow("far too long") << QByteArray("cable,place a,place b,length\n") + QByteArray("x,a,b,1\n").repeated(30000);
    }
    void whatIsNoTable()
    {
        QFETCH(QByteArray, bytes);
        const auto lines = readPlanCsv(bytes.toStdString());
        QVERIFY(!lines);
        QVERIFY(lines.error().code == Error::Code::PlanInvalid);
    }
    void anyPrefixIsReadOrRefused()
    {
        const std::string table =
            planCsvExample() + "VP-05,\"Tide \"\"Hall\"\"\",a,1-2,Boathouse,b,1-2,2,OS2,SC,1,sm-apc,\"1,2 km\",,sm-apc,sm-apc,device,hardened\n";
        for (std::size_t n = 0; n <= table.size(); ++n) {
            const auto lines = readPlanCsv(std::string_view(table).substr(0, n));
            if (lines)
                for (const auto& line : *lines) QVERIFY(line.cable.has_value() == line.trouble.empty());
        }
        const auto whole = readPlanCsv(table);
        QVERIFY(whole && whole->size() == 2 && whole->at(1).cable);
        QCOMPARE(whole->at(1).cable->placeA, std::string("Tide \"Hall\""));
        QVERIFY(whole->at(1).cable->endB.access == Access::Hardened);
    }
};
QTEST_APPLESS_MAIN(TestPlanText)
#include "test_plan_text.moc"
