// One model of a cable's readings: what it names is there, and what is not there it does not name. Cables are drawn as connectors, matings and
// sources behave, not as the model has it: losses that cannot be negative, matings that only add, rounding, a source that wanders, gaps.
#include <QTest>
#include <cmath>
#include <random>

#include "power/cable_model.h"

using namespace clendo;

namespace {

struct Draw {
    int fibres = 12;
    bool bothWays = true;
    double gaps = 0.03;
    bool multimode = false;
};

struct Run {
    std::vector<CableReading> readings;

    /// Adds to readings of a direction from a fibre on, of one wavelength or of all.
    void step(Direction direction, int fromFibre, double decibel, double nm = 0)
    {
        for (auto& r : readings)
            if (r.direction == direction && (nm == 0 || r.wavelength == Nanometre(nm)) && std::stoi(r.link.substr(2)) >= fromFibre)
                r.loss += Decibel(decibel);
    }
    void fibre(int fibre, double decibel, std::optional<Direction> only = {}, double nm = 0)
    {
        for (auto& r : readings)
            if (std::stoi(r.link.substr(2)) == fibre && (!only || *only == r.direction) && (nm == 0 || r.wavelength == Nanometre(nm)))
                r.loss += Decibel(decibel);
    }
};

Run drawRun(std::mt19937& random, const Draw& draw)
{
    std::uniform_real_distribution<double> any(0, 1);
    std::weibull_distribution<double> connector(1.5, 0.17);
    std::lognormal_distribution<double> splice(std::log(0.04), 0.6);
    std::exponential_distribution<double> mating(1 / 0.03);
    std::normal_distribution<double> noise(0, 0.006);
    const std::array<double, 2> nm = draw.multimode ? std::array{850.0, 1300.0} : std::array{1310.0, 1550.0};
    const std::array<double, 2> perKm = draw.multimode ? std::array{2.6, 0.7} : std::array{0.34, 0.2};
    const double km = draw.multimode ? 0.1 + 0.4 * any(random) : 0.3 + 12 * any(random);
    Run out;
    std::vector<double> own;
    for (int f = 0; f < draw.fibres; ++f) own.push_back(connector(random) + connector(random) + splice(random) + splice(random));
    std::int64_t at = 1'800'000'000;
    const double phase = 6.28 * any(random);
    for (const Direction d : {Direction::AtoB, Direction::BtoA}) {
        if (d == Direction::BtoA && !draw.bothWays) break;
        const double side = 0.05 * (any(random) - 0.5);  // cords differ a little
        for (int f = 0; f < draw.fibres; ++f) {
            at += 25 + std::int64_t(60 * any(random)) + (any(random) < 0.03 ? 1200 : 0);
            const double seated = mating(random) + mating(random);
            for (int w = 0; w < 2; ++w) {
                at += 5;
                if (any(random) < draw.gaps) continue;
                const double wander = 0.01 * std::sin(phase + double(at % 100000) / 300 + w);
                const double loss =
                    own[std::size_t(f)] * (1 + 0.05 * (any(random) - 0.5)) + km * perKm[std::size_t(w)] + seated + side + wander + noise(random);
                out.readings.push_back({"C/" + std::to_string(f + 1), Nanometre(nm[std::size_t(w)]), d, Decibel(std::round(loss * 100) / 100), at,
                                        d == Direction::AtoB ? 1 : 2});
            }
        }
        at += 900;
    }
    return out;
}

}  // namespace

