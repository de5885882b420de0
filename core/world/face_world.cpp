#include "world/face_world.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <random>

#include "world/surface.h"

namespace clendo::world {
namespace {

constexpr double claddingRadius = 62.5, coreRadius = 4.4, ringWidth = 1.3;
constexpr double pitch = 250, guideBeyond = 925, guideRadius = 350;  // um, IEC 61754-7: twelve fibres, guides of 0.7 mm at 4.6 mm
constexpr double blurPerDefocus = 0.35;                              // um of blur per um out of focus: about a lens of aperture 0.35
constexpr int margin = 48;                                           // px around a scene, for the hand that shakes

Mark speck(std::mt19937& random, double radiusLow, double radiusHigh, double sizeLow, double sizeHigh)
{
    const double r = uniform(random, radiusLow, radiusHigh), angle = uniform(random, 0, 2 * std::numbers::pi);
    return {Mark::Shape::Speck,
            {Micrometre(r * std::cos(angle)), Micrometre(r * std::sin(angle))},
            Micrometre(uniform(random, sizeLow, sizeHigh)),
            {},
            0,
            -uniform(random, 0.4, 0.75),
            false};
}

/// The light that comes from one fibre or a row of them, before blur and noise.
cv::Mat1f drawScene(const Row& row, const Camera& camera, std::mt19937& random)
{
    const bool alone = row.fibres.size() == 1;
    const double umPerPx = camera.scale.micrometresPerPixel(), core = row.multimode ? 25 : coreRadius;
    const double glass = alone ? 104 : 150, ferrule = alone ? 150 : 66, halfRow = double(row.fibres.size() - 1) / 2 * pitch;
    cv::Mat1f grain(camera.height, camera.width), light(camera.height, camera.width);
    std::optional<Surface> surface;
    if (camera.surface) {
        surface.emplace(*camera.surface, camera.width, camera.height, camera.scale);
    } else {
        for (auto& g : grain) g = static_cast<float>(uniform(random, -1, 1));
        cv::GaussianBlur(grain, grain, {}, 1.2 / umPerPx);
    }
    const double middleX = camera.width / 2.0 + camera.offsetX.value() / umPerPx, middleY = camera.height / 2.0 + camera.offsetY.value() / umPerPx;
    for (int y = 0; y < camera.height; ++y)
        for (int x = 0; x < camera.width; ++x) {
            const double rowX = (x - middleX) * umPerPx, uy = (y - middleY) * umPerPx;
            const double nth = alone ? 0 : std::clamp(std::round((rowX + halfRow) / pitch), 0.0, double(row.fibres.size() - 1));
            const double ux = rowX + halfRow - nth * pitch, r = std::hypot(ux, uy);
            const double inGlass = std::clamp(0.5 - (r - claddingRadius) / umPerPx, 0.0, 1.0);
            const bool nearLine = surface && std::abs(r - claddingRadius) < Surface::widestLine.value();
            const auto line = nearLine ? surface->adhesive(std::atan2(uy, ux) + 1.7 * nth) : Surface::Line{Micrometre(ringWidth), 0.7};
            const double wide = line.width.value() / 2;
            const double inRing = std::clamp(0.5 - (std::abs(r - claddingRadius - wide) - wide) / umPerPx, 0.0, 1.0);
            const double inCore = std::clamp(0.5 - (r - core) / 0.8, 0.0, 1.0);
            const double ceramic = surface ? ferrule * (1 + surface->ceramic(x, y)) : ferrule + 25 * double(grain(y, x)) / (0.35 * umPerPx);
            double v = inGlass * (glass + 9 * inCore) + (1 - inGlass) * ceramic;
            v *= 1 - line.takes * inRing;
            for (const auto& mark : row.fibres[static_cast<std::size_t>(nth)].marks)
                if (const double reach = 5 + mark.size.value() + mark.length.value();
                    std::abs(ux - mark.at.x.value()) < reach && std::abs(uy - mark.at.y.value()) < reach)
                    v *= 1 + mark.contrast * cover(mark, {Micrometre(ux), Micrometre(uy)}, Micrometre(umPerPx));
            if (!alone) {
                const double guide = std::hypot(std::abs(rowX) - halfRow - guideBeyond, uy);
                const double inGuide = std::clamp(0.5 - (guide - guideRadius) / umPerPx, 0.0, 1.0);
                v += inGuide * ((row.pins ? 215 : 8) - v);
            }
            const double even = alone && surface ? surface->light({Micrometre(ux), Micrometre(uy)})
                                : alone          ? 1 + 0.0006 * ux - 4e-6 * r * r
                                                 : 1 + 0.00003 * rowX;
            light(y, x) = static_cast<float>(v * camera.brightness * even);
        }
    return light;
}

face::Picture developed(const cv::Mat1f& light, const std::function<double(int, int)>& noise)
{
    face::Picture out{light.cols, light.rows, {}};
    out.pixels.reserve(light.total());
    for (int y = 0; y < light.rows; ++y)
        for (int x = 0; x < light.cols; ++x)
            out.pixels.push_back(static_cast<std::uint8_t>(std::clamp(double(light(y, x)) + noise(y, x), 0.0, 255.0)));
    return out;
}

}  // namespace

SimulatedFace makeFace(Story story, std::uint32_t seed)
{
    std::mt19937 random(seed * 2654435761U + 17);
    SimulatedFace face;
    const auto specks = [&](int n, double r0, double r1, double s0, double s1) {
        for (int i = 0; i < n; ++i) face.marks.push_back(speck(random, r0, r1, s0, s1));
    };
    specks(3, 80, 122, 2, 5);  // there is always something on the ferrule
    switch (story) {
        case Story::Clean: break;
        case Story::SomeDust:
            specks(2, 20, 54, 6, 8);
            specks(4, 16, 55, 2.2, 4.2);
            break;
        case Story::Dusty:
            specks(14, 10, 56, 2.5, 8);
            specks(10, 75, 120, 4, 14);
            break;
        case Story::Oily:
            for (int i = 0; i < 5; ++i) {
                Mark ring = speck(random, 4, 48, 7, 14);
                ring.shape = Mark::Shape::Dried;
                ring.contrast = -0.3;
                face.marks.push_back(ring);
            }
            break;
        case Story::Scratched:
            face.marks.push_back(
                {Mark::Shape::Stroke, {Micrometre(1.5), Micrometre(-1)}, Micrometre(1.6), Micrometre(46), uniform(random, 0, 3), -0.45, true});
            break;
        case Story::Pitted:
            specks(1, 6, 9, 3.2, 4);
            specks(2, 25, 50, 5.6, 7);
            for (std::size_t i = 3; i < face.marks.size(); ++i) face.marks[i].damage = true;
            break;
    }
    return face;
}

SimulatedFace cleaned(SimulatedFace face, int cleanings, std::uint32_t seed)
{
    std::mt19937 random(seed * 40503U + 5);
    for (int n = 0; n < cleanings; ++n) {
        std::erase_if(face.marks,
                      [&](const Mark& mark) { return !mark.damage && uniform(random, 0, 1) < 0.85 && mark.at.radius() < Micrometre(75); });
        for (auto& mark : face.marks)
            if (!mark.damage) mark.at = {mark.at.x + Micrometre(uniform(random, -6, 6)), mark.at.y + Micrometre(uniform(random, -6, 6))};
    }
    return face;
}

face::Picture takeRowPicture(const Row& row, const Camera& camera)
{
    std::mt19937 random(camera.seed * 7919U + 3);
    cv::Mat1f light = drawScene(row, camera, random);
    cv::GaussianBlur(light, light, {}, std::max(0.1, camera.blur.value() / camera.scale.micrometresPerPixel()));
    std::normal_distribution<double> noise(0, camera.noise);
    return developed(light, [&](int, int) { return noise(random); });
}

face::Picture takePicture(const SimulatedFace& face, const Camera& camera) { return takeRowPicture(Row{{face}, false, false}, camera); }

Microscope::Microscope(const SimulatedFace& face, Camera camera) : Microscope(Row{{face}, false, false}, camera) {}

Microscope::Microscope(const Row& row, Camera camera) : camera_(camera)
{
    std::mt19937 random(camera.seed * 7919U + 3);
    camera.width += 2 * margin;
    camera.height += 2 * margin;
    const cv::Mat1f light = drawScene(row, camera, random);
    scene_.assign(light.begin(), light.end());
    std::normal_distribution<double> noise(0, camera.noise);
    noise_.reserve(scene_.size());
    for (std::size_t i = 0; i < scene_.size(); ++i) noise_.push_back(static_cast<float>(noise(random)));
}

face::Picture Microscope::frame(const Handling& hand) const
{
    const double umPerPx = camera_.scale.micrometresPerPixel();
    const int wide = camera_.width + 2 * margin, tall = camera_.height + 2 * margin;
    const auto moved = [&](Micrometre by) { return std::clamp(static_cast<int>(std::lround(by.value() / umPerPx)), -margin, margin); };
    const cv::Mat1f scene(tall, wide, const_cast<float*>(scene_.data()));  // cv::Mat has no view of const
    const cv::Rect seen(margin - moved(hand.shakeX), margin - moved(hand.shakeY), camera_.width, camera_.height);
    cv::Mat1f light;
    cv::GaussianBlur(scene(seen), light, {}, std::max(0.1, std::hypot(camera_.blur.value(), blurPerDefocus * hand.defocus.value()) / umPerPx));
    light *= hand.light;
    // the noise is made once: each frame sees another part of it
    std::mt19937 random(hand.seed);
    const int dx = static_cast<int>(random() % (2 * margin)), dy = static_cast<int>(random() % (2 * margin));
    return developed(light, [&](int y, int x) { return double(noise_[static_cast<std::size_t>((y + dy) * wide + x + dx)]); });
}

}  // namespace clendo::world
