#include <QtTest>
#include <complex>
#include <numbers>
#include <set>

#include "face/judge/compare_looks.h"
#include "face/judge/dirt.h"
#include "face/judge/expected_loss.h"
#include "face/judge/held_apart.h"
#include "face/judge/imprint.h"
#include "face/judge/meaning.h"
#include "face/judge/unroll.h"
#include "files/files.h"
#include "world/face_world.h"

using namespace clendo;
using namespace clendo::face;

namespace {

Finding thing(int id, double x, double y, double size, FindingKind kind = FindingKind::Defect)
{
    Finding f;
    f.id = id;
    f.kind = kind;
    f.appearance = kind == FindingKind::Scratch ? Appearance::Scratch : Appearance::Particle;
    f.centre = {Micrometre(x), Micrometre(y)};
    f.size = f.length = f.width = Micrometre(size);
    if (kind == FindingKind::Scratch) f.width = Micrometre(1);
    f.nearest = Micrometre(std::max(0.0, std::hypot(x, y) - f.width.value() / 2));
    f.farthest = Micrometre(std::hypot(x, y) + f.width.value() / 2);
    f.contrast = -0.6;
    return f;
}

/// |sum of the mode's field squared, each point with what lies there|² over all, on a grid: what a thing of this shape does to a Gaussian mode.
template <class Field>
double overlapLoss(double w, double aside, Field field)
{
    std::complex<double> sum = 0;
    double all = 0;
    for (double x = -15; x <= 15; x += 0.05)
        for (double y = -15; y <= 15; y += 0.05) {
            const double here = std::exp(-(x * x + y * y) / (w * w)), there = std::exp(-((x - aside) * (x - aside) + y * y) / (w * w));
            sum += here * there * field(x, y);
            all += here * here;
        }
    return -20 * std::log10(std::abs(sum) / all);
}

std::vector<Finding> turned(std::vector<Finding> findings, double degrees)
{
    const double a = degrees * std::numbers::pi / 180;
    for (auto& f : findings) {
        const double x = f.centre.x.value(), y = f.centre.y.value();
        f.centre = {Micrometre(x * std::cos(a) - y * std::sin(a)), Micrometre(x * std::sin(a) + y * std::cos(a))};
    }
    return findings;
}

const std::vector<Finding> dirty{thing(1, 5, 8, 3), thing(2, -30, 4, 6), thing(3, 20, -35, 4), thing(4, 44, 10, 2.5), thing(5, -12, 40, 8)};

}  // namespace

/// Looks against each other, laid flat, and what they would cost.
class TestLooks : public QObject {
    Q_OBJECT
private slots:
    void theTurnIsFound_data()
    {
        QTest::addColumn<double>("degrees");
        for (const double d : {0.0, 3.0, -11.0, 25.0, 90.0, 179.0}) QTest::addRow("%.0f degrees", d) << d;
    }
    void theTurnIsFound()
    {
        QFETCH(double, degrees);
        auto after = turned(dirty, degrees);
        for (auto& f : after) f.centre.x = f.centre.x + Micrometre(0.3);  // the centre is not found better than that
        after.erase(after.begin() + 3);
        const auto c = compareLooks(dirty, after);
        QVERIFY2(qAbs(c.turnDegrees - degrees) < 1.5, qPrintable(QString::number(c.turnDegrees)));
        QCOMPARE(c.count(Fate::Stayed), 4);
        QCOMPARE(c.count(Fate::Gone), 1);
        QCOMPARE(c.count(Fate::New) + c.count(Fate::Moved), 0);
    }
    void whatBecameOfEach()
    {
        const std::vector<Finding> after{thing(1, -30.5, 4.2, 6.1), thing(2, 50, -20, 3.1), thing(3, 0, -50, 14)};
        const auto c = compareLooks(dirty, after);
        QVERIFY(c.ofLater(1) == Fate::Stayed);
        QVERIFY(c.ofLater(2) == Fate::Moved);  // a loose thing of the size of number 1
        QVERIFY(c.ofLater(3) == Fate::New);
        QCOMPARE(c.count(Fate::Gone), 3);
        QCOMPARE(c.fates.size(), std::size_t{6});
        QCOMPARE(std::string(name(Fate::Moved)), std::string("moved"));
    }
    void aScratchDoesNotMove()
    {
        const auto c = compareLooks({thing(1, 20, 0, 30, FindingKind::Scratch)}, {thing(1, -20, 5, 30, FindingKind::Scratch)});
        QCOMPARE(c.count(Fate::Gone), 1);
        QCOMPARE(c.count(Fate::New), 1);
    }
    void nothingAgainstNothing()
    {
        QVERIFY(compareLooks({}, {}).fates.empty());
        QCOMPARE(compareLooks(dirty, {}).count(Fate::Gone), 5);
        QCOMPARE(compareLooks({}, dirty).count(Fate::New), 5);
        // two things that could be turned onto each other prove no turn
        QCOMPARE(compareLooks({thing(1, 30, 0, 4)}, {thing(1, 0, 30, 4)}).turnDegrees, 0.0);
    }

