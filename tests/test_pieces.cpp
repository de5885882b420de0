#include <QtTest>
#include <opencv2/imgproc.hpp>

#include "face/segment/in_line.h"
#include "face/segment/straight.h"
#include "face/size/describe.h"
#include "piece_shapes.h"

using namespace clendo;
using namespace clendo::face;

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
    void strokesBesideEachOtherAreTwo()
    {
        const auto parts = splitStrokes(both(band({{-20, -1.5}, {20, -1.5}}, 1), band({{-16, 1.5}, {18, 2.5}}, 1)), ppu);
        QCOMPARE(parts.size(), std::size_t(2));
        for (const auto& f : describe(parts, edge, ppu)) QVERIFY(f.kind == FindingKind::Scratch);
    }
    void strokesHangTogetherInAChain()
    {
        // the first and the last do not meet
        const auto chain = both(both(band({{-20, -8}, {20, -8}}, 1.2), band({{-14, -14}, {14, 14}}, 1.2)), band({{-20, 8}, {20, 8}}, 1.2));
        const auto parts = splitStrokes(chain, ppu);
        QCOMPARE(parts.size(), std::size_t(3));
        for (const auto& f : describe(parts, edge, ppu)) QVERIFY(f.kind == FindingKind::Scratch);
    }
    void whereStrokesMeetTheyCross_data()
    {
        QTest::addColumn<double>("beyond");  // um by which two strokes go on beyond where they meet, above the one that both cross
        QTest::addColumn<int>("strokes");
        QTest::newRow("three scratches") << 6.0 << 3;
        QTest::newRow("lint that bends over a scratch") << 1.0 << 1;  // no farther than it is wide
    }
    void whereStrokesMeetTheyCross()
    {
        QFETCH(double, beyond);
        QFETCH(int, strokes);
        const cv::Point2d top(0, 14), left(-12, -8), right(12, -8);
        const auto from = [&](cv::Point2d foot) { return band({foot, top + (top - foot) * (beyond / cv::norm(top - foot))}, 1.2); };
        const auto parts = splitStrokes(both(both(band({{-22, 0}, {22, 0}}, 1.2), from(left)), from(right)), ppu);
        QCOMPARE(parts.size(), std::size_t(strokes));
    }
    void whatCrossesTheRimIsNoChip()
    {
        Piece across = band({{-45, 42}, {5, 54}}, 1.3, -0.4), sliver = band({{-18, 58.5}, {0, 61}, {18, 58.5}}, 2.5, -0.4);
        across.atRim = sliver.atRim = true;
        QVERIFY(describe({across}, edge, ppu).front().kind == FindingKind::Scratch);
        QVERIFY(describe({sliver}, edge, ppu).front().kind == FindingKind::Defect);
        // all that shows of it in a small window
        Piece end = band({{-58.5, 9.5}, {-52.5, -2}}, 1.9, -0.4);
        end.atRim = true;
        QVERIFY(describe({end}, edge, ppu).front().kind == FindingKind::Scratch);
    }
    void whatCurlsIsNoScratch_data()
    {
        QTest::addColumn<double>("radius");    // um, of its arc
        QTest::addColumn<double>("contrast");  // noise may bend what hardly shows
        QTest::addColumn<bool>("scratch");
        QTest::newRow("lint that ends on the glass") << 20.0 << -0.4 << false;
        QTest::newRow("lint, nearly straight") << 30.0 << -0.4 << false;
        QTest::newRow("an arc of polishing") << 200.0 << -0.4 << true;
        QTest::newRow("faint") << 30.0 << -0.1 << true;
    }
    void whatCurlsIsNoScratch()
    {
        QFETCH(double, radius);
        QFETCH(double, contrast);
        QFETCH(bool, scratch);
        constexpr double length = 16;
        const auto found = describe({band(arc(length * length / 8 / radius, length), 1.5, contrast)}, edge, ppu);
        QCOMPARE(found.front().kind == FindingKind::Scratch, scratch);
    }
    void broadThingsOnTheFerruleMustRunStraight_data()
    {
        QTest::addColumn<double>("sagitta");
        QTest::addColumn<bool>("scratch");
        QTest::newRow("drawn") << 0.5 << true;
        QTest::newRow("fell") << 2.0 << false;
    }
    void broadThingsOnTheFerruleMustRunStraight()
    {
        QFETCH(double, sagitta);
        QFETCH(bool, scratch);
        Piece p = band(arc(sagitta, 60), 3.2);
        p.region = Region::Ferrule;
        QCOMPARE(describe({p}, edge, ppu).front().kind == FindingKind::Scratch, scratch);
    }
    void whatWindsAlongALineMayBeLint_data()
    {
        QTest::addColumn<double>("winds");  // um to both sides
        QTest::addColumn<double>("contrast");
        QTest::addColumn<bool>("scratch");
        QTest::newRow("straight") << 0.0 << -0.5 << true;
        QTest::newRow("hardly") << 0.15 << -0.5 << true;
        QTest::newRow("plainly") << 0.6 << -0.5 << false;
        QTest::newRow("as noise makes it") << 0.6 << -0.1 << true;
    }
    void whatWindsAlongALineMayBeLint()
    {
        QFETCH(double, winds);
        QFETCH(double, contrast);
        QFETCH(bool, scratch);
        std::vector<cv::Point2d> chain;
        for (int i = 0; i <= 60; ++i) chain.emplace_back(i - 30, winds * std::sin(i * 0.35));
        QCOMPARE(describe({band(chain, 2.2, contrast)}, edge, ppu).front().kind == FindingKind::Scratch, scratch);
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
        QTest::newRow("a flake, not a scratch") << 11.9 << 3.4 << false;
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
    void whatIsBroadAndGoesOnBeyondTheRimIsNoScratchUnlessItIsSlender_data()
    {
        QTest::addColumn<double>("length");
        QTest::addColumn<bool>("atRim");
        QTest::addColumn<bool>("scratch");
        QTest::newRow("short, within the glass") << 24.0 << false << true;
        QTest::newRow("short, at the rim") << 24.0 << true << false;
        QTest::newRow("long, at the rim") << 40.0 << true << true;
    }
    void whatIsBroadAndGoesOnBeyondTheRimIsNoScratchUnlessItIsSlender()
    {
        QFETCH(double, length);
        QFETCH(bool, atRim);
        QFETCH(bool, scratch);
        Piece piece = band({{60 - length, 3}, {60, 3}}, 3.8);
        piece.atRim = atRim;
        QCOMPARE(describe({piece}, edge, ppu).front().kind == FindingKind::Scratch, scratch);
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
    void aLineThatIsFoundTwiceInPiecesIsOne()
    {
        // two maps saw parts of it that lie between each other
        std::vector<Piece> pieces{band({{-20, 0}, {-13, 0}}, 0.9, -0.08), band({{-8, 0}, {-1, 0}}, 0.9, -0.08), band({{4, 0}, {11, 0}}, 0.9, -0.08),
                                  band({{-15, 0.3}, {-6, 0.3}}, 0.9, -0.08), band({{-3, 0.3}, {6, 0.3}}, 0.9, -0.08)};
        joinInLine(pieces, ppu);
        QCOMPARE(pieces.size(), std::size_t(1));
        QVERIFY(qAbs(describe(pieces, edge, ppu).front().size.value() - 31) < 1.5);
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
    void theTipsOfASlenderThingFade()
    {
        Piece slender = disc(0, 20, 6), large = disc(0, 20, 30);
        slender.area *= 0.3;
        large.area *= 0.3;
        Piece angular = disc(0, 20, 6);
        angular.area *= 0.55;
        const auto sizeOf = [](const Piece& p) { return describe({p}, edge, ppu).front().size.value(); };
        QVERIFY(sizeOf(slender) > sizeOf(angular) + 0.15);
        QVERIFY(sizeOf(large) < 31);  // what is long is hardly longer for it
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
