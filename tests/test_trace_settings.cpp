// Files whose settings cannot be: each is read with what is wrong said and the likely value taken, or refused; never in silence.
#include <QtTest>

#include "otdr/analysis.h"
#include "otdr/sor_reader.h"
#include "otdr/sor_writer.h"
#include "world/trace_world.h"

using namespace clendo;
using namespace clendo::otdr;

namespace {

Trace shot(double alpha = 0.35)
{
    const DecibelPerKilometre fibre{alpha};
    return world::shoot({{Metre(150), fibre, Decibel(0.3), Decibel(-50)},
                         {Metre(1200), fibre, Decibel(0.15), {}},
                         {Metre(800), fibre, Decibel(0.4), Decibel(-45)},
                         {Metre(150), fibre, Decibel(30), Decibel(-15)}},
                        {});
}
const Cords cords{Metre(150), Metre(150)};

/// Where the body of a block begins: behind its name, which the map says first.
std::size_t bodyOf(const std::string& bytes, const char* block)
{
    const std::string name = std::string(block) + '\0';
    return bytes.find(name, bytes.find(name) + 1) + name.size();
}
void put(std::string& bytes, std::size_t at, std::uint64_t value, int length)
{
    for (int i = 0; i < length; ++i) bytes[at + std::size_t(i)] = static_cast<char>(value >> (8 * i) & 0xFFU);
}
std::string number(std::uint64_t value, int length)
{
    std::string out(std::size_t(length), '\0');
    put(out, 0, value, length);
    return out;
}
constexpr std::size_t behindPulses = 28;  // in FxdParams of version 2 with one pulse

QString said(const Trace& t, const Analysis& a)
{
    QStringList all;
    for (const auto& s : t.oddities) all << QString::fromStdString(s);
    for (const auto& s : a.notes) all << QString::fromStdString(s);
    return all.join(' ');
}

}  // namespace

