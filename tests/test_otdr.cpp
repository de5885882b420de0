#include <QtTest>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "otdr/bidirectional.h"
#include "otdr/checksum.h"
#include "otdr/sor_reader.h"
#include "otdr/sor_writer.h"
#include "otdr/thin.h"
#include "otdr/trace_export.h"
#include "otdr/trace_json.h"
#include "world/trace_world.h"

using namespace clendo;
using namespace clendo::otdr;
using world::Stretch;

namespace {

std::string bytesOf(const char* name) { return readFile(std::string(TEST_DATA "/traces/") + name).value(); }

constexpr DecibelPerKilometre alpha{0.35};

/// Launch 150 m, 1200 m, splice, 800 m, connector, tail 150 m.
std::vector<Stretch> line(double splice = 0.15, double connector = 0.4)
{
    return {{Metre(150), alpha, Decibel(0.3), Decibel(-50)},
            {Metre(1200), alpha, Decibel(splice), {}},
            {Metre(800), alpha, Decibel(connector), Decibel(-45)},
            {Metre(150), alpha, Decibel(30), Decibel(-15)}};
}
const Cords cords{Metre(150), Metre(150)};

const Event* eventNear(const Analysis& a, double at, double within = 4)
{
    for (const auto& e : a.events)
        if (qAbs(e.at.value() - at) < within) return &e;
    return nullptr;
}

/// All that a report must never be, whatever the file was.
void plausible(const Trace& t, const Analysis& a)
{
    const double reach = t.distance.empty() ? 0 : double(t.distance.back());
    double last = -1e9;
    for (const auto& e : a.events) {
        QVERIFY(std::isfinite(e.at.value()));
        QVERIFY(e.at.value() >= last && e.at.value() <= reach + 1);
        QVERIFY(!e.loss || std::isfinite(e.loss->value()));
        QVERIFY(!e.reflectance || std::isfinite(e.reflectance->value()));
        QVERIFY(!e.leadIn || std::isfinite(e.leadIn->value()));
        last = e.at.value();
    }
    QVERIFY(!a.span || (std::isfinite(a.span->length().value()) && a.span->length() > Metre(0)));
}

}  // namespace

class TestOtdr : public QObject {
    Q_OBJECT
private slots:
    void theExampleFileIsReadFieldByField()
    {
        const auto t = readSor(bytesOf("example.sor"), "example.sor").value();
        QCOMPARE(t.version, 2);
        QCOMPARE(t.cable, std::string("C1"));
        QCOMPARE(t.fibre, std::string("7"));
        QCOMPARE(t.locationA, std::string("A"));
        QCOMPARE(t.wavelength.value(), 1310.0);
        QCOMPARE(t.pulse.value(), 100.0);
        QCOMPARE(t.groupIndex, 1.4677);
        QCOMPARE(t.backscatter.value(), -79.5);
        QCOMPARE(t.averages, 65536U);
        QCOMPARE(t.takenAt, std::int64_t{1735689600});
        QVERIFY(t.checksumOk.value());
        QCOMPARE(t.level.size(), std::size_t{8});
        QVERIFY(qAbs(double(t.level[0]) + 12.000) < 1e-4 && qAbs(double(t.level[3]) + 7.899) < 1e-4);
        QVERIFY(qAbs(t.spacing().value() - 0.51065) < 1e-4);
        QCOMPARE(t.stored.size(), std::size_t{1});
        QVERIFY(qAbs(t.stored[0].at.value() - 1.532) < 0.001);
        QVERIFY(qAbs(t.stored[0].loss.value() - 0.310) < 1e-9);
        QVERIFY(qAbs(t.stored[0].reflectance->value() + 52) < 1e-9);
        QVERIFY(t.oddities.empty());
    }

    void version1IsRead()
    {
        const auto t = readSor(bytesOf("version1.sor"), "v1").value();
        QCOMPARE(t.version, 1);
        QCOMPARE(t.wavelength.value(), 1310.0);
        QCOMPARE(t.pulse.value(), 50.0);
        QCOMPARE(t.level.size(), std::size_t{7548});
        QCOMPARE(t.averages, 318103U);
        QVERIFY(!t.checksumOk);  // none in the file
        const auto a = analyse(t, {});
        QVERIFY(a.events.back().kind == EventKind::End);
        QVERIFY(qAbs(a.events.back().at.value() - 2368.6) < 10);
    }

    void aFileCutAnywhereNeverCrashes()
    {
        for (const char* file : {"example.sor", "version1.sor"}) {
            const std::string whole = bytesOf(file);
            for (std::size_t n = 0; n < whole.size(); n += n < 900 ? 1 : 97) {
                const auto t = readSor(std::string_view(whole).substr(0, n), file);
                if (!t) {
                    QVERIFY(t.error().message.size() > 20);
                    continue;
                }
                QVERIFY(t->level.size() == t->distance.size() && t->level.size() * 2 <= n);
                plausible(*t, analyse(*t, cords));
            }
        }
    }

