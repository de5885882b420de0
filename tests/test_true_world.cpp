#include <QtTest>
#include <nlohmann/json.hpp>

#include "face/face_report.h"
#include "files/files.h"
#include "otdr/analysis.h"
#include "power/cable_model.h"
#include "sim/control.h"
#include "world/scenario.h"

using namespace clendo;
using namespace clendo::world;

namespace {

World varrow()
{
    auto world = readScenario(*readFile(dataFolder() / "scenarios/varrow-point.json"), dataFolder());
    if (!world) qFatal("%s", world.error().message.c_str());
    return std::move(*world);
}

/// What the meter shows, mean of some samples; nothing where it shows no level.
std::optional<double> shown(World& world)
{
    double sum = 0;
    constexpr int samples = 9;
    for (int i = 0; i < samples; ++i) {
        world.wait(Second(0.1));
        const auto seen = world.power("meter 1");
        if (!seen || seen->kind != PowerSeen::Kind::Level) return std::nullopt;
        sum += seen->level.value();
    }
    return sum / samples;
}

Source& source(World& world) { return std::get<Source>(world.instrument("source 1")->unit); }

void through(World& world, int fibre)
{
    for (const char* face : {"RC-1/B", "RC-2/A"}) static_cast<void>(world.part(face));
    QVERIFY(world.mate("RC-1/B", "VP-04/" + std::to_string(fibre) + "/A/port"));
    QVERIFY(world.mate("RC-2/A", "VP-04/" + std::to_string(fibre) + "/B/port"));
}

}  // namespace

