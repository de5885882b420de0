// Several frames of one face, held by hand, as one picture.
#include <QTest>
#include <opencv2/imgproc.hpp>
#include <random>

#include "face/combine/combine_frames.h"
#include "world/face_world.h"

using namespace clendo;
using namespace clendo::face;

namespace {

const world::Camera camera{.scale = Scale(0.45), .blur = Micrometre(0.5), .noise = 0};

Picture sceneOf(std::vector<world::Mark> marks) { return world::takePicture(world::SimulatedFace{std::move(marks)}, camera); }

struct Held {
    double x = 0, y = 0;  ///< px
    double blur = 0;      ///< px
};

Picture frameOf(const Picture& scene, Held held, double noise, std::uint32_t seed, const cv::Mat1f& pattern = {})
{
    const cv::Mat1b still(scene.height, scene.width, const_cast<std::uint8_t*>(scene.pixels.data()));
    cv::Mat1f frame;
    still.convertTo(frame, CV_32F);
    cv::warpAffine(frame, frame, cv::Matx23d(1, 0, held.x, 0, 1, held.y), frame.size(), cv::INTER_CUBIC, cv::BORDER_REFLECT);
    if (held.blur > 0) cv::GaussianBlur(frame, frame, {}, held.blur);
    if (!pattern.empty()) frame += pattern;
    std::mt19937 dice(seed);
    std::normal_distribution<float> normal(0, static_cast<float>(noise));
    for (float& v : frame) v += normal(dice);
    cv::Mat1b out;
    frame.convertTo(out, CV_8U);
    return {out.cols, out.rows, std::vector<std::uint8_t>(out.begin(), out.end())};
}

const std::vector<Held> shake{{0, 0}, {3.3, -1.7}, {-4.6, 2.2}, {1.5, 4.9}, {-2.4, -3.8}, {5.2, 0.6}, {-0.7, -5.5}, {2.8, 3.1}};

std::vector<Picture> shaken(const Picture& scene, double noise, const cv::Mat1f& pattern = {})
{
    std::vector<Picture> out;
    for (std::size_t i = 0; i < shake.size(); ++i) out.push_back(frameOf(scene, shake[i], noise, static_cast<std::uint32_t>(i + 1), pattern));
    return out;
}

world::Mark speck(double x, double y, double size, double contrast)
{
    world::Mark m;
    m.at = {Micrometre(x), Micrometre(y)};
    m.size = Micrometre(size);
    m.contrast = contrast;
    return m;
}

bool finds(const Picture& picture, double x, double y)
{
    const auto faces = measure(picture, {});
    return std::any_of(faces.front().findings.begin(), faces.front().findings.end(),
                       [&](const Finding& f) { return std::hypot(f.centre.x.value() - x, f.centre.y.value() - y) < 2; });
}

}  // namespace

