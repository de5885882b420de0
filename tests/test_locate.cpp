#include <QtTest>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <random>

#include "face/find/locate.h"
#include "face/find/row.h"

using namespace clendo::face;

namespace {

struct Look {
    double x = 0, y = 0, radius = 0;
    double blur = 1, ring = 3;  ///< pixels
    double inside = 110, outside = 150, line = 40;
};

/// Glass with a dark line around it in a ferrule, drawn by what lies where; then noise.
cv::Mat1b drawn(cv::Size size, const std::vector<Look>& fibres, double noise = 2, unsigned seed = 1)
{
    cv::Mat1f picture(size, static_cast<float>(fibres.front().outside));
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            for (const auto& f : fibres) {
                const double r = std::hypot(x - f.x, y - f.y) - f.radius;
                if (r > f.ring + 6 * f.blur) continue;
                const auto step = [&](double t) { return 0.5 * std::erfc(-t / (f.blur * std::sqrt(2.0))); };
                picture(y, x) = static_cast<float>(f.inside + (f.line - f.inside) * step(r) + (f.outside - f.line) * step(r - f.ring));
            }
    std::mt19937 random(seed);
    std::normal_distribution<float> grain(0, static_cast<float>(noise));
    for (auto& v : picture) v += grain(random);
    cv::Mat1b out;
    picture.convertTo(out, CV_8U);
    return out;
}

}  // namespace

