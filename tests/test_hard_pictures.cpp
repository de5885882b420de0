#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "drawn_face.h"
#include "face/find/locate.h"

using namespace clendo;
using namespace clendo::face;

namespace {

constexpr double ppu = 2;  // of what is drawn here
const cv::Point2d middle = Drawn(120).middle();

/// A row whose cores are full of light, in glass as bright as the ferrule: only a thin line tells where it ends.
cv::Mat1b litRow(int fibres, double noise, double line = 70)
{
    constexpr double um = 1.9;  // pixels
    cv::Mat1f fine(cvRound(270 * um) * 4, cvRound((250 * fibres + 120) * um) * 4, 95.0F), picture;
    for (int i = 0; i < fibres; ++i) {
        const auto disc = [&](double radius, double level) {
            cv::circle(fine, {cvRound((185 + 250 * i) * um * 4), cvRound(135 * um * 4)}, cvRound(radius * um * 4), cv::Scalar(level), cv::FILLED);
        };
        disc(63, line);
        disc(62.5, 97);
        disc(25, 215);
    }
    cv::resize(fine, picture, {}, 0.25, 0.25, cv::INTER_AREA);
    cv::GaussianBlur(picture, picture, {}, 0.45 * um);
    cv::Mat1f grain(picture.size());
    cv::RNG random(6);
    random.fill(grain, cv::RNG::NORMAL, 0, noise);
    cv::Mat1b out;
    cv::Mat(picture + grain).convertTo(out, CV_8U);
    return out;
}

}  // namespace

