// A face is known again by its marks.
#include <QTest>
#include <array>
#include <cmath>

#include "face/memory/match_faces.h"
#include "world/face_world.h"

using namespace clendo;
using namespace clendo::face;

namespace {

using world::Mark;

Mark at(Mark::Shape shape, double x, double y, double size, double contrast, double length = 0, double angle = 0)
{
    Mark m;
    m.shape = shape;
    m.at = {Micrometre(x), Micrometre(y)};
    m.size = Micrometre(size);
    m.length = Micrometre(length);
    m.angle = angle;
    m.contrast = contrast;
    m.damage = true;
    return m;
}

std::vector<Mark> faceA()
{
    return {at(Mark::Shape::Stroke, 12, -20, 1.6, -0.5, 46, 0.4), at(Mark::Shape::Speck, -30, 8, 4, -0.6), at(Mark::Shape::Speck, 22, 30, 3, -0.5),
            at(Mark::Shape::Stroke, -18, 26, 1.4, -0.4, 30, 2.1), at(Mark::Shape::Stroke, 2, 40, 1.5, -0.4, 26, 0.9)};
}

std::vector<Mark> faceB()
{
    return {at(Mark::Shape::Stroke, -5, 25, 1.6, -0.5, 50, 1.2), at(Mark::Shape::Speck, 38, -14, 4, -0.6), at(Mark::Shape::Speck, -12, -36, 3, -0.5),
            at(Mark::Shape::Stroke, 30, 12, 1.4, -0.4, 34, 0.1), at(Mark::Shape::Stroke, -32, -6, 1.5, -0.4, 28, 2.6)};
}

std::vector<Mark> turned(std::vector<Mark> marks, double degrees)
{
    const double a = degrees * 3.14159265358979 / 180;
    for (Mark& m : marks) {
        const double x = m.at.x.value(), y = m.at.y.value();
        m.at = {Micrometre(x * std::cos(a) - y * std::sin(a)), Micrometre(x * std::sin(a) + y * std::cos(a))};
        m.angle += a;
    }
    return marks;
}

Fingerprint seen(std::vector<Mark> marks, double scale, double noise, std::uint32_t seed)
{
    const world::Camera camera{
        .width = 900, .height = 700, .scale = Scale(scale), .blur = Micrometre(0.5), .offsetX = Micrometre(5), .noise = noise, .seed = seed};
    const auto picture = world::takePicture(world::SimulatedFace{std::move(marks)}, camera);
    return fingerprintOf(picture, measure(picture, {}).front()).value();
}

}  // namespace

