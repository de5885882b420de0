#include <QtTest>
#include <numbers>
#include <set>

#include "face/compare_looks.h"
#include "face/expected_loss.h"
#include "face/expected_reflectance.h"
#include "face/meaning.h"
#include "face/unroll.h"
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
        const double r = size / 2, w = 4.6, blocked = 1 - std::exp(-2 * r * r / (w * w)), expected = -20 * std::log10(1 - blocked);
        QVERIFY2(qAbs(loss.most.value() - expected) < 0.05 * expected + 0.01, qPrintable(QString("%1 %2").arg(loss.most.value()).arg(expected)));
        QVERIFY(loss.least < loss.most && loss.least > Decibel(0));
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
    void reflectanceIfMated_data()
    {
        QTest::addColumn<QString>("polish");
        QTest::addColumn<double>("at");
        QTest::addColumn<bool>("scratch");
        QTest::addColumn<double>("most");  // dB, by hand: r = 0.468 / 2.468; a gap of two surfaces 4r²/(1+r²)², an angled face 45 dB less
        QTest::newRow("clean") << "sm-upc" << 500.0 << false << -45.0;
        QTest::newRow("a particle parts the faces") << "sm-upc" << 40.0 << false << -8.73;
        QTest::newRow("a scratch parts nothing") << "sm-upc" << 40.0 << true << -45.0;
        QTest::newRow("an angled face reflects elsewhere") << "sm-apc" << 40.0 << false << -53.73;
    }
    void reflectanceIfMated()
    {
        QFETCH(const QString, polish);
        QFETCH(const double, at);
        QFETCH(const bool, scratch);
        QFETCH(const double, most);
        const auto known = loadPolishReflectance(polish.toStdString(), dataFolder());
        QVERIFY(known);
        Finding f = thing(1, at, 0, 6);
        if (scratch) f.appearance = Appearance::Scratch;
        const auto r = expectedReflectance({f}, 0, *known);
        QCOMPARE(r.least.value(), known->inContact.value());
        QVERIFY2(std::abs(r.most.value() - most) < 0.02, QByteArray::number(r.most.value()));
        // a blocked core alone reflects no more than one surface
        const auto blocked = expectedReflectance({}, 1.0, *known);
        QVERIFY(blocked.most < Decibel(-14.3) && blocked.most >= known->inContact && !blocked.gapPossible);
        QVERIFY(!loadPolishReflectance("no-such", dataFolder()));
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
