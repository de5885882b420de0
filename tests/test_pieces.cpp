#include <QtTest>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "face/describe.h"
#include "face/straight.h"

using namespace clendo;
using namespace clendo::face;

namespace {

constexpr double ppu = 2.5;  // pixels per um
const CladdingEdge edge{{500, 400, 62.5 * ppu, 1}, 0.5 * ppu, 3, 1, 120, 150};

/// The outline of a band around a chain of points (um from the fibre's centre), as a piece.
Piece band(const std::vector<cv::Point2d>& chain, double widthUm, double contrast = -0.3)
{
    Piece p;
    p.contrast = contrast;
    for (std::size_t i = 0; i + 1 < chain.size(); ++i) {
        const cv::Point2d a = chain[i], b = chain[i + 1], along = (b - a) / cv::norm(b - a), across(-along.y, along.x);
        const double length = cv::norm(b - a);
        for (double t = 0; t <= length; t += 0.1)
            for (const double side : {-0.5, 0.5}) {
                const cv::Point2d q = a + along * t + across * (side * widthUm);
                p.outline.emplace_back(static_cast<float>(edge.circle.x + q.x * ppu), static_cast<float>(edge.circle.y + q.y * ppu));
            }
        p.area += length * widthUm * ppu * ppu;
    }
    p.enclose();
    return p;
}

Piece disc(double x, double y, double sizeUm, double contrast = -0.4)
{
    Piece p;
    p.contrast = contrast;
    for (int k = 0; k < 200; ++k) {
        const double a = 2 * std::numbers::pi * k / 200;
        p.outline.emplace_back(static_cast<float>(edge.circle.x + (x + sizeUm / 2 * std::cos(a)) * ppu),
                               static_cast<float>(edge.circle.y + (y + sizeUm / 2 * std::sin(a)) * ppu));
    }
    p.area = std::numbers::pi * sizeUm * sizeUm / 4 * ppu * ppu;
    p.enclose();
    return p;
}

Piece both(Piece a, const Piece& b)
{
    a.outline.insert(a.outline.end(), b.outline.begin(), b.outline.end());
    a.area += b.area;
    a.enclose();
    return a;
}

std::vector<cv::Point2d> arc(double sagitta, double length)
{
    std::vector<cv::Point2d> chain;
    for (int i = 0; i <= 30; ++i) {
        const double t = i / 15.0 - 1;
        chain.emplace_back(t * length / 2, sagitta * (1 - t * t));
    }
    return chain;
}

}  // namespace

