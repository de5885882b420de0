#include <QtTest>
#include <cmath>
#include <functional>
#include <limits>
#include <random>

#include "acquisition/acquisition.h"

using namespace clendo;

namespace {

constexpr std::int64_t ms = 1000;  // of microseconds

PowerSample level(std::int64_t at, double dBm, double nm = 1310, bool tone = false)
{
    return {at, PowerSample::Kind::Level, DecibelMilliwatt(dBm), Nanometre(nm), tone};
}
PowerSample other(std::int64_t at, PowerSample::Kind kind) { return {at, kind, {}, Nanometre(1310), false}; }

AcquisitionRule at1310()
{
    AcquisitionRule rule;
    rule.wavelength = Nanometre(1310);
    return rule;
}

}  // namespace

/// A stream of samples becomes one reading, or none and the reason why.
class TestAcquisition : public QObject {
    Q_OBJECT
private slots:
    void streamsAreTold_data()
    {
        using Stream = std::function<PowerSample(std::int64_t)>;
        QTest::addColumn<Stream>("sample");
        QTest::addColumn<QString>("state");
        const auto row = [](const char* what, const Stream& sample, const char* state) { QTest::newRow(what) << sample << QString(state); };
        row(
            "steady", [](std::int64_t at) { return level(at, -8.63); }, "steady");
        row(
            "steps of the meter's own", [](std::int64_t at) { return level(at, at / (100 * ms) % 2 == 0 ? -8.63 : -8.62); }, "steady");
        row(
            "drifting", [](std::int64_t at) { return level(at, -8.63 + 3e-8 * double(at)); }, "unsteady");
        row(
            "a cord that is moved", [](std::int64_t at) { return level(at, at / (300 * ms) % 2 == 0 ? -8.63 : -8.93); }, "unsteady");
        row(
            "another wavelength", [](std::int64_t at) { return level(at, -8.63, 1550); }, "wrong wavelength");
        row(
            "a tone", [](std::int64_t at) { return level(at, -8.63, 1310, true); }, "tone");
        row(
            "at the floor", [](std::int64_t at) { return level(at, -66.1); }, "no light");
        row(
            "under its range", [](std::int64_t at) { return other(at, PowerSample::Kind::NoLight); }, "no light");
        row(
            "overload", [](std::int64_t at) { return other(at, PowerSample::Kind::Overload); }, "overload");
        row(
            "no number", [](std::int64_t at) { return other(at, PowerSample::Kind::Unclear); }, "unclear");
        row(
            "not a number", [](std::int64_t at) { return level(at, std::numeric_limits<double>::quiet_NaN()); }, "unclear");
        row(
            "now and then overload", [](std::int64_t at) { return at % (500 * ms) == 0 ? other(at, PowerSample::Kind::Overload) : level(at, -3); },
            "unsteady");
        row(
            "its clock stands", [](std::int64_t) { return level(5, -8.63); }, "silent");
    }
    void streamsAreTold()
    {
        QFETCH(const std::function<PowerSample(std::int64_t)>, sample);
        Acquisition acquisition(at1310());
        std::int64_t now = 0;
        for (int i = 0; i < 59; ++i) acquisition.add(sample(now += 100 * ms));
        QTEST(QString::fromUtf8(name(acquisition.state(now)).data()), "state");
        const bool taken = acquisition.take(now).has_value();
        QCOMPARE(taken, acquisition.state(now) == AcquisitionState::Taken);
    }
    void aReadingIsTakenOnce()
    {
        Acquisition acquisition(at1310());
        std::int64_t now = 0;
        const auto run = [&](double dBm, int samples) {
            int taken = 0;
            for (int i = 0; i < samples; ++i) {
                acquisition.add(level(now += 100 * ms, dBm));
                taken += acquisition.take(now).has_value() ? 1 : 0;
            }
            return taken;
        };
        QCOMPARE(run(-8.63, 100), 1);
        QCOMPARE(run(-8.70, 100), 0);  // the same cord, a little moved
        QCOMPARE(run(-70, 5), 0);      // it is unplugged
        QCOMPARE(run(-8.63, 100), 1);  // the next fibre, which may lose as much
        QCOMPARE(run(-12.4, 100), 1);  // or far more, plugged over between two samples
        acquisition.restart(at1310());
        QCOMPARE(run(-12.4, 100), 1);
    }
    void aGapEndsWhatWasSteady()
    {
        Acquisition acquisition(at1310());
        for (std::int64_t at = 100 * ms; at <= 900 * ms; at += 100 * ms) acquisition.add(level(at, -8.63));
        QVERIFY(acquisition.state(900 * ms) == AcquisitionState::Unsteady);  // not long enough yet
        QVERIFY(acquisition.state(4000 * ms) == AcquisitionState::Silent);
        acquisition.add(level(4000 * ms, -8.63));
        QVERIFY(acquisition.state(4000 * ms) == AcquisitionState::Unsteady);
    }
    /// Noise within the span, of any meter: the mean in milliwatts and the scatter are those of the samples.
    void theMeanIsOfPowers()
    {
        std::mt19937 random(3);
        for (int n = 0; n < 200; ++n) {
            AcquisitionRule rule = at1310();
            rule.within = Decibel(1);
            Acquisition acquisition(rule);
            const double middle = -40 + 0.2 * n, spread = 0.001 * double(n % 100);
            std::uniform_real_distribution<double> noise(-spread, spread);
            std::int64_t now = 0;
            double milliwatts = 0, levels = 0, squares = 0;
            const int samples = 20 + n;
            for (int i = 0; i < samples; ++i) {
                const double dBm = middle + noise(random);
                milliwatts += std::pow(10, dBm / 10) / samples;
                levels += dBm / samples;
                squares += (dBm - middle) * (dBm - middle);
                acquisition.add(level(now += 100 * ms, dBm));
            }
            const auto reading = acquisition.take(now);
            QVERIFY(reading.has_value());
            QVERIFY(std::abs(reading->power.value() - 10 * std::log10(milliwatts)) < 1e-9);
            const double off = levels - middle, variance = (squares - samples * off * off) / (samples - 1);
            QVERIFY(std::abs(reading->scatter.value() - std::sqrt(std::max(0.0, variance))) < 1e-6);
            QCOMPARE(reading->samples, std::size_t(samples));
        }
    }
    /// Whatever comes: a reading is only of what was steady for as long as was asked, and memory does not grow.
    void nothingElseIsTaken()
    {
        std::mt19937 random(11);
        Acquisition acquisition(at1310());
        std::int64_t now = 0;
        double dBm = -10;
        std::deque<std::pair<std::int64_t, double>> past;  // levels since the last thing that is none
        int taken = 0;
        for (int i = 0; i < 200000; ++i) {
            now += std::int64_t(random() % 60) * ms;
            const auto dice = unsigned(random() % 1000);
            if (dice < 3) dBm = -5 - double(random() % 40);
            if (dice < 30) dBm += 0.001 * double(int(random() % 61) - 30);
            const bool bad = dice >= 995;
            if (bad)
                past.clear();
            else
                past.emplace_back(now, dBm);
            acquisition.add(bad ? other(now, PowerSample::Kind(1 + dice % 3)) : level(now, dBm));
            if (const auto reading = acquisition.take(now)) {
                ++taken;
                double low = 1e9, high = -1e9;
                for (const auto& [at, is] : past)
                    if (at >= reading->from && at <= reading->to) low = std::min(low, is), high = std::max(high, is);
                QVERIFY(high - low <= 0.02 + 1e-9);
                QVERIFY(reading->to - reading->from >= 1000 * ms);
            }
            while (past.size() > 6000) past.pop_front();
        }
        QVERIFY(taken > 50);
    }
};

QTEST_APPLESS_MAIN(TestAcquisition)
#include "test_acquisition.moc"
