// drawn-set OUT [SEED] [EACH]: pictures of end faces with truth (truth.json), to be scored like any other set. EACH pictures of each kind of
// camera, glass, ring and dirt. Drawn unlike the faces that `core/world` draws for the demo: light of all directions through a lens with coma and
// astigmatism, things as polygons with edges, a mosaic of colours, curves, sharpening, text. The same seed draws the same set.
#include <fmt/format.h>

#include <QBuffer>
#include <QImage>
#include <algorithm>
#include <filesystem>
#include <functional>
#include <nlohmann/json.hpp>
#include <opencv2/imgproc.hpp>

#include "camera.h"
#include "criteria/judge.h"
#include "files/files.h"
#include "lens.h"
#include "scene.h"

namespace {

using namespace clendo;
using namespace clendo::drawn;
using nlohmann::json;

constexpr double counted = 1, sure = 1.75, hardlySeen = 0.3;  // visibility: least of contrast over 0.08 and of signal to noise over 6

/// What and how much lies on a face: mean counts.
struct Dirt {
    double specks = 1.2, flakes = 0.2, droplets = 0.2, films = 0.05, lint = 0.05, pits = 0.5, chips = 0.1, scratches = 0.3, bundles = 0,
           crossings = 0;
    double onFerrule = 2;  ///< specks and flakes beyond the glass
};

struct Shot {
    std::string kind, faceClass = "sm-upc";
    Dirt dirt;
    Surroundings face;
    Lens lens;
    Camera camera;
    double scale = 0.4;  ///< µm a pixel of the picture
    cv::Size size{1024, 768};
    int fibres = 1, jpeg = 0;
    bool retake = false;
    cv::Point2d push{0, 0};  ///< of the fibre from the middle, in parts of the picture
};

struct Seen {
    Thing thing;
    double contrast = 0, step = 0, snr = 0, visibility = 0;
    std::string zone;
};

cv::Point2d somewhere(Dice& dice, double from, double to)
{
    const double r = std::sqrt(dice.between(from * from, to * to)), a = dice.angle();
    return {r * std::cos(a), r * std::sin(a)};
}

std::vector<Thing> thingsOn(const Dirt& dirt, const Surroundings& face, Dice& dice)
{
    std::vector<Thing> out;
    const auto place = [&](const std::function<Thing()>& make) {
        for (int tries = 0; tries < 12; ++tries) {
            Thing t = make();
            const bool apart = std::all_of(out.begin(), out.end(), [&](const Thing& o) {
                const bool both = o.truth.kind == FindingKind::Scratch && t.truth.kind == FindingKind::Scratch;
                return both || gapBetween(o, t) > 2.2;
            });
            if (!apart) continue;
            out.push_back(std::move(t));
            return;
        }
    };
    const auto times = [&](double mean, const std::function<Thing()>& make) {
        for (int n = dice.count(mean); n > 0; --n) place(make);
    };
    const double glass = face.claddingRadius - 2;
    const auto onGlass = [&] { return somewhere(dice, 0, glass - 3); };
    for (int n = dice.count(dirt.bundles); n > 0; --n) {
        const double angle = dice.angle(), spread = dice.between(0, 0.05), apart = dice.between(2.5, 9);
        const cv::Point2d at = onGlass(), across(-std::sin(angle), std::cos(angle));
        const int lines = 3 + dice.below(5);
        for (int i = 0; i < lines; ++i)
            place([&] {
                return scratch(dice, at + i * apart * dice.between(0.85, 1.15) * across, angle + dice.normal(spread), dice.between(25, 110),
                               dice.decades(0.5, 3.6));
            });
    }
    for (int n = dice.count(dirt.crossings); n > 0; --n) {
        const cv::Point2d at = onGlass();
        const double angle = dice.angle();
        for (const double turn : {0.0, dice.between(0.3, 1.57)})
            place([&] { return scratch(dice, at + somewhere(dice, 0, 4), angle + turn, dice.between(20, 90), dice.decades(0.6, 4)); });
    }
    times(dirt.scratches, [&] { return scratch(dice, onGlass(), dice.angle(), dice.between(12, 120), dice.decades(0.5, 5)); });
    times(dirt.lint, [&] { return lint(dice, somewhere(dice, 0, 100), dice.between(25, 140)); });
    times(dirt.films, [&] { return film(dice, onGlass(), dice.between(8, 40)); });
    times(dirt.droplets, [&] { return droplet(dice, onGlass(), dice.decades(2.5, 16)); });
    times(dirt.chips, [&] { return chip(dice, face.claddingRadius, dice.between(2, 9)); });
    times(dirt.flakes, [&] { return flake(dice, onGlass(), dice.decades(1.5, 14)); });
    times(dirt.pits, [&] { return pit(dice, onGlass(), dice.decades(0.8, 6)); });
    times(dirt.specks, [&] { return speck(dice, onGlass(), dice.decades(0.8, 9)); });
    if (!face.rectangular)
        times(dirt.onFerrule, [&] {
            const double size = dice.decades(1.5, 13);
            const cv::Point2d at = somewhere(dice, face.claddingRadius + 10 + size / 2, 150);
            return dice.chance(0.7) ? speck(dice, at, size) : flake(dice, at, size);
        });
    return out;
}

/// Contrast of each thing in the picture that the lens makes, against what was there before it; and the plane with all of them.
std::vector<Seen> lay(std::vector<Thing> things, Plane& plane, const cv::Mat1f& clean, const Shot& shot)
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
        for (int y = 0; y < change.rows; ++y)
            for (int x = 0; x < change.cols; ++x) {
                const double level = std::max(0.02, double(before(wide.y + y, wide.x + x))), d = std::abs(double(change(y, x)));
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

/// What is plain enough to count, each larger by `larger` and nearer to the middle by `nearer` times what a measurement may be wrong.
std::vector<Finding> findingsOf(const std::vector<Seen>& things, double least, double larger, double nearer)
{
    std::vector<Finding> out;
    for (const Seen& s : things) {
        if (s.visibility < least) continue;
        Finding f = s.thing.truth;
        const double vague = 1 + (s.visibility < sure && (f.appearance == Appearance::Film || f.appearance == Appearance::Droplet));
        const Micrometre step = std::max(Micrometre(0.7), judgedSize(f) * 0.15) * vague * larger;
        f.size = std::max(Micrometre(0.05), f.size + step);
        f.width = std::max(Micrometre(0.05), f.width + step);
        f.nearest = std::max(Micrometre(0), f.nearest - Micrometre(1.0 * vague * nearer));
        f.id = static_cast<int>(out.size()) + 1;
        out.push_back(f);
    }
    return out;
}

/// Whether what nobody can measure better would turn the verdict.
bool nearLimit(const std::vector<Seen>& things, const FaceClass& faceClass, const Criteria& criteria)
{
    int fit = 0, all = 0;
    for (const double least : {hardlySeen, counted, sure})
        for (const double larger : {-1.0, 0.0, 1.0})
            for (const double nearer : {-1.0, 0.0, 1.0}) {
                fit += judge(findingsOf(things, least, larger, nearer), faceClass, criteria).fit ? 1 : 0;
                ++all;
            }
    return fit != 0 && fit != all;
}

json truthOf(const Seen& s)
{
    const Finding& f = s.thing.truth;
    const auto two = [](double v) { return std::round(v * 100) / 100; };
    json out{{"kind", name(f.kind)},
             {"appearance", name(f.appearance)},
             {"zone", s.zone.empty() ? json() : json(s.zone)},
             {"center_um", {two(f.centre.x.value()), two(f.centre.y.value())}},
             {"size_um", two(f.size.value())},
             {"width_um", two(f.width.value())},
             {"length_um", two(f.length.value())},
             {"r_min_um", two(f.nearest.value())},
             {"r_max_um", two(f.farthest.value())},
             {"contrast", s.contrast},
             {"grey_step", s.step},
             {"snr", s.snr},
             {"visibility", two(s.visibility)},
             {"touches_cladding_edge", f.appearance == Appearance::Chip},
             {"cut_by_frame", false},
             {"members", 1},
             {"edge_tol", s.thing.soft},
             {"counted", s.visibility >= counted && !s.zone.empty()}};
    if (!s.thing.line.empty()) {
        out["line_um"] = json::array();
        for (const auto& p : s.thing.line) out["line_um"].push_back({two(p.x), two(p.y)});
    }
    return out;
}

json faceTruth(int fibre, std::vector<Seen>& things, const Shot& shot, cv::Point2d at, const Criteria& criteria)
{
    const FaceClass faceClass = criteria.find(shot.faceClass).value();
    for (Seen& s : things) {
        const auto zone = zoneOf(s.thing.truth, faceClass);
        s.zone = zone ? std::string(name(*zone)) : "";
    }
    const Verdict verdict = judge(findingsOf(things, counted, 0, 0), faceClass, criteria);
    json rules = json::array(), objects = json::array();
    for (const auto& o : verdict.outcomes)
        if (o.counted > 0)
            rules.push_back({{"zone", name(o.rule.zone)},
                             {"kind", o.rule.kind == RuleKind::Scratch ? "scratch" : "defect"},
                             {"band", ""},
                             {"allowed", o.rule.allowed ? json(*o.rule.allowed) : json()},
                             {"counted", o.counted},
                             {"met", o.met}});
    for (const Seen& s : things) {
        objects.push_back(truthOf(s));
        objects.back()["id"] = objects.size();
    }
    return {{"fiber", fibre},
            {"center_px", {at.x, at.y}},
            {"um_per_px", shot.scale},
            {"cladding_um", 2 * shot.face.claddingRadius},
            {"cladding_diameter_px", 2 * shot.face.claddingRadius / shot.scale},
            {"core",
             {{"kind", name(shot.face.core)},
              {"diameter_um", 2 * shot.face.coreRadius},
              {"contrast", shot.face.coreLight},
              {"lit", shot.face.coreLight > 0.3}}},
            {"verdict", verdict.fit ? "pass" : "fail"},
            {"near_limit", nearLimit(things, faceClass, criteria)},
            {"rules", rules},
            {"objects", objects},
            {"anomalies", json::array()}};
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
    const int finer = std::max(1, cvRound(sensorScale / 0.17));
    Plane plane;
    plane.step = sensorScale / finer;
    plane.light.create(sensor * finer);
    plane.light = 0.3F;
    cv::Point2d first(plane.light.cols * (0.5 + shot.push.x), plane.light.rows * (0.5 + shot.push.y));
    const double pitch = 250 / plane.step;
    if (shot.fibres > 1) first.x -= pitch * (shot.fibres - 1) / 2;
    const auto inPicture = [&](cv::Point2d p) {  // centre of the plane's first pixel lies beside that of the picture's
        return ((p + cv::Point2d(0.5, 0.5)) / finer) * shot.camera.enlarged - cv::Point2d(0.5, 0.5);
    };
    json faces = json::array();
    for (int i = 0; i < shot.fibres; ++i) {
        plane.centre = first + cv::Point2d(i * pitch, 0);
        if (shot.kind == "no fibre") plane.centre = {-1e5, -1e5};  // ferrule alone
        drawSurroundings(plane, shot.face, shot.fibres > 1 ? 125.5 : 0, dice);
    }
    const cv::Mat1f clean = plane.light.clone();
    for (int i = 0; i < shot.fibres && shot.kind != "no fibre"; ++i) {
        plane.centre = first + cv::Point2d(i * pitch, 0);
        auto seen = lay(thingsOn(shot.dirt, shot.face, dice), plane, clean, shot);
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

Shot someShot(Dice& dice)
{
    Shot s;
    s.lens = someLens(dice);
    s.camera = someCamera(dice);
    const std::array<cv::Size, 4> sizes{cv::Size(640, 480), {800, 600}, {1024, 768}, {1280, 960}};
    s.size = sizes[static_cast<std::size_t>(dice.below(4))];
    s.scale = dice.between(210, 330) / s.size.height;
    if (dice.chance(0.2)) s.jpeg = 70 + dice.below(26);
    s.push = {dice.between(-0.1, 0.1), dice.between(-0.05, 0.05)};
    Surroundings& f = s.face;
    f.claddingRadius = dice.between(62.15, 62.85);
    f.coreRadius = dice.between(4.2, 4.7);
    f.coreLight = dice.between(-0.08, 0.12);
    f.coreAt = somewhere(dice, 0, 0.8);
    f.ringWidth = dice.decades(0.5, 3);
    f.ringLight = dice.between(0.05, 0.7);
    f.ferruleLight = dice.between(0.45, 0.95);
    f.grain = dice.between(0.01, 0.06);
    f.grainSize = dice.between(1, 5);
    f.polish = dice.chance(0.5) ? dice.between(0.01, 0.07) : 0;
    f.holeAt = somewhere(dice, 0, 0.4);
    return s;
}

struct Kind {
    const char* name;
    std::function<void(Shot&, Dice&)> change;
};

void row(Shot& s, int fibres, Dice& dice)
{
    s.fibres = fibres;
    s.faceClass = dice.chance(0.5) ? "sm-multi" : "mm-multi";
    if (s.faceClass == "mm-multi") {
        s.face.core = CoreKind::Multimode50;
        s.face.coreRadius = 25;
        s.face.coreLight = dice.between(0.03, 0.12);
    }
    s.scale = fibres == 4 ? dice.between(0.42, 0.55) : dice.between(0.85, 0.95);
    s.size = {cvRound((250 * fibres + 40) / s.scale), cvRound(dice.between(260, 420) / s.scale)};
    s.face.rectangular = true;
    s.face.ferruleLight = dice.between(0.06, 0.4);
    s.face.grain = dice.between(0.1, 0.35);
    s.face.polish = 0;
    s.push = {0, dice.between(-0.08, 0.08)};
    s.camera.border = Border::None;
    s.dirt.specks = 1;
    s.dirt.chips = 0.05;
}

void multimode(Shot& s, CoreKind core, double radius, Dice& dice)
{
    s.faceClass = "mm-pc";
    s.face.core = core;
    s.face.coreRadius = radius;
    s.face.coreLight = dice.between(0.03, 0.15) * (dice.chance(0.25) ? -1 : 1);
    s.face.coreGraded = dice.between(0, 1);
}

/// What lies on the ferrule may be hidden, so nothing does.
void hide(Shot& s, Border border)
{
    s.camera.border = border;
    s.dirt.onFerrule = 0;
    s.dirt.lint = 0;
}

const std::vector<Kind>& kinds()
{
    static const std::vector<Kind> all{
        {"plain", [](Shot&, Dice&) {}},
        {"clean", [](Shot& s, Dice&) { s.dirt = {0.1, 0, 0, 0, 0, 0.1, 0, 0.1, 0, 0, 1}; }},
        {"dusty", [](Shot& s, Dice&) { s.dirt.specks = 9; }},
        {"flakes", [](Shot& s, Dice&) { s.dirt = {0.5, 3, 0, 0, 0, 0, 0, 0, 0, 0, 4}; }},
        {"droplets", [](Shot& s, Dice&) { s.dirt = {0.5, 0, 3, 0, 0, 0, 0, 0, 0, 0, 1}; }},
        {"films", [](Shot& s, Dice&) { s.dirt = {0.5, 0, 0.5, 1.5, 0, 0, 0, 0, 0, 0, 1}; }},
        {"lint", [](Shot& s, Dice&) { s.dirt = {0.5, 0, 0, 0, 1.3, 0, 0, 0, 0, 0, 1}; }},
        {"scratches", [](Shot& s, Dice&) { s.dirt = {0.3, 0, 0, 0, 0, 0.3, 0, 2.5, 0, 0, 1}; }},
        {"bundles", [](Shot& s, Dice&) { s.dirt = {0.3, 0, 0, 0, 0, 0, 0, 0.3, 1.2, 0, 1}; }},
        {"crossings", [](Shot& s, Dice&) { s.dirt = {0.3, 0, 0, 0, 0, 0, 0, 0, 0, 1.5, 1}; }},
        {"pits and chips", [](Shot& s, Dice&) { s.dirt = {0.3, 0, 0, 0, 0, 2.5, 0.8, 0, 0, 0, 1}; }},
        {"angled", [](Shot& s, Dice&) { s.faceClass = "sm-apc"; }},
        {"26 dB", [](Shot& s, Dice&) { s.faceClass = "sm-pc"; }},
        {"core of 50", [](Shot& s, Dice& dice) { multimode(s, CoreKind::Multimode50, 25, dice); }},
        {"core of 62.5", [](Shot& s, Dice& dice) { multimode(s, CoreKind::Multimode62, 31.25, dice); }},
        {"dark core", [](Shot& s, Dice& dice) { s.face.coreLight = dice.between(-0.45, -0.12); }},
        {"lit core",
         [](Shot& s, Dice& dice) {
             s.face.coreLight = dice.between(0.3, 1.2);
             s.camera.grey = std::min(s.camera.grey, 200 / (1 + s.face.coreLight) + 20);
         }},
        {"bright ring", [](Shot& s, Dice& dice) { s.face.ringLight = dice.between(1.05, 1.7); }},
        {"wide ring",
         [](Shot& s, Dice& dice) {
             s.face.ringWidth = dice.between(3, 8);
             s.face.ringLight = dice.between(0.1, 0.95);
             s.face.holeAt = somewhere(dice, 0, 2.5);
         }},
        {"ring with gaps", [](Shot& s, Dice& dice) { s.face.filled = dice.between(0.3, 0.85); }},
        {"hardly a ring",
         [](Shot& s, Dice& dice) {
             s.face.ringWidth = dice.between(0.15, 0.5);
             s.face.ringLight = dice.between(0.5, 0.9);
         }},
        {"ferrule like glass", [](Shot& s, Dice& dice) { s.face.ferruleLight = dice.between(0.94, 1.06); }},
        {"bright ferrule",
         [](Shot& s, Dice& dice) {
             s.face.ferruleLight = dice.between(1.2, 2.6);
             s.camera.grey = std::min(s.camera.grey, 215 / s.face.ferruleLight);
         }},
        {"dark ferrule", [](Shot& s, Dice& dice) { s.face.ferruleLight = dice.between(0.12, 0.42); }},
        {"bevelled", [](Shot& s, Dice& dice) { s.face.bevel = dice.between(135, 190); }},
        {"round window", [](Shot& s, Dice&) { hide(s, Border::Window); }},
        {"bars", [](Shot& s, Dice&) { hide(s, Border::Bars); }},
        {"dark corners", [](Shot& s, Dice& dice) { s.camera.corners = dice.between(0.12, 0.45); }},
        {"stamped", [](Shot& s, Dice&) { s.camera.stamp = true; }},
        {"mosaic", [](Shot& s, Dice&) { s.camera.mosaic = true; }},
        {"sharpened",
         [](Shot& s, Dice& dice) {
             s.camera.sharpen = dice.between(1, 2.2);
             s.camera.sharpenOver = dice.between(0.8, 2.2);
         }},
        {"stretched", [](Shot& s, Dice&) { s.camera.stretch = true; }},
        {"noisy", [](Shot& s, Dice& dice) { s.camera.read = dice.between(3, 7); }},
        {"jpeg", [](Shot& s, Dice& dice) { s.jpeg = 35 + dice.below(35); }},
        {"enlarged", [](Shot& s, Dice& dice) { s.camera.enlarged = dice.between(1.2, 1.9); }},
        {"hot pixels", [](Shot& s, Dice& dice) { s.camera.hot = 10 + dice.below(80); }},
        {"small", [](Shot& s, Dice& dice) { s.scale = dice.between(0.62, 0.9); }},
        {"large",
         [](Shot& s, Dice& dice) {
             s.size = {1280, 960};
             s.scale = dice.between(0.16, 0.21);
         }},
        {"row of 4", [](Shot& s, Dice& dice) { row(s, 4, dice); }},
        {"row of 12", [](Shot& s, Dice& dice) { row(s, 12, dice); }},
        {"blurred",
         [](Shot& s, Dice& dice) {
             s.lens.defocus = dice.between(3.5, 5.5) * (dice.chance(0.5) ? 1 : -1);
             s.lens.aperture = dice.between(0.4, 0.5);
             if (dice.chance(0.5)) s.camera.sharpen = dice.between(0.6, 1.6);
             s.retake = true;
         }},
        {"cut off",
         [](Shot& s, Dice& dice) {
             const double half = 0.5, r = s.face.claddingRadius / s.scale;
             s.push = {(half - dice.between(-0.3, 0.85) * r / s.size.width) * (dice.chance(0.5) ? 1 : -1), dice.between(-0.1, 0.1)};
             s.retake = true;
         }},
        {"no fibre", [](Shot& s, Dice&) { s.retake = true; }},
    };
    return all;
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
    json images = json::array();
    for (std::size_t k = 0; k < kinds().size(); ++k)
        for (int n = 0; n < each; ++n) {
            Dice dice(seed * 7919U + static_cast<unsigned>(k) * 101U + static_cast<unsigned>(n) * 100003U);
            Shot shot = someShot(dice);
            shot.kind = kinds()[k].name;
            kinds()[k].change(shot, dice);
            images.push_back(draw(shot, out, static_cast<int>(images.size()) + 1, *criteria, dice));
        }
    const json truth{{"what", "drawn end faces"}, {"version", 1}, {"seed", seed}, {"edition", "2015"}, {"images", images}};
    return writeFile(out / "truth.json", truth.dump(1)) ? 0 : 1;
}
