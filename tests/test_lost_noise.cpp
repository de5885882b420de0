#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "drawn_face.h"
#include "face/noise/jpeg_step.h"
#include "face/noise/lost_noise.h"
#include "face/noise/map_noise.h"

using namespace clendo;
using namespace clendo::face;

namespace {

constexpr double ppu = 2;  // of what is drawn here
const cv::Point2d middle = Drawn(120).middle();

/// What JPEG does: the coefficients of each block of 8 by 8 pixels are rounded, fine ones more.
cv::Mat1b compressed(const cv::Mat1b& picture, double step)
{
    cv::Mat1b out = picture.clone();
    for (int y = 0; y + 8 <= picture.rows; y += 8)
        for (int x = 0; x + 8 <= picture.cols; x += 8) {
            cv::Mat1f block;
            picture({x, y, 8, 8}).convertTo(block, CV_32F);
            cv::dct(block, block);
            for (int v = 0; v < 8; ++v)
                for (int u = 0; u < 8; ++u) {
                    const auto q = static_cast<float>(step * std::max(1.0, (u + v) / 3.0));
                    block(v, u) = q * std::round(block(v, u) / q);
                }
            cv::idct(block, block);
            block.convertTo(out({x, y, 8, 8}), CV_8U);
        }
    return out;
}

}  // namespace

