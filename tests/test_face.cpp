#include <QtTest>
#include <nlohmann/json.hpp>
#include <numbers>
#include <set>

#include "face/face_json.h"
#include "files/files.h"
#include "world/face_world.h"

using namespace clendo;
using face::MeasureOptions;
using face::Picture;
using face::RetakeReason;
using world::Mark;
using world::SimulatedFace;

namespace {

face::FaceMeasurement seen(const SimulatedFace& simulated, const world::Camera& camera = {}, const MeasureOptions& options = {})
{
    return face::measure(world::takePicture(simulated, camera), options).front();
}

Mark speck(double x, double y, double size) { return {Mark::Shape::Speck, {Micrometre(x), Micrometre(y)}, Micrometre(size), {}, 0, -0.6, false}; }
Mark stroke(double x, double y, double width, double length, double angle)
{
    return {Mark::Shape::Stroke, {Micrometre(x), Micrometre(y)}, Micrometre(width), Micrometre(length), angle, -0.5, true};
}

Result<face::FaceMeasurement> measurementFrom(const std::string& text)
{
    FlatJson doc;
    doc.read(text);
    return measurementFromJson(doc.root());
}

bool fit(const face::FaceMeasurement& m, const char* className = "sm-upc")
{
    const Criteria criteria = loadCriteria("2015", dataFolder()).value();
    return judge(m.findings, criteria.find(className).value(), criteria).fit;
}

int inGlass(const face::FaceMeasurement& m)
{
    return static_cast<int>(std::count_if(m.findings.begin(), m.findings.end(), [](const Finding& f) { return f.nearest < Micrometre(57); }));
}

const Finding* near(const face::FaceMeasurement& m, double x, double y)
{
    for (const auto& f : m.findings)
        if (std::hypot(f.centre.x.value() - x, f.centre.y.value() - y) < 2.0) return &f;
    return nullptr;
}

/// The picture turned by a quarter, clockwise.
Picture turned(const Picture& p)
{
    Picture out{p.height, p.width, std::vector<std::uint8_t>(p.pixels.size())};
    for (int y = 0; y < p.height; ++y)
        for (int x = 0; x < p.width; ++x)
            out.pixels[static_cast<std::size_t>(x) * static_cast<std::size_t>(p.height) + static_cast<std::size_t>(p.height - 1 - y)] =
                p.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(p.width) + static_cast<std::size_t>(x)];
    return out;
}

Picture flat(int width, int height, std::uint8_t grey)
{
    return {width, height, std::vector<std::uint8_t>(static_cast<std::size_t>(width) * static_cast<std::size_t>(height), grey)};
}

/// Faces of one ferrule, 250 um apart at 0.5 um a pixel, rows so high; dirty ones by their numbers.
Picture ferrule(int columns, int rows, int high, const std::set<int>& dirty)
{
    world::Camera camera;
    camera.width = 500;
    camera.height = high;
    camera.scale = Scale(0.5);
    Picture out{500 * columns, high * rows, std::vector<std::uint8_t>(static_cast<std::size_t>(500 * columns * high * rows))};
    for (int n = 0; n < columns * rows; ++n) {
        camera.seed = static_cast<std::uint32_t>(n + 1);
        const Picture one = world::takePicture(dirty.contains(n + 1) ? SimulatedFace{{speck(0, 0, 5)}} : SimulatedFace{}, camera);
        for (int y = 0; y < high; ++y)
            std::copy_n(one.pixels.begin() + y * 500, 500, out.pixels.begin() + (n / columns * high + y) * out.width + n % columns * 500);
    }
    return out;
}

}  // namespace

