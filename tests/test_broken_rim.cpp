#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "face/segment/broken_rim.h"
#include "piece_shapes.h"

using namespace clendo;
using namespace clendo::face;

namespace {

constexpr double contrast = -0.2;

/// Clean glass in noise, with room for what is drawn about its middle.
Flattened glass()
{
    Flattened f;
    f.contrast = cv::Mat1f(200, 200, 0.0F);
    f.judged = cv::Mat1b(f.contrast.size(), std::uint8_t{255});
    f.doubt = cv::Mat1f(f.contrast.size(), 0.0F);
    f.origin = {edge.circle.x - 100, edge.circle.y - 100};
    return f;
}
cv::Point at(cv::Point2d um) { return {cvRound(100 + um.x * ppu), cvRound(100 + um.y * ppu)}; }
void ring(Flattened& f, cv::Point2d um, double radius, double degreesLeftOut = 0)
{
    cv::ellipse(f.contrast, at(um), cv::Size(cvRound(radius * ppu), cvRound(radius * ppu)), 0, degreesLeftOut, 360, cv::Scalar(contrast),
                cvRound(1.2 * ppu));
}
void filled(Flattened& f, cv::Point2d um, double radius) { cv::circle(f.contrast, at(um), cvRound(radius * ppu), cv::Scalar(contrast), cv::FILLED); }
void noisy(Flattened& f)
{
    cv::Mat1f noise(f.contrast.size());
    cv::RNG random(8);
    random.fill(noise, cv::RNG::NORMAL, 0, 0.05);
    f.contrast += noise;
}
/// A part of a rim about the middle, degrees.
Piece part(double from, double to, double radius)
{
    std::vector<cv::Point2d> chain;
    for (double a = from; a <= to; a += 2) chain.emplace_back(radius * std::cos(a * CV_PI / 180), radius * std::sin(a * CV_PI / 180));
    return band(chain, 1.2, contrast);
}

}  // namespace

/// A droplet's rim that noise breaks into pieces.
class TestBrokenRim : public QObject {
    Q_OBJECT
private slots:
    void theRimOfADropletIsOneThing_data()
    {
        QTest::addColumn<double>("radius");
        QTest::newRow("small") << 3.2;
        QTest::newRow("middling") << 6.0;
        QTest::newRow("large") << 10.0;
    }
    void theRimOfADropletIsOneThing()
    {
        QFETCH(double, radius);
        Flattened f = glass();
        ring(f, {0, 0}, radius);
        noisy(f);
        std::vector<Piece> pieces{part(0, 80, radius), disc(25, 0, 2), part(110, 210, radius), part(250, 330, radius)};
        pieces[2].stroke = true;
        joinBrokenRims(pieces, f, ppu);
        QCOMPARE(pieces.size(), std::size_t(2));
        const Piece& droplet = pieces[pieces[0].hollow ? 0 : 1];
        QVERIFY(droplet.hollow && !droplet.stroke);
        QVERIFY2(std::abs(2 * droplet.radius / ppu - 2 * radius - 1.2) < 0.7, qPrintable(QString::number(2 * droplet.radius / ppu)));
    }
    void whatIsNoRimStaysInPieces_data()
    {
        QTest::addColumn<std::vector<Piece>>("pieces");
        QTest::addColumn<QString>("drawn");
        QTest::newRow("half of it does not show") << std::vector{part(190, 260, 5), part(290, 350, 5)} << "half";
        QTest::newRow("specks on a circle") << std::vector{disc(3, 0, 1.6), disc(-1.5, 2.6, 1.6), disc(-1.5, -2.6, 1.6)} << "specks";
        QTest::newRow("two things beside each other") << std::vector{disc(-3, 0, 4.4), disc(3, 0, 4.4)} << "two";
        QTest::newRow("a dark thing found in pieces") << std::vector{part(0, 80, 5), part(110, 210, 5)} << "disc";
        QTest::newRow("far apart") << std::vector{part(0, 40, 11), part(180, 220, 11)} << "large";
    }
    void whatIsNoRimStaysInPieces()
    {
        QFETCH(std::vector<Piece>, pieces);
        QFETCH(QString, drawn);
        Flattened f = glass();
        if (drawn == "half") ring(f, {0, 0}, 5, 180);
        if (drawn == "large") ring(f, {0, 0}, 11);
        if (drawn == "disc") filled(f, {0, 0}, 5.5);
        if (drawn == "specks" || drawn == "two")
            for (const Piece& p : pieces) filled(f, (cv::Point2d(p.centre) - cv::Point2d(edge.circle.x, edge.circle.y)) / ppu, p.radius / ppu);
        noisy(f);
        const std::size_t before = pieces.size();
        joinBrokenRims(pieces, f, ppu);
        QCOMPARE(pieces.size(), before);
    }
};

QTEST_GUILESS_MAIN(TestBrokenRim)
#include "test_broken_rim.moc"