    void anyByteMayBeWrong()
    {
        const std::string whole = bytesOf("example.sor");
        for (std::size_t i = 0; i < whole.size(); ++i)
            for (const int value : {0x00, 0x7F, 0x80, 0xFF}) {
                std::string bad = whole;
                bad[i] = static_cast<char>(value);
                if (const auto t = readSor(bad, "bad")) {
                    QVERIFY(t->groupIndex >= 1 && t->groupIndex <= 2);
                    QVERIFY(t->level.size() * 2 <= bad.size());
                    plausible(*t, analyse(*t, cords));
                }
            }
    }

    void damagedFiles_data()
    {
        QTest::addColumn<QString>("file");
        QTest::addColumn<bool>("readable");
        QTest::newRow("cut in the header") << "damaged-cut_header.sor" << false;
        QTest::newRow("index 0") << "damaged-index_zero.sor" << false;
        QTest::newRow("no points") << "damaged-no_datapts.sor" << false;
        QTest::newRow("zero points") << "damaged-zero_points.sor" << false;
        QTest::newRow("text") << "damaged-text.sor" << false;
        QTest::newRow("cut in the data") << "damaged-cut_data1.sor" << true;
        QTest::newRow("wrong checksum") << "damaged-bad_sum.sor" << true;
        QTest::newRow("-1 events") << "damaged-events_minus.sor" << true;
        QTest::newRow("flat") << "damaged-flat_floor.sor" << true;
        QTest::newRow("huge map") << "damaged-map_size_huge.sor" << true;
        QTest::newRow("4 billion points") << "damaged-points_ffffffff.sor" << true;
    }
    void damagedFiles()
    {
        QFETCH(QString, file);
        QFETCH(bool, readable);
        const auto t = readSor(bytesOf(file.toLatin1().constData()), file.toStdString());
        QCOMPARE(t.has_value(), readable);
        if (!t) {
            QVERIFY(t.error().message.find(file.toStdString()) != std::string::npos);
            return;
        }
        const auto a = analyse(*t, {Metre(150), Metre(0)});
        plausible(*t, a);
        if (file.contains("bad_sum")) QVERIFY(!t->checksumOk.value() && !t->oddities.empty());
        if (file.contains("flat")) QVERIFY(a.events.empty());
        if (file.contains("cut_data")) QVERIFY(!t->oddities.empty());
        if (file.contains("huge") || file.contains("ffff")) QVERIFY(qAbs(a.events.back().at.value() - 964.3) < 10);
        if (file.contains("ffff")) QCOMPARE(t->level.size(), std::size_t{4544});
    }

    void checksumsOfTheField_data()
    {
        QTest::addColumn<int>("start");
        QTest::addColumn<bool>("reflected");
        QTest::addColumn<int>("finalXor");
        QTest::addColumn<int>("check");
        QTest::newRow("written") << 0xFFFF << false << 0 << 0x29B1;
        QTest::newRow("from 0") << 0 << false << 0 << 0x31C3;
        QTest::newRow("inverted") << 0xFFFF << false << 0xFFFF << 0xD64E;
        QTest::newRow("reflected") << 0xFFFF << true << 0 << 0x6F91;
        QTest::newRow("reflected, inverted") << 0xFFFF << true << 0xFFFF << 0x906E;
        QTest::newRow("reflected from 0") << 0 << true << 0 << 0x2189;
    }
    void checksumsOfTheField()
    {
        QFETCH(int, start);
        QFETCH(bool, reflected);
        QFETCH(int, finalXor);
        QFETCH(int, check);
        const auto sum = checksum("123456789", {static_cast<std::uint16_t>(start), reflected, static_cast<std::uint16_t>(finalXor)});
        QCOMPARE(int(sum), check);
        QVERIFY(checksumMatches(sum, "123456789", ""));
        QVERIFY(checksumMatches(static_cast<std::uint16_t>(sum << 8U | sum >> 8U), "", "123456789"));
        QVERIFY(!checksumMatches(static_cast<std::uint16_t>(sum + 1), "123456789", "12345678"));
    }

