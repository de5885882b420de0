#include <QtTest>
#include <algorithm>

#include "contrast_maps.h"

using namespace clendo::face;
using namespace clendo::face::maps;

namespace {

/// `window`: um from the fibre's middle to its border; beyond it nothing is seen.
std::vector<Piece> found(cv::Mat1f glass, cv::Mat1f ferrule, double window)
{
    for (cv::Mat1f* map : {&glass, &ferrule}) cv::GaussianBlur(*map, *map, {}, 0.8);
    Flattened around = ferruleOf(ferrule);
    cv::Mat1b seen(around.judged.size(), std::uint8_t{0});
    cv::circle(seen, onFerrule(0, 0), cvRound(window * ppu), 255, cv::FILLED);
    around.judged.setTo(0, ~seen);
    around.contrast.setTo(0, ~seen);
    return segment(glassOf(glass), [&] { return around; }, {ppu, 1, 5 * ppu, cladding, true});
}

}  // namespace

/// What lies across the rim of the glass, or ends at it.
class TestRimThings : public QObject {
    Q_OBJECT
private slots:
    void aDropletAcrossTheRimIsOneThing_data()
    {
        QTest::addColumn<double>("radius");  // um
        QTest::addColumn<double>("speck");   // contrast of what lies in it
        QTest::addColumn<int>("things");
        QTest::newRow("with light in its middle") << 16.0 << 0.15 << 1;
        QTest::newRow("with a faint shadow in it") << 20.0 << -0.12 << 1;
        QTest::newRow("with a particle under it") << 16.0 << -0.5 << 2;
        QTest::newRow("lint that curls around a speck") << 38.0 << 0.15 << 2;
    }
    void aDropletAcrossTheRimIsOneThing()
    {
        QFETCH(double, radius);
        QFETCH(double, speck);
        QFETCH(int, things);
        cv::Mat1f glass(320, 320, 0.0F);
        cv::circle(glass, at(0, 56), cvRound(radius * ppu), cv::Scalar(-0.3), cvRound(2.5 * ppu));
        cv::circle(glass, at(0, 53), cvRound(2 * ppu), cv::Scalar(speck), cv::FILLED);
        const auto pieces = found(glass, cv::Mat1f(720, 720, 0.0F), 140);
        QCOMPARE(pieces.size(), std::size_t(things));
        const bool droplet = std::any_of(pieces.begin(), pieces.end(), [](const Piece& p) { return p.hollow; });
        QCOMPARE(droplet, radius < 30);
    }
    void whatEndsAtAWindowsBorderIsNotAtTheGlass()
    {
        cv::Mat1f glass(320, 320, 0.0F), ferrule(720, 720, 0.0F);
        cv::line(glass, at(30, -5), at(75, -5), cv::Scalar(-0.4), 4);
        cv::line(ferrule, onFerrule(60, -5), onFerrule(78, -5), cv::Scalar(-0.4), 4);
        cv::line(ferrule, onFerrule(76, 1), onFerrule(82, 16), cv::Scalar(0.4), 4);
        const auto pieces = found(glass, ferrule, 80);
        QCOMPARE(pieces.size(), std::size_t{2});
        const auto dark = std::find_if(pieces.begin(), pieces.end(), [](const Piece& p) { return p.contrast < 0; });
        QVERIFY(dark != pieces.end());
        QVERIFY2(std::abs(2 * dark->radius / ppu - 48) < 3, qPrintable(QString::number(2 * dark->radius / ppu)));
    }
};

QTEST_APPLESS_MAIN(TestRimThings)
#include "test_rim_things.moc"
