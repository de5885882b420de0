#include <QtTest>

#include "face/find/axis.h"
#include "face/segment/film_parts.h"
#include "face/segment/flanks.h"
#include "piece_shapes.h"

using namespace clendo;
using namespace clendo::face;

using Pieces = std::vector<Piece>;

/// Which pieces are one thing.
class TestJoining : public QObject {
    Q_OBJECT
private slots:
    void aDropletsRimsAreOne()
    {
        Piece outer = disc(10, 10, 9, -0.15), inner = disc(10, 10, 6, 0.1);
        outer.hollow = true;
        std::vector<Piece> pieces{outer, inner, disc(-20, 0, 3)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(2));
        QVERIFY(pieces[0].hollow);
    }
    void whatADropletGathersInItsMiddleIsItsOwn_data()
    {
        QTest::addColumn<double>("aside");  // um from the droplet's middle
        QTest::addColumn<int>("things");
        QTest::newRow("in its middle") << 0.5 << 1;
        QTest::newRow("beside it: dirt on the droplet") << 3.0 << 2;
        QTest::newRow("outside") << 20.0 << 2;
    }
    void whatADropletGathersInItsMiddleIsItsOwn()
    {
        QFETCH(double, aside);
        QFETCH(int, things);
        Piece rim = disc(10, 10, 16, -0.2);
        rim.hollow = true;
        std::vector<Piece> pieces{disc(10 + aside, 10, 3, 0.5), rim};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(things));
        if (things == 1) QVERIFY(pieces[0].contrast == rim.contrast && std::abs(pieces[0].radius - rim.radius) < 0.01);
    }
    /// A wide groove in light from the side: one flank dark, one bright.
    void theFlanksOfAGrooveAreOneScratch_data()
    {
        QTest::addColumn<double>("apart");     // um between the middles
        QTest::addColumn<double>("askew");     // degrees
        QTest::addColumn<double>("contrast");  // of the second; the first is -0.25
        QTest::addColumn<double>("from");      // of the second, um along; the first goes from -25 to 25
        QTest::addColumn<double>("to");
        QTest::addColumn<bool>("one");
        QTest::newRow("a groove") << 2.6 << 0.0 << 0.2 << -24.0 << 25.0 << true;
        QTest::newRow("its flanks not quite even") << 3.2 << 1.0 << 0.12 << -20.0 << 24.0 << true;
        QTest::newRow("both dark: two scratches") << 2.6 << 0.0 << -0.25 << -24.0 << 25.0 << false;
        QTest::newRow("too far apart") << 6.0 << 0.0 << 0.2 << -24.0 << 25.0 << false;
        QTest::newRow("one far shorter") << 2.6 << 0.0 << 0.2 << -8.0 << 20.0 << false;
        QTest::newRow("pushed along") << 2.6 << 0.0 << 0.2 << -2.0 << 45.0 << false;
        QTest::newRow("crossing") << 1.0 << 12.0 << 0.2 << -25.0 << 25.0 << false;
        QTest::newRow("its halo") << 2.6 << 0.0 << 0.06 << -24.0 << 25.0 << false;
    }
    void theFlanksOfAGrooveAreOneScratch()
    {
        QFETCH(double, apart);
        QFETCH(double, askew);
        QFETCH(double, contrast);
        QFETCH(double, from);
        QFETCH(double, to);
        QFETCH(bool, one);
        const double slope = std::tan(askew * std::numbers::pi / 180);
        std::vector<Piece> pieces{band({{-25, 5}, {25, 5}}, 1.2, -0.25), disc(-30, -20, 4),
                                  band({{from, 5 + apart + slope * from}, {to, 5 + apart + slope * to}}, 1.2, contrast)};
        joinFlanks(pieces, ppu);
        QCOMPARE(pieces.size(), std::size_t(one ? 2 : 3));
        if (!one) return;
        const auto found = describe(pieces, edge, ppu);
        const auto groove = std::find_if(found.begin(), found.end(), [](const Finding& f) { return f.kind == FindingKind::Scratch; });
        QVERIFY(groove != found.end());
        QVERIFY2(qAbs(groove->width.value() - (apart + 1.2)) < 0.4, qPrintable(QString::number(groove->width.value())));
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
    void aFilmIsOneThroughItsPatchesInWhateverOrder()
    {
        // in a row: each touches its neighbours alone
        std::vector<double> places{0, 10, 20, 30, 40};
        do {
            std::vector<Piece> pieces;
            for (const double x : places) pieces.push_back(disc(x, 0, 8, -0.12));
            pieces.push_back(disc(0, 30, 8, -0.12));
            joinPieces(pieces, {ppu, 1, 0});
            QCOMPARE(pieces.size(), std::size_t(2));
            QVERIFY(std::abs(pieces[0].radius - 24 * ppu) < 0.5 * ppu);
        } while (std::next_permutation(places.begin(), places.end()));
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
    void anArcOfLightAlongAThingIsNone_data()
    {
        QTest::addColumn<double>("contrast");
        QTest::addColumn<double>("radius");  // of the arc about the thing
        QTest::addColumn<double>("degrees");
        QTest::addColumn<int>("things");
        QTest::newRow("bright") << 0.15 << 3.6 << 90.0 << 1;
        QTest::newRow("all round") << 0.15 << 3.6 << 330.0 << 1;
        QTest::newRow("dark and faint") << -0.1 << 3.6 << 90.0 << 1;
        QTest::newRow("dark and plain: lint about it") << -0.2 << 3.6 << 90.0 << 2;
        QTest::newRow("bright and plain") << 0.3 << 3.6 << 90.0 << 2;
        QTest::newRow("farther away") << 0.15 << 9.0 << 90.0 << 2;
        QTest::newRow("no longer than wide: a speck") << 0.15 << 3.4 << 0.0 << 2;
    }
    void anArcOfLightAlongAThingIsNone()
    {
        QFETCH(double, contrast);
        QFETCH(double, radius);
        QFETCH(double, degrees);
        QFETCH(int, things);
        std::vector<cv::Point2d> along;
        for (double a = 0; degrees > 0 && a <= degrees; a += degrees / 40)
            along.emplace_back(radius * std::cos(a * std::numbers::pi / 180), radius * std::sin(a * std::numbers::pi / 180));
        std::vector<Piece> pieces{along.empty() ? disc(radius, 0, 1.2, contrast) : band(along, 1, contrast), disc(0, 0, 5, -0.45)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(things));
        if (things == 1) QVERIFY(qAbs(2 * pieces[0].radius / ppu - 5) < 0.1);
    }
    void besideALineOnlyOfTheOtherSign_data()
    {
        QTest::addColumn<double>("contrast");
        QTest::addColumn<double>("length");
        QTest::addColumn<int>("things");
        QTest::newRow("a bright part beside it") << 0.1 << 8.0 << 1;
        QTest::newRow("dark: how another line goes on") << -0.09 << 8.0 << 2;
    }
    void besideALineOnlyOfTheOtherSign()
    {
        QFETCH(double, contrast);
        QFETCH(double, length);
        QFETCH(int, things);
        std::vector<Piece> pieces{band({{0, -2.2}, {length, -2.2}}, 1, contrast), band({{-30, 0}, {30, 0}}, 2, -0.4)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(things));
    }
    void whatIsLeftOfAWideHoleJoinsNothing()
    {
        for (const bool sliver : {false, true}) {
            Piece inGlass = band({{57, -2}, {61.8, -2}}, 0.8, -0.12), beside = band({{65, -6}, {65.5, 3}}, 2, -0.11);
            inGlass.atRim = beside.atRim = true;
            beside.region = Region::Ferrule;
            beside.staysOut = sliver;
            std::vector<Piece> pieces{inGlass, beside};
            joinPieces(pieces, {ppu, 1, 0});
            QCOMPARE(pieces.size(), std::size_t(sliver ? 2 : 1));
        }
    }
    void aScratchWithABrightSideIsAScratch_data()
    {
        QTest::addColumn<double>("contrast");  // of the bright side
        QTest::addColumn<double>("width");     // of the whole
        QTest::newRow("the edge of it that faces the light") << 0.25 << 2.4;
        QTest::newRow("what sharpening leaves beside it") << 0.12 << 1.2;
    }
    void aScratchWithABrightSideIsAScratch()
    {
        QFETCH(double, contrast);
        QFETCH(double, width);
        std::vector<Piece> pieces{band({{-20, 0}, {20, 0}}, 1.2, -0.4), band({{-18, 1.3}, {17, 1.3}}, 1.2, contrast)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(1));
        const auto f = describe(pieces, edge, ppu).front();
        QVERIFY(f.kind == FindingKind::Scratch);
        QVERIFY2(qAbs(f.width.value() - width) < 0.6, qPrintable(QString::number(f.width.value())));
    }
    void brightDirtOnADarkScratchIsAThingOfItsOwn()
    {
        std::vector<Piece> pieces{band({{-20, 0}, {20, 0}}, 1.2, -0.4), disc(3, 3.2, 5, 0.3)};
        joinPieces(pieces, {ppu, 1, 0});
        QCOMPARE(pieces.size(), std::size_t(2));
    }
    void theAxisOfWhatIsStraight()
    {
        const auto axis = straightAxis(band({{-10, 5}, {20, 12}}, 1, -0.2), ppu);
        QVERIFY(axis);
        QVERIFY(axis->aside({static_cast<float>(edge.circle.x + 5 * ppu), static_cast<float>(edge.circle.y + 8.5 * ppu)}) < 0.2 * ppu);
        QVERIFY(!straightAxis(band(arc(8, 40), 2), ppu));
        QVERIFY(!straightAxis(disc(0, 0, 12), ppu));
        QVERIFY(!straightAxis(band({{0, 0}, {4, 0}}, 0.5), ppu));  // too short to tell
    }
    void lintThatGoesOnBeyondTheRimIsNoScratch()
    {
        Piece bent = band(arc(1.7, 28), 1.4);
        QVERIFY(describe({bent}, edge, ppu).front().kind == FindingKind::Scratch);
        bent.atRim = true;
        QVERIFY(describe({bent}, edge, ppu).front().kind == FindingKind::Defect);
        Piece straight = band(arc(0.4, 28), 1.4);
        straight.atRim = true;
        QVERIFY(describe({straight}, edge, ppu).front().kind == FindingKind::Scratch);
    }
    void spotsOfAFilmAreOne_data()
    {
        QTest::addColumn<Pieces>("spots");
        QTest::addColumn<Piece>("calm");
        QTest::addColumn<int>("things");
        const Piece film = disc(10, 10, 20, -0.12);
        const std::vector<Piece> spots{disc(5, 10, 3, -0.2), disc(13, 6, 4, -0.18), disc(14, 15, 2, -0.22)};
        const auto with = [&](const Piece& more) {
            auto all = spots;
            all.push_back(more);
            return all;
        };
        QTest::newRow("film") << spots << film << 1;
        QTest::newRow("and dirt beside it") << with(disc(-20, 0, 3, -0.2)) << film << 2;
        QTest::newRow("and dirt on it") << with(disc(10, 10, 3, -0.5)) << film << 2;
        QTest::newRow("two specks beside each other") << std::vector{spots[0], spots[1]} << film << 2;
        QTest::newRow("specks along a line") << spots << band({{3, 10}, {17, 10}}, 3, -0.12) << 3;
        QTest::newRow("specks in a small heap") << std::vector{disc(9, 9, 2, -0.2), disc(11, 9, 2, -0.2), disc(10, 11, 2, -0.2)}
                                                << disc(10, 10, 6, -0.15) << 3;
    }
    void spotsOfAFilmAreOne()
    {
        QFETCH(Pieces, spots);
        QFETCH(Piece, calm);
        QFETCH(int, things);
        std::vector<Piece> pieces{disc(12, 12, 2, 0.3)};  // a bright thing on it: of the other sign
        pieces.insert(pieces.end(), spots.begin(), spots.end());
        joinFilmParts(pieces, 1, {calm}, ppu);
        QCOMPARE(pieces.size(), std::size_t(things) + 1);
        QCOMPARE(pieces.front().contrast, 0.3);
        if (things == 1) QCOMPARE(pieces.back().radius, calm.radius);
    }
    void aFlakeThatShinesInItsMiddleIsOne_data()
    {
        QTest::addColumn<Pieces>("parts");
        QTest::addColumn<Piece>("glint");
        QTest::addColumn<int>("things");
        const Pieces halves{disc(-1.9, 0, 2.8, -0.35), disc(1.9, 0, 3, -0.3)};
        QTest::newRow("between its parts") << halves << disc(0, 0, 1.1, 0.15) << 1;
        QTest::newRow("between slender parts") << Pieces{disc(-2.2, 0, 1.6, -0.35), disc(2.2, 0, 1.6, -0.35)} << disc(0, 0, 1.5, 0.15) << 1;
        QTest::newRow("between parts of which one hardly shows") << Pieces{halves[0], disc(1.9, 0, 3, -0.12)} << disc(0, 0, 1.1, 0.15) << 3;
        QTest::newRow("light around its parts") << halves << disc(0, 0, 1.1, 0.08) << 2;
        QTest::newRow("beside both") << Pieces{disc(-1.9, 0, 2.8, -0.35), disc(0.6, 1.8, 3, -0.3)} << disc(0.2, -0.6, 0.8, 0.15) << 3;
        QTest::newRow("between a speck and a scratch") << Pieces{halves[0], band({{1.2, -20}, {1.2, 20}}, 1.2)} << disc(0, 0, 1.1, 0.15) << 2;
    }
    void aFlakeThatShinesInItsMiddleIsOne()
    {
        QFETCH(Pieces, parts);
        QFETCH(Piece, glint);
        QFETCH(int, things);
        for (const std::size_t at : {0, 1, 2}) {
            Pieces pieces = parts;
            pieces.insert(pieces.begin() + static_cast<std::ptrdiff_t>(at), glint);
            joinPieces(pieces, {ppu, 1, 0});
            QCOMPARE(pieces.size(), std::size_t(things));
            if (things != 1) continue;
            const Finding flake = describe(pieces, edge, ppu).front();
            QVERIFY(flake.kind == FindingKind::Defect && flake.size > Micrometre(5.6) && flake.size < Micrometre(7.5));
        }
    }
    void whatJpegLeavesAroundAStrongThingIsNone()
    {
        for (const double rounding : {0.0, 0.07}) {
            std::vector<Piece> pieces{disc(0, 0, 3, -0.65), disc(3.2, 0, 3.5, -0.12)};
            joinPieces(pieces, {ppu, 1, 0, rounding});
            QCOMPARE(pieces.size(), std::size_t(rounding > 0 ? 1 : 2));
            std::vector<Piece> inOneBlock{band({{-20, 0}, {20, 0}}, 1.2, -0.36), disc(3, -3.4, 1, 0.065)};
            joinPieces(inOneBlock, {ppu, 1, 0, rounding});
            QCOMPARE(inOneBlock.size(), std::size_t(rounding > 0 ? 1 : 2));
        }
    }
};

QTEST_GUILESS_MAIN(TestJoining)
#include "test_joining.moc"
