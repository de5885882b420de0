#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "contrast_maps.h"
#include "face/segment/faint_lines.h"

using namespace clendo::face;
using namespace clendo::face::maps;

namespace {

constexpr double noise = 0.05;

/// A line of 5 pixels from (-20, -20) to (20, 14) um, weaker than the noise of a pixel, smoothed a little.
cv::Mat1f noisyLine(float contrast)
{
    cv::Mat1f map(320, 320, 0.0F), grain(map.size());
    cv::line(map, at(-20, -20), at(20, 14), cv::Scalar(double(contrast)), 5);
    cv::RNG random(4);
    random.fill(grain, cv::RNG::NORMAL, 0, 2.5 * noise);
    map += grain;
    cv::GaussianBlur(map, map, {}, 0.8);
    return map;
}

/// A piece in the shape of a small bar about a point of the map.
Piece bar(cv::Point about, cv::Size size, double contrast)
{
    Piece p;
    for (int x = -size.width; x <= size.width; ++x)
        for (const int y : {-size.height, size.height})
            p.outline.emplace_back(static_cast<float>(about.x + x / 2.0), static_cast<float>(about.y + y / 2.0));
    p.area = size.area();
    p.contrast = contrast;
    p.enclose();
    return p;
}

/// A hint: the middle third of the line.
Piece hint()
{
    Piece p;
    for (double t = 0.35; t < 0.65; t += 0.005)
        for (const double side : {-2.5, 2.5}) {
            const cv::Point2d on = cv::Point2d(at(-20, -20)) * (1 - t) + cv::Point2d(at(20, 14)) * t;
            p.outline.emplace_back(static_cast<float>(on.x - side * 0.65), static_cast<float>(on.y + side * 0.76));
        }
    p.area = 0.3 * 52.5 * ppu * 5;
    p.contrast = -0.2;
    p.enclose();
    return p;
}

}  // namespace

/// Scratches that noise takes apart.
class TestFaintLines : public QObject {
    Q_OBJECT
private slots:
    void aLineTakesThePlaceOfItsFragments()
    {
        const cv::Mat1f map = noisyLine(-0.2F);
        const Flattened glass = glassOf(map.clone());
        std::vector<Piece> pieces{bar(at(-10, -11.5), {6, 4}, -0.3), bar(at(0, -3), {7, 4}, -0.28), bar(at(0, 30), {6, 4}, -0.3)};
        followLines({hint()}, {map, glass, -1, noise, 0.8, ppu}, pieces);
        QCOMPARE(pieces.size(), std::size_t{2});  // what lies elsewhere stays
        const Piece& line = pieces.back();
        QVERIFY2(std::abs(2 * line.radius / ppu - 52.5) < 4, qPrintable(QString::number(2 * line.radius / ppu)));
        const double width = line.area / (2 * line.radius) / ppu;
        QVERIFY2(std::abs(width - 2) < 0.8, qPrintable(QString::number(width)));
        QVERIFY(std::abs(line.contrast + 0.2) < 0.06);
    }
    void whatStandsOutOnALineStays()
    {
        const cv::Mat1f map = noisyLine(-0.2F);
        const Flattened glass = glassOf(map.clone());
        std::vector<Piece> pieces{bar(at(0, -3), {10, 30}, -0.3)};  // wider than the line
        followLines({hint()}, {map, glass, -1, noise, 0.8, ppu}, pieces);
        QCOMPARE(pieces.size(), std::size_t{2});
    }
    void besideSomethingStrongIsNoLine()
    {
        const cv::Mat1f map = noisyLine(-0.2F);
        const Flattened glass = glassOf(map.clone());
        std::vector<Piece> pieces{bar(at(0, 0), {20, 6}, -0.8)};
        followLines({hint()}, {map, glass, -1, noise, 0.8, ppu}, pieces);
        QCOMPARE(pieces.size(), std::size_t{1});
    }
    void noiseAloneGivesNone()
    {
        const cv::Mat1f map = noisyLine(0);
        const Flattened glass = glassOf(map.clone());
        std::vector<Piece> pieces;
        followLines({hint()}, {map, glass, -1, noise, 0.8, ppu}, pieces);
        QVERIFY(pieces.empty());
    }
    void aLineThatIsSeenWholeStaysAsItIs()
    {
        const cv::Mat1f map = noisyLine(-0.2F);
        const Flattened glass = glassOf(map.clone());
        std::vector<Piece> once;
        followLines({hint()}, {map, glass, -1, noise, 0.8, ppu}, once);
        QCOMPARE(once.size(), std::size_t{1});
        std::vector<Piece> twice = once;
        twice.front().contrast = -0.21;
        followLines({hint()}, {map, glass, -1, noise, 0.8, ppu}, twice);
        QCOMPARE(twice.size(), std::size_t{1});
        QCOMPARE(twice.front().contrast, -0.21);
    }

    void theFerruleIsAskedOnlyAboutThinThingsAtTheRim_data()
    {
        QTest::addColumn<int>("to");  // um from the middle
        QTest::addColumn<int>("thickness");
        QTest::addColumn<bool>("asked");
        QTest::newRow("a scratch that ends within") << 40 << 4 << false;
        QTest::newRow("a scratch to the rim") << 70 << 4 << true;
        QTest::newRow("a chip at the rim") << 70 << 60 << false;
    }
    void theFerruleIsAskedOnlyAboutThinThingsAtTheRim()
    {
        QFETCH(int, to);
        QFETCH(int, thickness);
        QFETCH(bool, asked);
        cv::Mat1f map(320, 320, 0.0F);
        cv::line(map, at(to - 30, 5), at(to, 5), cv::Scalar(-0.4), thickness);
        cv::GaussianBlur(map, map, {}, 0.8);
        bool called = false;
        const auto ferrule = [&] {
            called = true;
            return Flattened();
        };
        const auto pieces = segment(glassOf(map), ferrule, {ppu, 1, 5, cladding, false});
        QCOMPARE(pieces.size(), std::size_t{1});
        QCOMPARE(called, asked);
    }
    void whatHooksBeyondTheRimIsOneBentThing()
    {
        cv::Mat1f map(320, 320, 0.0F);
        cv::line(map, at(30, 5), at(70, 5), cv::Scalar(-0.4), 4);
        cv::GaussianBlur(map, map, {}, 0.8);
        cv::Mat1f beyond(720, 720, 0.0F);
        cv::line(beyond, onFerrule(66, 5), onFerrule(67.2, 36), cv::Scalar(-0.4), 6);
        cv::GaussianBlur(beyond, beyond, {}, 0.8);
        const Flattened ferrule = ferruleOf(beyond);
        const auto pieces = segment(glassOf(map), [&] { return ferrule; }, {ppu, 1, 4 * ppu, cladding, false});
        QCOMPARE(pieces.size(), std::size_t{1});
        QVERIFY(pieces.front().region == Region::Glass);
        QVERIFY2(2 * pieces.front().radius / ppu > 40, qPrintable(QString::number(2 * pieces.front().radius / ppu)));
    }
};

QTEST_GUILESS_MAIN(TestFaintLines)
#include "test_faint_lines.moc"
