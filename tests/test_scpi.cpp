#include <QtTest>
#include <cmath>

#include "files/files.h"
#include "sim/instrument_commands.h"
#include "world/scenario.h"

using namespace clendo;
using namespace clendo::sim;

namespace {

/// The simulated instruments of the demo, without their lines.
struct Bench {
    world::World world = *world::readScenario(*readFile(dataFolder() / "scenarios/varrow-point.json"), dataFolder());
    ScpiDevice source = device("source 1"), meter = device("meter 1"), scope = device("scope 1"), otdr = device("otdr 1");

    ScpiDevice device(const char* name)
    {
        return deviceOf(name, [this]() -> world::World& { return world; });
    }
    ScpiDevice& named(const QString& kind) { return kind == "source" ? source : kind == "meter" ? meter : kind == "scope" ? scope : otdr; }
};

}  // namespace

/// The simulated instruments against what IEEE 488.2 and SCPI-99 ask.
class TestScpi : public QObject {
    Q_OBJECT
private slots:
    void headersHaveLongAndShortForms_data()
    {
        QTest::addColumn<QString>("said");
        QTest::addColumn<bool>("same");
        for (const char* said : {"SENSe:POWer:WAVelength", "sens:pow:wav", "SENSE:POW:WAVELENGTH", "SENS1:POW1:WAV"})
            QTest::newRow(said) << said << true;
        for (const char* said : {"SEN:POW:WAV", "SENSE:POWE:WAV", "SENS:POW", "POW:WAV", "SENS:POW:WAV:X", "", ":", "SENS2:POW:WAV"})
            QTest::newRow(said) << said << false;
    }
    void headersHaveLongAndShortForms()
    {
        QFETCH(QString, said);
        QFETCH(bool, same);
        QCOMPARE(headerMatches("SENSe:POWer:WAVelength", said.toStdString()), same);
    }
    void whatIsInBracketsMayBeLeftOut()
    {
        QVERIFY(headerMatches("SYSTem:ERRor[:NEXT]", "SYST:ERR"));
        QVERIFY(headerMatches("SYSTem:ERRor[:NEXT]", "syst:error:next"));
        QVERIFY(headerMatches("SOURce:AM[:INTernal]:FREQuency", "SOUR:AM:FREQ"));
        QVERIFY(!headerMatches("SOURce:AM[:INTernal]:FREQuency", "SOUR:AM:INT"));
    }
    void linesAreAnswered_data()
    {
        QTest::addColumn<QString>("instrument");
        QTest::addColumn<QString>("line");
        QTest::addColumn<QString>("answer");
        QTest::addColumn<QString>("error");
        const auto row = [](const char* instrument, const char* line, const char* answer, const char* error = "0,\"No error\"") {
            QTest::addRow("%s: %s", instrument, line) << instrument << line << answer << error;
        };
        row("meter", "*IDN?", "CLENDO,SIMULATED meter,PM-2207,1");
        row("meter", "*OPC?", "1");
        row("meter", "SENS:POW:WAV 1550;WAV?", "1550");
        row("meter", "SENS:POW:WAV 1550 nm;:SENS:POW:UNIT?", "1550 was set", "");
        row("meter", "SENS:POW:WAV 1490;UNIT W;UNIT?;*OPC?", "W;1");
        row("meter", "SENS:POW:WAV", "", "-109,\"Missing parameter\"");
        row("meter", "SENS:POW:WAV red", "", "-104,\"Data type error\"");
        row("meter", "SENS:POW:WAV 1310 kg", "", "-131,\"Invalid suffix\"");
        row("meter", "SENS:POW:WAV 5", "", "-222,\"Data out of range\"");
        row("meter", "SENS:POW:WAV nan", "", "-104,\"Data type error\"");
        row("meter", "SENS:POW:UNIT HP", "", "-224,\"Illegal parameter value\"");
        row("meter", "READ:POW? ; SYST:VERS?", "-9.9E37;1999.0");  // nothing is plugged in
        row("meter", "SENS:POW:REF TOREF", "", "-221,\"Settings conflict\"");
        row("meter", "HEAT:ON", "", "-113,\"Undefined header\"");
        row("meter", "*HEAT?", "", "-113,\"Undefined header\"");
        row("meter", "READ:POW", "", "-113,\"Undefined header\"");     // a question alone
        row("meter", "HEAT?;*IDN?", "", "-113,\"Undefined header\"");  // what follows an error is not done
        row("source", "SOUR:WAV 1550;WAV?;POW?", "1550;-7.30");
        row("source", "SOUR:WAV 850", "", "-222,\"Data out of range\"");
        row("source", "SOUR:POW:STAT maybe", "", "-224,\"Illegal parameter value\"");
        row("source", "SOUR:AM:INT:FREQ 2000 Hz;STAT?", "", "-113,\"Undefined header\"");  // the path is SOUR:AM:INT here
        row("source", "SOUR:AM:STAT ON;:SOUR:AM:INT:FREQ?", "270");
        row("source", "*RST;SOUR:POW:STAT?", "0");
        row("scope", "DISP:DATA?", "", "-200,\"Execution error\"");  // nothing is under it
        row("scope", "FOC 3.5;FOC?", "3.5");
        row("scope", "FOC 300", "", "-222,\"Data out of range\"");
        row("otdr", "SENS:WAV 1550;PULS 100;RANG 8000;AVER 5;PULS?", "100");
        row("otdr", "TRAC:DATA:SOR?", "", "-221,\"Settings conflict\"");  // nothing was shot
        row("otdr", "INIT NOW", "", "-108,\"Parameter not allowed\"");
    }
    void linesAreAnswered()
    {
        QFETCH(QString, instrument);
        QFETCH(QString, line);
        QFETCH(QString, answer);
        QFETCH(QString, error);
        Bench bench;
        ScpiDevice& device = bench.named(instrument);
        const auto said = QString::fromStdString(device.line(line.toStdString()).bytes);
        if (error.isEmpty()) {
            QCOMPARE(said, QString("DBM"));
            QCOMPARE(QString::fromStdString(device.line("SENS:POW:WAV?").bytes), QString("1550"));
            return;
        }
        QCOMPARE(said, answer);
        QCOMPARE(QString::fromStdString(device.line("SYST:ERR?").bytes), error);
    }
    void errorsWaitInAQueueOfSixteen()
    {
        Bench bench;
        for (int i = 0; i < 20; ++i) bench.meter.line("NO:SUCH?");
        QCOMPARE(bench.meter.line("*ESR?").bytes, std::string("160"));  // power on, command error
        QCOMPARE(bench.meter.line("*ESR?").bytes, std::string("0"));
        QCOMPARE(bench.meter.line("*STB?").bytes, std::string("4"));
        for (int i = 0; i < 15; ++i) QCOMPARE(bench.meter.line("SYST:ERR:NEXT?").bytes, std::string("-113,\"Undefined header\""));
        QCOMPARE(bench.meter.line("SYST:ERR?").bytes, std::string("-350,\"Queue overflow\""));
        QCOMPARE(bench.meter.line("SYST:ERR?").bytes, std::string("0,\"No error\""));
        bench.meter.line("NO:SUCH?");
        bench.meter.line("*CLS");
        QCOMPARE(bench.meter.line("SYST:ERR?").bytes, std::string("0,\"No error\""));
    }
    void overloadWattsAndZero()
    {
        Bench bench;
        QVERIFY(bench.world.connect("meter 1", "RC-1/B"));
        const double dbm = std::stod(bench.meter.line("READ:POW?").bytes);
        const double watts = std::stod(bench.meter.line("SENS:POW:UNIT W;:READ:POW?").bytes);
        QVERIFY(std::abs(10 * std::log10(watts * 1000) - dbm) < 0.02);
        bench.meter.line("SENS:POW:REF TOREF;REF:STAT ON");
        QVERIFY(std::abs(std::stod(bench.meter.line("FETC:POW?").bytes)) < 0.03);
        std::get<world::Meter>(bench.world.instrument("meter 1")->unit).overload = DecibelMilliwatt(-20);
        QCOMPARE(bench.meter.line("READ:POW?").bytes, std::string("9.91E37"));
    }
    void aShotIsWaitedFor()
    {
        Bench bench;
        QVERIFY(bench.world.connect("otdr 1", "launch 1/A"));
        bench.otdr.line("SENS:AVER 20;:INIT");
        QCOMPARE(bench.otdr.line("*OPC?").after, 20.0);
        QVERIFY(bench.otdr.line("TRAC:DATA:SOR?").bytes.empty());
        bench.world.wait(Second(20));
        QCOMPARE(bench.otdr.line("*OPC?").after, 0.0);
        QVERIFY(bench.otdr.line("TRAC:DATA:SOR?").bytes.starts_with("#6"));
    }
    void garbageIsAnError()
    {
        Bench bench;
        std::mt19937 random(3);
        for (int i = 0; i < 2000; ++i) {
            std::string line;
            for (auto k = random() % 40; k > 0; --k)
                line += static_cast<char>(random() % 2 == 0 ? "SENS:POW?;*[]1 ,"[random() % 16] : char(random() % 256));
            bench.meter.line(line);
        }
        bench.meter.line("*CLS");
        QCOMPARE(bench.meter.line("*OPC?").bytes, std::string("1"));
    }
};

QTEST_GUILESS_MAIN(TestScpi)
#include "test_scpi.moc"