class TestCableModel : public QObject {
    Q_OBJECT

private slots:
    /// Nothing is wrong with the run: no cord and no source may be blamed. Of 400 cables.
    void blamesNobodyForNothing_data()
    {
        QTest::addColumn<int>("fibres");
        QTest::addColumn<bool>("bothWays");
        QTest::addColumn<bool>("multimode");
        QTest::newRow("12, both ways") << 12 << true << false;
        QTest::newRow("12, one way") << 12 << false << false;
        QTest::newRow("24, multimode") << 24 << true << true;
        QTest::newRow("96") << 96 << true << false;
    }
    void blamesNobodyForNothing()
    {
        QFETCH(const int, fibres);
        QFETCH(const bool, bothWays);
        QFETCH(const bool, multimode);
        std::mt19937 random(4711);
        int blamed = 0, own = 0;
        constexpr int cables = 400;
        for (int i = 0; i < cables; ++i) {
            const auto model = fitCable(drawRun(random, {fibres, bothWays, 0.03, multimode}).readings);
            QVERIFY(model);
            blamed += model->shifts.empty() ? 0 : 1;
            own += int(model->own.size());
        }
        qInfo("%d of %d runs blamed, %d of %d fibres called unlike the others", blamed, cables, own, cables * fibres);
        QVERIFY2(blamed <= cables / 100, qPrintable(QString::number(blamed)));
        QVERIFY2(own <= cables * fibres / 50, qPrintable(QString::number(own)));
    }

    /// A cord that became dirty while the run went on.
    void namesACordFromTheFibreOn_data()
    {
        QTest::addColumn<int>("fibres");
        QTest::addColumn<bool>("bothWays");
        QTest::addColumn<double>("decibel");
        QTest::addColumn<int>("percent");
        QTest::newRow("0.15 dB, both ways") << 12 << true << 0.15 << 15;
        QTest::newRow("0.3 dB, both ways") << 12 << true << 0.3 << 80;
        QTest::newRow("0.3 dB, 48 fibres") << 48 << true << 0.3 << 95;
        QTest::newRow("0.8 dB, one way") << 24 << false << 0.8 << 95;
    }
    void namesACordFromTheFibreOn()
    {
        QFETCH(const int, fibres);
        QFETCH(const bool, bothWays);
        QFETCH(const double, decibel);
        QFETCH(const int, percent);
        std::mt19937 random(815);
        int named = 0, atItsPlace = 0, within = 0;
        constexpr int cables = 200;
        for (int i = 0; i < cables; ++i) {
            auto run = drawRun(random, {fibres, bothWays});
            const int from = 5 + int(random() % unsigned(fibres - 8));
            run.step(Direction::AtoB, from, decibel);
            const auto model = fitCable(run.readings);
            QVERIFY(model);
            for (const auto& shift : model->shifts) {
                if (shift.kind != RunShift::Kind::Step || shift.direction != Direction::AtoB || shift.size < Decibel(0)) continue;
                ++named;
                atItsPlace += std::abs(std::stoi(shift.since.substr(2)) - from) <= 1 ? 1 : 0;
                within += std::abs(shift.size.value() - decibel) < 3 * shift.standard.value() ? 1 : 0;
                break;
            }
        }
        qInfo("named %d, within a fibre of its place %d, size within three standard uncertainties %d, of %d", named, atItsPlace, within, cables);
        QVERIFY(named * 100 >= cables * percent);
        QVERIFY(atItsPlace * 100 >= named * 85);
        QVERIFY(within * 100 >= named * 95);
    }

