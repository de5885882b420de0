#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "face/noise/map_noise.h"
#include "face/size/rings.h"
#include "face/size/small_discs.h"

using namespace clendo;
using namespace clendo::face;

namespace {

/// A faint disc in the glass's map, in noise, with the piece that its outline might give.
struct Speck {
    Flattened glass;
    Piece piece;

    /// `hollow`: px of its middle that are like the glass; its outline is none of their business. `slender`: how much longer than wide, aslant.
    Speck(double diameter, double contrast, double noise, double sigma, int seed, double hollow = 0, double slender = 1)
    {
        cv::Mat1f fine(400, 400, 0.0F), grain(100, 100);
        const cv::Size2f size(static_cast<float>(diameter * 4), static_cast<float>(diameter * 4 / slender));
        if (slender > 1)
            cv::ellipse(fine, cv::RotatedRect({203, 201}, size, 25), cv::Scalar(contrast), cv::FILLED);
        else
            cv::circle(fine, {203, 201}, cvRound(diameter * 2), cv::Scalar(contrast), cv::FILLED, cv::LINE_8);
        if (hollow > 0) cv::circle(fine, {203, 201}, cvRound(hollow * 2), cv::Scalar(0), cv::FILLED, cv::LINE_8);
        cv::resize(fine, glass.contrast, grain.size(), 0, 0, cv::INTER_AREA);
        cv::GaussianBlur(glass.contrast, glass.contrast, {}, sigma);
        double low = 0, high = 0;
        cv::minMaxLoc(glass.contrast, &low, &high);
        piece.contrast = contrast < 0 ? low : high;
        cv::RNG random(static_cast<std::uint64_t>(seed));
        random.fill(grain, cv::RNG::NORMAL, 0, noise);
        glass.contrast += grain;
        glass.judged = cv::Mat1b(100, 100, std::uint8_t{255});
        const double seen = std::max(diameter, 2.3 * sigma) / 2 + 0.4;
        for (double a = 0; a < 6.28; a += 0.1)
            piece.outline.emplace_back(static_cast<float>(50.4 + seen * std::cos(a)), static_cast<float>(49.9 + seen * std::sin(a)));
        piece.area = 3.14 * seen * seen / slender;
        piece.enclose();
    }
};

}  // namespace

