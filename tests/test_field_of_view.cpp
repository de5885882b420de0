// What of a picture its optics show: round windows and bars are no edges of a face, dark corners are no window.
#include <QtTest>
#include <opencv2/imgproc.hpp>
#include <random>

#include "face/find/field_of_view.h"
#include "face/judge/judge_look.h"
#include "world/face_world.h"

using namespace clendo;
using namespace clendo::face;

namespace {

Picture cleanFace()
{
    static const Picture picture = [] {
        world::Camera camera;
        camera.width = 800;
        camera.height = 600;
        camera.scale = Scale(0.55);
        return world::takePicture(world::makeFace(world::Story::Clean, 7), camera);
    }();
    return picture;
}

cv::Mat1b matOf(Picture& picture) { return {picture.height, picture.width, picture.pixels.data()}; }

/// Through a window about the middle of the picture, its edge soft over some pixels, with the noise of a sensor outside.
Picture throughWindow(Picture picture, double radius, double soft, double level, cv::Point2d off = {})
{
    cv::Mat1b p = matOf(picture);
    std::mt19937 dice(3);
    std::normal_distribution noise(level, 1.2);
    for (int y = 0; y < p.rows; ++y)
        for (int x = 0; x < p.cols; ++x) {
            const double d = std::hypot(x - p.cols / 2.0 - off.x, y - p.rows / 2.0 - off.y);
            const double share = 1 / (1 + std::exp((d - radius) / soft));
            p(y, x) = cv::saturate_cast<std::uint8_t>(share * p(y, x) + (1 - share) * noise(dice));
        }
    return picture;
}

/// The share of the ferrule from the cladding, 114 px, to twice of it that lies within a circle beside it.
double ringWithin(double radius, double off)
{
    int inside = 0, all = 0;
    for (int y = -228; y <= 228; ++y)
        for (int x = -228; x <= 228; ++x)
            if (const double r = std::hypot(x, y); r >= 114 && r <= 228) {
                ++all;
                inside += std::hypot(x - off, y) <= radius ? 1 : 0;
            }
    return double(inside) / all;
}

double seenShare(Picture picture)
{
    const FieldOfView field(matOf(picture));
    return field.seen().empty() ? 1 : double(cv::countNonZero(field.seen())) / double(picture.width * picture.height);
}

}  // namespace

