#include <QtTest>

#include "face/segment/seen_twice.h"
#include "face/segment/tips.h"
#include "face/size/lines_within.h"
#include "piece_shapes.h"

using namespace clendo;
using namespace clendo::face;

/// One thing that was found twice, or in a part and the rest.
class TestFoundTwice : public QObject {
    Q_OBJECT
private slots:
    void whatRunsTogetherIsOneThing_data()
    {
        QTest::addColumn<double>("x");  // of a second thing; the first, of 8 um and -0.3, lies at 0
        QTest::addColumn<double>("diameter");
        QTest::addColumn<double>("contrast");
        QTest::addColumn<bool>("one");
        QTest::newRow("the same in a smoother map") << 0.2 << 8.6 << -0.15 << true;
        QTest::newRow("a film beneath it") << 0.2 << 8.6 << -0.06 << false;
        QTest::newRow("bright where it is dark") << 0.2 << 8.6 << 0.2 << false;
        QTest::newRow("beside it") << 4.0 << 8.0 << -0.2 << false;
        QTest::newRow("far larger") << 0.2 << 16.0 << -0.2 << false;
        QTest::newRow("a speck on it") << 0.2 << 3.0 << -0.2 << false;
    }
    void whatRunsTogetherIsOneThing()
    {
        QFETCH(double, x);
        QFETCH(double, diameter);
        QFETCH(double, contrast);
        QFETCH(bool, one);
        for (const bool first : {true, false}) {
            std::vector<Piece> pieces{disc(0, 0, 8, -0.3), disc(x, 0, diameter, contrast)};
            if (!first) std::swap(pieces[0], pieces[1]);
            leaveOutSeenTwice(pieces, ppu);
            QCOMPARE(pieces.size(), std::size_t(one ? 1 : 2));
            if (one) QCOMPARE(pieces[0].contrast, -0.3);
        }
    }
    void aDropletFoundAsItsRimAndAllOverIsOne_data()
    {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("diameter");
        QTest::addColumn<double>("contrast");
        QTest::addColumn<bool>("one");
        QTest::newRow("all of it") << 0.5 << 12.5 << -0.12 << true;
        QTest::newRow("all of it, fainter") << 0.5 << 12.5 << -0.08 << true;
        QTest::newRow("hardly there: a film of its size") << 0.5 << 12.5 << -0.05 << false;
        QTest::newRow("a film that it lies on") << 0.5 << 17.0 << -0.12 << false;
        QTest::newRow("dirt in a part of it") << 3.0 << 6.0 << -0.12 << false;
    }
    void aDropletFoundAsItsRimAndAllOverIsOne()
    {
        QFETCH(double, x);
        QFETCH(double, diameter);
        QFETCH(double, contrast);
        QFETCH(bool, one);
        Piece rim = disc(0, 0, 12, -0.3);
        rim.hollow = true;
        std::vector<Piece> pieces{disc(x, 0, diameter, contrast), rim};
        leaveOutSeenTwice(pieces, ppu);
        QCOMPARE(pieces.size(), std::size_t(one ? 1 : 2));
        if (one) QVERIFY(pieces[0].hollow);
    }
    void scratchesThatCrossInTheirMiddlesAreTwo()
    {
        std::vector<Piece> pieces{band({{-20, 0}, {20, 0}}, 1, -0.2), band({{0, -20}, {0, 20}}, 1, -0.2)};
        leaveOutSeenTwice(pieces, ppu);
        QCOMPARE(pieces.size(), std::size_t(2));
    }