/// How large things are that the blur hardly lets be seen.
class TestSmallThings : public QObject {
    Q_OBJECT
private slots:
    void aFaintSpeckIsMeasuredThroughNoise_data()
    {
        QTest::addColumn<double>("diameter");  // px
        QTest::addColumn<double>("contrast");
        QTest::newRow("hardly larger than the blur") << 2.0 << -0.45;
        QTest::newRow("small and bright") << 2.0 << 0.45;
        QTest::newRow("three pixels") << 3.0 << -0.3;
        QTest::newRow("five pixels") << 5.0 << -0.25;
    }
    void aFaintSpeckIsMeasuredThroughNoise()
    {
        QFETCH(double, diameter);
        QFETCH(double, contrast);
        double sum = 0;
        for (int seed = 1; seed <= 8; ++seed) {
            const Speck speck(diameter, contrast, 0.03, 1.0, seed);
            const SmallDiscs discs(speck.glass, 1.0, noiseOf(speck.glass));
            sum += discs.diameter(speck.piece) / 8;
        }
        QVERIFY2(std::abs(sum - diameter) < 0.5, qPrintable(QString::number(sum)));
    }
    void aDropletWhoseMiddleHardlyShowsIsNoLargerThanItIs()
    {
        double sum = 0;
        for (int seed = 1; seed <= 8; ++seed) {
            const Speck droplet(5, -0.35, 0.015, 1.0, seed, 3.2);
            sum += SmallDiscs(droplet.glass, 1.0, noiseOf(droplet.glass)).diameter(droplet.piece) / 8;
        }
        QVERIFY2(std::abs(sum - 5) < 0.45, qPrintable(QString::number(sum)));  // a disc that fits as well has 6.2
    }
    void aSlenderSpeckIsAsLongAsItIs()
    {
        double sum = 0;
        for (int seed = 1; seed <= 8; ++seed) {
            const Speck speck(6, -0.3, 0.02, 1.0, seed, 0, 1.8);
            sum += SmallDiscs(speck.glass, 1.0, noiseOf(speck.glass)).diameter(speck.piece) / 8;
        }
        QVERIFY2(std::abs(sum - 6) < 0.6, qPrintable(QString::number(sum)));  // a disc of its area has 4.5
    }
    void whatStandsClearOrIsNoDiscIsMeasuredByItsOutline()
    {
        const Speck faint(3, -0.2, 0.02, 1.0, 1);
        const SmallDiscs discs(faint.glass, 1.0, noiseOf(faint.glass));
        QVERIFY(discs.weight(faint.piece) > 0.4);
        const auto weightIf = [&](auto change) {
            Piece other = faint.piece;
            change(other);
            return discs.weight(other);
        };
        QCOMPARE(weightIf([](Piece& p) { p.contrast = -0.6; }), 0.0);
        QCOMPARE(weightIf([](Piece& p) { p.hollow = true; }), 0.0);
        QCOMPARE(weightIf([](Piece& p) { p.atRim = true; }), 0.0);
        QCOMPARE(weightIf([](Piece& p) { p.area *= 0.5; }), 0.0);  // slender
        const auto large = [](Piece& p) {
            p.area *= 36 / (p.radius * p.radius);
            p.radius = 6;
        };
        QCOMPARE(weightIf(large), 0.0);
        QVERIFY(weightIf([&](Piece& p) {
                    large(p);
                    p.smoothing = 2;
                }) > 0.4);  // found in averages, whose outlines are vague
        Flattened rounded = faint.glass;
        rounded.rounding = 0.05;
        QVERIFY(SmallDiscs(rounded, 1.0, noiseOf(rounded)).weight(faint.piece) > discs.weight(faint.piece));
    }

    void aSmallDropletEndsWhereItsRimDoes_data()
    {
        QTest::addColumn<double>("diameter");  // px
        QTest::addColumn<double>("contrast");
        QTest::addColumn<double>("rim");  // px
        for (const double d : {7.0, 12.0, 30.0})
            for (const double c : {-0.3, 0.3})
                for (const double r : {1.0, 2.0}) QTest::addRow("%.0f px, contrast %.1f, rim %.0f px", d, c, r) << d << c << r;
    }
    void aSmallDropletEndsWhereItsRimDoes()
    {
        QFETCH(double, diameter);
        QFETCH(double, contrast);
        QFETCH(double, rim);
        // the outline found goes round a disc
        const Speck speck(diameter, contrast, 0.005, 1.0, 3, diameter - 2 * rim);
        const auto seen = ringDiameter(speck.glass, speck.piece, 1.0, noiseOf(speck.glass));
        QVERIFY(seen.has_value());
        QVERIFY2(std::abs(*seen - diameter) < 0.8, qPrintable(QString::number(*seen)));
    }
    void whatIsFilledOrLostInNoiseIsNoDroplet()
    {
        for (int seed = 1; seed <= 8; ++seed) {
            const Speck disc(8, -0.3, 0.03, 1.0, seed), faint(8, -0.08, 0.06, 1.0, seed, 4);
            QVERIFY(!ringDiameter(disc.glass, disc.piece, 1.0, noiseOf(disc.glass)));
            QVERIFY(!ringDiameter(faint.glass, faint.piece, 1.0, noiseOf(faint.glass)));
        }
        Speck rim(8, -0.3, 0.005, 1.0, 1, 4);
        rim.piece.atRim = true;
        QVERIFY(!ringDiameter(rim.glass, rim.piece, 1.0, noiseOf(rim.glass)));
    }
};
QTEST_APPLESS_MAIN(TestSmallThings)
#include "test_small_things.moc"