class TestTraceSettings : public QObject {
    Q_OBJECT
private slots:
    void whatCannotBeIsSaid_data()
    {
        QTest::addColumn<QString>("block");
        QTest::addColumn<int>("at");
        QTest::addColumn<qulonglong>("value");
        QTest::addColumn<int>("length");
        QTest::addColumn<QString>("says");
        QTest::addColumn<QString>("setting");
        QTest::addColumn<double>("taken");
        const auto row = [](const char* name, const char* block, std::size_t at, qulonglong value, int length, const char* says, const char* setting,
                            double taken) {
            QTest::newRow(name) << QString(block) << int(at) << value << length << QString(says) << QString(setting) << taken;
        };
        row("wavelength in tenths", "GenParams", 6, 13100, 2, "13100 nm; 1310 nm was taken", "wavelength", 1310);
        row("backscatter in hundredths", "FxdParams", behindPulses + 4, 7950, 2, "-795.0 dB; -79.5 dB was taken", "backscatter", -79.5);
        row("no backscatter", "FxdParams", behindPulses + 4, 0, 2, "every reflectance rests on it", "backscatter", -79.5);
        row("a pulse of nothing", "FxdParams", 18, 0, 2, "pulse of 0 ns", "pulse", -1);
        row("a range ten times too long", "FxdParams", behindPulses + 12, 1'950'000, 4, "one of both is wrong", "", 0);
        row("levels without a scale", "DataPts", 10, 0, 2, "scale of 0", "", 0);
    }
    void whatCannotBeIsSaid()
    {
        QFETCH(const QString, block);
        QFETCH(const int, at);
        QFETCH(const qulonglong, value);
        QFETCH(const int, length);
        QFETCH(const QString, says);
        QFETCH(const QString, setting);
        QFETCH(const double, taken);
        std::string bytes = writeSor(shot());
        QVERIFY(readSor(bytes, "x")->oddities.empty());
        put(bytes, bodyOf(bytes, block.toLatin1().constData()) + std::size_t(at), value, length);
        const auto t = readSor(bytes, "x");
        QVERIFY(t);
        QVERIFY2(said(*t, {}).contains(says), qPrintable(said(*t, {})));
        if (setting == "wavelength") QCOMPARE(t->wavelength.value(), taken);
        if (setting == "backscatter") QCOMPARE(t->backscatter.value(), taken);
        if (setting == "pulse") QVERIFY(t->pulse > Nanosecond(0));
        const auto found = analyse(*t, cords);
        QVERIFY(found.span && qAbs(found.span->length().value() - 2000) < 3);
    }
    void aWrongIndexIsSaidOrRefused_data()
    {
        QTest::addColumn<qulonglong>("index");
        QTest::addColumn<bool>("read");
        QTest::newRow("0") << qulonglong(0) << false;
        QTest::newRow("14.6") << qulonglong(1'467'700) << false;
        QTest::newRow("1.2") << qulonglong(120'000) << true;
    }
    void aWrongIndexIsSaidOrRefused()
    {
        QFETCH(const qulonglong, index);
        QFETCH(const bool, read);
        std::string bytes = writeSor(shot());
        put(bytes, bodyOf(bytes, "FxdParams") + behindPulses, index, 4);
        const auto t = readSor(bytes, "x");
        QCOMPARE(t.has_value(), read);
        if (read) QVERIFY2(said(*t, {}).contains("too long"), qPrintable(said(*t, {})));
        if (!read) QVERIFY(t.error().message.find("group index") != std::string::npos);
    }
    void levelsUpsideDownAreTurned()
    {
        Trace t = shot();
        const float low = *std::min_element(t.level.begin(), t.level.end()), high = *std::max_element(t.level.begin(), t.level.end());
        for (auto& level : t.level) level = low + high - level;
        t.dark.assign(t.level.size(), false);
        const auto back = readSor(writeSor(t), "x");
        QVERIFY(back && said(*back, {}).contains("upside down"));
        const auto found = analyse(*back, cords);
        QVERIFY(found.span && qAbs(found.span->length().value() - 2000) < 3);
    }
    void aSinglePointNeedsNoSpacing()
    {
        Trace t = shot();
        t.level.resize(1);
        t.distance.resize(1);
        t.dark.resize(1);
        const auto back = readSor(writeSor(t), "x");
        QVERIFY(back && back->level.size() == 1 && analyse(*back, cords).events.empty());
    }
    void aPulseThatWasNotUsedIsNone()
    {
        std::string bytes = writeSor(shot());
        const auto sound = readSor(bytes, "x").value();
        const std::size_t body = bodyOf(bytes, "FxdParams");
        const auto field = [&](std::size_t at, std::size_t length) { return bytes.substr(body + at, length); };
        // 5 us at ten times the spacing for no point at all; then what was shot
        const std::string two = number(2, 2) + number(5000, 2) + field(18, 2) + number(2'500'000, 4) + field(20, 4) + number(0, 4) + field(24, 4);
        bytes.replace(body + 16, 12, two);
        const std::size_t inMap = bytes.find("FxdParams") + 12;
        put(bytes, inMap, std::uint64_t(static_cast<unsigned char>(bytes[inMap])) + 10, 1);
        const auto t = readSor(bytes, "x");
        QVERIFY(t);
        QCOMPARE(t->pulse.value(), sound.pulse.value());
        QCOMPARE(t->spacing().value(), sound.spacing().value());
        QCOMPARE(t->level.size(), sound.level.size());
        QCOMPARE(double(t->distance.back()), double(sound.distance.back()));
    }
    void aShotThatBeginsLaterHasNoLaunch()
    {
        Trace t = shot();
        const auto from = std::ptrdiff_t(std::lower_bound(t.distance.begin(), t.distance.end(), 500.0F) - t.distance.begin());
        t.distance.erase(t.distance.begin(), t.distance.begin() + from);
        t.level.erase(t.level.begin(), t.level.begin() + from);
        t.dark.erase(t.dark.begin(), t.dark.begin() + from);
        const auto found = analyse(t, {});
        QVERIFY(std::none_of(found.events.begin(), found.events.end(), [](const Event& e) { return e.kind == EventKind::Launch; }));
        QVERIFY2(said(t, found).contains("begins at 500 m"), qPrintable(said(t, found)));
        QVERIFY(found.span && qAbs(found.span->from.value() - 500) < 1);
        QVERIFY(!found.events.empty() && found.events.back().kind == EventKind::End && qAbs(found.events.back().at.value() - 2300) < 3);
    }
    void slopesOfAnotherUnitAreDoubted_data()
    {
        QTest::addColumn<double>("alpha");
        QTest::addColumn<QString>("says");
        QTest::newRow("usual") << 0.35 << "";
        QTest::newRow("two-way levels") << 0.70 << "levels were stored two-way";
        QTest::newRow("two-way distances") << 0.17 << "distances were stored two-way";
    }
    void slopesOfAnotherUnitAreDoubted()
    {
        QFETCH(const double, alpha);
        QFETCH(const QString, says);
        const auto found = analyse(shot(alpha), cords);
        QVERIFY2(says.isEmpty() ? !said({}, found).contains("two-way") : said({}, found).contains(says), qPrintable(said({}, found)));
    }
};

QTEST_GUILESS_MAIN(TestTraceSettings)
#include "test_trace_settings.moc"