/// Where the fibre is: coarse circles by vote, then its edge to parts of a pixel.
class TestLocate : public QObject {
    Q_OBJECT
private slots:
    void theEdgeIsFoundToPartsOfAPixel_data()
    {
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("height");
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("blur");
        QTest::addColumn<double>("inside");
        QTest::newRow("small") << 640 << 480 << 72.3 << 0.8 << 110.0;
        QTest::newRow("usual") << 1280 << 960 << 201.4 << 1.4 << 110.0;
        QTest::newRow("large") << 1920 << 1440 << 310.2 << 2.5 << 110.0;
        QTest::newRow("glass as bright as the ferrule") << 1024 << 768 << 160.7 << 1.2 << 150.0;
        QTest::newRow("glass brighter than the ferrule") << 800 << 600 << 120.9 << 1.0 << 200.0;
        QTest::newRow("soft") << 1280 << 960 << 201.4 << 4.0 << 110.0;
        QTest::newRow("a wide picture that no factor divides") << 1366 << 437 << 90.6 << 1.0 << 110.0;
    }
    void theEdgeIsFoundToPartsOfAPixel()
    {
        QFETCH(int, width);
        QFETCH(int, height);
        QFETCH(double, radius);
        QFETCH(double, blur);
        QFETCH(double, inside);
        for (const auto& [x, y] : {std::pair(0.5, 0.5), {0.43, 0.58}, {0.37, 0.45}}) {
            Look look{x * width + 0.3, y * height - 0.2, radius, blur};
            look.inside = inside;
            const auto picture = drawn({width, height}, {look});
            const auto coarse = locate(picture, std::nullopt, 1);
            QVERIFY(!coarse.empty());
            QVERIFY(std::hypot(coarse[0].x - look.x, coarse[0].y - look.y) < 0.04 * radius + 2);
            QVERIFY2(std::abs(coarse[0].radius - radius) < 0.05 * radius + look.ring, qPrintable(QString::number(coarse[0].radius)));
            const auto edge = refine(picture, coarse[0]);
            QVERIFY(edge);
            QVERIFY(std::hypot(edge->circle.x - look.x, edge->circle.y - look.y) < 0.25);
            QVERIFY2(std::abs(edge->circle.radius - radius) < 0.3 + 0.15 * blur, qPrintable(QString::number(edge->circle.radius)));
            QVERIFY2(std::abs(edge->blur / blur - 1) < 0.35, qPrintable(QString::number(edge->blur)));
            QVERIFY(edge->coverage > 0.9);
        }
    }
    void dirtOnTheEdgeDoesNotMoveIt()
    {
        const Look look{400.4, 300.7, 150.2};
        cv::Mat1b picture = drawn({800, 600}, {look});
        for (const double angle : {0.2, 1.1, 3.9})
            cv::circle(picture, cv::Point(int(look.x + 152 * std::cos(angle)), int(look.y + 152 * std::sin(angle))), 18, 25, cv::FILLED);
        const auto edge = refine(picture, locate(picture, std::nullopt, 1).at(0));
        QVERIFY(edge);
        QVERIFY(std::hypot(edge->circle.x - look.x, edge->circle.y - look.y) < 0.3);
        QVERIFY(std::abs(edge->circle.radius - look.radius) < 0.4);
    }
    void aWideHoleIsNotTheFibre_data()
    {
        QTest::addColumn<double>("off");  // of the hole's centre, pixels
        QTest::addColumn<double>("wider");
        QTest::newRow("all around") << 0.0 << 9.0;
        QTest::newRow("a crescent") << 6.0 << 6.5;
        QTest::newRow("a thin crescent") << 3.0 << 4.0;
    }
    void aWideHoleIsNotTheFibre()
    {
        QFETCH(double, off);
        QFETCH(double, wider);
        const Look look{401.2, 300.6, 150.4};
        cv::Mat1b picture = drawn({800, 600}, {look});
        for (int y = 0; y < picture.rows; ++y)
            for (int x = 0; x < picture.cols; ++x)
                if (std::hypot(x - look.x, y - look.y) > look.radius + 1 && std::hypot(x - look.x - off, y - look.y) < look.radius + wider)
                    picture(y, x) = 30;
        const auto edge = refine(picture, locate(picture, std::nullopt, 1).at(0));
        QVERIFY(edge);
        QVERIFY(std::hypot(edge->circle.x - look.x, edge->circle.y - look.y) < 0.5);
        QVERIFY2(std::abs(edge->circle.radius - look.radius) < 0.8, qPrintable(QString::number(edge->circle.radius)));
    }
    void aRowIsFoundWhole_data()
    {
        QTest::addColumn<int>("fibres");
        for (const int n : {2, 4, 8, 12}) QTest::addRow("%d fibres", n) << n;
    }
    void aRowIsFoundWhole()
    {
        QFETCH(int, fibres);
        constexpr double radius = 71.5, pitch = 4 * 71.5;
        std::vector<Look> row;
        for (int n = 0; n < fibres; ++n) row.push_back({pitch * (n + 0.5), 220 + 2.0 * n, radius, 1.0});
        const auto picture = drawn({static_cast<int>(pitch * fibres), 440}, row);
        auto found = locate(picture, std::nullopt, fibres);
        QCOMPARE(int(found.size()), fibres);
        std::sort(found.begin(), found.end(), [](const Circle& a, const Circle& b) { return a.x < b.x; });
        for (std::size_t n = 0; n < found.size(); ++n) {
            QVERIFY(std::hypot(found[n].x - row[n].x, found[n].y - row[n].y) < 0.1 * radius);
            const auto edge = refine(picture, found[n]);
            QVERIFY(edge && std::abs(edge->circle.radius - radius) < 0.4);
        }
    }
    void whatLiesWithinTheCladdingIsNotIt_data()
    {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("blur");
        QTest::addColumn<double>("inside");
        QTest::addColumn<double>("line");  // grey of the cladding's own
        QTest::newRow("a multimode core") << 402.0 << 68.0 << 1.5 << 150.0 << 40.0;
        QTest::newRow("a soft core that is lit, seen as small") << 402.0 << 62.0 << 9.0 << 235.0 << 70.0;
        QTest::newRow("a droplet stronger than the cladding's line") << 330.0 << 64.0 << 1.0 << 60.0 << 96.0;
    }
    void whatLiesWithinTheCladdingIsNotIt()
    {
        QFETCH(double, x);
        QFETCH(double, radius);
        QFETCH(double, blur);
        QFETCH(double, inside);
        QFETCH(double, line);
        Look cladding{402, 298, 200};
        cladding.line = line;
        const Look within{x, 298, radius, blur, 0.5, inside, 110, (inside + 110) / 2};
        cv::Mat1b picture = drawn({800, 600}, {cladding});
        const cv::Mat1b drawnWithin = drawn({800, 600}, {within});
        for (int y = 0; y < picture.rows; ++y)
            for (int px = 0; px < picture.cols; ++px)
                if (std::hypot(px - within.x, y - within.y) < radius + 4 * blur && std::hypot(px - cladding.x, y - cladding.y) < 190)
                    picture(y, px) = drawnWithin(y, px);
        const auto found = locate(picture, std::nullopt, 1);
        QVERIFY(!found.empty());
        QVERIFY2(std::abs(found[0].radius - cladding.radius) < 12, qPrintable(QString::number(found[0].radius)));
        QVERIFY(std::hypot(found[0].x - cladding.x, found[0].y - cladding.y) < 15);
    }
    void whereOnlyCoresShowThePitchTellsTheCladding()
    {
        std::vector<Look> cores;
        for (int n = 0; n < 6; ++n) cores.push_back({580.0 * n + 300, 330, 68, 1.5, 0.5, 170, 120, 150});
        cores.front().outside = 120;  // what is around them all
        const auto found = locate(drawn({3500, 660}, cores), std::nullopt, 6);
        QCOMPARE(found.size(), cores.size());
        for (const auto& circle : found) QVERIFY2(std::abs(circle.radius - 145) < 4, qPrintable(QString::number(circle.radius)));
    }
    void placesThatARowLeavesOutAreFilled_data()
    {
        QTest::addColumn<QList<int>>("found");  // of twelve
        QTest::addColumn<int>("places");
        QTest::newRow("all") << QList<int>{0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11} << 12;
        QTest::newRow("one missing within") << QList<int>{0, 1, 2, 3, 5, 6, 7, 8, 9, 10, 11} << 12;
        QTest::newRow("both ends missing") << QList<int>{2, 3, 4, 5, 6, 7, 8} << 12;
        QTest::newRow("three as large as their pitch tells") << QList<int>{4, 5, 6} << 12;
        QTest::newRow("too few to know the pitch") << QList<int>{4, 5} << 2;
        QTest::newRow("no even row") << QList<int>{0, 1, 20, 25} << 4;
    }
    void placesThatARowLeavesOutAreFilled()
    {
        QFETCH(QList<int>, found);
        QFETCH(int, places);
        constexpr double radius = 71.5, pitch = 4 * radius;
        std::vector<Circle> row;
        for (const int n : found) row.push_back({(n < 20 ? n : 0.37 * n) * pitch + 150.0, 200 + 2.0 * n, radius, 0.8});
        fillRow(row, {static_cast<int>(11 * pitch) + 300, 440});
        QCOMPARE(int(row.size()), places);
        if (places < 12) return;
        for (int n = 0; n < places; ++n) {
            const auto& c = row[static_cast<std::size_t>(n)];
            QVERIFY(std::hypot(c.x - n * pitch - 150, c.y - 200 - 2.0 * n) < 2);
            QCOMPARE(c.support > 0, found.contains(n));
        }
    }
    void theSureOnesOfARowTellWhereTheOthersLie_data()
    {
        QTest::addColumn<QList<int>>("sure");  // places of them, of a row of eight
        QTest::addColumn<double>("radius");    // px; the pitch is 400
        QTest::addColumn<bool>("told");
        QTest::newRow("all but one") << QList<int>{0, 1, 2, 4, 5, 6, 7} << 100.0 << true;
        QTest::newRow("four of them") << QList<int>{1, 2, 3, 6} << 100.0 << true;
        QTest::newRow("three are too few") << QList<int>{1, 2, 3} << 100.0 << false;
        QTest::newRow("cores, not claddings") << QList<int>{0, 1, 2, 4, 5, 6, 7} << 40.0 << false;
    }
    void theSureOnesOfARowTellWhereTheOthersLie()
    {
        QFETCH(QList<int>, sure);
        QFETCH(double, radius);
        QFETCH(bool, told);
        std::vector<Circle> row, known;
        for (int n = 0; n < 8; ++n) row.push_back({300 + 400.0 * n + (n == 3 ? 12 : 0), 200 + 2.0 * n, 108, 0.3});  // the fourth was found aside
        for (const int n : sure) known.push_back({300 + 400.0 * n, 200 + 2.0 * n, radius, 1});
        const auto places = evenPlaces(row, known);
        QCOMPARE(places.size(), std::size_t(told ? 8 : 0));
        for (std::size_t n = 0; n < places.size(); ++n)
            QVERIFY(std::hypot(places[n].x - (300 + 400.0 * double(n)), places[n].y - (200 + 2.0 * double(n))) < 0.01 && places[n].radius == radius);
    }
    void aLineHardlyDarkerThanTheGlassStillEndsIt()
    {
        Look look{402.3, 298.6, 170.4, 1.2, 7};
        look.inside = 100;
        look.line = 91;
        const auto picture = drawn({800, 600}, {look});
        const auto edge = refine(picture, locate(picture, std::nullopt, 1).at(0));
        QVERIFY(edge);
        QVERIFY2(std::abs(edge->circle.radius - look.radius) < 0.6, qPrintable(QString::number(edge->circle.radius)));
    }
    void theGlassEndsWhereItsLineBegins_data()
    {
        QTest::addColumn<double>("inside");
        QTest::addColumn<double>("line");
        QTest::addColumn<double>("outside");
        QTest::addColumn<double>("allowed");
        QTest::newRow("a bright line about bright glass") << 150.0 << 200.0 << 120.0 << 0.8;
        QTest::newRow("a bright line about dark glass") << 90.0 << 170.0 << 120.0 << 0.8;
        QTest::newRow("a line between glass and ferrule") << 90.0 << 105.0 << 160.0 << 0.8;
        QTest::newRow("a line like the glass: it ends somewhere within") << 90.0 << 90.0 << 160.0 << 6.0;
        QTest::newRow("a black line") << 110.0 << 0.0 << 150.0 << 0.5;
    }
    void theGlassEndsWhereItsLineBegins()
    {
        QFETCH(double, inside);
        QFETCH(double, line);
        QFETCH(double, outside);
        QFETCH(double, allowed);
        Look look{402.3, 298.6, 170.4, 1.2, 6};
        look.inside = inside;
        look.line = line;
        look.outside = outside;
        const auto picture = drawn({800, 600}, {look});
        const auto edge = refine(picture, locate(picture, std::nullopt, 1).at(0));
        QVERIFY(edge);
        QVERIFY2(std::abs(edge->circle.radius - look.radius) < allowed, qPrintable(QString::number(edge->circle.radius)));
        QVERIFY2(edge->mostBlur < 2, qPrintable(QString::number(edge->mostBlur)));
    }
    void aLensFarOutOfFocusDrawsNoLineBetweenGlassAndFerrule_data()
    {
        QTest::addColumn<double>("radius");
        QTest::addColumn<double>("defocus");  // radius of the disc of light, pixels
        for (const auto& [radius, defocus] : {std::pair(208.3, 12.0), {208.3, 14.5}, {78.1, 5.2}, {150.2, 9.0}})
            QTest::addRow("%g over %g px", defocus, radius) << radius << defocus;
    }
    void aLensFarOutOfFocusDrawsNoLineBetweenGlassAndFerrule()
    {
        QFETCH(double, radius);
        QFETCH(double, defocus);
        constexpr int fine = 16;
        const int half = static_cast<int>(defocus) + 2, side = 2 * half + 1;
        cv::Mat1f light(side * fine, side * fine, 0.0F);
        cv::circle(light, {side * fine / 2, side * fine / 2}, cvRound(defocus * fine), cv::Scalar(1), cv::FILLED);
        cv::Mat1f kernel;
        cv::resize(light, kernel, {side, side}, 0, 0, cv::INTER_AREA);
        kernel /= cv::sum(kernel)[0];
        const cv::Mat1b sharp = drawn({800, 600}, {{402.3, 298.6, radius, 1.0, 0.021 * radius}}, 0.3);
        cv::Mat1b blurred;
        cv::filter2D(sharp, blurred, -1, kernel, {-1, -1}, 0, cv::BORDER_REPLICATE);
        const auto edge = refine(blurred, locate(blurred, std::nullopt, 1).at(0));
        QVERIFY(edge);
        const double sigma = defocus / 2;
        QVERIFY2(edge->mostBlur > 0.8 * sigma && edge->mostBlur < 1.6 * sigma, qPrintable(QString::number(edge->mostBlur)));
    }
    void aKnownRadiusIsHeld()
    {
        const std::vector<Look> two{{200, 300, 90}, {560, 300, 150}};
        const auto picture = drawn({800, 600}, two);
        QVERIFY(std::abs(locate(picture, 150.0, 1).at(0).x - 560) < 8);
        QVERIFY(std::abs(locate(picture, 90.0, 1).at(0).x - 200) < 8);
    }
    void whereNothingIsNothingIsSupported()
    {
        std::mt19937 random(3);
        cv::Mat1b noise(480, 640);
        for (auto& v : noise) v = static_cast<std::uint8_t>(random() % 256);
        for (const cv::Mat1b& picture : {noise, cv::Mat1b(480, 640, std::uint8_t{120}), cv::Mat1b(12, 640, std::uint8_t{120})})
            for (const auto& circle : locate(picture, std::nullopt, 4)) {
                QVERIFY2(circle.support < 0.5, qPrintable(QString::number(circle.support)));
                if (const auto edge = refine(picture, circle))
                    QVERIFY(edge->coverage < 0.45 || std::abs(edge->insideLevel - edge->outsideLevel) < 12);
            }
    }
};
QTEST_APPLESS_MAIN(TestLocate)
#include "test_locate.moc"
