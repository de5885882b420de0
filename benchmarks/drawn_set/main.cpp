// drawn-set OUT [SEED] [EACH] [KIND]: pictures of end faces with truth (truth.json), to be scored like any other set. EACH pictures of each kind of
// camera, glass, ring and dirt. Drawn unlike the faces that `core/world` draws for the demo: light of all directions through a lens with coma and
// astigmatism, things as polygons with edges, a mosaic of colours, curves, sharpening, text. The same seed draws the same set.
#include <fmt/format.h>

#include <QImage>
#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <opencv2/imgproc.hpp>

#include "files/files.h"
#include "kinds.h"
#include "truth.h"

namespace {

using namespace clendo;
using namespace clendo::drawn;
using nlohmann::json;

/// Contrast of each thing in the picture that the lens makes, by pixels of `finer` points of the plane, against what was there before it; and the
/// plane with all of them.
std::vector<Seen> lay(std::vector<Thing> things, Plane& plane, const cv::Mat1f& clean, const Shot& shot, int finer)
{
    std::vector<Seen> out;
    cv::Mat1f before = clean.clone();
    shot.lens.blur(before, plane.step);
    const cv::Mat1f point = shot.lens.spread(plane.step);
    for (Thing& t : things) {
        const Shade shade = shadeOf(t, plane);
        if (shade.box.empty()) continue;
        cv::Mat1f light = plane.light(shade.box);
        cv::multiply(light, shade.leaves, light);
        const int margin = point.cols / 2;
        const cv::Rect wide = cv::Rect(shade.box.x - margin, shade.box.y - margin, shade.box.width + 2 * margin, shade.box.height + 2 * margin) &
                              cv::Rect({}, plane.light.size());
        cv::Mat1f change(wide.size(), 0.0F);
        cv::Mat1f inner = change(shade.box - wide.tl());
        cv::Mat1f less;
        cv::subtract(cv::Scalar(1), shade.leaves, less);
        cv::multiply(clean(shade.box), less, inner);
        cv::filter2D(change, change, CV_32F, point, {-1, -1}, 0, cv::BORDER_CONSTANT);
        change *= 1 - shot.lens.stray;
        Seen seen;
        // as pixels see it: each lays together finer x finer of the plane's
        for (int y = (wide.y + finer - 1) / finer * finer; y + finer <= wide.br().y; y += finer)
            for (int x = (wide.x + finer - 1) / finer * finer; x + finer <= wide.br().x; x += finer) {
                const cv::Rect pixel(x, y, finer, finer);
                const double level = std::max(0.02, cv::mean(before(pixel))[0]), d = std::abs(cv::mean(change(pixel - wide.tl()))[0]);
                seen.contrast = std::max(seen.contrast, d / level);
                seen.step = std::max(seen.step, d * shot.camera.grey);
            }
        seen.snr = seen.step / shot.camera.noise();
        seen.visibility = std::min(seen.contrast / 0.08, seen.snr / 6);
        seen.thing = std::move(t);
        out.push_back(std::move(seen));
    }
    return out;
}

bool save(const cv::Mat& picture, const std::filesystem::path& file, int jpeg)
{
    const bool colour = picture.channels() == 3;
    const QImage image(picture.data, picture.cols, picture.rows, static_cast<int>(picture.step),
                       colour ? QImage::Format_BGR888 : QImage::Format_Grayscale8);
    return image.save(QString::fromStdString(file.string()), jpeg > 0 ? "JPG" : "PNG", jpeg > 0 ? jpeg : -1);
}

/// The picture and its truth.
json draw(const Shot& shot, const std::filesystem::path& folder, int number, const Criteria& criteria, Dice& dice)
{
    const cv::Size sensor(cvRound(shot.size.width / shot.camera.enlarged), cvRound(shot.size.height / shot.camera.enlarged));
    const double sensorScale = shot.scale * shot.camera.enlarged;
    constexpr double mostPixels = 4e7;  // of the plane: a ferrule of 32 fibres is drawn coarser
    const int finer = std::max(1, std::min(cvRound(sensorScale / 0.17), static_cast<int>(std::sqrt(mostPixels / sensor.area()))));
    Plane plane;
    plane.step = sensorScale / finer;
    plane.light.create(sensor * finer);
    plane.light = 0.3F;
    cv::Point2d first(plane.light.cols * (0.5 + shot.push.x), plane.light.rows * (0.5 + shot.push.y));
    const double pitch = 250 / plane.step;
    const int perRow = shot.fibres / shot.rows;
    if (perRow > 1) first -= cv::Point2d(pitch * (perRow - 1) / 2, pitch * (shot.rows - 1));
    const auto placeOf = [&](int i) { return first + cv::Point2d(i % perRow * pitch, i / perRow * 2 * pitch); };  // the upper row first
    const auto inPicture = [&](cv::Point2d p) {  // centre of the plane's first pixel lies beside that of the picture's
        return ((p + cv::Point2d(0.5, 0.5)) / finer) * shot.camera.enlarged - cv::Point2d(0.5, 0.5);
    };
    json faces = json::array();
    for (int i = 0; i < shot.fibres; ++i) {
        plane.centre = placeOf(i);
        if (shot.kind == "no fibre") plane.centre = {-1e5, -1e5};  // ferrule alone
        drawSurroundings(plane, shot.face, shot.fibres > 1 ? Around{125.5, i < perRow, i + perRow >= shot.fibres} : Around{}, dice);
    }
    const cv::Mat1f clean = plane.light.clone();
    for (int i = 0; i < shot.fibres && shot.kind != "no fibre"; ++i) {
        plane.centre = placeOf(i);
        auto seen = lay(thingsOn(shot.dirt, shot.face, dice), plane, clean, shot, finer);
        if (!shot.retake) faces.push_back(faceTruth(i + 1, seen, shot, inPicture(plane.centre), criteria));
    }
    shot.lens.blur(plane.light, plane.step);
    cv::Mat1f light;
    cv::resize(plane.light, light, sensor, 0, 0, cv::INTER_AREA);
    const cv::Point2d fibre = inPicture(first) / shot.camera.enlarged;
    const double radius = shot.face.claddingRadius / sensorScale;
    const cv::Mat picture = shot.camera.expose(light, fibre, radius, dice.between(1.1, 2.1) * radius, dice);
    const std::string file = fmt::format("drawn-{:04}.{}", number, shot.jpeg > 0 ? "jpg" : "png");
    if (!save(picture, folder / file, shot.jpeg)) throw std::runtime_error("cannot write " + file);
    return {{"image", file},
            {"regime", shot.kind},
            {"class", shot.faceClass},
            {"edition", "2015"},
            {"fibers", shot.fibres},
            {"expected", shot.retake ? "retake" : "judge"},
            {"width_px", picture.cols},
            {"height_px", picture.rows},
            {"um_per_px", shot.scale},
            {"focus", {{"state", shot.retake ? "bad" : "sharp"}, {"fwhm_um", shot.lens.width(plane.step)}}},
            {"noise_grey", shot.camera.noise()},
            {"camera", {{"grey", shot.camera.grey}, {"ring", {shot.face.ringLight, shot.face.ringWidth}}, {"ferrule", shot.face.ferruleLight}}},
            {"faces", faces}};
}

}  // namespace