class TestFace : public QObject {
    Q_OBJECT
private slots:
    void theFibreIsFoundToTheSubPixel_data()
    {
        QTest::addColumn<double>("umPerPx");
        QTest::addColumn<double>("offset");
        for (const double s : {0.25, 0.42, 0.6, 0.85})
            for (const double o : {-20.0, 0.0, 13.0}) QTest::addRow("%.2f um/px, %.0f um off", s, o) << s << o;
    }
    void theFibreIsFoundToTheSubPixel()
    {
        QFETCH(double, umPerPx);
        QFETCH(double, offset);
        world::Camera camera;
        camera.scale = Scale(umPerPx);
        camera.offsetX = Micrometre(offset);
        camera.offsetY = Micrometre(offset / 3);
        const auto m = seen({}, camera);
        QVERIFY(m.usable());
        QVERIFY(qAbs(m.centre.x.value() - (400 + offset / umPerPx)) * umPerPx < 0.3);
        QVERIFY(qAbs(m.centre.y.value() - (300 + offset / 3 / umPerPx)) * umPerPx < 0.3);
        QVERIFY(qAbs(m.scale.micrometresPerPixel() / umPerPx - 1) < 0.012);
        QVERIFY(m.core == CoreKind::SingleMode);
        QVERIFY(m.scaleSource == face::ScaleSource::Cladding);
    }

    void aCleanFaceIsFit()
    {
        for (const std::uint32_t seed : {1U, 2U, 3U}) {
            world::Camera camera;
            camera.seed = seed;
            const auto m = seen({}, camera);
            QCOMPARE(inGlass(m), 0);
            QVERIFY(fit(m));
        }
    }

    void dirtInTheVeryMiddleIsNoCore_data()
    {
        QTest::addColumn<double>("size");
        QTest::addColumn<double>("off");
        for (const double size : {2.0, 3.0, 5.0, 7.0, 9.0})
            for (const double off : {0.0, 0.8}) QTest::addRow("%.0f um, %.1f um off", size, off) << size << off;
    }
    void dirtInTheVeryMiddleIsNoCore()
    {
        QFETCH(double, size);
        QFETCH(double, off);
        const auto m = seen({{speck(off, 0, size)}});
        QVERIFY(!fit(m));
        const Finding* f = near(m, off, 0);
        QVERIFY(f);
        QVERIFY2(qAbs(f->size.value() - size) < 1.3, qPrintable(QString::number(f->size.value())));
    }

    void aSpeckIsFoundWithPlaceSizeAndZone_data()
    {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::addColumn<double>("size");
        QTest::addColumn<bool>("isFit");
        QTest::newRow("on the core") << 3.0 << 2.0 << 3.0 << false;
        QTest::newRow("small in the cladding") << 30.0 << -10.0 << 2.6 << true;
        QTest::newRow("4 um in the cladding") << -35.0 << 12.0 << 4.0 << true;
        QTest::newRow("7 um in the cladding") << 10.0 << 38.0 << 7.0 << false;
        QTest::newRow("6 um far out in the cladding") << -2.0 << -50.0 << 6.3 << false;
        QTest::newRow("8 um on the ferrule") << 90.0 << 10.0 << 7.5 << true;
        QTest::newRow("14 um on the ferrule") << -85.0 << 20.0 << 14.0 << false;
    }
    void aSpeckIsFoundWithPlaceSizeAndZone()
    {
        QFETCH(double, x);
        QFETCH(double, y);
        QFETCH(double, size);
        QFETCH(bool, isFit);
        const auto m = seen({{speck(x, y, size)}});
        QVERIFY(m.usable());
        const Finding* found = near(m, x, y);
        QVERIFY(found);
        QVERIFY(found->kind == FindingKind::Defect);
        const double shape = 1.12;  // the simulated speck is not quite round
        QVERIFY2(qAbs(found->size.value() - size * shape) < 0.12 * size + 0.6, QByteArray::number(found->size.value()));
        QVERIFY(found->contrast < -0.2);
        QCOMPARE(fit(m), isFit);
    }

    void aScratchIsTold_data()
    {
        QTest::addColumn<double>("width");
        QTest::addColumn<double>("angle");
        for (const double w : {1.6, 2.5, 4.0})
            for (const double a : {0.0, 0.7, 1.5708, 2.4}) QTest::addRow("%.1f um at %.1f", w, a) << w << a;
    }
    void aScratchIsTold()
    {
        QFETCH(double, width);
        QFETCH(double, angle);
        const auto m = seen({{stroke(25, 10, width, 36, angle)}});
        QCOMPARE(inGlass(m), 1);
        const Finding* found = near(m, 25, 10);
        QVERIFY(found);
        QVERIFY(found->kind == FindingKind::Scratch);
        QVERIFY2(qAbs(found->width.value() - width) < 0.8, QByteArray::number(found->width.value()));
        QVERIFY(qAbs(found->length.value() - 36 - width) < 4);
    }

