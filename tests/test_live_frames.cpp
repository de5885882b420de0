// The frames of a live picture, where one tells of the next.
#include <QtTest>
#include <algorithm>
#include <cmath>

#include "face/live_frames.h"
#include "world/face_world.h"

using namespace clendo;
using face::FrameMeasured;
using face::MeasureOptions;
using face::Picture;
using face::RetakeReason;

namespace {

world::Camera camera(int width, int height, double umPerPixel)
{
    world::Camera c;
    c.width = width;
    c.height = height;
    c.scale = Scale(umPerPixel);
    return c;
}

world::Microscope single(world::Story story, std::uint32_t seed) { return {world::makeFace(story, seed), camera(640, 480, 0.5)}; }

world::Microscope rowOf(std::uint32_t fibres)
{
    world::Row row;
    for (std::uint32_t n = 0; n < fibres; ++n) row.fibres.push_back(world::makeFace(world::Story::SomeDust, n + 1));
    return {row, camera(static_cast<int>(fibres) * 284, 400, 0.88)};
}

world::Handling held(double x, double y, std::uint32_t seed) { return {Micrometre(0.3), Micrometre(x), Micrometre(y), 1, seed}; }

MeasureOptions asking(std::optional<int> fibres)
{
    MeasureOptions options;
    options.fibres = fibres;
    return options;
}

/// Empty where both say the same of a picture; otherwise what differs.
QString difference(const std::vector<face::FaceMeasurement>& got, const std::vector<face::FaceMeasurement>& wanted)
{
    if (got.size() != wanted.size()) return QString("%1 faces, not %2").arg(got.size()).arg(wanted.size());
    for (std::size_t i = 0; i < got.size(); ++i) {
        const auto &a = got[i], &b = wanted[i];
        const QString face = QString("face %1: ").arg(i + 1);
        if (a.fibre != b.fibre || a.row != b.row) return face + "counted otherwise";
        if (a.retake != b.retake) return face + "not the same reasons";
        if (std::hypot((a.centre.x - b.centre.x).value(), (a.centre.y - b.centre.y).value()) > 0.2) return face + "elsewhere";
        if (a.findings.size() != b.findings.size()) return face + QString("%1 findings, not %2").arg(a.findings.size()).arg(b.findings.size());
        for (std::size_t f = 0; f < a.findings.size(); ++f)
            if (std::abs((a.findings[f].size - b.findings[f].size).value()) > 0.1) return face + QString("finding %1 of another size").arg(f + 1);
    }
    return {};
}

}  // namespace

class TestLiveFrames : public QObject {
    Q_OBJECT
private slots:
    void aFrameAfterAnotherIsMeasuredAsOneAlone_data()
    {
        QTest::addColumn<int>("fibres");
        QTest::addColumn<double>("step");
        QTest::newRow("one face, held still") << 1 << 0.2;
        QTest::newRow("one face, moving") << 1 << 3.0;
        QTest::newRow("one face, swept away and back") << 1 << 20.0;
        QTest::newRow("a row") << 4 << 0.4;
        QTest::newRow("a row, moving") << 4 << 6.0;
    }
    void aFrameAfterAnotherIsMeasuredAsOneAlone()
    {
        QFETCH(int, fibres);
        QFETCH(double, step);
        const auto scope = fibres == 1 ? single(world::Story::Dusty, 7) : rowOf(static_cast<std::uint32_t>(fibres));
        const auto options = asking(fibres == 1 ? std::optional(1) : std::nullopt);
        FrameMeasured last;
        for (int n = 0; n < 4; ++n) {
            const Picture frame = scope.frame(held((n % 2 == 0 ? 1 : -1) * step, step / 2 * n, static_cast<std::uint32_t>(n)));
            last = face::measureFrame(frame, options, last.before);
            const QString differs = difference(last.faces, face::measure(frame, options));
            QVERIFY2(differs.isEmpty(), qPrintable(QString("frame %1: %2").arg(n).arg(differs)));
            QVERIFY(last.before);
        }
    }