/// One world: whatever is observed agrees with whatever was done to it.
class TestTrueWorld : public QObject {
    Q_OBJECT
private slots:
    void whatAMeterReadsIsWhatTheWayLoses()
    {
        World world = varrow();
        QVERIFY(world.connect("meter 1", "RC-1/B"));
        const auto reference = shown(world);
        QVERIFY(reference);
        QVERIFY(world.connect("meter 1", "RC-2/B"));
        through(world, 5);
        const auto read = shown(world);
        const auto way = world.lossBetween("RC-1/A", "RC-2/B", Nanometre(1310));
        QVERIFY(read && way);
        // both cords are on the way too: 6 m of fibre lose 2 mdB
        QVERIFY2(std::abs(*reference - *read - way->value()) < 0.03, qPrintable(QString::number(*reference - *read - way->value())));
        QVERIFY(way->value() > 2.4 * 0.3 && way->value() < 2.4 * 0.4 + 0.5 + 2 * 0.75);
    }
    void dirtShowsInPictureLossAndTrace()
    {
        World world = varrow();
        QVERIFY(world.connect("meter 1", "RC-2/B"));
        through(world, 10);
        const auto dirty = shown(world);
        QVERIFY(dirty);
        QVERIFY(world.part("RC-1/B") && world.part("RC-2/A"));
        const auto before = face::measure(*world.picture("VP-04/10/A/port", {}), {}).front().findings.size();
        QVERIFY(before > 4);
        for (int i = 0; i < 4; ++i)
            for (const char* face : {"RC-1/B", "RC-2/A", "VP-04/10/A/port", "VP-04/10/B/port"}) QVERIFY(world.clean(face, Cleaning::WetThenDry));
        QVERIFY(face::measure(*world.picture("VP-04/10/A/port", {}), {}).front().findings.size() < before);
        through(world, 10);
        const auto clean = shown(world);
        QVERIFY(clean && *clean > *dirty + 0.1);
    }
    void matingCopiesDirt()
    {
        World world = varrow();
        const auto dirtOn = [&](const char* face) { return world.face(face)->marks.size(); };
        const auto before = dirtOn("RC-1/B");
        QVERIFY(world.mate("RC-1/B", "VP-04/10/A/port"));
        QVERIFY(dirtOn("RC-1/B") > before);
        const auto carried = dirtOn("RC-1/B");
        QVERIFY(world.part("RC-1/B"));
        const auto clean = dirtOn("VP-04/5/A/port");
        QVERIFY(world.mate("RC-1/B", "VP-04/5/A/port"));  // the next port of the day
        QVERIFY(dirtOn("VP-04/5/A/port") > clean);
        QVERIFY(carried > 0);
    }
    void aBendShowsAtTheLongerWavelength()
    {
        World world = varrow();
        QVERIFY(world.connect("meter 1", "RC-2/B"));
        through(world, 3);
        const auto loss = [&](double nm) { return world.lossBetween("VP-04/3/A/port", "VP-04/3/B/port", Nanometre(nm))->value(); };
        const double shortly = loss(1310), longer = loss(1550);
        QVERIFY(world.bend("VP-04/3/A/port", Metre(1900), Decibel(0)));
        QVERIFY(std::abs(longer - loss(1550) - 0.42) < 0.001);
        QVERIFY(shortly - loss(1310) < 0.05);
    }
    void aTraceShowsWhatLiesOnTheWay()
    {
        World world = varrow();
        QVERIFY(world.connect("otdr 1", "launch 1/A"));
        QVERIFY(world.mate("launch 1/B", "VP-04/3/A/port"));
        QVERIFY(world.mate("launch 2/A", "VP-04/3/B/port"));
        std::get<Otdr>(world.instrument("otdr 1")->unit).wavelength = Nanometre(1550);
        const auto trace = world.trace("otdr 1");
        QVERIFY(trace);
        const auto found = otdr::analyse(*trace, {Metre(150), Metre(150)});
        QVERIFY(found.span && found.span->loss);
        QVERIFY(std::abs(found.span->length().value() - 2400) < 3);
        const double truth = world.lossBetween("launch 1/A", "launch 2/B", Nanometre(1550))->value() - 2 * 0.15 * 0.19;
        QVERIFY2(std::abs(found.span->loss->value() - truth) < 0.05, qPrintable(QString("%1 %2").arg(found.span->loss->value()).arg(truth)));
        const bool bent = std::any_of(found.events.begin(), found.events.end(),
                                      [](const auto& e) { return std::abs(e.at.value() - 150 - 1900) < 5 && e.loss && e.loss->value() > 0.35; });
        QVERIFY(bent);
    }
    /// Twelve fibres of the world read one way with one pair of cords; the source's cord falls on the floor before some of them.
    void aCordThatFellIsFoundInItsReadings_data()
    {
        QTest::addColumn<int>("fallsBefore");
        QTest::newRow("never") << 0;
        QTest::newRow("before fibre 6") << 6;
        QTest::newRow("before fibre 9") << 9;
    }
    void aCordThatFellIsFoundInItsReadings()
    {
        QFETCH(const int, fallsBefore);
        World world = varrow();
        // everything is clean before it begins: what is dirty at a port would be carried along
        std::vector<std::string> faces{"RC-1/B", "RC-2/A"};
        for (int n = 1; n <= 12; ++n)
            for (const char* end : {"A", "B"}) faces.push_back("VP-04/" + std::to_string(n) + "/" + end + "/port");
        for (const auto& face : faces) {
            static_cast<void>(world.part(face));
            for (int i = 0; i < 6; ++i) QVERIFY(world.clean(face, Cleaning::FreshTool));
        }
        std::map<double, double> reference;
        const auto at = [&](double nm) {
            source(world).wavelength = Nanometre(nm);
            std::get<Meter>(world.instrument("meter 1")->unit).wavelength = Nanometre(nm);
            return shown(world);
        };
        QVERIFY(world.connect("meter 1", "RC-1/B"));
        for (const double nm : {1310.0, 1550.0}) reference[nm] = at(nm).value();
        QVERIFY(world.connect("meter 1", "RC-2/B"));
        std::vector<CableReading> readings;
        const auto read = [&](int fibre, int port) {
            for (const char* face : {"RC-1/B", "RC-2/A"}) static_cast<void>(world.part(face));
            QVERIFY(world.mate("RC-1/B", "VP-04/" + std::to_string(fibre) + "/A/port"));
            QVERIFY(world.mate("RC-2/A", "VP-04/" + std::to_string(port) + "/B/port"));
            for (const double nm : {1310.0, 1550.0}) {
                const auto level = at(nm);
                QVERIFY(level);
                readings.push_back({"VP-04/" + std::to_string(fibre), Nanometre(nm), Direction::AtoB, Decibel(reference[nm] - *level),
                                    static_cast<std::int64_t>(world.now().value())});
            }
        };
        for (int n = 1; n <= 12; ++n) {
            if (n == fallsBefore) {
                QVERIFY(world.part("RC-1/B"));
                for (int i = 0; i < 4; ++i) QVERIFY(world.drop("RC-1/B"));
            }
            world.wait(Second(40));
            read(n, n <= 10 ? n : 23 - n);  // 11 and 12 are crossed
        }
        const auto model = fitCable(readings);
        QVERIFY(model);
        for (const auto& shift : model->shifts)
            qInfo("%s since %s: %.2f dB, give or take %.2f", shift.kind == RunShift::Kind::Step ? "step" : "drift", shift.since.c_str(),
                  shift.size.value(), shift.standard.value());
        QCOMPARE(model->shifts.empty(), fallsBefore == 0);
        if (fallsBefore == 0) return;
        const RunShift& found = model->shifts.front();
        QVERIFY2(found.size > Decibel(0) && !found.wavelength && found.kind == RunShift::Kind::Step, qPrintable(QString::number(found.size.value())));
        QVERIFY2(std::abs(std::stoi(found.since.substr(6)) - fallsBefore) <= 1, found.since.c_str());
    }
    void crossedFibresAreCrossed()
    {
        World world = varrow();
        QVERIFY(world.connect("meter 1", "RC-2/B"));
        through(world, 11);
        QVERIFY(!shown(world));
        QVERIFY(world.part("RC-2/A"));
        QVERIFY(world.mate("RC-2/A", "BH box/12/port"));
        QVERIFY(shown(world));
    }
    void whoMovesTheSourceCordShiftsTheReading()
    {
        World world = varrow();
        QVERIFY(world.connect("meter 1", "RC-1/B"));
        const auto before = shown(world);
        for (int i = 0; i < 4; ++i) QVERIFY(world.move("RC-1/B"));
        const auto after = shown(world);
        QVERIFY(before && after && std::abs(*after - *before) > 0.015);
        QVERIFY(world.connect("source 1", "RC-1/A"));  // still in: nothing happens
        QVERIFY(std::abs(*shown(world) - *after) < 0.02);
    }
    void aColdSourceRises()
    {
        World world = varrow();
        QVERIFY(world.connect("meter 1", "RC-1/B"));
        source(world).onSince = world.now();
        const auto cold = shown(world);
        world.wait(Second(900));
        const auto warm = shown(world);
        QVERIFY(cold && warm && *warm - *cold > 0.2);
    }
    void wrongWavelengthAndToneAreWrongByWhatTheyAre()
    {
        World world = varrow();
        QVERIFY(world.connect("meter 1", "RC-1/B"));
        const auto right = shown(world);
        std::get<Meter>(world.instrument("meter 1")->unit).wavelength = Nanometre(1550);
        const auto wrong = shown(world);
        QVERIFY(std::abs(*right - *wrong) > 0.2);
        std::get<Meter>(world.instrument("meter 1")->unit).wavelength = Nanometre(1310);
        source(world).toneHz = 270;
        QVERIFY(std::abs(*right - *shown(world) - 3.01) < 0.05);
        QCOMPARE(world.power("meter 1")->toneHz, 270.0);
    }
    void theSameSeedAndDeedsGiveTheSameWorldHoweverOftenItIsObserved()
    {
        World one = varrow(), other = varrow();
        for (int i = 0; i < 50; ++i) {
            static_cast<void>(other.power("meter 1"));
            if (i % 25 == 0) static_cast<void>(other.picture("VP-04/7/A/port", {}));
        }
        for (World* world : {&one, &other}) {
            QVERIFY(world->clean("VP-04/10/A/port", Cleaning::Dry));
            QVERIFY(world->mate("RC-1/B", "VP-04/10/A/port"));
        }
        QCOMPARE(QString::fromStdString(one.state().dump()), QString::fromStdString(other.state().dump()));
        QVERIFY(one.picture("VP-04/7/A/port", {})->pixels == other.picture("VP-04/7/A/port", {})->pixels);
    }
    void whatCannotBeDoneIsRefusedAndChangesNothing()
    {
        World world = varrow();
        QVERIFY(world.mate("RC-1/B", "VP-04/5/A/port"));
        const auto before = world.state().dump();
        for (const auto& refused : {world.mate("RC-1/B", "VP-04/6/A/port"), world.clean("VP-04/5/A/port", Cleaning::Dry),
                                    world.mate("RC-2/A", "RC-2/A"), world.mate("RC-2/A", "no such face"), world.part("RC-2/A"),
                                    world.connect("no such meter", "RC-2/A"), world.connect("otdr 1", "source 1"), world.connect("scope 1", "RC-1/B"),
                                    world.mate("RC-2/A", "VP-11/1/A/port"), world.bend("VP-04/3/A/port", Metre(9000), Decibel(1))}) {
            QVERIFY(!refused);
            QVERIFY(refused.error().message.size() > 15);
        }
        QCOMPARE(QString::fromStdString(world.state().dump()), QString::fromStdString(before));
    }
    void aFerruleIsMatedWhole()
    {
        World world = varrow();
        QVERIFY(world.mate("VP-11/1/A/cord", "VP-11/1/A/port"));
        QVERIFY(!world.mate("VP-11/7/A/cord", "VP-11/7/A/port"));
        QVERIFY(world.part("VP-11/12/A/port"));
        QVERIFY(world.mate("VP-11/7/A/cord", "VP-11/7/A/port"));
    }