/// Pictures whose noise is not what it seems: compressed, of few levels, sharpened.
class TestLostNoise : public QObject {
    Q_OBJECT
private slots:
    void theStepOfJpegIsMeasured_data()
    {
        QTest::addColumn<double>("step");
        QTest::addColumn<double>("noise");
        for (const double step : {4.0, 6.0, 10.0})
            for (const double noise : {0.7, 2.0, 6.0}) QTest::addRow("step %.0f, noise %.1f", step, noise) << step << noise;
    }
    void theStepOfJpegIsMeasured()
    {
        QFETCH(double, step);
        QFETCH(double, noise);
        Drawn face(120);
        for (int i = 0; i < 60; ++i) face.disc({50.0 * std::cos(i * 2.4) * i / 60, 50.0 * std::sin(i * 2.4) * i / 60}, 1.5, 70);
        const double found = jpegStep(compressed(face.seen(noise), step), {middle.x, middle.y, 62.5 * ppu, 1});
        QVERIFY2(std::abs(found - step) < 0.25 * step, qPrintable(QString::number(found)));
    }
    void aPictureThatWasNotCompressedHasNoStep_data()
    {
        QTest::addColumn<double>("noise");
        for (const double noise : {0.0, 0.2, 0.4, 0.7, 2.0, 7.0}) QTest::addRow("noise %.1f", noise) << noise;
    }
    void aPictureThatWasNotCompressedHasNoStep()
    {
        QFETCH(double, noise);
        const cv::Mat1b picture = Drawn(120).seen(noise);
        QCOMPARE(jpegStep(picture, {middle.x, middle.y, 62.5 * ppu, 1}), 0.0);
        if (noise >= 0.4) QCOMPARE(lostNoise(picture, {middle.x, middle.y, 62.5 * ppu, 1}), 0.0);
    }
    void whatCompressionLeavesOfTheRimIsNoThing_data()
    {
        QTest::addColumn<double>("step");
        for (const double step : {8.0, 10.0, 12.0}) QTest::addRow("step %.0f", step) << step;
    }
    void whatCompressionLeavesOfTheRimIsNoThing()
    {
        QFETCH(double, step);
        // coarse pixels, as of a row: a block is 7 um wide
        for (const double line : {30.0, 60.0, 90.0})
            for (int seed = 1; seed < 4; ++seed) {
                const FaceMeasurement m = measured(compressed(Drawn(150, 120, line, 1.15).seen(1.5, seed), step));
                for (const Finding& f : m.findings)
                    QVERIFY2(f.nearest > Micrometre(62.5) || f.size < Micrometre(2), qPrintable(QString("%1 um at %2, %3, line %4, seed %5")
                                                                                                    .arg(f.size.value())
                                                                                                    .arg(f.nearest.value())
                                                                                                    .arg(f.contrast)
                                                                                                    .arg(line)
                                                                                                    .arg(seed)));
            }
        Drawn face(150, 120, 60, 1.15);
        face.disc({55, 8}, 2, 60);  // what lies there shows plainly
        const FaceMeasurement m = measured(compressed(face.seen(1.5), step));
        QVERIFY(std::any_of(m.findings.begin(), m.findings.end(), [](const Finding& f) { return std::abs(f.size.value() - 4) < 1; }));
    }
    void aPictureOfFewLevelsHasLostItsNoise_data()
    {
        QTest::addColumn<double>("noise");
        QTest::addColumn<bool>("lost");
        QTest::newRow("one level all over the glass") << 0.4 << true;
        QTest::newRow("some pixels of another") << 1.5 << true;
        QTest::newRow("noise that reaches over several") << 9.0 << false;
    }
    void aPictureOfFewLevelsHasLostItsNoise()
    {
        QFETCH(double, noise);
        QFETCH(bool, lost);
        cv::Mat1b picture = Drawn(120.6).seen(noise);
        for (auto& grey : picture) grey = static_cast<std::uint8_t>(grey & ~7);
        QCOMPARE(lostNoise(picture, {middle.x, middle.y, 62.5 * ppu, 1}) > 2, lost);
        if (lost) QVERIFY(inGlass(measured(picture)).empty());
    }
    /// Sharpening raises noise above the rim of a droplet but for a spot of it.
    void aDropletInSharpenedNoiseIsNoSpeck_data()
    {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed < 9; ++seed) QTest::addRow("noise %d", seed) << seed;
    }
    void aDropletInSharpenedNoiseIsNoSpeck()
    {
        QFETCH(int, seed);
        Drawn face(150);
        face.disc({18, 14}, 3.5, 108);
        face.disc({18, 14}, 2.3, 147);
        cv::Mat1b blurred, sharpened;
        const cv::Mat1b seen = face.seen(12, seed);
        cv::GaussianBlur(seen, blurred, {}, 1.6);
        cv::addWeighted(seen, 2, blurred, -1, 0, sharpened);
        const auto things = inGlass(measured(sharpened));
        const auto largest = std::max_element(things.begin(), things.end(), [](const Finding& a, const Finding& b) { return a.size < b.size; });
        QVERIFY(largest != things.end());
        QVERIFY2(std::abs(largest->size.value() - 7) < 1.5, qPrintable(QString::number(largest->size.value())));
    }
    void whatCompressionMadeFlatHasLostItsNoise()
    {
        const cv::Mat1b picture = compressed(Drawn(120).seen(1.0), 12);
        QVERIFY(lostNoise(picture, {middle.x, middle.y, 62.5 * ppu, 1}) > 0.5);
    }
    void fewGreyLevelsHideNoise()
    {
        cv::Mat1b picture = Drawn(120).seen(0.8);
        for (auto& p : picture) p = static_cast<std::uint8_t>(p / 4 * 4);
        const double lost = lostNoise(picture, {middle.x, middle.y, 62.5 * ppu, 1});
        QVERIFY2(lost > 1 && lost < 2, qPrintable(QString::number(lost)));
    }

    void theNoiseOfAMap()
    {
        cv::Mat1f map(300, 300);
        cv::RNG random(2);
        random.fill(map, cv::RNG::NORMAL, 0, 0.03);
        map(cv::Rect(0, 0, 60, 60)) = 0.9F;  // a few strong things are not noise
        const cv::Mat1b all(map.size(), std::uint8_t{255}), none(map.size(), std::uint8_t{0});
        QVERIFY(std::abs(noiseOf(map, all) - 0.03) < 0.003);
        QCOMPARE(noiseOf(map, none), 1.0);
        const cv::Mat1f away(cv::Mat(map + 0.5F));
        const Strengths s = strengthsOf(away, all);
        QVERIFY(std::abs(s.typical - 0.5) < 0.01);
        QVERIFY(std::abs(s.spread - 0.03) < 0.004);
    }
};

QTEST_GUILESS_MAIN(TestLostNoise)
#include "test_lost_noise.moc"