    void aScratchThroughTheCoreHidesNeither()
    {
        const auto m = seen({{stroke(1.4, -1.0, 1.6, 46, 2.35)}});
        QCOMPARE(inGlass(m), 1);
        QVERIFY(near(m, 1.4, -1.0) && near(m, 1.4, -1.0)->kind == FindingKind::Scratch);
        QVERIFY(m.core == CoreKind::SingleMode && !m.coreInferred);
    }
    void aFaintScratchInNoiseIsOneScratch_data()
    {
        QTest::addColumn<double>("angle");
        for (const double a : {0.3, 0.9, 1.5708, 2.4}) QTest::addRow("at %.1f", a) << a;
    }
    void aFaintScratchInNoiseIsOneScratch()
    {
        QFETCH(double, angle);
        Mark faint = stroke(24, 14, 2.0, 44, angle);
        faint.contrast = -0.16;
        world::Camera camera;
        camera.noise = 7;
        const auto m = seen({{faint}}, camera);
        QCOMPARE(inGlass(m), 1);
        const Finding* found = near(m, 24, 14);
        QVERIFY(found && found->kind == FindingKind::Scratch);
        QVERIFY2(qAbs(found->length.value() - 44) < 6, QByteArray::number(found->length.value()));
        QVERIFY2(qAbs(found->width.value() - 2) < 1, QByteArray::number(found->width.value()));
    }
    void pixelsOfTheCameraAreNoDirt()
    {
        Picture picture = world::takePicture({{speck(20, -15, 3)}}, {});
        for (int k = 0; k < 8; ++k) {
            const std::size_t x = static_cast<std::size_t>(picture.width / 2 + 13 * k - 45),
                              y = static_cast<std::size_t>(picture.height / 2 - 7 * k + 30);
            picture.pixels[y * static_cast<std::size_t>(picture.width) + x] = k % 2 ? 255 : 5;
        }
        const auto m = face::measure(picture, {}).front();
        QCOMPARE(inGlass(m), 1);
        QVERIFY(near(m, 20, -15));
    }

    void whatLiesApartCountsApart()
    {
        const auto m = seen({{speck(20, 0, 4), speck(28, 0, 4), speck(-30, 20, 3), speck(-30, -30, 6.5)}});
        QCOMPARE(inGlass(m), 4);
    }

    void aDropletIsOneFinding()
    {
        Mark ring = speck(-25, 15, 12);
        ring.shape = Mark::Shape::Ring;
        ring.contrast = -0.4;
        const auto m = seen({{ring}});
        QCOMPARE(inGlass(m), 1);
        QVERIFY(m.findings.front().appearance == Appearance::Droplet);
        QVERIFY(qAbs(m.findings.front().size.value() - 13.2) < 1.5);
    }

    void turningThePictureChangesNoVerdict()
    {
        for (const auto& marks : {std::vector<Mark>{speck(20, -30, 6.6), speck(-40, 5, 3)}, std::vector<Mark>{stroke(2, 0, 2, 40, 0.4)},
                                  std::vector<Mark>{speck(35, 20, 2.5)}}) {
            Picture picture = world::takePicture({marks}, {});
            const auto upright = face::measure(picture, {}).front();
            for (int quarter = 0; quarter < 3; ++quarter) {
                picture = turned(picture);
                const auto m = face::measure(picture, {}).front();
                QCOMPARE(m.findings.size(), upright.findings.size());
                QCOMPARE(fit(m), fit(upright));
            }
        }
    }