    void reflectanceFromTheHeight_data()
    {
        QTest::addColumn<double>("backscatter");
        QTest::addColumn<double>("pulse");
        QTest::addColumn<double>("height");
        QTest::addColumn<double>("reflectance");
        QTest::newRow("-50") << -79.5 << 100.0 << 4.98 << -50.0;
        QTest::newRow("-40") << -79.5 << 100.0 << 9.77 << -40.0;
        QTest::newRow("-65") << -79.5 << 100.0 << 0.54 << -65.0;
        QTest::newRow("open end") << -79.5 << 100.0 << 22.45 << -14.6;
        QTest::newRow("multimode") << -66.3 << 5.0 << 12.2 << -35.0;
        QTest::newRow("the example file") << -79.5 << 100.0 << 4.105 << -52.0;
    }
    void reflectanceFromTheHeight()
    {
        QFETCH(double, backscatter);
        QFETCH(double, pulse);
        QFETCH(double, height);
        QFETCH(double, reflectance);
        QVERIFY(qAbs(otdr::reflectance(Decibel(height), Nanosecond(pulse), Decibel(backscatter))->value() - reflectance) < 0.1);
        QVERIFY(!otdr::reflectance(Decibel(0.2), Nanosecond(pulse), Decibel(backscatter)));
    }

    void whatWasWrittenIsRead_data()
    {
        QTest::addColumn<int>("version");
        QTest::newRow("names in front of its blocks") << 2;
        QTest::newRow("blocks without names, fewer fields") << 1;
    }
    void whatWasWrittenIsRead()
    {
        QFETCH(int, version);
        auto t = world::shoot(line(), {});
        t.version = version;
        t.cable = "VP-04";
        t.fibre = "7";
        t.locationA = "Tide Hall";
        t.takenAt = 1794902400;
        const auto back = readSor(writeSor(t), "x").value();
        QVERIFY(back.checksumOk.value());
        QCOMPARE(back.version, version);
        QVERIFY(back.oddities.empty());
        QCOMPARE(back.pulse.value(), t.pulse.value());
        QCOMPARE(back.wavelength.value(), t.wavelength.value());
        QVERIFY(qAbs(back.groupIndex - t.groupIndex) < 1e-5);
        QVERIFY(qAbs(back.backscatter.value() - t.backscatter.value()) < 0.051);
        QCOMPARE(back.averages, t.averages);
        QCOMPARE(back.cable, t.cable);
        QCOMPARE(back.locationA, t.locationA);
        QCOMPARE(back.takenAt, t.takenAt);
        QCOMPARE(back.level.size(), t.level.size());
        for (std::size_t i = 0; i < t.level.size(); i += 7) {
            QVERIFY(back.dark[i] == t.dark[i]);
            QVERIFY(t.dark[i] || qAbs(back.level[i] - t.level[i]) < 0.0011F);
            QVERIFY(qAbs(back.distance[i] - t.distance[i]) < 0.05F + 1e-4F * t.distance[i]);
        }
    }

    void aSimulatedLinkIsTakenApart()
    {
        const auto a = analyse(world::shoot(line(), {}), cords);
        QCOMPARE(a.events.size(), std::size_t{5});
        QVERIFY(a.events[0].kind == EventKind::Launch);
        const Event* first = eventNear(a, 150);
        const Event* splice = eventNear(a, 1350);
        const Event* last = eventNear(a, 2150);
        QVERIFY(first && splice && last);
        QVERIFY(first->kind == EventKind::Reflective && splice->kind == EventKind::Loss && last->kind == EventKind::Reflective);
        QVERIFY(qAbs(first->loss->value() - 0.3) < 0.03);
        QVERIFY(qAbs(splice->loss->value() - 0.15) < 0.03);
        QVERIFY(qAbs(last->loss->value() - 0.4) < 0.03);
        QVERIFY(qAbs(first->reflectance->value() + 50) < 1 && qAbs(last->reflectance->value() + 45) < 1);
        QVERIFY(qAbs(a.events.back().at.value() - 2300) < 4);
        QVERIFY(a.span);
        QVERIFY(qAbs(a.span->length().value() - 2000) < 3);
        QVERIFY(qAbs(a.span->loss->value() - (0.3 + 0.15 + 0.4 + 0.7)) < 0.05);
        QVERIFY(qAbs(a.span->attenuation->value() - 0.35) < 0.01);
    }

    void aGainIsNamedAGain()
    {
        const auto a = analyse(world::shoot(line(-0.2), {}), cords);
        const Event* e = eventNear(a, 1350);
        QVERIFY(e && e->kind == EventKind::Gain);
        QVERIFY(e->loss->value() < -0.15);
    }

    void withoutCordsTheEndsAreNotClaimed()
    {
        const auto a = analyse(world::shoot(line(), {}), {});
        QCOMPARE(a.span->from.value(), 0.0);
        QVERIFY(a.notes.size() >= 2);
        QVERIFY(QString::fromStdString(a.notes[0]).contains("launch"));
    }