/// What is made of the pieces: strokes, joins, sizes before the blur.
class TestPieces : public QObject {
    Q_OBJECT
private slots:
    void crossingStrokesAreTwo_data()
    {
        QTest::addColumn<double>("degrees");
        QTest::addColumn<int>("strokes");
        QTest::newRow("right angle") << 90.0 << 2;
        QTest::newRow("45 degrees") << 45.0 << 2;
        QTest::newRow("30 degrees") << 30.0 << 2;
    }
    void crossingStrokesAreTwo()
    {
        QFETCH(double, degrees);
        QFETCH(int, strokes);
        const double a = degrees * std::numbers::pi / 180;
        const auto parts = splitStrokes(
            both(band({{-15, 0}, {15, 0}}, 1.2), band({{-12 * std::cos(a), -12 * std::sin(a)}, {12 * std::cos(a), 12 * std::sin(a)}}, 1.2)), ppu);
        QCOMPARE(parts.size(), std::size_t(strokes));
        const auto findings = describe(parts, edge, ppu);
        for (const auto& f : findings) QVERIFY(f.kind == FindingKind::Scratch);
        const double longest = std::max(findings[0].size.value(), findings[1].size.value());
        QVERIFY2(qAbs(longest - 30) < 1.5, qPrintable(QString::number(longest)));
    }
    void aBentThingStaysOne_data()
    {
        QTest::addColumn<double>("sagitta");
        QTest::addColumn<double>("width");
        QTest::newRow("lint") << 5.0 << 2.0;
        QTest::newRow("strongly curled") << 14.0 << 2.5;
        QTest::newRow("wide and nearly straight") << 4.0 << 6.0;
    }
    void aScratchMayBowALittle()
    {
        for (const double width : {1.0, 3.0, 5.0}) QVERIFY(describe({band(arc(0.8, 60), width)}, edge, ppu).front().kind == FindingKind::Scratch);
    }
    void aBentThingStaysOne()
    {
        QFETCH(double, sagitta);
        QFETCH(double, width);
        const auto parts = splitStrokes(band(arc(sagitta, 40), width), ppu);
        QCOMPARE(parts.size(), std::size_t(1));
        const auto findings = describe(parts, edge, ppu);
        QVERIFY(findings[0].kind == FindingKind::Defect);
    }
    void aHookIsNoCrossing_data()
    {
        QTest::addColumn<double>("degrees");
        QTest::addColumn<double>("beyond");  // of the first arm past the corner, um
        QTest::addColumn<int>("parts");
        for (const double degrees : {25.0, 45.0, 65.0, 90.0}) QTest::addRow("hook of %.0f degrees", degrees) << degrees << 0.0 << 1;
        QTest::newRow("a scratch that ends on another") << 60.0 << 14.0 << 2;
    }
    void aHookIsNoCrossing()
    {
        QFETCH(double, degrees);
        QFETCH(double, beyond);
        QFETCH(int, parts);
        const double a = degrees * std::numbers::pi / 180;
        const cv::Point2d corner(0, 0), out(20 * std::cos(a), 20 * std::sin(a));
        const auto thing = beyond > 0 ? both(band({{-24, 0}, {beyond, 0}}, 2.2), band({corner, out}, 2.2)) : band({{-24, 0}, corner, out}, 2.2);
        const auto pieces = splitStrokes(thing, ppu);
        QCOMPARE(int(pieces.size()), parts);
        const auto findings = describe(pieces, edge, ppu);
        QVERIFY((findings.front().kind == FindingKind::Scratch) == (parts == 2));
    }
    void aCompactThingIsNeverTakenApart_data()
    {
        QTest::addColumn<double>("longer");
        QTest::addColumn<double>("shorter");
        QTest::newRow("dust") << 7.2 << 4.6;
        QTest::newRow("large dust") << 14.0 << 9.0;
        QTest::newRow("square") << 8.0 << 8.0;
    }
    void aCompactThingIsNeverTakenApart()
    {
        // a box with a ragged outline: noise gives long outlines, which look thin by area over length
        QFETCH(double, longer);
        QFETCH(double, shorter);
        Piece p = both(band({{-longer / 2, -shorter / 2}, {longer / 2, -shorter / 2}}, 0.4),
                       band({{-longer / 2, shorter / 2}, {longer / 2, shorter / 2}}, 0.4));
        p = both(p, both(band({{-longer / 2, -shorter / 2}, {-longer / 2, shorter / 2}}, 0.4),
                         band({{longer / 2, -shorter / 2}, {longer / 2, shorter / 2}}, 0.4)));
        p.area = longer * shorter * ppu * ppu;
        QCOMPARE(splitStrokes(p, ppu).size(), std::size_t(1));
        QVERIFY(describe({p}, edge, ppu).front().kind == FindingKind::Defect);
    }
    void aStarOfDirtIsNotTwoScratches()
    {
        const auto star = both(band({{-4, 0}, {4, 0}}, 2.2), band({{0, -3.5}, {0, 3.5}}, 2.2));
        QCOMPARE(splitStrokes(star, ppu).size(), std::size_t(1));
        QVERIFY(describe({star}, edge, ppu).front().kind == FindingKind::Defect);
    }
    void aStraightLineIsAScratch_data()
    {
        QTest::addColumn<double>("length");
        QTest::addColumn<double>("width");
        QTest::addColumn<bool>("scratch");
        QTest::newRow("thin and long") << 30.0 << 1.0 << true;
        QTest::newRow("wide and long") << 60.0 << 4.5 << true;
        QTest::newRow("short") << 6.0 << 1.0 << true;
        QTest::newRow("too short to be a line") << 3.0 << 1.5 << false;
        QTest::newRow("a smear, not a scratch") << 40.0 << 9.0 << false;
    }
    void aStraightLineIsAScratch()
    {
        QFETCH(double, length);
        QFETCH(double, width);
        QFETCH(bool, scratch);
        const auto f = describe({band({{10 - length / 2, 8}, {10 + length / 2, 8}}, width)}, edge, ppu).front();
        QCOMPARE(f.kind == FindingKind::Scratch, scratch);
        QVERIFY(qAbs(f.length.value() - length) < 0.8);
        if (scratch) QVERIFY(f.width.value() <= width + 0.1 && f.width.value() >= 0.5);
    }
    void partsOfOneFaintLineAreJoined()
    {
        std::vector<Piece> pieces{band({{-20, 5}, {-8, 5.2}}, 0.9, -0.08), band({{-5, 5.3}, {4, 5.4}}, 0.9, -0.07),
                                  band({{7, 5.4}, {18, 5.6}}, 0.9, -0.09)};
        joinInLine(pieces, ppu);
        QCOMPARE(pieces.size(), std::size_t(1));
        const auto f = describe(pieces, edge, ppu).front();
        QVERIFY(f.kind == FindingKind::Scratch);
        QVERIFY(qAbs(f.size.value() - 38) < 1);
    }
    void neighboursThatAreNoLineStayApart_data()
    {
        QTest::addColumn<double>("shiftY");
        QTest::addColumn<double>("turn");
        QTest::addColumn<double>("contrast");
        QTest::newRow("parallel, 4 um beside") << 4.0 << 0.0 << -0.08;
        QTest::newRow("turned") << 0.0 << 40.0 << -0.08;
        QTest::newRow("much stronger") << 0.0 << 0.0 << -0.6;
        QTest::newRow("bright") << 0.0 << 0.0 << 0.08;
    }
    void neighboursThatAreNoLineStayApart()
    {
        QFETCH(double, shiftY);
        QFETCH(double, turn);
        QFETCH(double, contrast);
        const double a = turn * std::numbers::pi / 180;
        std::vector<Piece> pieces{band({{-20, 0}, {-5, 0}}, 0.9, -0.08),
                                  band({{-2, shiftY}, {-2 + 14 * std::cos(a), shiftY + 14 * std::sin(a)}}, 0.9, contrast)};
        joinInLine(pieces, ppu);
        QCOMPARE(pieces.size(), std::size_t(2));
    }
    void dirtOnAScratchIsNotLost()
    {
        std::vector<Piece> pieces{band({{-20, 0}, {20, 0}}, 1, -0.1), disc(5, 0, 4, -0.5), disc(-8, 0.2, 1.2, -0.1)};
        joinInLine(pieces, ppu);
        QCOMPARE(pieces.size(), std::size_t(2));  // the strong one stays; what is only a spot of the scratch does not
        QVERIFY(std::any_of(pieces.begin(), pieces.end(), [](const Piece& p) { return p.contrast < -0.4; }));
    }
    void aDropletsRimsAreOne()
    {
        Piece outer = disc(10, 10, 9, -0.15), inner = disc(10, 10, 6, 0.1);
        outer.hollow = true;
        std::vector<Piece> pieces{outer, inner, disc(-20, 0, 3)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(2));
        QVERIFY(pieces[0].hollow);
    }
    void dirtBesideALintIsNotSwallowed()
    {
        Piece lint = band(arc(14, 60), 2.5, -0.6);
        lint.hollow = true;
        std::vector<Piece> pieces{lint, disc(0, 3, 5, -0.6)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(2));
    }
    void patchesOfAFilmAreOneAndSpecksAreNot()
    {
        Piece a = disc(80, 0, 6, -0.1), b = disc(88, 0, 6, -0.12), strong = disc(96, 0, 6, -0.6);
        for (Piece* p : {&a, &b, &strong}) p->region = Region::Ferrule;
        std::vector<Piece> pieces{a, b, strong};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(2));
    }
    void patchesOfAFilmOnTheGlass_data()
    {
        QTest::addColumn<double>("size");
        QTest::addColumn<double>("contrast");
        QTest::addColumn<int>("things");
        QTest::newRow("wide and faint: one film") << 8.0 << -0.12 << 1;
        QTest::newRow("faint specks: dust that lies close") << 2.5 << -0.12 << 2;
        QTest::newRow("wide and strong: two things") << 8.0 << -0.5 << 2;
        QTest::newRow("one dark, one bright") << 8.0 << 0.12 << 2;
    }
    void patchesOfAFilmOnTheGlass()
    {
        QFETCH(double, size);
        QFETCH(double, contrast);
        QFETCH(int, things);
        std::vector<Piece> pieces{disc(0, 0, size, -std::abs(contrast)), disc(size + 2, 0, size, contrast)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(things));
    }
    void theRingOfLightAroundAThingIsNone_data()
    {
        QTest::addColumn<double>("contrast");
        QTest::addColumn<double>("away");
        QTest::addColumn<double>("size");
        QTest::addColumn<int>("things");
        QTest::newRow("its halo") << 0.06 << 3.0 << 4.0 << 1;
        QTest::newRow("bright dirt beside it") << 0.3 << 4.5 << 4.0 << 2;
        QTest::newRow("its fringe, hardly visible") << -0.06 << 3.0 << 4.0 << 1;
        QTest::newRow("faint dark dirt beside it") << -0.10 << 4.5 << 4.0 << 2;
        QTest::newRow("hardly visible, but much larger") << -0.06 << 10.0 << 16.0 << 2;
        QTest::newRow("faint and bright, but farther away") << 0.06 << 12.0 << 4.0 << 2;
        QTest::newRow("faint and bright, but much larger") << 0.06 << 10.0 << 16.0 << 2;
    }
    void theRingOfLightAroundAThingIsNone()
    {
        QFETCH(double, contrast);
        QFETCH(double, away);
        QFETCH(double, size);
        QFETCH(int, things);
        std::vector<Piece> pieces{disc(away, 0, size, contrast), disc(0, 0, 2.5, -0.45)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(things));
        if (things == 1) QVERIFY(qAbs(2 * pieces[0].radius / ppu - 2.5) < 0.1);  // and it makes the other no larger
    }
    void whatIsLeftOfAWideHoleJoinsNothing()
    {
        for (const bool sliver : {false, true}) {
            Piece inGlass = band({{57, -2}, {61.8, -2}}, 0.8, -0.12), beside = band({{65, -6}, {65.5, 3}}, 2, -0.11);
            inGlass.atRim = beside.atRim = true;
            beside.region = Region::Ferrule;
            beside.sliver = sliver;
            std::vector<Piece> pieces{inGlass, beside};
            joinPieces(pieces, {ppu, 1, 0});
            QCOMPARE(pieces.size(), std::size_t(sliver ? 2 : 1));
        }
    }
    void aLineThatIsFoundTwiceInPiecesIsOne()
    {
        // two maps saw parts of it that lie between each other
        std::vector<Piece> pieces{band({{-20, 0}, {-13, 0}}, 0.9, -0.08), band({{-8, 0}, {-1, 0}}, 0.9, -0.08), band({{4, 0}, {11, 0}}, 0.9, -0.08),
                                  band({{-15, 0.3}, {-6, 0.3}}, 0.9, -0.08), band({{-3, 0.3}, {6, 0.3}}, 0.9, -0.08)};
        joinInLine(pieces, ppu);
        QCOMPARE(pieces.size(), std::size_t(1));
        QVERIFY(qAbs(describe(pieces, edge, ppu).front().size.value() - 31) < 1.5);
    }
    void theWidthBeforeTheBlurComesBack_data()
    {
        QTest::addColumn<double>("width");
        QTest::addColumn<double>("sigma");
        for (const double w : {0.8, 1.2, 2.0, 4.0})
            for (const double s : {0.2, 0.4, 0.6}) QTest::addRow("%.1f um blurred by %.1f", w, s) << w << s;
    }
    void theWidthBeforeTheBlurComesBack()
    {
        QFETCH(double, width);
        QFETCH(double, sigma);
        // blur a bar numerically and read it at half its height
        const auto at = [&](double x) {
            double sum = 0;
            for (double u = -width / 2; u <= width / 2; u += 0.001) sum += std::exp(-0.5 * (x - u) * (x - u) / (sigma * sigma));
            return sum;
        };
        double x = 0;
        while (at(x) > at(0) / 2) x += 0.001;
        const double back = widthBeforeBlur(2 * x, sigma);
        QVERIFY2(qAbs(back - width) < (width > 2 * sigma ? 0.03 : 0.25), qPrintable(QString::number(back)));
    }
    void theDiscBeforeTheBlurComesBack_data()
    {
        QTest::addColumn<double>("diameter");
        QTest::addColumn<double>("sigma");
        for (const double d : {1.2, 2.0, 3.0, 8.0})
            for (const double s : {0.3, 0.6}) QTest::addRow("%.1f um blurred by %.1f", d, s) << d << s;
    }
    void theDiscBeforeTheBlurComesBack()
    {
        QFETCH(double, diameter);
        QFETCH(double, sigma);
        constexpr double fine = 40;  // pixels per um
        cv::Mat1f picture(501, 501, 0.0F);
        for (int y = 0; y < 501; ++y)
            for (int x = 0; x < 501; ++x) picture(y, x) = std::hypot(x - 250, y - 250) / fine < diameter / 2 ? 1.0F : 0.0F;
        cv::GaussianBlur(picture, picture, {}, sigma * fine);
        double x = 0;
        while (picture(250, 250 + static_cast<int>(x)) > picture(250, 250) / 2) ++x;
        const double back = discBeforeBlur(2 * x / fine, sigma);
        QVERIFY2(qAbs(back - diameter) < (diameter > 3 * sigma ? 0.08 : 0.25), qPrintable(QString::number(back)));
    }
    void aTinyThingIsNoSmallerThanTheBlurLetsItTell() { QCOMPARE(discBeforeBlur(1.0, 0.6), 0.6); }

    void anAngularThingIsLargerThanItsBlurredPicture()
    {
        // a triangle's corners are rounded off; a disc has none
        Piece triangle = disc(0, 20, 6);
        triangle.area *= 0.55;
        const double round = describe({disc(0, 20, 6)}, edge, ppu).front().size.value(),
                     angular = describe({triangle}, edge, ppu).front().size.value();
        QVERIFY(angular > round + 0.1 && angular < round + 1);
        QVERIFY(qAbs(round - 6) < 0.2);
    }
    void findingsAreNumberedFromTheMiddle()
    {
        const auto findings = describe({disc(40, 0, 3), disc(0, 5, 3), disc(-20, 0, 3)}, edge, ppu);
        for (std::size_t i = 0; i < 3; ++i) QCOMPARE(findings[i].id, int(i) + 1);
        QVERIFY(findings[0].nearest < findings[1].nearest && findings[1].nearest < findings[2].nearest);
        QVERIFY(qAbs(findings[0].nearest.value() - 3.5) < 0.1 && qAbs(findings[0].farthest.value() - 6.5) < 0.1);
    }
};
QTEST_APPLESS_MAIN(TestPieces)
#include "test_pieces.moc"