    void whatIsNoEvidenceIsTakenAgain_data()
    {
        QTest::addColumn<QString>("what");
        QTest::addColumn<QString>("reason");
        QTest::newRow("defocused") << "blur"
                                   << "out_of_focus";
        QTest::newRow("cut off") << "cut"
                                 << "cut_off";
        QTest::newRow("over-exposed") << "bright"
                                      << "too_bright";
        QTest::newRow("over-exposed, cut off below white") << "cut off below white"
                                                           << "too_bright";
        QTest::newRow("under-exposed") << "dark"
                                       << "too_dark";
        QTest::newRow("black") << "black"
                               << "too_dark";
        QTest::newRow("white") << "white"
                               << "too_bright";
        QTest::newRow("empty") << "grey"
                               << "no_fibre";
        QTest::newRow("noise") << "noise"
                               << "no_fibre";
        QTest::newRow("tiny") << "tiny"
                              << "too_small";
        QTest::newRow("one pixel") << "pixel"
                                   << "too_small";
    }
    void whatIsNoEvidenceIsTakenAgain()
    {
        QFETCH(QString, what);
        QFETCH(QString, reason);
        world::Camera camera;
        Picture picture;
        if (what == "blur") camera.blur = Micrometre(5);
        if (what == "cut") camera.offsetX = Micrometre(140);
        if (what == "bright") camera.brightness = 3;
        if (what == "dark") camera.brightness = 0.1;
        picture = world::takePicture(world::makeFace(world::Story::SomeDust, 5), camera);
        if (what == "cut off below white") {
            camera.brightness = 3;
            picture = world::takePicture(world::makeFace(world::Story::SomeDust, 5), camera);
            for (auto& p : picture.pixels) p = static_cast<std::uint8_t>(p * 9 / 10);
        }
        if (what == "black") picture = flat(640, 480, 0);
        if (what == "white") picture = flat(640, 480, 255);
        if (what == "grey") picture = flat(640, 480, 120);
        if (what == "tiny") picture = flat(100, 80, 120);
        if (what == "pixel") picture = flat(1, 1, 120);
        if (what == "noise") {
            picture = flat(640, 480, 0);
            std::uint32_t state = 9;
            for (auto& p : picture.pixels) p = static_cast<std::uint8_t>((state = state * 1664525U + 1013904223U) >> 24U);
        }
        const auto m = face::measure(picture, {}).front();
        QVERIFY(!m.usable());
        QCOMPARE(QString::fromUtf8(name(m.retake.front()).data()), reason);
        QVERIFY(m.findings.empty());
        QVERIFY(sentenceOf(m.retake.front()).size() > 30);
    }

    void nothingUnsoundIsTouched()
    {
        QVERIFY(!face::measure({}, {}).front().usable());
        QVERIFY(!face::measure({640, 480, {1, 2, 3}}, {}).front().usable());
        QVERIFY(!face::measure({-5, 480, {}}, {}).front().usable());
    }

    void aKnownScaleIsUsed()
    {
        MeasureOptions options;
        options.scale = Scale(0.42);
        const auto m = seen({{speck(30, 0, 4)}}, {}, options);
        QVERIFY(m.usable());
        QVERIFY(m.scaleSource == face::ScaleSource::Calibration);
        QCOMPARE(m.scale.micrometresPerPixel(), 0.42);
    }

    void severalFibresAreNumberedFromTheLeft()
    {
        const Picture row = ferrule(3, 1, 560, {2});
        MeasureOptions options;
        options.fibres.reset();
        const auto faces = face::measure(row, options);
        QCOMPARE(faces.size(), std::size_t{3});
        for (int n = 0; n < 3; ++n) {
            QCOMPARE(faces[static_cast<std::size_t>(n)].fibre, n + 1);
            QVERIFY(qAbs(faces[static_cast<std::size_t>(n)].centre.x.value() - (n * 500 + 250)) < 2);
            QCOMPARE(fit(faces[static_cast<std::size_t>(n)], "sm-multi"), n != 1);
        }
        for (const unsigned cores : {1U, 2U, 9U}) {
            options.cores = cores;
            const auto again = face::measure(row, options);
            QCOMPARE(again.size(), faces.size());
            for (std::size_t n = 0; n < faces.size(); ++n) QVERIFY(measurementToJson(again[n]) == measurementToJson(faces[n]));
        }
    }