class TestFieldOfView : public QObject {
    Q_OBJECT
private slots:
    void aWindowIsNoPartOfTheFace_data()
    {
        QTest::addColumn<double>("radius");  // px; the cladding's is 114
        QTest::addColumn<double>("soft");
        QTest::addColumn<double>("level");
        QTest::addColumn<double>("off");
        QTest::newRow("sharp") << 260.0 << 1.5 << 4.0 << 0.0;
        QTest::newRow("soft") << 280.0 << 8.0 << 4.0 << 0.0;
        QTest::newRow("narrow") << 175.0 << 3.0 << 8.0 << 0.0;
        QTest::newRow("beside the fibre") << 230.0 << 2.0 << 12.0 << 60.0;
        QTest::newRow("quite black") << 260.0 << 2.0 << -20.0 << 20.0;
    }
    void aWindowIsNoPartOfTheFace()
    {
        QFETCH(const double, radius);
        QFETCH(const double, soft);
        QFETCH(const double, level);
        QFETCH(const double, off);
        const Picture picture = throughWindow(cleanFace(), radius, soft, level, {off, 0});
        const double window = CV_PI * radius * radius / (800 * 600);
        QVERIFY2(seenShare(picture) < window && seenShare(picture) > 0.4 * window, qPrintable(QString::number(seenShare(picture) / window)));
        const auto through = measure(picture, {}), plain = measure(cleanFace(), {});
        QVERIFY(plain.front().usable() && through.front().usable());
        QVERIFY(std::abs((through.front().claddingDiameter - plain.front().claddingDiameter).value()) < 1.5);
        const double seen = through.front().ferruleSeen.value();  // the border of the window is soft
        QVERIFY2(seen <= ringWithin(radius, off) && seen >= ringWithin(radius - 45, off), qPrintable(QString::number(seen)));
        for (const auto& f : through.front().findings) QVERIFY2(f.size < Micrometre(10), qPrintable(QString::number(f.size.value())));
    }
    void aWindowThatGoesOnBeyondThePictureDimsItsEdgeToo()
    {
        // its lowest part lies about the picture's last rows, which are dim without a border of their own
        for (const auto& [soft, radius] : {std::pair(12.0, 215.0), std::pair(12.0, 220.0), std::pair(16.0, 220.0)}) {
            const auto face = measure(throughWindow(cleanFace(), radius, soft, 4, {10, 80}), {}).front();
            QVERIFY(face.usable());
            for (const auto& f : face.findings) QVERIFY2(f.size < Micrometre(10), qPrintable(QString::number(f.size.value())));
        }
    }
    void aBorderThatOnlyDimsTheGlassCutsNothingOff()
    {
        const auto through = measure(throughWindow(cleanFace(), 150, 8, 4, {16, 0}), {}).front();
        QVERIFY2(through.usable(), through.usable() ? "" : name(through.retake.front()).data());
        for (const auto& f : through.findings) QVERIFY2(f.nearest > Micrometre(57), qPrintable(QString::number(f.size.value())));
    }
    void darkGlassIsNoEvidence_data()
    {
        QTest::addColumn<double>("least");  // light at the left edge of the glass over that at its right
        QTest::addColumn<bool>("judged");
        QTest::newRow("even") << 1.0 << true;
        QTest::newRow("uneven") << 0.65 << true;
        QTest::newRow("dark on one side") << 0.25 << false;
    }
    void darkGlassIsNoEvidence()
    {
        QFETCH(const double, least);
        QFETCH(const bool, judged);
        Picture picture = cleanFace();
        cv::Mat1b p = matOf(picture);
        for (int y = 0; y < p.rows; ++y)
            for (int x = 0; x < p.cols; ++x) p(y, x) = cv::saturate_cast<std::uint8_t>(p(y, x) * std::pow(least, std::max(0.0, (514 - x) / 228.0)));
        const auto m = measure(picture, {}).front();
        QCOMPARE(m.usable(), judged);
        if (!judged) QCOMPARE(QString::fromUtf8(name(m.retake.front()).data()), QString::fromUtf8(name(RetakeReason::TooDark).data()));
    }
    void barsAreNone()
    {
        Picture picture = cleanFace();
        cv::Mat1b p = matOf(picture);
        p(cv::Rect(0, 0, 120, 600)).setTo(3);
        p(cv::Rect(0, 540, 800, 60)).setTo(3);
        const double seen = (680.0 * 540) / (800 * 600);
        QVERIFY(seenShare(picture) < seen && seenShare(picture) > 0.9 * seen);
        QVERIFY(measure(picture, {}).front().usable());
    }
    void aWindowThatCutsTheFibreOffIsSaid_data()
    {
        QTest::addColumn<double>("off");
        for (const double off : {50.0, 65.0, 80.0, -90.0}) QTest::newRow(qPrintable(QString::number(off))) << off;
    }
    void aWindowThatCutsTheFibreOffIsSaid()
    {
        QFETCH(const double, off);
        const auto faces = measure(throughWindow(cleanFace(), 150, 2, 4, {off, 0}), {});
        QVERIFY(!faces.front().usable());  // and the window itself is not taken for the fibre
    }
    void whatIsNoWindowIsWhole()
    {
        QCOMPARE(seenShare(cleanFace()), 1.0);
        Picture corners = cleanFace();  // light that falls to the corners
        cv::Mat1b p = matOf(corners);
        for (int y = 0; y < p.rows; ++y)
            for (int x = 0; x < p.cols; ++x)
                p(y, x) = cv::saturate_cast<std::uint8_t>(p(y, x) / (1 + std::pow(std::hypot(x - 400, y - 300) / 420, 2)));
        QCOMPARE(seenShare(corners), 1.0);
        const auto faces = measure(corners, {});
        QVERIFY(faces.front().usable());
        for (const auto& f : faces.front().findings) QVERIFY(f.size < Micrometre(10));
    }
    void aFerruleAsDarkAsTheCameraIsNeverMeasuredWrong()
    {
        Picture picture = cleanFace();
        cv::Mat1b p = matOf(picture);
        for (int y = 0; y < p.rows; ++y)
            for (int x = 0; x < p.cols; ++x)
                if (std::hypot(x - 400, y - 300) > 114) p(y, x) = static_cast<std::uint8_t>(p(y, x) / 14);
        const auto dark = measure(picture, {}), plain = measure(cleanFace(), {});
        QVERIFY(!dark.front().usable() || std::abs((dark.front().claddingDiameter - plain.front().claddingDiameter).value()) < 6);
    }
    void aBlackFerruleIsToldByTheCore()
    {
        Picture picture = cleanFace();
        cv::Mat1b p = matOf(picture);
        for (int y = 0; y < p.rows; ++y)
            for (int x = 0; x < p.cols; ++x)
                if (std::hypot(x - 400, y - 300) > 114) p(y, x) = static_cast<std::uint8_t>(3 + (x * 7 + y * 13) % 3);
        cv::circle(p, {400, 300}, 8, 215, cv::FILLED, cv::LINE_AA);
        const auto black = measure(picture, {}).front();
        QVERIFY(black.usable());
        QVERIFY(std::abs((black.claddingDiameter - measure(cleanFace(), {}).front().claddingDiameter).value()) < 4);
    }
    void aSmallWindowInABlackPictureIsOne()
    {
        Picture large{1400, 1050, std::vector<std::uint8_t>(std::size_t{1400} * 1050, 4)}, through = throughWindow(cleanFace(), 190, 2, 4);
        matOf(through).copyTo(matOf(large)(cv::Rect(300, 225, 800, 600)));
        const auto m = measure(large, {}).front();
        QVERIFY(m.usable());
        QVERIFY(std::abs(m.claddingDiameter.value() - 228) < 4);
    }
    void textIsNotSeen_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("y");
        QTest::addColumn<int>("ink");
        QTest::addColumn<int>("paper");  // below 0: none
        QTest::addColumn<bool>("found");
        QTest::newRow("white") << "2026-03-14 10:22" << 22 << 255 << -1 << true;
        QTest::newRow("black, below") << "400X 11:05" << 590 << 0 << -1 << true;
        QTest::newRow("on a field") << "CH 3 x200" << 24 << 0 << 255 << true;
        QTest::newRow("small letters") << "100 um" << 24 << 255 << -1 << true;
        QTest::newRow("a letter is no text") << "X" << 22 << 0 << -1 << false;
        QTest::newRow("in the middle of the picture") << "2026-03-14" << 200 << 255 << -1 << false;
    }
    void textIsNotSeen()
    {
        QFETCH(QString, text);
        QFETCH(int, y);
        QFETCH(int, ink);
        QFETCH(int, paper);
        QFETCH(bool, found);
        Picture picture = cleanFace();
        cv::Mat1b p = matOf(picture);
        int below = 0;
        const cv::Size size = cv::getTextSize(text.toStdString(), cv::FONT_HERSHEY_SIMPLEX, 0.6, 1, &below);
        const cv::Rect box(300, y - size.height - 4, size.width + 8, size.height + 8);
        if (paper >= 0) p(box).setTo(paper);
        cv::putText(p, text.toStdString(), {304, y}, cv::FONT_HERSHEY_SIMPLEX, 0.6, ink, 1, cv::LINE_AA);
        const FieldOfView field(p);
        QVERIFY(!field.hides());  // the picture goes on beside it
        QCOMPARE(!field.seen().empty(), found);
        if (!found) return;
        QCOMPARE(cv::countNonZero(field.seen()(box)), 0);
        QVERIFY(seenShare(picture) > 0.95);
    }
    void dustNearTheEdgeIsNoText()
    {
        Picture picture = cleanFace();
        cv::Mat1b p = matOf(picture);
        for (const auto& [x, y, r] :
             {std::tuple(300, 16, 5), std::tuple(316, 20, 8), std::tuple(334, 12, 6), std::tuple(349, 19, 4), std::tuple(362, 15, 7)})
            cv::circle(p, {x, y}, r, 10, cv::FILLED, cv::LINE_AA);
        QVERIFY(FieldOfView(p).seen().empty());
    }
    void theShareOfTheFerruleIsThatOfItsRing()
    {
        const FieldOfView all;
        QCOMPARE(all.shareOfRing({400, 300}, 100, 200, {800, 600}), 1.0);
        QVERIFY(std::abs(all.shareOfRing({0, 300}, 100, 200, {800, 600}) - 0.5) < 0.02);
        QCOMPARE(all.shareOfRing({-300, 300}, 100, 200, {800, 600}), 0.0);
    }
    void outsideThePictureGoesOnWithoutAnEdge()
    {
        Picture picture = throughWindow(cleanFace(), 230, 2, 4);
        const cv::Mat1b p = matOf(picture);
        const FieldOfView field(p);
        const cv::Mat1b on = field.goingOn(p);
        for (int x = 1; x < p.cols; ++x) {
            if (field.seen()(300, x)) QCOMPARE(on(300, x), p(300, x));
            if (!field.seen()(300, x) && !field.seen()(300, x - 1))
                QVERIFY2(std::abs(int(on(300, x)) - int(on(300, x - 1))) < 24,
                         qPrintable(QString("%1: %2 %3").arg(x).arg(on(300, x - 1)).arg(on(300, x))));
        }
        QVERIFY(on(5, 5) > 40);  // not black
    }
};

QTEST_APPLESS_MAIN(TestFieldOfView)
#include "test_field_of_view.moc"