    void aCleanFaceCostsNothing()
    {
        const auto spot = loadLightSpot(CoreKind::SingleMode, Nanometre(1310), dataFolder());
        QVERIFY(spot);
        QCOMPARE(spot->diameter.value(), 9.2);
        const auto loss = expectedLoss({thing(1, 40, 0, 6)}, *spot);
        QVERIFY(loss.most < Decibel(1e-6) && loss.blockedShare < 1e-6);
    }
    void aDiscInTheMiddleIsKnown_data()
    {
        QTest::addColumn<double>("size");
        for (const double d : {1.0, 2.0, 3.0, 5.0}) QTest::addRow("%.0f um", d) << d;
    }
    void aDiscInTheMiddleIsKnown()
    {
        // closed form: a centred disc of radius r blocks 1 - exp(-2 r²/w²) of a Gaussian
        QFETCH(double, size);
        const auto loss = expectedLoss({thing(1, 0, 0, size)}, {});
        const double r = size / 2, w = 4.6, blocked = 1 - std::exp(-2 * r * r / (w * w));
        QVERIFY(qAbs(loss.blockedShare - blocked) < 0.02);
        // opaque it would lose -20 lg(1 - b); what turns the light by half a wave loses more, up to all of it
        const double opaque = -20 * std::log10(1 - blocked), turned = -20 * std::log10(1 - 2 * std::min(0.4995, blocked));
        QVERIFY2(qAbs(loss.most.value() - turned) < 0.1 * turned + 0.01, qPrintable(QString("%1 %2").arg(loss.most.value()).arg(turned)));
        QVERIFY(loss.least < loss.most && loss.least > Decibel(0) && loss.most.value() > opaque);
    }
    void theBoundsHoldAgainstTheOverlapIntegral_data()
    {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("size");
        QTest::newRow("in the middle") << 0.0 << 2.0;
        QTest::newRow("beside") << 2.5 << 3.0;
        QTest::newRow("at the edge") << 4.6 << 4.0;
    }
    void theBoundsHoldAgainstTheOverlapIntegral()
    {
        QFETCH(const double, x);
        QFETCH(const double, size);
        const auto loss = expectedLoss({thing(1, x, 0, size)}, {});
        double worst = 0;
        for (const std::complex<double> inside :
             {std::complex<double>(0), {-1, 0}, {0, 1}, {0.5, 0}, {0.3, -0.6}}) {  // opaque, half a wave, and others
            const double is =
                overlapLoss(4.6, 0, [&](double px, double py) { return std::hypot(px - x, py) < size / 2 ? inside : std::complex<double>(1); });
            QVERIFY2(is <= loss.most.value() * 1.03 + 0.01, qPrintable(QString("%1 %2").arg(is).arg(loss.most.value())));
            worst = std::max(worst, is);
        }
        QVERIFY(worst > 0.9 * loss.most.value());  // and the bound is no larger than it has to be
    }
    void aScratchCountsOnItsOwnSideOnly()
    {
        Finding scratch = thing(1, 3, 0, 40);
        scratch.kind = FindingKind::Scratch;
        scratch.appearance = Appearance::Scratch;
        scratch.nearest = Micrometre(2.5);
        scratch.width = Micrometre(1);
        // a bar from 2.5 to 3.5 um beside the middle of a Gaussian
        const double w = 4.6, share = (std::erf(std::sqrt(2.0) * 3.5 / w) - std::erf(std::sqrt(2.0) * 2.5 / w)) / 2;
        QVERIFY2(qAbs(expectedLoss({scratch}, {}).blockedShare - share) < 0.01,
                 qPrintable(QString::number(expectedLoss({scratch}, {}).blockedShare)));
    }
    void lintThatCurvesAroundTheCoreDoesNotCoverIt()
    {
        Finding lint = thing(1, 0, 0, 50);
        lint.appearance = Appearance::Lint;
        for (const double r : {22.0, 25.0})  // a ring's sector: there along the inside, back along the outside
            for (int i = 0; i <= 20; ++i) {
                const double angle = (r < 23 ? i : 20 - i) * 0.28;
                lint.outline.push_back({Micrometre(r * std::cos(angle)), Micrometre(r * std::sin(angle))});
            }
        QVERIFY(expectedLoss({lint}, {}).most < Decibel(1e-6));
        for (auto& p : lint.outline) p.x = p.x - Micrometre(23.5);  // now it lies across the middle
        QVERIFY(expectedLoss({lint}, {}).most > Decibel(0.5));
    }
    void aFibreOffItsHoleLosesByItsOffset()
    {
        for (const double d : {0.5, 1.0, 2.0}) {
            const double closed = 4.343 * d * d / (4.6 * 4.6), integral = overlapLoss(4.6, d, [](double, double) { return 1.0; });
            const double is = expectedLoss({}, {}, Micrometre(d)).most.value();
            QVERIFY(qAbs(is - closed) < 1e-3 && qAbs(is - integral) < 0.01 * integral + 1e-3);
        }
        QCOMPARE(expectedLoss({}, {LightSpot::Shape::Parabolic, Micrometre(50)}, Micrometre(2)).most.value(), 0.0);
    }
    void multimodeIsBlockedByArea()
    {
        const LightSpot spot{LightSpot::Shape::Parabolic, Micrometre(50)};
        // a disc of radius r in the middle of a parabola of radius a blocks 2 (r/a)² - (r/a)⁴
        const double q = 0.2 * 0.2, blocked = 2 * q - q * q;
        QVERIFY(qAbs(expectedLoss({thing(1, 0, 0, 10)}, spot).most.value() + 10 * std::log10(1 - blocked)) < 0.02);
        QVERIFY(expectedLoss({thing(1, 20, 0, 10)}, spot).most < expectedLoss({thing(1, 0, 0, 10)}, spot).most);
    }
    void moreDirtNeverCostsLess()
    {
        std::vector<Finding> findings;
        double before = 0;
        for (int i = 0; i < 6; ++i) {
            findings.push_back(thing(i + 1, 6.0 - 2 * i, 1.5 * i - 4, 2.5));
            const double now = expectedLoss(findings, {}).most.value();
            QVERIFY(now >= before);
            before = now;
        }
        QVERIFY(expectedLoss({thing(1, 0, 0, 200)}, {}).most < Decibel(100));  // a number, even where all is covered
    }
    void whatMayHoldTheFacesApart_data()
    {
        QTest::addColumn<int>("appearance");
        QTest::addColumn<double>("at");
        QTest::addColumn<double>("size");
        QTest::addColumn<bool>("may");
        QTest::newRow("a particle") << int(Appearance::Particle) << 40.0 << 3.0 << true;
        QTest::newRow("lint") << int(Appearance::Lint) << 90.0 << 60.0 << true;
        QTest::newRow("too small: pressed into the glass") << int(Appearance::Particle) << 40.0 << 1.8 << false;
        QTest::newRow("outside where they touch") << int(Appearance::Particle) << 130.0 << 5.0 << false;
        QTest::newRow("a chip is a hollow") << int(Appearance::Chip) << 60.0 << 20.0 << false;
        QTest::newRow("so is a pit") << int(Appearance::Pit) << 10.0 << 3.0 << false;
        QTest::newRow("a film fills the gap") << int(Appearance::Film) << 10.0 << 50.0 << false;
        QTest::newRow("a scratch") << int(Appearance::Scratch) << 10.0 << 50.0 << false;
    }
    void whatMayHoldTheFacesApart()
    {
        QFETCH(const int, appearance);
        QFETCH(const double, at);
        QFETCH(const double, size);
        QFETCH(const bool, may);
        Finding f = thing(1, at, 0, size);
        f.appearance = static_cast<Appearance>(appearance);
        QCOMPARE(mayBeHeldApart({f}), may);
    }
    void fibresThatAreNotKnownAreErrors()
    {
        QVERIFY(!loadLightSpot(CoreKind::SingleMode, Nanometre(850), dataFolder()));
        QVERIFY(!loadLightSpot(CoreKind::SingleMode, Nanometre(1310), std::filesystem::path("/no/such/folder")));
        QCOMPARE(loadLightSpot(CoreKind::Multimode62, Nanometre(850), dataFolder())->diameter.value(), 62.5);
    }