    void aScenarioThatLiesIsRefusedWithItsPlace_data()
    {
        QTest::addColumn<QString>("scenario");
        QTest::addColumn<QString>("says");
        const auto row = [](const char* name, const char* inside, const char* says) {
            QTest::newRow(name) << QString("{'format': 'clendo-scenario', 'format_version': 1, %1}").arg(inside).replace('\'', '"') << QString(says);
        };
        QTest::newRow("no JSON") << "]["
                                 << "no JSON";
        QTest::newRow("another file") << "{}"
                                      << "not marked";
        row("a fibre that nobody knows", "'cords': [{'id': 'x', 'fibre': 'OM9', 'length_m': 3}]", "cords[0]");
        row("a cord twice", "'cords': [{'id': 'x', 'fibre': 'OS2', 'length_m': 3}, {'id': 'x', 'fibre': 'OS2', 'length_m': 3}]", "twice");
        row("a splice behind the end",
            "'cables': [{'id': 'c', 'fibre': 'OS2', 'fibres': 2, 'length_m': 30, 'splices': [{'at_m': 40, 'loss_db': 0.1}]}]", "at_m");
        row("too many faces",
            "'cables': [{'id': 'c', 'fibre': 'OS2', 'fibres': 1700, 'length_m': 30}, {'id': 'd', 'fibre': 'OS2', 'fibres': 1700, 'length_m': 30}]",
            "faces");
        row("a length that is no number", "'cords': [{'id': 'x', 'fibre': 'OS2', 'length_m': 'long'}]", "length_m");
        row("mated with what is not there", "'mated': [['a', 'b']]", "mated[0]");
        row("crossed with a fibre too many", "'cables': [{'id': 'c', 'fibre': 'OS2', 'fibres': 2, 'length_m': 30, 'crossed': [[1, 3]]}]", "crossed");
        row("an instrument of no kind", "'instruments': [{'name': 'm', 'kind': 'kettle'}]", "kettle");
        row("a list that is none", "'cords': {'id': 'x'}", "cords");
        row("a story that nobody tells", "'faces': [{'face': 'x', 'story': 'sad'}]", "sad");
    }
    void aScenarioThatLiesIsRefusedWithItsPlace()
    {
        QFETCH(QString, scenario);
        QFETCH(QString, says);
        const auto world = readScenario(scenario.toStdString(), dataFolder());
        QVERIFY(!world);
        QCOMPARE(codeName(world.error().code), "scenario_invalid");
        QVERIFY2(QString::fromStdString(world.error().message).contains(says), world.error().message.c_str());
    }

