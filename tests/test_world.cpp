#include <QtTest>
#include <numeric>

#include "world/face_world.h"
#include "world/trace_world.h"

using namespace clendo;
using namespace clendo::world;

/// The simulated world must be what it says: tests elsewhere trust its truth.
class TestWorld : public QObject {
    Q_OBJECT
private slots:
    void theSameSeedGivesTheSameFace()
    {
        for (const auto story : {Story::Clean, Story::SomeDust, Story::Dusty, Story::Oily, Story::Scratched, Story::Pitted}) {
            const auto a = makeFace(story, 11), b = makeFace(story, 11), c = makeFace(story, 12);
            QCOMPARE(a.marks.size(), b.marks.size());
            bool differs = false;
            for (std::size_t i = 0; i < a.marks.size(); ++i) {
                QCOMPARE(a.marks[i].at.x.value(), b.marks[i].at.x.value());
                differs = differs || a.marks[i].at.x != c.marks[i].at.x;
            }
            QVERIFY(differs);
        }
    }
    void damageStaysWhereItIs()
    {
        const auto before = makeFace(Story::Pitted, 4), after = cleaned(before, 5, 4);
        for (const auto& mark : before.marks) {
            if (!mark.damage) continue;
            const bool stayed = std::any_of(after.marks.begin(), after.marks.end(),
                                            [&](const Mark& m) { return m.damage && m.at.x == mark.at.x && m.at.y == mark.at.y; });
            QVERIFY(stayed);
        }
    }
    void dirtInTheGlassGoesByCleaning()
    {
        int left = 0, was = 0;
        for (std::uint32_t seed = 1; seed <= 20; ++seed) {
            const auto dirty = makeFace(Story::Dusty, seed), clean = cleaned(dirty, 2, seed);
            const auto inGlass = [](const SimulatedFace& f) {
                return int(std::count_if(f.marks.begin(), f.marks.end(), [](const Mark& m) { return m.at.radius() < Micrometre(60); }));
            };
            was += inGlass(dirty);
            left += inGlass(clean);
        }
        QVERIFY(was > 200);
        QVERIFY(left < was / 10);
    }
    /// What covers a face, by its share on rings round the mark's middle.
    void lintIsAStrandAndAResidueHasARim()
    {
        const auto covered = [](const Mark& mark, double x, double y) { return cover(mark, {Micrometre(x), Micrometre(y)}, Micrometre(0.3)); };
        const Mark dried{Mark::Shape::Dried, {}, Micrometre(40), {}, 0.7, -0.3, false};
        double rim = 0, film = 0;
        for (int i = 0; i < 72; ++i) {
            const double a = i * 2 * M_PI / 72;
            double most = 0;
            for (double r = 15; r < 25; r += 0.1) most = std::max(most, covered(dried, r * std::cos(a), r * std::sin(a)));
            rim += most / 72;
            film += covered(dried, 8 * std::cos(a), 8 * std::sin(a)) / 72;
            QCOMPARE(covered(dried, 26 * std::cos(a), 26 * std::sin(a)), 0.0);
        }
        QVERIFY2(rim > 0.9 && film > 0.2 && film < 0.5, qPrintable(QString("%1 %2").arg(rim).arg(film)));
        const Mark lint{Mark::Shape::Lint, {}, Micrometre(2), Micrometre(80), 0.4, -0.5, false};
        double area = 0, straight = 0;
        for (double x = -60; x < 60; x += 0.5)
            for (double y = -60; y < 60; y += 0.5) {
                area += covered(lint, x, y) * 0.25;
                const double along = std::abs(x * std::cos(0.4) + y * std::sin(0.4)), off = std::abs(-x * std::sin(0.4) + y * std::cos(0.4));
                if (along < 40 && off < 1) straight += covered(lint, x, y) * 0.25;
            }
        QVERIFY2(area > 80 && area < 175, qPrintable(QString::number(area)));    // 80 um of a strand that tapers
        QVERIFY2(straight < 0.5 * area, qPrintable(QString::number(straight)));  // and bends
    }
    void pictureGreyLevelsAreAsLit()
    {
        Camera bright, dim;
        dim.brightness = 0.5;
        const auto mean = [](const face::Picture& p) {
            double sum = 0;
            for (const auto g : p.pixels) sum += g;
            return sum / double(p.pixels.size());
        };
        const auto a = takePicture({}, bright), b = takePicture({}, dim);
        QVERIFY(a.sound() && b.sound());
        QVERIFY(qAbs(mean(b) / mean(a) - 0.5) < 0.02);
        // the cladding is darker than the ferrule
        const auto row = [&](std::size_t from) {
            return std::accumulate(a.pixels.begin() + std::ptrdiff_t(300 * 800 + from), a.pixels.begin() + std::ptrdiff_t(300 * 800 + from + 60), 0) /
                   60;
        };
        QVERIFY(row(430) + 20 < row(600));
    }
    void levelsFallAsTheFibreSays_data()
    {
        QTest::addColumn<double>("alpha");
        for (const double alpha : {0.2, 0.35, 0.6}) QTest::addRow("%.2f dB/km", alpha) << alpha;
    }
    void levelsFallAsTheFibreSays()
    {
        QFETCH(double, alpha);
        const auto t = shoot({{Metre(3000), DecibelPerKilometre(alpha), Decibel(30), Decibel(-15)}}, {});
        const auto levelAt = [&](double z) {
            double sum = 0;
            int n = 0;
            for (std::size_t i = 0; i < t.level.size(); ++i)
                if (std::abs(double(t.distance[i]) - z) < 30) sum += double(t.level[i]), ++n;
            return sum / n;
        };
        QVERIFY(qAbs(levelAt(500) - levelAt(2500) - 2 * alpha) < 0.02);
    }
    void aJointIsAStepAndAReflectionASpike()
    {
        const auto t = shoot(
            {{Metre(1000), DecibelPerKilometre(0.3), Decibel(0.5), Decibel(-40)}, {Metre(1000), DecibelPerKilometre(0.3), Decibel(30), Decibel(-15)}},
            {});
        const auto at = [&](double z) { return double(t.level[static_cast<std::size_t>(z / t.spacing().value())]); };
        QVERIFY(qAbs(at(900) - at(1200) - 0.5 - 0.09) < 0.1);
        QVERIFY(at(1001.5) > at(900) + 5);
        QVERIFY(at(2200) < at(1900) - 8);
    }
    void noiseIsRepeatable()
    {
        Shot shot;
        const std::vector<Stretch> line{{Metre(500), DecibelPerKilometre(0.3), Decibel(30), {}}};
        QVERIFY(shoot(line, shot).level == shoot(line, shot).level);
        shot.seed = 2;
        QVERIFY(shoot(line, shot).level != shoot(line, {}).level);
    }
};
QTEST_APPLESS_MAIN(TestWorld)
#include "test_world.moc"