    /// What is a fibre's own is told from what is a reading's.
    void tellsFibreBendAndReadingApart_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<double>("decibel");
        QTest::newRow("a bad port") << int(OwnLoss::Kind::Fibre) << 1.2;
        QTest::newRow("a bend") << int(OwnLoss::Kind::Bend) << 0.6;
        QTest::newRow("a bad reading") << int(OwnLoss::Kind::OneWay) << 0.9;
    }
    void tellsFibreBendAndReadingApart()
    {
        QFETCH(const int, kind);
        QFETCH(const double, decibel);
        std::mt19937 random(99);
        int right = 0;
        constexpr int cables = 200;
        for (int i = 0; i < cables; ++i) {
            auto run = drawRun(random, {24, true, 0.0});
            const int fibre = 1 + int(random() % 24);
            const auto is = OwnLoss::Kind(kind);
            run.fibre(fibre, decibel, is == OwnLoss::Kind::OneWay ? std::optional(Direction::BtoA) : std::nullopt,
                      is == OwnLoss::Kind::Bend ? 1550 : 0);
            const auto model = fitCable(run.readings);
            QVERIFY(model);
            const bool named = std::any_of(model->own.begin(), model->own.end(), [&](const OwnLoss& own) {
                return own.kind == is && own.link == "C/" + std::to_string(fibre) &&
                       (is != OwnLoss::Kind::OneWay || own.direction == Direction::BtoA);
            });
            right += named ? 1 : 0;
        }
        qInfo("%d of %d", right, cables);
        QVERIFY(right * 100 >= cables * 90);
    }

    void tellsASourceFromACord()
    {
        std::mt19937 random(5);
        int right = 0, drifts = 0;
        constexpr int cables = 100;
        for (int i = 0; i < cables; ++i) {
            auto one = drawRun(random, {24, true}), steady = one;
            one.step(Direction::BtoA, 11, 0.3, 1550);
            const auto model = fitCable(one.readings);
            QVERIFY(model);
            right +=
                !model->shifts.empty() && model->shifts.front().wavelength == Nanometre(1550) && model->shifts.front().direction == Direction::BtoA
                    ? 1
                    : 0;
            const auto begin = steady.readings.front().at;
            std::int64_t end = begin;
            for (const auto& r : steady.readings)
                if (r.direction == Direction::AtoB) end = r.at;
            for (auto& r : steady.readings)
                if (r.direction == Direction::AtoB) r.loss += Decibel(0.4 * double(r.at - begin) / double(end - begin));
            const auto drifted = fitCable(steady.readings);
            QVERIFY(drifted);
            drifts += !drifted->shifts.empty() && drifted->shifts.front().kind == RunShift::Kind::Drift ? 1 : 0;
        }
        qInfo("source %d, drift %d of %d", right, drifts, cables);
        QVERIFY(right >= 90);
        QVERIFY(drifts >= 75);
    }

    void saysWhereAReferenceWasSetAnewOrOneEndReadsMore()
    {
        std::mt19937 random(17);
        auto run = drawRun(random, {24, true, 0.0});
        auto other = run;
        for (auto& r : run.readings)
            if (r.direction == Direction::AtoB && std::stoi(r.link.substr(2)) > 12) r.reference = 7, r.loss += Decibel(-0.4);
        const auto model = fitCable(run.readings);
        QVERIFY(model && !model->shifts.empty());
        QVERIFY(model->shifts.front().newReference);
        QCOMPARE(model->shifts.front().since, std::string("C/13"));
        QCOMPARE(model->shifts.front().until, std::string("C/12"));
        other.step(Direction::BtoA, 1, 0.3);
        const auto ends = fitCable(other.readings);
        QVERIFY(ends && !ends->shifts.empty());
        QVERIFY(ends->shifts.front().kind == RunShift::Kind::Ends);
        QVERIFY(ends->shifts.front().direction == Direction::BtoA);
    }

    /// Few fibres, readings that are all alike, one wavelength, one fibre read many times, a loss that cannot be: an answer or none, never nonsense.
    void staysSensible()
    {
        std::mt19937 random(3);
        QVERIFY(!fitCable({}));
        QVERIFY(!fitCable(drawRun(random, {5, true, 0.0}).readings));
        auto alike = drawRun(random, {12, true, 0.0});
        for (auto& r : alike.readings) r.loss = Decibel(0.5), r.at = 1'800'000'000;
        const auto model = fitCable(alike.readings);
        QVERIFY(model && model->shifts.empty() && model->own.empty());
        QVERIFY(std::abs(model->usual.begin()->second.value() - 0.5) < 1e-6);
        auto one = drawRun(random, {12, false, 0.0});
        std::erase_if(one.readings, [](const auto& r) { return r.wavelength == Nanometre(1550); });
        one.readings[3].loss = Decibel(62);
        const auto wild = fitCable(one.readings);
        QVERIFY(wild && wild->shifts.empty());
        QCOMPARE(wild->own.size(), std::size_t(1));
        QVERIFY(wild->own.front().kind == OwnLoss::Kind::OneEnded);
        QVERIFY(std::abs(wild->usual.begin()->second.value()) < 6);
    }
};

QTEST_GUILESS_MAIN(TestCableModel)
#include "test_cable_model.moc"