class TestCombinedFrames : public QObject {
    Q_OBJECT
private slots:
    void whatNoiseHidesShows()
    {
        const Picture scene = sceneOf({speck(25, 10, 2.5, -0.12), speck(-15, 28, 3, -0.1)});
        const auto frames = shaken(scene, 8);
        QVERIFY(!finds(frames.front(), 25, 10) || !finds(frames.front(), -15, 28));  // else it were no trial
        const auto together = combineFrames(frames, {});
        QVERIFY(together);
        QCOMPARE(together->used.size(), frames.size());
        QVERIFY(finds(together->picture, 25, 10) && finds(together->picture, -15, 28));
    }
    void placesAreThoseOfTheFirstFrame()
    {
        const Picture scene = sceneOf({speck(20, -12, 4, -0.5)});
        const auto together = combineFrames(shaken(scene, 3), {});
        const auto first = measure(frameOf(scene, shake[0], 0, 1), {}).front(), all = measure(together->picture, {}).front();
        QVERIFY(std::abs((all.centre.x - first.centre.x).value()) < 0.15 && std::abs((all.centre.y - first.centre.y).value()) < 0.15);
        QVERIFY(std::abs((all.findings.front().size - first.findings.front().size).value()) < 0.25);
    }
    void whereFramesEndNothingIsMadeUp()
    {
        const auto frames = shaken(sceneOf({}), 3);
        const auto together = combineFrames(frames, {});
        std::uint8_t darkest = 255, brightest = 0;
        for (const auto& f : frames) {
            darkest = std::min(darkest, *std::min_element(f.pixels.begin(), f.pixels.end()));
            brightest = std::max(brightest, *std::max_element(f.pixels.begin(), f.pixels.end()));
        }
        for (const std::uint8_t v : together->picture.pixels) QVERIFY2(v >= darkest && v <= brightest, qPrintable(QString::number(v)));
    }
    void whatStaysInTheCameraIsNoDirt()
    {
        const Picture scene = sceneOf({});
        cv::Mat1f pattern(scene.height, scene.width, 0.0F);
        // specks on the sensor, under the glass of every frame
        for (const auto& [x, y] : {std::pair{430, 320}, {370, 270}, {450, 260}}) cv::circle(pattern, {x, y}, 4, cv::Scalar(-45), cv::FILLED);
        const auto frames = shaken(scene, 2, pattern);
        QVERIFY(!measure(frames.front(), {}).front().findings.empty());
        const auto together = combineFrames(frames, {});
        const auto faces = measure(together->picture, {});
        for (const auto& f : faces.front().findings) QVERIFY2(f.nearest > Micrometre(60), qPrintable(QString::number(f.size.value())));
    }
    void framesThatDoNotHelpAreLeftOut()
    {
        const Picture scene = sceneOf({speck(20, -12, 4, -0.5)});
        auto frames = shaken(scene, 2);
        frames[2] = frameOf(scene, {0, 0, 6}, 2, 3);                            // blurred
        frames[4] = Picture{800, 600, std::vector<std::uint8_t>(480000, 120)};  // no face
        frames[5] = Picture{320, 240, std::vector<std::uint8_t>(76800, 120)};   // another size
        frames[6] = Picture{800, 600, {}};                                      // not sound
        const auto together = combineFrames(frames, {});
        QVERIFY(together);
        QCOMPARE(together->used, (std::vector<std::size_t>{0, 1, 3, 7}));
    }
    void aRowIsLaidOverAsAWhole()
    {
        world::Row row{std::vector<world::SimulatedFace>(4), true, false};
        row.fibres[2].marks = {speck(30, 20, 3, -0.12), speck(-38, 14, 3, -0.12)};
        world::Camera wide = camera;
        wide.width = 1300;
        wide.height = 360;
        wide.scale = Scale(0.85);
        const Picture scene = world::takeRowPicture(row, wide);
        auto frames = shaken(scene, 9);
        frames[3] = frameOf(scene, {-0.2 * scene.width, 0}, 9, 4);  // the first fibre went out: which is the first is no longer known
        MeasureOptions all;
        all.fibres.reset();
        const auto together = combineFrames(frames, all);
        QVERIFY(together);
        QCOMPARE(together->used, (std::vector<std::size_t>{0, 1, 2, 4, 5, 6, 7}));
        const auto one = measure(frames.front(), all), many = measure(together->picture, all);
        QCOMPARE(many.size(), std::size_t{4});
        const auto seen = [](const FaceMeasurement& m) {
            return std::count_if(m.findings.begin(), m.findings.end(), [](const Finding& f) { return std::abs(f.centre.radius().value() - 38) < 5; });
        };
        QVERIFY(one.size() != 4 || seen(one[2]) < 2);  // else it were no trial
        QCOMPARE(seen(many[2]), 2);
        for (const int clean : {0, 1, 3}) QCOMPARE(many[static_cast<std::size_t>(clean)].findings.size(), std::size_t{0});
    }
    void nothingComesOfNothing()
    {
        QVERIFY(!combineFrames({}, {}));
        QVERIFY(!combineFrames({Picture{}, Picture{800, 600, std::vector<std::uint8_t>(480000, 90)}}, {}));
        const Picture scene = sceneOf({});
        const auto one = combineFrames({scene}, {});
        QVERIFY(one && one->picture.pixels == scene.pixels);
        QCOMPARE(one->used.size(), std::size_t{1});
    }
};

QTEST_APPLESS_MAIN(TestCombinedFrames)
#include "test_combined_frames.moc"
