#include <QtTest>
#include <random>

#include "acquisition/auto_measure.h"

using namespace clendo;

namespace {

constexpr std::int64_t step = 100'000;  // microseconds: ten samples a second

/// Hands that plug fibres in, a source that follows or is switched, and the samples that a meter gives meanwhile.
struct Hands {
    std::int64_t at = 0;
    double sourceNm = 1310;
    std::mt19937 random{5};

    /// Samples of a light for so long; the readings that came of them.
    std::vector<AutoMeasure::Taken> hold(AutoMeasure& run, double dBm, double seconds, bool sourceFollows = true)
    {
        std::vector<AutoMeasure::Taken> out;
        for (const std::int64_t end = at + static_cast<std::int64_t>(seconds * 1e6); at < end; at += step) {
            if (sourceFollows && run.wanted()) sourceNm = run.wanted()->wavelength.value();
            const double noise = 0.004 * (double(random() % 200) / 100 - 1);
            PowerSample sample{at, PowerSample::Kind::Level, DecibelMilliwatt(dBm + noise), Nanometre(sourceNm), false};
            if (dBm < -80) sample.kind = PowerSample::Kind::NoLight;
            if (const auto taken = run.add(sample)) out.push_back(*taken);
        }
        return out;
    }
};

std::vector<std::string> fibres(int n)
{
    std::vector<std::string> out;
    for (int i = 1; i <= n; ++i) out.push_back("VP-04/" + std::to_string(i));
    return out;
}

const std::vector<Nanometre> both{Nanometre(1310), Nanometre(1550)};

}  // namespace

/// A run of readings that needs no key after the first.
class TestAutoMeasure : public QObject {
    Q_OBJECT
private slots:
    void theOrderMovesHandsAndWavelengthsLeast()
    {
        const auto byLine = readingOrder(fibres(3), both, Switching::ByLine);
        QCOMPARE(byLine.size(), 6U);
        for (std::size_t i = 1; i < byLine.size(); ++i)  // from one to the next either the fibre changes or the wavelength
            QVERIFY((byLine[i].link != byLine[i - 1].link) != (byLine[i].wavelength != byLine[i - 1].wavelength));
        const auto byHand = readingOrder(fibres(3), both, Switching::ByOperator);
        QCOMPARE(std::count_if(byHand.begin() + 1, byHand.end(),
                               [&, i = std::size_t{0}](const auto& r) mutable { return r.wavelength != byHand[i++].wavelength; }),
                 1);
    }
    void twelveFibresAreReadWhileOnlyCordsMove()
    {
        AutoMeasure run(readingOrder(fibres(12), both, Switching::ByLine), {}, Switching::ByLine);
        Hands hands;
        for (int n = 1; n <= 12; ++n) {
            const auto taken = hands.hold(run, -8 - 0.1 * n, 5);  // longer than needed: nothing is read twice
            QCOMPARE(taken.size(), 2U);
            for (const auto& one : taken) {
                QCOMPARE(one.what.link, "VP-04/" + std::to_string(n));
                QVERIFY(std::abs(one.power.power.value() + 8 + 0.1 * n) < 0.005);
            }
            hands.hold(run, -90, 1);
        }
        QVERIFY(!run.wanted());
        QCOMPARE(run.done(), 24U);
    }
    void aFibreThatStaysPluggedInIsNotReadAsTheNext()
    {
        AutoMeasure run(readingOrder(fibres(2), {Nanometre(1310)}, Switching::ByLine), {}, Switching::ByLine);
        Hands hands;
        QCOMPARE(hands.hold(run, -8.5, 2).size(), 1U);
        QVERIFY(run.waitsForChange(hands.at - step));
        QVERIFY(hands.hold(run, -8.5, 60).empty());
        hands.hold(run, -90, 0.5);
        QCOMPARE(hands.hold(run, -8.5, 2).size(), 1U);  // the next one may well lose the same
    }
    void anOperatorSwitchesTheSourceOnceAndSaysSo()
    {
        AutoMeasure run(readingOrder(fibres(2), both, Switching::ByOperator), {}, Switching::ByOperator);
        Hands hands;
        QCOMPARE(hands.hold(run, -8.5, 2).size(), 1U);
        hands.hold(run, -90, 0.5);
        QCOMPARE(hands.hold(run, -8.6, 2).size(), 1U);
        QVERIFY(run.waitsForOperator());
        QVERIFY(hands.hold(run, -8.6, 20).empty());  // the meter follows, the source does not
        run.sourceIsSet();
        const auto taken = hands.hold(run, -8.9, 2);
        QCOMPARE(taken.size(), 1U);
        QCOMPARE(taken.front().what, (WantedReading{"VP-04/2", Nanometre(1550)}));
    }
    void aFibreIsLeftOutAndWhatIsPluggedInIsNotTakenForTheNext()
    {
        AutoMeasure run(readingOrder(fibres(3), {Nanometre(1310)}, Switching::ByLine), {}, Switching::ByLine);
        Hands hands;
        hands.hold(run, -8.5, 0.5);  // not steady for long enough
        run.skip();
        QVERIFY(hands.hold(run, -8.5, 20).empty());
        hands.hold(run, -90, 0.5);
        const auto taken = hands.hold(run, -8.5, 2);
        QCOMPARE(taken.size(), 1U);
        QCOMPARE(taken.front().what.link, std::string("VP-04/2"));
        for (int i = 0; i < 5; ++i) run.skip();
        QVERIFY(!run.wanted());
    }
};

QTEST_APPLESS_MAIN(TestAutoMeasure)
#include "test_auto_measure.moc"
