#include <QtTest>
#include <cmath>
#include <functional>
#include <numbers>

#include "face/find/edge_profile.h"

using namespace clendo::face;

namespace {

constexpr double radius = 150;  // pixels, of 62.5 um
constexpr double um = radius / 62.5;

/// Light by the distance from where the glass ends, um, outwards.
EdgeProfile profileOf(const std::function<double(double)>& light, double seen)
{
    EdgeProfile p;
    p.from = 0.88 * radius;
    p.seen = radius + seen * um;
    for (double r = p.from; r < 1.10 * radius; r += EdgeProfile::step) p.levels.push_back(light((r - radius) / um));
    p.sign = light(8) > light(-8) ? 1 : -1;
    return p;
}

/// By how much the glass is told too large, um; the rays see its edge `seen` beyond it.
double offOf(const std::function<double(double)>& light, double seen) { return (shapeOf(profileOf(light, seen)).radius - radius) / um; }

/// How a lens of all light's directions shows a step: from 0 to 1.
double incoherent(double x, double sigma) { return 0.5 * std::erfc(-x / sigma / std::numbers::sqrt2); }

/// How it shows the amplitude of coherent light: the sine integral, which swings about the step's levels.
double coherent(double x, double wide)
{
    const double t = x / wide;
    double sum = 0;
    constexpr double part = 0.01;
    for (double u = part / 2; u < std::abs(t); u += part) sum += std::sin(u) / u * part;
    return 0.5 + std::copysign(sum, t) / std::numbers::pi;
}

}  // namespace

/// What the light across the edge of a cladding says about where the glass ends.
class TestEdgeProfile : public QObject {
    Q_OBJECT
private slots:
    void darkAndBrightLinesBeginWhereTheGlassEnds_data()
    {
        QTest::addColumn<double>("line");
        QTest::addColumn<double>("ferrule");
        QTest::addColumn<double>("width");
        QTest::newRow("dark") << 20.0 << 170.0 << 1.5;
        QTest::newRow("dark, wide, ferrule as bright as the glass") << 30.0 << 105.0 << 3.0;
        QTest::newRow("bright") << 210.0 << 150.0 << 1.2;
        QTest::newRow("between") << 130.0 << 170.0 << 2.4;
        QTest::newRow("wide, hardly darker") << 84.0 << 150.0 << 3.5;
    }
    void darkAndBrightLinesBeginWhereTheGlassEnds()
    {
        QFETCH(double, line);
        QFETCH(double, ferrule);
        QFETCH(double, width);
        const auto light = [&](double x) { return 100 + (line - 100) * incoherent(x, 0.35) + (ferrule - line) * incoherent(x - width, 0.35); };
        const double steeper = std::abs(line - 100) > std::abs(ferrule - line) ? 0 : width;
        const double off = offOf(light, steeper);
        QVERIFY2(std::abs(off) < 0.15, qPrintable(QString("%1 um").arg(off)));
    }
    void fringesOfCoherentLightAreNoLine_data()
    {
        QTest::addColumn<double>("glass");
        QTest::addColumn<double>("ferrule");
        QTest::addColumn<double>("coherence");
        for (const double coherence : {0.4, 0.6, 0.8}) {
            QTest::addRow("brighter ferrule, %.1f", coherence) << 60.0 << 110.0 << coherence;
            QTest::addRow("much brighter ferrule, %.1f", coherence) << 75.0 << 200.0 << coherence;
            QTest::addRow("darker ferrule, %.1f", coherence) << 180.0 << 75.0 << coherence;
        }
    }
    void fringesOfCoherentLightAreNoLine()
    {
        QFETCH(double, glass);
        QFETCH(double, ferrule);
        QFETCH(double, coherence);
        const auto light = [&](double x) {
            const double amplitude = std::sqrt(glass) + (std::sqrt(ferrule) - std::sqrt(glass)) * coherent(x, 0.28);
            return coherence * amplitude * amplitude + (1 - coherence) * (glass + (ferrule - glass) * incoherent(x, 0.3));
        };
        const double off = offOf(light, 0.1);
        QVERIFY2(std::abs(off) < 0.6, qPrintable(QString("%1 um").arg(off)));  // 1 % of its radius
    }
    void aRampOfFlareIsNoLine()
    {
        // the ferrule's light reaches a little over the glass before the step
        const auto light = [](double x) { return 65 + 7 * incoherent(x + 0.9, 0.4) + 38 * incoherent(x - 0.5, 0.4); };
        QVERIFY(std::abs(offOf(light, 0.5)) < 0.5);
    }
};

QTEST_APPLESS_MAIN(TestEdgeProfile)
#include "test_edge_profile.moc"