    void aFibreWhoseEdgeIsHiddenLiesWhereTheOthersTell()
    {
        Picture row = ferrule(6, 1, 560, {});
        constexpr double x = 2.5 * 500, y = 280, rim = 125;  // px: of the third, more than half of whose edge is covered with dirt
        for (int degrees = 0; degrees < 215; degrees += 9) {
            const double a = degrees * std::numbers::pi / 180, bx = x + (rim + 6 * std::sin(7 * a)) * std::cos(a),
                         by = y + (rim + 6 * std::sin(7 * a)) * std::sin(a);
            for (int dy = -15; dy <= 15; ++dy)
                for (int dx = -15; dx <= 15; ++dx)
                    if (dx * dx + dy * dy < 15 * 15)
                        row.pixels[static_cast<std::size_t>((std::lround(by) + dy) * row.width + std::lround(bx) + dx)] =
                            static_cast<std::uint8_t>(40 + (degrees * 7) % 50);
        }
        Picture alone{500, 560, std::vector<std::uint8_t>(500 * 560)};
        for (int line = 0; line < 560; ++line) std::copy_n(row.pixels.begin() + line * row.width + 1000, 500, alone.pixels.begin() + line * 500);
        QVERIFY(!face::measure(alone, {}).front().usable());
        for (const auto fibres : {std::optional<int>(), std::optional(6)}) {
            MeasureOptions options;
            options.fibres = fibres;
            const auto faces = face::measure(row, options);
            QCOMPARE(faces.size(), std::size_t{6});
            QVERIFY(faces[2].usable());
            QVERIFY(std::hypot(faces[2].centre.x.value() - x, faces[2].centre.y.value() - y) < 2);
            QVERIFY(!fit(faces[2], "sm-multi"));
            QVERIFY(fit(faces[1], "sm-multi"));
        }
    }

    void twoRowsAreNumberedTheUpperOneFirst_data()
    {
        QTest::addColumn<std::optional<int>>("fibres");
        QTest::newRow("as many as there are") << std::optional<int>();
        QTest::newRow("counted") << std::optional(8);
    }
    void twoRowsAreNumberedTheUpperOneFirst()
    {
        QFETCH(std::optional<int>, fibres);
        MeasureOptions options;
        options.fibres = fibres;
        const auto faces = face::measure(ferrule(4, 2, 1000, {3, 6}), options);
        QCOMPARE(faces.size(), std::size_t{8});
        for (int n = 0; n < 8; ++n) {
            const auto& one = faces[static_cast<std::size_t>(n)];
            QCOMPARE(one.fibre, n + 1);
            QCOMPARE(one.row, n / 4 + 1);
            QVERIFY(std::hypot(one.centre.x.value() - (n % 4 * 500 + 250), one.centre.y.value() - (n / 4 * 1000 + 500)) < 3);
            QCOMPARE(fit(one, "sm-multi"), n != 2 && n != 5);
        }
        QCOMPARE(measurementFrom(measurementToJson(faces[5]).dump())->row, 2);
    }

    void aMeasurementSurvivesTheJournal()
    {
        const auto m = seen({{speck(20, 3, 6), stroke(-30, 0, 2, 20, 1)}});
        const auto back = measurementFrom(measurementToJson(m).dump());
        QVERIFY(back);
        QCOMPARE(back->findings.size(), m.findings.size());
        for (std::size_t i = 0; i < m.findings.size(); ++i) {
            QVERIFY(qAbs(back->findings[i].size.value() - m.findings[i].size.value()) < 0.006);
            QVERIFY(qAbs(back->findings[i].nearest.value() - m.findings[i].nearest.value()) < 0.001);
            QVERIFY(back->findings[i].kind == m.findings[i].kind);
        }
        QCOMPARE(fit(*back), fit(m));
        QVERIFY(back->core == m.core);
        for (const char* broken :
             {"{}", "[]", "null", R"({"fibre":0})",
              R"({"fibre":1,"centre_px":[1,2],"cladding_px":1,"um_per_px":1,"focus":1,"blur_um":1,"retake":[],"findings":[{}]})"})
            QVERIFY(!measurementFrom(broken));
    }

    void cleaningTakesDirtAndLeavesDamage()
    {
        const auto dirty = world::makeFace(world::Story::Dusty, 3), pitted = world::makeFace(world::Story::Pitted, 3);
        QVERIFY(!fit(seen(dirty)));
        QVERIFY(world::cleaned(dirty, 3, 3).marks.size() < dirty.marks.size());
        QVERIFY(!fit(seen(world::cleaned(pitted, 4, 3))));
    }
};
QTEST_APPLESS_MAIN(TestFace)
#include "test_face.moc"