    void whatIsNoLongerThereIsNotSeen_data()
    {
        QTest::addColumn<double>("light");
        QTest::addColumn<double>("defocus");
        QTest::addColumn<int>("away");  // px
        QTest::newRow("light off") << 0.02 << 0.3 << 0;
        QTest::newRow("half out of the frame") << 1.0 << 0.3 << 320;
        QTest::newRow("out of focus") << 1.0 << 60.0 << 0;
    }
    void whatIsNoLongerThereIsNotSeen()
    {
        QFETCH(double, light);
        QFETCH(double, defocus);
        QFETCH(int, away);
        const auto scope = single(world::Story::SomeDust, 3);
        const auto first = face::measureFrame(scope.frame(held(0, 0, 1)), {}, nullptr);
        QVERIFY(first.faces.front().usable() && first.before);
        Picture frame = scope.frame({Micrometre(defocus), Micrometre(0), Micrometre(0), light, 2});
        for (int y = 0; y < frame.height; ++y) {
            const auto row = frame.pixels.begin() + std::ptrdiff_t{y} * frame.width;
            std::rotate(row, row + frame.width - away, row + frame.width);
        }
        const auto next = face::measureFrame(frame, {}, first.before);
        QVERIFY(!next.faces.front().usable());
        QCOMPARE(next.faces.front().retake, face::measure(frame, {}).front().retake);
        QVERIFY(!next.before);
    }

    void anotherFaceUnderTheScopeIsTheOneThatIsSeen()
    {
        const auto before = face::measureFrame(single(world::Story::Dusty, 7).frame(held(0, 0, 1)), {}, nullptr).before;
        const Picture frame = single(world::Story::SomeDust, 3).frame(held(0.5, 0, 2));
        const QString differs = difference(face::measureFrame(frame, {}, before).faces, face::measure(frame, {}));
        QVERIFY2(differs.isEmpty(), qPrintable(differs));
    }

    void aFrameOfAnotherSizeIsLookedAtAfresh()
    {
        const auto face = world::makeFace(world::Story::SomeDust, 3);
        const auto before = face::measureFrame(world::takePicture(face, camera(640, 480, 0.5)), {}, nullptr).before;
        const Picture frame = world::takePicture(face, camera(800, 600, 0.4));
        const QString differs = difference(face::measureFrame(frame, {}, before).faces, face::measure(frame, {}));
        QVERIFY2(differs.isEmpty(), qPrintable(differs));
    }

    void aWholeRowIsAskedForAfterOneFace()
    {
        const Picture frame = rowOf(4).frame(held(0, 0, 1));
        const auto one = face::measureFrame(frame, asking(1), nullptr);
        QCOMPARE(face::measureFrame(frame, asking(std::nullopt), one.before).faces.size(), 4U);
    }

    void aFibreThatComesIntoTheRowIsSeenWithinTwelveFrames()
    {
        const Picture whole = rowOf(5).frame(held(0, 0, 1));
        Picture covered = whole;  // the last fibre: as the ferrule beside it
        for (int y = 0; y < whole.height; ++y)
            for (int x = 4 * 284 + 20; x < whole.width; ++x)
                covered.pixels[static_cast<std::size_t>(y * whole.width + x)] = whole.pixels[static_cast<std::size_t>((y % 100) * whole.width + x)];
        FrameMeasured last = face::measureFrame(covered, asking(std::nullopt), nullptr);
        QCOMPARE(last.faces.size(), 4U);
        int frames = 0;
        do last = face::measureFrame(whole, asking(std::nullopt), last.before);
        while (++frames < 20 && last.faces.size() == 4);
        QCOMPARE(last.faces.size(), 5U);
        QVERIFY2(frames > 1, "an earlier frame told nothing of this one");
        QVERIFY2(frames <= 12, qPrintable(QString::number(frames)));
    }
};

QTEST_APPLESS_MAIN(TestLiveFrames)
#include "test_live_frames.moc"