    void aFindingStandsWhereTheUnrolledPictureShowsIt_data()
    {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::newRow("right") << 30.0 << 1.0;
        QTest::newRow("below") << 0.0 << 40.0;
        QTest::newRow("left above") << -25.0 << -25.0;
    }
    void aFindingStandsWhereTheUnrolledPictureShowsIt()
    {
        QFETCH(double, x);
        QFETCH(double, y);
        const auto picture =
            world::takePicture({{{world::Mark::Shape::Speck, {Micrometre(x), Micrometre(y)}, Micrometre(6), {}, 0, -0.7, false}}}, {});
        const auto seen = measure(picture, {}).front();
        QVERIFY(seen.usable());
        UnrollFrame frame;
        frame.reach = Micrometre(60);
        const Picture flat = unroll(picture, seen, frame);
        QVERIFY(flat.sound());
        const auto [column, row] = frame.at({Micrometre(x), Micrometre(y)});
        const auto at = [&](double c, double r) {
            return int(flat.pixels[std::size_t(std::clamp(int(r), 0, flat.height - 1)) * std::size_t(flat.width) +
                                   std::size_t(int(c + flat.width) % flat.width)]);
        };
        QVERIFY(at(column, row) < 0.6 * at(column + flat.width / 2.0, row));
    }
    void aTurnedFrameMovesEverythingSideways()
    {
        UnrollFrame frame;
        const FacePoint place{Micrometre(0), Micrometre(50)};
        const double before = frame.at(place).first;
        frame.turnDegrees = 90;
        QVERIFY(qAbs(frame.at(place).first - before - frame.width / 4.0) < 1e-6);
        QCOMPARE(frame.at(place).second, 50.0 / 125 * frame.height);
    }
    void nothingIsUnrolledFromNothing()
    {
        QVERIFY(!unroll({}, {}, {}).sound());
        FaceMeasurement outside;
        outside.centre = {Pixel(-1e6), Pixel(5e8)};
        outside.claddingDiameter = Pixel(300);
        const Picture flat = unroll({2, 2, {1, 2, 3, 4}}, outside, {});
        QVERIFY(flat.sound());
        QVERIFY(std::all_of(flat.pixels.begin(), flat.pixels.end(), [](std::uint8_t g) { return g == 0; }));
        UnrollFrame none;
        none.width = 0;
        QVERIFY(!unroll({2, 2, {1, 2, 3, 4}}, outside, none).sound());
    }
    /// Marks of two faces that lay on each other: mirrored, turned, a little moved, more and less of them.
    void mirrorImagesArePressedTogether_data()
    {
        QTest::addColumn<int>("common");
        QTest::addColumn<int>("more");
        QTest::addColumn<bool>("mirrored");
        QTest::addColumn<bool>("believed");
        QTest::newRow("all of six") << 6 << 0 << true << true;
        QTest::newRow("six among four others on each") << 6 << 4 << true << true;
        QTest::newRow("twelve among twenty") << 12 << 20 << true << true;
        QTest::newRow("two say nothing") << 2 << 2 << true << false;
        QTest::newRow("the same face is no mirror image") << 7 << 0 << false << false;
        QTest::newRow("nothing in common") << 0 << 12 << true << false;
    }
    void mirrorImagesArePressedTogether()
    {
        QFETCH(int, common);
        QFETCH(int, more);
        QFETCH(bool, mirrored);
        QFETCH(bool, believed);
        std::mt19937 random(7);
        std::uniform_real_distribution<double> place(-60, 60), off(-0.6, 0.6), size(2, 7);
        const double turn = 1.9, c = std::cos(turn), s = std::sin(turn);
        std::vector<Finding> first, second;
        const auto mark = [](double x, double y, double um, int id) {
            Finding f;
            f.id = id;
            f.centre = {Micrometre(x), Micrometre(y)};
            f.size = f.length = Micrometre(um);
            return f;
        };
        for (int i = 1; i <= common; ++i) {
            const double x = place(random), y = place(random), um = size(random), u = mirrored ? -x : x;
            first.push_back(mark(x, y, um, i));
            second.push_back(mark(c * u - s * y + off(random), s * u + c * y + off(random), 1.2 * um, 100 + i));
        }
        for (int i = 1; i <= more; ++i) {
            first.push_back(mark(place(random), place(random), size(random), 200 + i));
            second.push_back(mark(place(random), place(random), size(random), 300 + i));
        }
        const Imprint found = imprintOf(first, second);
        QVERIFY2(found.believed() == believed, qPrintable(QStringLiteral("%1 pairs, %2").arg(found.pairs.size()).arg(found.byChance)));
        if (!believed) return;
        const auto right = std::count_if(found.pairs.begin(), found.pairs.end(), [](const ImprintPair& p) { return p.second == 100 + p.first; });
        QVERIFY2(right >= common - 1, qPrintable(QStringLiteral("%1 right pairs").arg(right)));
    }
    /// What is said to happen once in ten thousand is not seen in 1,500 pairs of faces that never met, scattered or with all their dirt on one ring.
    void strangersAreNoMirrorImages()
    {
        std::mt19937 random(11);
        int believed = 0;
        constexpr int pairs = 1500;
        for (int n = 0; n < pairs; ++n) {
            std::vector<Finding> faces[2];
            for (auto& face : faces)
                for (int i = 0, count = 3 + n % 25; i < count; ++i) {
                    std::uniform_real_distribution<double> angle(-3.1416, 3.1416), radius(n % 2 ? 55 : 0, n % 2 ? 65 : 120), size(1.5, 6);
                    const double a = angle(random), r = radius(random);
                    Finding f;
                    f.id = i + 1;
                    f.centre = {Micrometre(r * std::cos(a)), Micrometre(r * std::sin(a))};
                    f.size = f.length = Micrometre(size(random));
                    face.push_back(f);
                }
            believed += imprintOf(faces[0], faces[1]).believed();
        }
        QVERIFY2(believed <= 1, qPrintable(QString::number(believed)));
    }
    void aCrowdedFaceSaysItsDirt_data()
    {
        QTest::addColumn<QString>("things");  // a letter each: see below
        QTest::addColumn<int>("stayed");
        QTest::addColumn<QString>("kind");
        QTest::newRow("four things are no crowd") << "pppp" << 0 << "";
        QTest::newRow("specks alone") << "pppppp" << 0 << "dust";
        QTest::newRow("specks and small round ones") << "ppoooo" << 0 << "dust";
        QTest::newRow("droplets") << "dddpp" << 0 << "touch";
        QTest::newRow("droplets and a smear") << "ddfpppp" << 0 << "touch";
        QTest::newRow("two droplets are no touch") << "ddpppp" << 0 << "mixed dirt";
        QTest::newRow("faint patches") << "fffpp" << 0 << "dried liquid";
        QTest::newRow("a fibre with its specks") << "lpppp" << 0 << "lint";
        QTest::newRow("a short fibre is a thing of no kind") << "shhhp" << 0 << "mixed dirt";
        QTest::newRow("scratches") << "ssspp" << 0 << "ground-in grit";
        QTest::newRow("scratches under oil") << "sssddd" << 0 << "mixed dirt";
        QTest::newRow("specks that stayed") << "pppppp" << 5 << "ground-in grit";
        QTest::newRow("two that stayed of six") << "pppppp" << 2 << "dust";
    }
    void aCrowdedFaceSaysItsDirt()
    {
        QFETCH(QString, things);
        QFETCH(int, stayed);
        QFETCH(QString, kind);
        std::vector<Finding> findings;
        for (const QChar c : things) {
            Finding f;
            const auto is = [&](Appearance appearance, double size, double contrast) {
                f.appearance = appearance;
                f.kind = appearance == Appearance::Scratch ? FindingKind::Scratch : FindingKind::Defect;
                f.size = f.length = Micrometre(size);
                f.contrast = contrast;
            };
            if (c == 'p') is(Appearance::Particle, 4, -0.5);
            if (c == 'o') is(Appearance::Pit, 2, -0.4);
            if (c == 'd') is(Appearance::Droplet, 5, -0.3);
            if (c == 'f') is(Appearance::Film, 20, -0.1);
            if (c == 'l') is(Appearance::Lint, 60, -0.5);
            if (c == 'h') is(Appearance::Lint, 18, -0.5);
            if (c == 's') is(Appearance::Scratch, 40, -0.3);
            findings.push_back(f);
        }
        const auto dirt = dirtOf(findings, stayed);
        QCOMPARE(dirt.has_value(), !kind.isEmpty());
        if (!dirt) return;
        QCOMPARE(QString::fromUtf8(name(dirt->kind).data(), qsizetype(name(dirt->kind).size())), kind);
        const auto words = QString::fromStdString(sentenceOf(*dirt));
        int counted = 0;  // what the sentence names adds up to what lies there
        const auto head = words.section(';', 0, 0).section(" as ", 0, 0);
        for (const auto& word : head.split(' ')) counted += word.toInt();
        QVERIFY2(words.startsWith("Crowded: ") && words.endsWith('.') && counted == things.size(), qPrintable(words));
        QCOMPARE(words.contains("stayed at"), stayed > 0);
    }
    void everyLookHasAMeaning()
    {
        std::set<std::string_view> all;
        for (int a = 0; a <= static_cast<int>(Appearance::Other); ++a) {
            const auto words = meaningOf(static_cast<Appearance>(a));
            QVERIFY(words.size() > 40 && words.ends_with('.'));
            QVERIFY(all.insert(words).second);
        }
    }
};
QTEST_APPLESS_MAIN(TestLooks)
#include "test_looks.moc"
