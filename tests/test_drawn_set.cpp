// What benchmarks/drawn_set draws: its truth must be true, or what is measured against it is worth nothing.
#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "benchmarks/drawn_set/camera.h"
#include "benchmarks/drawn_set/lens.h"
#include "benchmarks/drawn_set/scene.h"

using namespace clendo;
using namespace clendo::drawn;

namespace {

Plane emptyPlane(double light = 1)
{
    Plane plane;
    plane.step = 0.2;
    plane.light = cv::Mat1f(500, 600, static_cast<float>(light));
    plane.centre = {300, 250};
    return plane;
}

/// Size of what takes at least half of what the thing takes, um.
double sizeDrawn(const Thing& thing, const Plane& plane)
{
    const Shade shade = shadeOf(thing, plane);
    std::vector<cv::Point> dark;
    for (int y = 0; y < shade.leaves.rows; ++y)
        for (int x = 0; x < shade.leaves.cols; ++x)
            if (1 - double(shade.leaves(y, x)) > thing.takes / 2) dark.emplace_back(x, y);
    cv::Point2f middle;
    float radius = 0;
    cv::minEnclosingCircle(dark, middle, radius);
    return 2 * double(radius) * plane.step;
}

}  // namespace

class TestDrawnSet : public QObject {
    Q_OBJECT
private slots:
    void thingsAreAsLargeAsTheirTruthSays_data()
    {
        QTest::addColumn<int>("what");
        const char* names[] = {"speck", "flake", "pit", "chip", "film"};
        for (int what = 0; what < 5; ++what)
            for (int seed = 1; seed < 5; ++seed) QTest::addRow("%s %d", names[what], seed) << what * 100 + seed;
    }
    void thingsAreAsLargeAsTheirTruthSays()
    {
        QFETCH(int, what);
        Dice dice(static_cast<unsigned>(what));
        Thing t;
        switch (what / 100) {
            case 0: t = speck(dice, {10, -8}, 6); break;
            case 1: t = flake(dice, {-12, 5}, 9); break;
            case 2: t = pit(dice, {3, 20}, 5); break;
            case 3: t = chip(dice, 40, 6); break;
            default: t = film(dice, {5, -5}, 16); break;
        }
        t.body = Body::Even;
        t.soft = 0;
        t.takes = std::abs(t.takes);
        Plane fine = emptyPlane();  // so that sharp corners are not lost between its points
        fine.step = 0.1;
        fine.light = cv::Mat1f(1000, 1200, 1.0F);
        fine.centre = {600, 500};
        const double drawn = sizeDrawn(t, fine);
        QVERIFY2(std::abs(drawn - t.truth.size.value()) < 0.45, qPrintable(QString("%1 for %2").arg(drawn).arg(t.truth.size.value())));
        QVERIFY(t.truth.width <= t.truth.size && t.truth.nearest <= t.truth.farthest);
        // its nearest point is no farther than its middle, and the circle around it bounds both
        const double middle = std::hypot(t.truth.centre.x.value(), t.truth.centre.y.value()), half = t.truth.size.value() / 2;
        QVERIFY(t.truth.nearest.value() >= middle - half - 0.01 && t.truth.farthest.value() <= middle + half + 0.01);
    }
    void aScratchIsAsWideAsItsTruthSays()
    {
        for (const double width : {0.8, 2.0, 4.0}) {
            Dice dice(7);
            Thing t = scratch(dice, {0, 0}, 0, 60, width);
            t.body = Body::Even;
            t.strength.clear();
            const Shade shade = shadeOf(t, emptyPlane());
            const double area = double(cv::sum(1.0 - shade.leaves)[0]) / t.takes * 0.2 * 0.2;
            QVERIFY2(std::abs(area / t.truth.length.value() - width) < 0.1 * width, qPrintable(QString::number(area / t.truth.length.value())));
            QCOMPARE(t.truth.width.value(), width);
            QVERIFY(t.truth.kind == FindingKind::Scratch && t.truth.nearest.value() < width);
        }
    }
    void whatCoversTheMiddleIsNearestThere()
    {
        Dice dice(3);
        QCOMPARE(pit(dice, {0.5, 0.5}, 6).truth.nearest.value(), 0.0);
        QVERIFY(pit(dice, {10, 0}, 6).truth.nearest.value() > 6);
    }
    void theGapBetweenThingsIsThatOfTheirOutlines()
    {
        Dice dice(5);
        const Thing a = pit(dice, {0, 0}, 4), b = pit(dice, {9, 0}, 4), over = pit(dice, {1, 1}, 4);
        QVERIFY(std::abs(gapBetween(a, b) - 5) < 1.2);
        QCOMPARE(gapBetween(a, b), gapBetween(b, a));
        QCOMPARE(gapBetween(a, over), 0.0);
    }
    void aLensKeepsTheLight_data()
    {
        QTest::addColumn<double>("defocus");
        for (const double defocus : {0.0, 0.3, 3.0}) QTest::addRow("%.1f waves", defocus) << defocus;
    }
    void aLensKeepsTheLight()
    {
        QFETCH(double, defocus);
        Lens lens, sharp;
        lens.defocus = defocus;
        QVERIFY(std::abs(cv::sum(lens.spread(0.2))[0] - 1) < 1e-4);
        // a diffraction-limited lens is 0.51 wavelengths over its aperture wide (Goodman, 6.3), and no error makes it narrower
        QVERIFY(std::abs(sharp.width(0.05) - 0.51 * sharp.wavelength / sharp.aperture) < 0.08);
        QVERIFY(lens.width(0.1) >= sharp.width(0.1) - 1e-9);
        cv::Mat1f light(300, 300, 0.5F);
        cv::circle(light, {150, 150}, 30, cv::Scalar(1), cv::FILLED);
        const double before = cv::mean(light)[0];
        lens.blur(light, 0.2);
        QVERIFY(std::abs(cv::mean(light)[0] - before) < 0.01 * before);
    }
    void theGlassIsAsLargeAsItsSurroundingsSay()
    {
        Plane plane = emptyPlane(0);
        Surroundings face;
        face.claddingRadius = 40;  // fits the plane
        face.coreLight = 0;
        face.ringWidth = 3;
        face.ringLight = 0.3;
        face.ferruleLight = 0.6;
        face.grain = face.polish = 0;
        Dice dice(2);
        drawSurroundings(plane, face, {}, dice);
        const auto level = [&](double um) { return double(plane.light(250, 300 + cvRound(um / plane.step))); };
        QVERIFY(std::abs(level(39) - 1) < 0.01 && std::abs(level(41.5) - 0.3) < 0.01 && std::abs(level(44) - 0.6) < 0.01);
    }
    void aCameraShowsTheLightItGets()
    {
        Camera camera;
        camera.tilt = 0;
        camera.corners = 1;
        camera.full = 1e6;
        camera.read = 0.1;
        camera.grey = 120;
        Dice dice(4);
        const cv::Mat1f light(120, 160, 1.0F);
        const cv::Mat seen = camera.expose(light, {80, 60}, 30, 60, dice);
        QCOMPARE(seen.channels(), 1);
        const double mean = cv::mean(seen)[0];  // and its own black level
        QVERIFY2(mean > 119 && mean < 134, qPrintable(QString::number(mean)));
        camera.border = Border::Window;
        const cv::Mat window = camera.expose(light, {80, 60}, 20, 30, dice);
        QVERIFY(int(window.at<std::uint8_t>(60, 80)) > 100 && int(window.at<std::uint8_t>(2, 2)) < 40);
        camera.mosaic = true;
        QCOMPARE(camera.expose(light, {80, 60}, 20, 30, dice).channels(), 3);
        camera.enlarged = 1.5;
        QCOMPARE(camera.expose(light, {80, 60}, 20, 30, dice).cols, 240);
    }
    void theSameSeedDrawsTheSame()
    {
        Dice one(9), same(9), other(10);
        const Thing a = speck(one, {0, 0}, 5), b = speck(same, {0, 0}, 5), c = speck(other, {0, 0}, 5);
        QCOMPARE(a.truth.size.value(), b.truth.size.value());
        QCOMPARE(a.takes, b.takes);
        QVERIFY(a.takes != c.takes);
    }
};

QTEST_APPLESS_MAIN(TestDrawnSet)
#include "test_drawn_set.moc"