    void handsAreAnsweredWhateverTheySay_data()
    {
        QTest::addColumn<QString>("line");
        QTest::addColumn<QString>("code");
        QTest::newRow("done") << R"({"do": "clean", "face": "RC-1/B", "method": "dry"})"
                              << "";
        QTest::newRow("time") << R"({"do": "wait", "seconds": 600})"
                              << "";
        QTest::newRow("no JSON") << "mate them"
                                 << "reading_unclear";
        QTest::newRow("a list") << "[1]"
                                << "reading_unclear";
        QTest::newRow("no deed") << R"({"face": "RC-1/B"})"
                                 << "reading_unclear";
        QTest::newRow("an unknown deed") << R"({"do": "polish"})"
                                         << "reading_unclear";
        QTest::newRow("no face") << R"({"do": "clean"})"
                                 << "reading_unclear";
        QTest::newRow("an unknown method") << R"({"do": "clean", "face": "RC-1/B", "method": "sand"})"
                                           << "reading_unclear";
        QTest::newRow("back in time") << R"({"do": "wait", "seconds": -5})"
                                      << "reading_unclear";
        QTest::newRow("not there") << R"({"do": "touch", "face": "RC-9/B"})"
                                   << "not_there";
        QTest::newRow("not now") << R"({"do": "clean", "face": "RC-1/A"})"
                                 << "step_refused";
        QTest::newRow("a fault of nothing") << R"({"do": "fault", "instrument": "kettle", "kind": "late"})"
                                            << "reading_unclear";
    }
    void handsAreAnsweredWhateverTheySay()
    {
        QFETCH(QString, line);
        QFETCH(QString, code);
        World world = varrow();
        sim::ControlWish wish;
        const auto answer = nlohmann::json::parse(sim::control(world, line.toStdString(), wish));
        QCOMPARE(answer["ok"].get<bool>(), code.isEmpty());
        if (!code.isEmpty()) QCOMPARE(QString::fromStdString(answer["error"]["code"]), code);
        QVERIFY(wish.instrument.empty() && !wish.quit);
    }
};

QTEST_APPLESS_MAIN(TestTrueWorld)
#include "test_true_world.moc"