class TestFaceMemory : public QObject {
    Q_OBJECT
private slots:
    void theSameFaceIsKnownAtAnyTurn_data()
    {
        QTest::addColumn<double>("turn");
        for (const double t : {0.0, 37.0, 144.5, 271.0}) QTest::newRow(qPrintable(QString::number(t))) << t;
    }
    void theSameFaceIsKnownAtAnyTurn()
    {
        QFETCH(const double, turn);
        auto later = turned(faceA(), turn);
        later.push_back(at(Mark::Shape::Speck, 5, 42, 6, -0.6));  // new dirt
        const Fingerprint first = seen(faceA(), 0.4, 1.5, 1), second = seen(later, 0.31, 2.5, 2);
        const FaceMatch m = matchFaces(first, second);
        QCOMPARE(name(m.answer), name(SameFace::Same));
        QVERIFY(m.turnDegrees && std::abs(std::remainder(*m.turnDegrees - turn, 360)) < 1.5);
        QVERIFY(m.marksUsed >= 3 && m.falseMatchRate < 1e-6 && m.score > 0.4 && m.score <= 1);
        // and the other way round, turned back
        const FaceMatch back = matchFaces(second, first);
        QCOMPARE(name(back.answer), name(SameFace::Same));
        QVERIFY(std::abs(std::remainder(*back.turnDegrees + turn, 360)) < 1.5);
    }
    void anotherFaceIsTold()
    {
        const FaceMatch m = matchFaces(seen(faceA(), 0.4, 1.5, 1), seen(faceB(), 0.4, 1.5, 2));
        QCOMPARE(name(m.answer), name(SameFace::Different));
        QVERIFY(!m.turnDegrees);
    }
    void linesOfOnePolishTellNothing()
    {
        std::vector<Mark> a, b;
        for (const double y : {-30.0, -11.0, 6.0, 27.0}) a.push_back(at(Mark::Shape::Stroke, 0, y, 1.4, -0.5, 60, 0.02));
        for (const double y : {-31.0, -8.0, 14.0, 26.0}) b.push_back(at(Mark::Shape::Stroke, 4, y, 1.4, -0.5, 60, -0.02));
        QVERIFY(matchFaces(seen(a, 0.4, 1.5, 1), seen(b, 0.4, 1.5, 2)).answer != SameFace::Same);
    }
    void aFaceWithLinesOfOnePolishIsKnownAgain()
    {
        std::vector<Mark> face{at(Mark::Shape::Speck, -24, 17, 4, -0.6)};
        for (const auto& [x, y, length] : {std::array{3.0, -30.0, 44.0}, {-8.0, 6.0, 58.0}, {12.0, 27.0, 36.0}})
            face.push_back(at(Mark::Shape::Stroke, x, y, 1.4, -0.5, length, 0.02));
        const FaceMatch m = matchFaces(seen(face, 0.4, 1.5, 1), seen(turned(face, 12), 0.31, 2.5, 2));
        QCOMPARE(name(m.answer), name(SameFace::Same));
        QVERIFY(std::abs(*m.turnDegrees - 12) < 1.5);
    }
    void twoOfManySpecksLieOnEachOtherAtSomeTurn()
    {
        // equally far from the middle and from each other, among others that are not
        std::vector<Mark> a{at(Mark::Shape::Speck, 30, 0, 4, -0.6), at(Mark::Shape::Speck, 0, 30, 4, -0.6)}, b = turned(a, 50);
        for (const double r : {16.0, 24.0, 38.0, 46.0, 52.0}) {
            a.push_back(at(Mark::Shape::Speck, r * std::cos(r), r * std::sin(r), 4, -0.6));
            b.push_back(at(Mark::Shape::Speck, (r + 3) * std::cos(2 * r), (r + 3) * std::sin(2 * r), 4, -0.6));
        }
        QVERIFY(matchFaces(seen(a, 0.4, 1.5, 1), seen(b, 0.4, 1.5, 2)).answer != SameFace::Same);
    }
    void withoutMarksItCannotBeTold()
    {
        const FaceMatch m = matchFaces(seen({}, 0.4, 1.5, 1), seen({}, 0.4, 1.5, 2));
        QCOMPARE(name(m.answer), name(SameFace::CannotTell));
        QCOMPARE(m.marksUsed, 0);
    }
    void whatCleaningTookIsNoOtherFace()
    {
        std::vector<Mark> dirty;
        for (const double x : {-40.0, -22.0, 3.0, 19.0, 36.0}) dirty.push_back(at(Mark::Shape::Speck, x, 0.6 * x - 8, 5, -0.6));
        const FaceMatch m = matchFaces(seen(dirty, 0.4, 1.5, 1), seen({}, 0.4, 1.5, 2));
        QCOMPARE(name(m.answer), name(SameFace::CannotTell));
    }
    void aGlassThatIsWiderThanTheMapIsHeldAgainstItself()
    {
        const world::Camera camera{.width = 900, .height = 700, .scale = Scale(0.4), .blur = Micrometre(0.3), .noise = 1.5, .seed = 1};
        const auto picture = world::takePicture(world::SimulatedFace{faceA()}, camera);
        MeasureOptions wide;
        wide.cladding = Micrometre(250);  // all of the map is glass, corners included
        const auto face = measure(picture, wide).front();
        const auto print = fingerprintOf(picture, face);
        QVERIFY(print);
        for (const auto& p : print->marks) QVERIFY(!p.pixels.empty());
        QVERIFY(matchFaces(*print, *print).answer != SameFace::Different);
    }
    void aPictureThatIsNoEvidenceHasNoFingerprint()
    {
        const Picture grey{800, 600, std::vector<std::uint8_t>(480000, 120)};
        QVERIFY(!fingerprintOf(grey, measure(grey, {}).front()));
        QVERIFY(!fingerprintOf(Picture{}, FaceMeasurement{}));
    }
};

QTEST_APPLESS_MAIN(TestFaceMemory)
#include "test_face_memory.moc"