    void aScratchHasItsTips_data()
    {
        QTest::addColumn<double>("from");  // um along, of what lies after a scratch from -20 to 20
        QTest::addColumn<double>("to");
        QTest::addColumn<double>("aside");
        QTest::addColumn<double>("contrast");  // the scratch: -0.3
        QTest::addColumn<bool>("tip");
        QTest::newRow("its tip") << 20.5 << 24.0 << 0.1 << -0.1 << true;
        QTest::newRow("its other tip") << -24.0 << -20.5 << 0.1 << -0.1 << true;
        QTest::newRow("dirt at its end") << 20.5 << 24.0 << 0.1 << -0.4 << false;
        QTest::newRow("beside its end") << 20.5 << 24.0 << 2.5 << -0.1 << false;
        QTest::newRow("bright") << 20.5 << 24.0 << 0.1 << 0.1 << false;
        QTest::newRow("farther on") << 24.0 << 27.0 << 0.1 << -0.1 << false;
        QTest::newRow("long itself") << 20.5 << 38.0 << 0.1 << -0.1 << false;
        QTest::newRow("along its middle") << 2.0 << 6.0 << 0.1 << -0.1 << false;
    }
    void aScratchHasItsTips()
    {
        QFETCH(double, from);
        QFETCH(double, to);
        QFETCH(double, aside);
        QFETCH(double, contrast);
        QFETCH(bool, tip);
        for (const bool first : {true, false}) {
            std::vector<Piece> pieces{band({{-20, 0}, {20, 0}}, 1.6, -0.3), band({{from, aside}, {to, aside}}, 1.6, contrast)};
            if (!first) std::swap(pieces[0], pieces[1]);
            joinTips(pieces, ppu);
            QCOMPARE(pieces.size(), std::size_t(tip ? 1 : 2));
            if (!tip) continue;
            QVERIFY(std::abs(2 * pieces[0].radius / ppu - 44) < 1);
            QCOMPARE(pieces[0].contrast, -0.3);
        }
    }

    void aSideOfAScratchIsNoOther_data()
    {
        QTest::addColumn<double>("aside");  // um from the middle of a scratch 4 um wide
        QTest::addColumn<double>("askew");  // degrees
        QTest::addColumn<double>("half");   // um of its length; the scratch has 25
        QTest::addColumn<bool>("within");
        QTest::newRow("a side") << 1.2 << 0.0 << 22.0 << true;
        QTest::newRow("a line beside it") << 3.5 << 0.0 << 22.0 << false;
        QTest::newRow("one that crosses") << 0.0 << 9.0 << 22.0 << false;
        QTest::newRow("one that goes on far beyond") << 1.2 << 0.0 << 45.0 << false;
    }
    void aSideOfAScratchIsNoOther()
    {
        QFETCH(double, aside);
        QFETCH(double, askew);
        QFETCH(double, half);
        QFETCH(bool, within);
        const double a = askew * std::numbers::pi / 180, dx = half * std::cos(a), dy = half * std::sin(a);
        const std::vector<Piece> pieces{band({{-dx, aside - dy}, {dx, aside + dy}}, 1, -0.2), band({{-25, 0}, {25, 0}}, 4, -0.2)};
        std::vector<Finding> findings(2);
        for (Finding& f : findings) f.kind = FindingKind::Scratch;
        findings[0].width = Micrometre(1);
        findings[1].width = Micrometre(4);
        leaveOutLinesWithin(findings, pieces, ppu);
        QCOMPARE(findings.size(), std::size_t(within ? 1 : 2));
        QCOMPARE(findings.back().width.value(), 4.0);
    }
    void dirtAlongAScratchIsNoSideOfIt()
    {
        std::vector<Finding> findings(2);  // both the same pieces as a scratch with a side, but one of them is a defect
        findings[1].kind = FindingKind::Scratch;
        for (Finding& f : findings) f.width = Micrometre(2);
        leaveOutLinesWithin(findings, {band({{-10, 0}, {10, 0}}, 2, -0.2), band({{-25, 0}, {25, 0}}, 2, -0.2)}, ppu);
        QCOMPARE(findings.size(), std::size_t(2));
    }
};

QTEST_APPLESS_MAIN(TestFoundTwice)
#include "test_found_twice.moc"