    void aBrokenLaunchCordIsNoLink()
    {
        const auto a = analyse(world::shoot({{Metre(90), alpha, Decibel(40), Decibel(-20)}}, {}), cords);
        QVERIFY(!a.span);
        QVERIFY(a.launchFault);
        QVERIFY(QString::fromStdString(*a.launchFault).contains("launch cord"));
    }

    void bothWaysAverage()
    {
        auto there = line(0.25), back = line(-0.05);
        std::swap(back[1].length, back[2].length);
        std::swap(back[0].jointLoss, back[2].jointLoss);
        std::swap(back[0].jointReflectance, back[2].jointReflectance);
        const auto both = combine(world::shoot(there, {}), world::shoot(back, {}), cords);
        const auto it = std::find_if(both.pairs.begin(), both.pairs.end(), [](const Pair& p) { return qAbs(p.at.value() - 1350) < 5; });
        QVERIFY(it != both.pairs.end());
        QVERIFY(qAbs(it->loss->value() - 0.10) < 0.03);
        QVERIFY(it->lossAb->value() > 0.2 && it->lossBa->value() < 0);
        QVERIFY(both.span);
    }

    void theFieldFileHoldsItsEvents()
    {
        const auto t = readSor(bytesOf("campus.sor"), "campus").value();
        const auto a = analyse(t, cords);
        for (const double at : {150.1, 484.1, 764.2, 1308.0, 2557.8, 3120.2, 3270.1, 3593.6, 3839.8, 3989.7})
            QVERIFY2(eventNear(a, at, 12), QByteArray::number(at));
        QVERIFY(qAbs(a.span->length().value() - 3689.7) < 4);
        QVERIFY(qAbs(a.span->loss->value() - 2.945) < 0.1);
    }

    void anAnalysisSurvivesTheJournal()
    {
        const auto a = analyse(world::shoot(line(), {}), cords);
        const auto back = analysisFromJson(nlohmann::json::parse(toJson(a).dump()));
        QVERIFY(back);
        QCOMPARE(back->events.size(), a.events.size());
        QVERIFY(qAbs(back->span->loss->value() - a.span->loss->value()) < 1e-4);
        QCOMPARE(back->notes.size(), a.notes.size());
        QVERIFY(!analysisFromJson(nlohmann::json::parse("{}")));
        QVERIFY(!analysisFromJson(nlohmann::json::parse(R"({"events":[{"n":1,"kind":"hole","at_m":3}],"notes":[]})")));
    }

    void aTraceIsSavedAsTablesAndAsJson()
    {
        const auto t = world::shoot(line(), {});
        const auto a = analyse(t, cords);
        const auto rows = QString::fromStdString(eventsCsv(a)).split('\n', Qt::SkipEmptyParts);
        QCOMPARE(rows.size(), qsizetype(a.events.size() + 1));
        for (const auto& row : rows) QCOMPARE(row.count(','), 8);
        QVERIFY(rows[1].startsWith("1,launch,0.000,,,"));  // what is not known is empty
        QVERIFY(rows.last().contains("end") && rows[2].contains("reflective"));
        const auto points = QString::fromStdString(pointsCsv(t)).split('\n', Qt::SkipEmptyParts);
        QCOMPARE(points.size(), qsizetype(t.level.size() + 1));
        const auto dark = std::size_t(std::find(t.dark.begin(), t.dark.end(), true) - t.dark.begin());
        if (dark < t.dark.size()) QVERIFY(points[qsizetype(dark) + 1].endsWith(','));
        const auto json = nlohmann::json::parse(everythingJson(t, a));
        QCOMPARE(json["points_db"].size(), t.level.size());
        QCOMPARE(json["events"].size(), a.events.size());
        QVERIFY(qAbs(json["points_m"][100].get<double>() - double(t.distance[100])) < 1e-3);
    }

    void thinningKeepsEverySpike()
    {
        Trace t;
        for (int i = 0; i < 100000; ++i) {
            t.distance.push_back(static_cast<float>(i));
            t.level.push_back(i == 54321 ? -1.0F : -20.0F);
            t.dark.push_back(false);
        }
        const auto columns = thin(t, Metre(0), Metre(100000), 500);
        QCOMPARE(columns.size(), std::size_t{500});
        const auto spike = std::max_element(columns.begin(), columns.end(), [](const auto& a, const auto& b) { return a.high < b.high; });
        QCOMPARE(spike->high, -1.0);
        QCOMPARE(spike->low, -20.0);
        QVERIFY(qAbs(spike->distance - 54321) < 200);
        QVERIFY(thin(t, Metre(5), Metre(5), 10).empty());
        QVERIFY(thin(t, Metre(0), Metre(10), 0).empty());
    }
};
QTEST_APPLESS_MAIN(TestOtdr)
#include "test_otdr.moc"