/// Pictures that show less than they seem to: saturated, dark, coarse.
class TestHardPictures : public QObject {
    Q_OBJECT
private slots:
    void aSaturatedCoreHidesNothingAndInventsNothing()
    {
        Drawn face(190);
        face.light(190, 7);
        const cv::Mat1b picture = face.seen(1.2);
        QCOMPARE(inGlass(measured(picture)).size(), std::size_t{0});
        face.disc({1, 2}, 2.5, 60);
        QCOMPARE(inGlass(measured(face.seen(1.2))).size(), std::size_t{1});
    }
    /// Coherent light from the side draws a dark line beside the core, darker on one side.
    void theDarkLineBesideACoreIsNoThing_data()
    {
        QTest::addColumn<double>("aside");  // um by which it is wider on one side
        QTest::addColumn<double>("dark");
        QTest::newRow("faint, on one side") << 0.8 << 121.0;
        QTest::newRow("plain, nearly even") << 0.25 << 115.0;
    }
    void theDarkLineBesideACoreIsNoThing()
    {
        QFETCH(double, aside);
        QFETCH(double, dark);
        Drawn face(140);
        face.disc({0.3, 0}, 5.2, dark);
        face.disc({0.3 + aside, 0.15}, 5.0, (140 + dark) / 2);
        face.disc({0.3, 0}, 4.4, 158);
        for (int seed = 1; seed < 5; ++seed) QCOMPARE(inGlass(measured(face.seen(1.0, seed))).size(), std::size_t{0});
        face.disc({-4.5, 0}, 1.1, 80);  // but a speck there is one
        QCOMPARE(inGlass(measured(face.seen(1.0))).size(), std::size_t{1});
    }
    void aFilmOverALitMultimodeCoreIsSeen()
    {
        Drawn face(75);
        face.disc({0, 0}, 25, 160);
        QCOMPARE(inGlass(measured(face.seen(2.0))).size(), std::size_t{0});
        face.film({-12, 8}, 8, 0.85);
        const auto findings = inGlass(measured(face.seen(2.0)));
        QCOMPARE(findings.size(), std::size_t{1});
        QVERIFY2(std::abs(findings[0].size.value() - 16) < 2.5, qPrintable(QString::number(findings[0].size.value())));
    }
    void aLitCoreIsNotTakenForTheCladding()
    {
        Drawn face(30, 30, 24);
        for (int i = 0; i < 60; ++i) {  // a multimode core full of light, by which the line around the glass looks faint
            const double r = 31.2 * (1 - i / 60.0), part = r / 31.25;
            face.disc({0, 0}, r, 30 + 190 * (1 - part * part));
        }
        const auto m = measured(face.seen(1.0));
        QVERIFY2(m.usable(), m.usable() ? ""
                                        : qPrintable(QString::fromUtf8(name(m.retake.front()).data()) +
                                                     QString(" %1 %2").arg(m.blur.value()).arg(m.claddingDiameter.value())));
        QVERIFY2(std::abs(m.claddingDiameter.value() - 125 * ppu) < 0.01 * 125 * ppu, qPrintable(QString::number(m.claddingDiameter.value())));
    }
    void theGlassEndsAtTheInnerEdgeOfItsAdhesive_data()
    {
        QTest::addColumn<double>("line");   // light of the adhesive; the glass has 170, the ferrule 90
        QTest::addColumn<double>("width");  // um
        QTest::addColumn<double>("off");    // um, of the hole's middle
        QTest::newRow("between glass and ferrule") << 130.0 << 3.0 << 0.0;
        QTest::newRow("nearly as bright as glass") << 155.0 << 4.0 << 0.0;
        QTest::newRow("eccentric") << 125.0 << 4.0 << 1.5;
        QTest::newRow("narrow") << 120.0 << 2.0 << 0.5;
    }
    void theGlassEndsAtTheInnerEdgeOfItsAdhesive()
    {
        QFETCH(double, line);
        QFETCH(double, width);
        QFETCH(double, off);
        Drawn face(170, 90, 90);
        face.disc({off, 0}, 62.5 + width, line);
        face.disc({0, 0}, 62.5, 170);
        const auto m = measured(face.seen(2));
        QVERIFY2(m.usable(), m.usable() ? ""
                                        : qPrintable(QString::fromUtf8(name(m.retake.front()).data()) +
                                                     QString(" %1 %2").arg(m.blur.value()).arg(m.claddingDiameter.value())));
        QVERIFY2(std::abs(m.claddingDiameter.value() - 125 * ppu) < 0.012 * 125 * ppu, qPrintable(QString::number(m.claddingDiameter.value() / ppu)));
        QVERIFY2(m.blur < Micrometre(0.8), qPrintable(QString::number(m.blur.value())));  // two edges are not one soft one
        for (const auto& f : m.findings) QVERIFY2(f.size < Micrometre(10), qPrintable(QString::number(f.size.value())));  // and no arc is dirt
    }
    void aFerruleInDarkCornersIsClean_data()
    {
        QTest::addColumn<double>("power");
        for (const double power : {1.0, 2.0, 3.0}) QTest::addRow("%.0f", power) << power;
    }
    void aFerruleInDarkCornersIsClean()
    {
        QFETCH(double, power);
        Drawn face(150);
        face.disc({90, 60}, 6, 40);  // but for one thing
        cv::Mat1b picture = face.seen(1.5);
        for (int y = 0; y < picture.rows; ++y)
            for (int x = 0; x < picture.cols; ++x)
                picture(y, x) = cv::saturate_cast<std::uint8_t>(picture(y, x) / std::pow(1 + std::pow(std::hypot(x - 285, y - 215) / 330, 2), power));
        const auto m = measured(picture);
        QVERIFY(m.usable());
        const auto large = [](const Finding& f) { return f.size >= Micrometre(8); };
        QCOMPARE(std::count_if(m.findings.begin(), m.findings.end(), large), 1);
        const auto it = std::find_if(m.findings.begin(), m.findings.end(), large);
        QVERIFY(std::hypot(it->centre.x.value() - 90, it->centre.y.value() - 60) < 2);
    }
    void darkGlassIsTakenAgainADarkThingIsJudged_data()
    {
        QTest::addColumn<bool>("thing");  // darker than the glass in one place, or all of it to one side
        QTest::newRow("a thing that fills the glass to one side") << true;
        QTest::newRow("no light from one side") << false;
    }
    void darkGlassIsTakenAgainADarkThingIsJudged()
    {
        QFETCH(bool, thing);
        Drawn face(140);
        if (thing) face.film({47, 0}, 12, 0.3);
        cv::Mat1b picture = face.seen(1);
        for (int y = 0; y < picture.rows && !thing; ++y)
            for (int x = 0; x < picture.cols; ++x) {
                const bool glass = std::hypot(x - middle.x, y - middle.y) < 62 * ppu;
                const double light = glass ? 0.65 - (x - middle.x) / (150 * ppu) : 1;
                picture(y, x) = cv::saturate_cast<uchar>(picture(y, x) * light);
            }
        const auto m = measured(picture);
        QCOMPARE(m.usable(), thing);
        if (thing) QVERIFY(std::any_of(m.findings.begin(), m.findings.end(), [](const Finding& f) { return f.size > Micrometre(20); }));
        if (!thing) QVERIFY(m.retake == std::vector{RetakeReason::TooDark});
    }
    void aRowOfLitCoresIsFoundByItsPitch()
    {
        MeasureOptions options;
        options.fibres.reset();
        const auto faces = measure(pictureOf(litRow(12, 5)), options);
        QCOMPARE(faces.size(), std::size_t{12});
        for (const auto& m : faces)
            QVERIFY2(std::abs(m.claddingDiameter.value() - 125 * 1.9) < 3, qPrintable(QString::number(m.claddingDiameter.value())));
    }
    void coresOfARowTellWhereItsCladdingsAre()
    {
        const auto circles = locateByCores(litRow(6, 3, 97), 12);  // no line at all
        const auto first =
            std::find_if(circles.begin(), circles.end(), [](const Circle& c) { return std::hypot(c.x - 185 * 1.9, c.y - 135 * 1.9) < 8; });
        QVERIFY(first != circles.end());
        QVERIFY2(std::abs(first->radius - 62.5 * 1.9) < 2, qPrintable(QString::number(first->radius)));
        QVERIFY(locateByCores(litRow(2, 3, 97), 12).empty());  // two are no row
    }
    void aSpottedFilmReachesAsFarAsItsFaintestPart()
    {
        Drawn face(120);
        face.film({-20, 20}, 9, 0.92);  // to 29 um left of the middle
        for (const double x : {-16, -20}) face.film({x, 17}, 2.5, 0.9);
        const auto findings = inGlass(measured(face.seen(0.8)));
        QCOMPARE(findings.size(), std::size_t{1});
        QVERIFY2(std::abs(findings[0].size.value() - 18) < 1.5, qPrintable(QString::number(findings[0].size.value())));
    }
    void lintIsFollowedOntoDarkGrain_data()
    {
        QTest::addColumn<double>("grain");  // of the ferrule, a share of its level
        QTest::addColumn<bool>("goesOn");   // 68 um long, of which 36 lie on the glass
        QTest::addColumn<double>("least");
        QTest::addColumn<double>("most");
        QTest::newRow("smooth ferrule") << 0.05 << true << 62.0 << 74.0;
        QTest::newRow("grain hides its thin end") << 0.3 << true << 50.0 << 74.0;
        QTest::newRow("grain, and lint that ends at the rim") << 0.3 << false << 30.0 << 42.0;
    }
    void lintIsFollowedOntoDarkGrain()
    {
        QFETCH(double, grain);
        QFETCH(bool, goesOn);
        Drawn face(200, 26, 26);
        face.grain(grain);
        std::vector<cv::Point2d> lint{{10, -30}, {4, -36}, {2, -44}, {5, -52}, {12, -58}, {17, -61}};
        if (goesOn) lint.insert(lint.end(), {{26, -66}, {36, -69}, {46, -75}, {55, -79}});
        face.line(lint, 2.5, 6);
        MeasureOptions options;
        options.fibres.reset();  // of a row only the glass is judged
        const auto m = measure(pictureOf(face.seen(1.5)), options).front();
        QVERIFY(m.usable());
        QCOMPARE(m.findings.size(), std::size_t{1});
        const Finding& f = m.findings.front();
        QCOMPARE(f.kind, FindingKind::Defect);
        QFETCH(double, least);
        QFETCH(double, most);
        QVERIFY2(f.size.value() > least && f.size.value() < most, qPrintable(QString::number(f.size.value())));
    }
    void whatLiesOnTheFerruleIsMeasuredAsFinely_data()
    {
        QTest::addColumn<double>("length");  // um, of a flake without its round ends
        QTest::addColumn<double>("width");
        for (const double length : {2.0, 4.0, 6.0})
            for (const double width : {1.2, 2.0, 3.0}) QTest::addRow("%.0f um by %.1f", length + width, width) << length << width;
    }
    void whatLiesOnTheFerruleIsMeasuredAsFinely()
    {
        QFETCH(double, length);
        QFETCH(double, width);
        Drawn face(120);
        face.line({{-82, 40}, {-82 + 0.8 * length, 40 + 0.6 * length}}, width, 50);
        const auto m = measured(face.seen(2));
        QCOMPARE(m.findings.size(), std::size_t{1});
        const double told = m.findings[0].size.value();
        QVERIFY2(std::abs(told - length - width) < 0.75, qPrintable(QString::number(told)));
    }
    void aDropletThatTheRimCutsIsOne_data()
    {
        QTest::addColumn<double>("x");
        QTest::newRow("half of it") << 60.0;
        QTest::newRow("a little of it lies beyond") << 50.0;
    }
    void aDropletThatTheRimCutsIsOne()
    {
        QFETCH(double, x);
        Drawn face(120);
        face.disc({x, 0}, 18, 70);
        face.disc({x, 0}, 12.5, 120);
        face.disc({x - 5, 0}, 3, 160);  // it gathers light
        const FaceMeasurement m = measured(face.seen(1.5));
        QVERIFY(m.usable());
        int inGlass = 0;
        for (const Finding& f : m.findings) inGlass += f.nearest < Micrometre(58) ? 1 : 0;
        QCOMPARE(inGlass, 1);
        QVERIFY2(std::abs(m.findings.front().size.value() - 36) < 4, qPrintable(QString::number(m.findings.front().size.value())));
    }
    void anArchThatOpensIntoTheGlassEnclosesNothing()
    {
        Drawn face(120);
        std::vector<cv::Point2d> arch;
        for (double a = -90; a <= 90; a += 5) arch.emplace_back(20 + 14 * std::cos(a * CV_PI / 180), 14 * std::sin(a * CV_PI / 180));
        face.line(arch, 3, 60);
        face.disc({24, 0}, 2.5, 60);  // within it
        const FaceMeasurement m = measured(face.seen(1.5));
        QCOMPARE(m.findings.size(), 2U);
    }
    void aSpeckInNoiseIsNoStar()
    {
        Drawn face(120);
        face.disc({22, 18}, 0.75, 30);
        const auto findings = inGlass(measured(face.seen(3.0)));
        QCOMPARE(findings.size(), std::size_t{1});
        QVERIFY2(findings[0].size < Micrometre(2.6), qPrintable(QString::number(findings[0].size.value())));
    }
};

QTEST_GUILESS_MAIN(TestHardPictures)
#include "test_hard_pictures.moc"
