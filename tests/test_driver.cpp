#include <QtTest>

#include "acquisition/driver.h"
#include "files/files.h"

using namespace clendo;

namespace {

QByteArray meterWith(const QByteArray& change = {})
{
    return R"({"format": "clendo-driver", "format_version": 1, "name": "m", "kind": "meter", "commands": {"read": "READ?"})" + change + "}";
}

}  // namespace

/// Drivers are data that somebody wrote, and answers are what an instrument says: neither is believed.
class TestDriver : public QObject {
    Q_OBJECT
private slots:
    void answersAreReadOrUnclear_data()
    {
        QTest::addColumn<QString>("answer");
        QTest::addColumn<QString>("kind");
        QTest::addColumn<double>("dBm");
        const auto level = [](const char* answer, double dBm) { QTest::newRow(answer) << QString::fromUtf8(answer) << "level" << dBm; };
        const auto other = [](const char* answer, const char* kind) { QTest::newRow(answer) << QString::fromUtf8(answer) << kind << 0.0; };
        level("-8.63", -8.63), level("-8.63\r", -8.63), level(" -8,63 ", -8.63), level("-8.63 dBm", -8.63), level("−8.63 DBM", -8.63),
            level("–8,63", -8.63);
        level("-8.6300E+00", -8.63), level("0.137 mW", -8.6328), level("137 uW", -8.6328), level("137 µW", -8.6328), level("1.37E-4 W", -8.6328);
        level("+3.01", 3.01), level("\"-8.63\"", -8.63), level("0", 0);
        other("9.91E37", "overload"), other("9.9E37", "overload"), other("OVER", "overload"), other("over", "overload");
        other("-9.9E37", "no light"), other("UNDER", "no light"), other("0 mW", "no light");
        other("", "unclear"), other("nan", "unclear"), other("inf", "unclear"), other("-8.63,-8.64", "unclear"), other("-8,63,1310", "unclear"),
            other("-8.63 dB", "unclear"), other("1310", "unclear"), other("-300", "unclear"), other("-3 mW", "unclear"), other("8.6.3", "unclear"),
            other("LOW BATTERY", "unclear"), other("#14ABCD", "unclear"), other("-8.63 V", "unclear"), other("--8", "unclear");
    }
    void answersAreReadOrUnclear()
    {
        QFETCH(QString, answer);
        QFETCH(QString, kind);
        QFETCH(double, dBm);
        const auto driver = shippedDrivers(dataFolder()).front();
        const auto read = readMeterAnswer(answer.toStdString(), driver);
        const QString is = read.kind == PowerSample::Kind::Level      ? "level"
                           : read.kind == PowerSample::Kind::Overload ? "overload"
                           : read.kind == PowerSample::Kind::NoLight  ? "no light"
                                                                      : "unclear";
        QCOMPARE(is, kind);
        if (kind == "level") QVERIFY2(qAbs(read.power.value() - dBm) < 1e-3, qPrintable(QString::number(read.power.value())));
    }
    void wavelengthsComeInNanometresOrMetres()
    {
        QCOMPARE(readWavelengthAnswer("1310")->value(), 1310.0);
        QCOMPARE(readWavelengthAnswer("1.550000E-06")->value(), 1550.0);
        QCOMPARE(readWavelengthAnswer("850 nm")->value(), 850.0);
        for (const char* wrong : {"", "red", "5", "1.31", "99999", "1310,1550", "nan"}) QVERIFY(!readWavelengthAnswer(wrong));
    }
    void shippedDriversAreUsable()
    {
        const auto drivers = shippedDrivers(dataFolder());
        QCOMPARE(drivers.size(), 2U);
        for (const auto& driver : drivers) QVERIFY(driver.command("set_wavelength", 1310)->find("1310") != std::string::npos);
        QVERIFY(matches(drivers.front(), "ANY,THING,AT,ALL"));
    }
    void identitiesAreMatchedByStars_data()
    {
        QTest::addColumn<QString>("like");
        QTest::addColumn<bool>("fits");
        for (const char* like : {"*", "MAKER,*", "*,METER 2,*", "MAKER,METER 2,7,1", "MAKER*1"}) QTest::newRow(like) << like << true;
        for (const char* like : {"", "METER", "*,METER", "OTHER*", "MAKER,METER 2,7,12", "*METER*METER*"}) QTest::newRow(like) << like << false;
    }
    void identitiesAreMatchedByStars()
    {
        QFETCH(QString, like);
        QFETCH(bool, fits);
        Driver driver;
        driver.like = like.toStdString();
        QCOMPARE(matches(driver, "MAKER,METER 2,7,1"), fits);
    }
    void aDriverIsCheckedWhenItIsLoaded_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("says");  // empty: it is good
        QTest::newRow("good") << meterWith() << "";
        QTest::newRow("good, with codes") << meterWith(R"(, "overload": ["OVER"], "every_ms": 20, "line_end": "\r\n")") << "";
        QTest::newRow("no JSON") << QByteArray("{") << "no JSON";
        QTest::newRow("something else") << QByteArray("{}") << "not marked";
        QTest::newRow("a meter that is not read")
            << QByteArray(R"({"format": "clendo-driver", "format_version": 1, "name": "m", "kind": "meter", "commands": {"set_unit": "U"}})")
            << "read";
        QTest::newRow("no commands") << QByteArray(R"({"format": "clendo-driver", "format_version": 1, "name": "m", "kind": "meter"})") << "commands";
        QTest::newRow("another kind") << QByteArray(
                                             R"({"format": "clendo-driver", "format_version": 1, "name": "m", "kind": "kettle", "commands": {}})")
                                      << "kind";
        const auto command = [](const char* name, const char* does, const char* text, const char* says) {
            QTest::newRow(name)
                << QByteArray(R"({"format": "clendo-driver", "format_version": 1, "name": "m", "kind": "meter", "commands": {"read": "R?", ")") +
                       does + "\": \"" + text + "\"}}"
                << says;
        };
        command("an unknown command", "boil", "B", "boil");
        command("two lines", "set_unit", "A\\nB", "one line");
        command("no placeholder", "set_wavelength", "WAV 1310", "{nm}");
        command("a placeholder that nobody fills", "set_wavelength", "WAV {nm} {um}", "placeholder");
        command("an empty command", "set_unit", "", "letters");
        QTest::newRow("an impossible pace") << meterWith(R"(, "every_ms": 0)") << "every_ms";
        QTest::newRow("a unit that is none") << meterWith(R"(, "unit": "V")") << "unit";
        QTest::newRow("codes that are no texts") << meterWith(R"(, "overload": [9.91e37])") << "overload";
        QTest::newRow("a line end that is none") << meterWith(R"(, "line_end": ";")") << "line_end";
    }
    void aDriverIsCheckedWhenItIsLoaded()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, says);
        const auto driver = parseDriver(text.toStdString());
        QCOMPARE(driver.has_value(), says.isEmpty());
        if (driver) return;
        QCOMPARE(codeName(driver.error().code), "driver_invalid");
        QVERIFY2(QString::fromStdString(driver.error().message).contains(says), driver.error().message.c_str());
    }
};

QTEST_APPLESS_MAIN(TestDriver)
#include "test_driver.moc"