int main(int argc, char** argv)
{
    if (argc < 2) return 2;
    const std::filesystem::path out = argv[1];
    const unsigned seed = argc > 2 ? static_cast<unsigned>(std::stoul(argv[2])) : 1U;
    const int each = argc > 3 ? std::atoi(argv[3]) : 3;
    const auto criteria = loadCriteria("2015", dataFolder());
    if (!criteria) return 1;
    std::filesystem::create_directories(out);
    const std::string only = argc > 4 ? argv[4] : "";
    json images = json::array();
    for (std::size_t k = 0; k < kinds().size(); ++k)
        for (int n = 0; n < each && std::string_view(kinds()[k].name).find(only) != std::string_view::npos; ++n) {
            Dice dice(seed * 7919U + static_cast<unsigned>(k) * 101U + static_cast<unsigned>(n) * 100003U);
            Shot shot = someShot(dice);
            shot.kind = kinds()[k].name;
            kinds()[k].change(shot, dice);
            images.push_back(draw(shot, out, static_cast<int>(images.size()) + 1, *criteria, dice));
        }
    const json truth{{"what", "drawn end faces"}, {"version", 1}, {"seed", seed}, {"edition", "2015"}, {"images", images}};
    return writeFile(out / "truth.json", truth.dump(1)) ? 0 : 1;
}
