// How small may dirt be and still be found, by the scale and the blur of a picture? Prints the table data/face/detection.json: specks of known size
// are drawn on clean glass, half of them blurred as by good optics, half as by defocus (a disc), in noise; the pictures are measured, and what was
// found is counted. Usage: detection [faces a scale] > data/face/detection.json
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <limits>
#include <nlohmann/json.hpp>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <random>

#include "face/face_report.h"
#include "world/face_world.h"

using namespace clendo;

namespace {

constexpr std::array scales{0.2, 0.3, 0.45, 0.6, 0.8, 1.0};                      // um a pixel
constexpr std::array blurEdges{0.28, 0.42, 0.58, 0.75, 0.95, 1.15, 1.35, 1.45};  // as the pictures show it, sigma in um; more is refused
constexpr std::array sizes{1.0, 1.25, 1.5, 1.75, 2.0, 2.25, 2.5, 3.0, 3.5};
constexpr std::size_t bins = blurEdges.size() - 1, two = 4;
constexpr double recallWanted = 0.9, leastBlur = 0.25, mostBlur = 2.3;

struct Cell {
    std::array<int, sizes.size()> there{}, found{};
    [[nodiscard]] double share(std::size_t i) const { return there[i] > 0 ? double(found[i]) / there[i] : 0.0; }
};
using CellsOfScale = std::array<Cell, bins>;

/// A disc as wide as a Gaussian of that sigma, in pixels, drawn 8 times finer.
cv::Mat1f disc(double sigma)
{
    const double radius = 2 * sigma;
    const int half = static_cast<int>(std::ceil(radius)) + 1, fine = 8, width = 2 * half + 1;
    cv::Mat1f kernel(width, width, 0.0F);
    for (int y = 0; y < width * fine; ++y)
        for (int x = 0; x < width * fine; ++x)
            if (std::hypot((x + 0.5) / fine - half - 0.5, (y + 0.5) / fine - half - 0.5) <= radius) kernel(y / fine, x / fine) += 1;
    kernel *= 1 / cv::sum(kernel)[0];
    return kernel;
}

void shootOne(double umPerPx, int n, CellsOfScale& cells)
{
    std::mt19937 random(static_cast<std::uint32_t>(n) * 7919U + static_cast<std::uint32_t>(umPerPx * 1000) * 31U);
    const auto draw = [&](double from, double to) { return std::uniform_real_distribution<double>(from, to)(random); };
    const double blur = leastBlur * std::pow(mostBlur / leastBlur, draw(0, 1));
    world::SimulatedFace face;
    std::vector<std::size_t> sizeOf;
    while (face.marks.size() < 9) {
        const double angle = draw(0, 2 * std::numbers::pi), r = std::sqrt(draw(9.0 * 9.0, 50.0 * 50.0));
        const FacePoint at{Micrometre(r * std::cos(angle)), Micrometre(r * std::sin(angle))};
        const bool apart = std::all_of(face.marks.begin(), face.marks.end(),
                                       [&](const world::Mark& m) { return std::hypot((m.at.x - at.x).value(), (m.at.y - at.y).value()) > 16; });
        if (!apart) continue;
        sizeOf.push_back(std::uniform_int_distribution<std::size_t>(0, sizes.size() - 1)(random));
        face.marks.push_back({world::Mark::Shape::Speck, at, Micrometre(sizes[sizeOf.back()]), {}, 0, -draw(0.3, 0.75), false});
    }
    const bool defocused = n % 2 == 1;
    world::Camera camera;
    camera.scale = Scale(umPerPx);
    camera.width = std::max(200, static_cast<int>(190 / umPerPx));
    camera.height = std::max(160, static_cast<int>(150 / umPerPx));
    camera.blur = Micrometre(defocused ? std::min(blur, 0.35) : blur);
    camera.noise = 0;
    camera.offsetX = Micrometre(draw(-4, 4));
    camera.offsetY = Micrometre(draw(-4, 4));
    camera.seed = static_cast<std::uint32_t>(random());
    face::Picture picture = world::takePicture(face, camera);
    cv::Mat1b grey(picture.height, picture.width, picture.pixels.data());
    cv::Mat1f light;
    grey.convertTo(light, CV_32F);
    if (const double rest = std::sqrt(std::max(0.0, blur * blur - camera.blur.value() * camera.blur.value())) / umPerPx; defocused && rest > 0.2)
        cv::filter2D(light, light, -1, disc(rest), {-1, -1}, 0, cv::BORDER_REPLICATE);
    std::normal_distribution<float> noise(0, static_cast<float>(draw(0.8, 3.5)));
    for (float& v : light) v += noise(random);
    light.convertTo(grey, CV_8U);

    const auto seen = face::measure(picture, {});
    if (seen.size() != 1 || !seen[0].usable()) return;
    const auto bin = std::upper_bound(blurEdges.begin(), blurEdges.end(), seen[0].blur.value()) - blurEdges.begin() - 1;
    if (bin < 0 || bin >= static_cast<long>(bins)) return;
    Cell& cell = cells[static_cast<std::size_t>(bin)];
    for (std::size_t i = 0; i < face.marks.size(); ++i) {
        const FacePoint at = face.marks[i].at;
        const bool found = std::any_of(seen[0].findings.begin(), seen[0].findings.end(), [&](const Finding& f) {
            return std::hypot((f.centre.x - at.x).value(), (f.centre.y - at.y).value()) < std::max(2.0, 0.5 * f.size.value());
        });
        ++cell.there[sizeOf[i]];
        cell.found[sizeOf[i]] += found ? 1 : 0;
    }
}

/// From which size on the wanted share is found: the rising curve that fits best what was found (a logistic one; a few are missed at any size,
/// because the blur of some pictures is measured too small).
double smallest(const Cell& cell)
{
    constexpr double lapse = 0.03;
    double best = -std::numeric_limits<double>::infinity(), out = sizes.back();
    for (double half = 0.3; half <= 4.5; half += 0.02)
        for (double width = 0.05; width <= 0.6; width += 0.05) {
            double fit = 0;
            for (std::size_t i = 0; i < sizes.size(); ++i) {
                const double p = std::clamp((1 - lapse) / (1 + std::exp(-(sizes[i] - half) / width)), 1e-6, 1 - 1e-6);
                fit += cell.found[i] * std::log(p) + (cell.there[i] - cell.found[i]) * std::log(1 - p);
            }
            if (fit <= best) continue;
            best = fit;
            out = half - width * std::log((1 - lapse) / recallWanted - 1);
        }
    return std::max(sizes.front(), out);
}

}  // namespace

int main(int argc, char** argv)
{
    const int faces = argc > 1 ? std::atoi(argv[1]) : 600;
    nlohmann::ordered_json out{
        {"format", "clendo-detection"},
        {"format_version", 1},
        {"version", "3"},
        {"source",
         fmt::format("measured with benchmarks/detection: round dust of 1 to 3.5 um and contrast 0.3 to 0.75 on drawn faces, noise of 0.8 to 3.5 "
                     "grey levels, {} faces a scale, Gaussian blur and defocus by turns",
                     faces)},
        {"recall_wanted", recallWanted},
        {"um_per_px", scales}};
    nlohmann::ordered_json recall = nlohmann::ordered_json::array(), smallestSizes = recall, middles = recall;
    for (std::size_t b = 0; b < bins; ++b) middles.push_back(std::round(50 * (blurEdges[b] + blurEdges[b + 1])) / 100);
    std::array<double, bins> atSmallerScale{};
    for (const double umPerPx : scales) {
        CellsOfScale cells;
        for (int n = 0; n < faces; ++n) shootOne(umPerPx, n, cells);
        nlohmann::ordered_json recallRow = nlohmann::ordered_json::array(), sizeRow = recallRow;
        double sharper = 0;
        for (std::size_t b = 0; b < bins; ++b) {
            // neither a coarser scale nor more blur shows more: what luck of the draw says otherwise is not believed
            atSmallerScale[b] = sharper = std::max({smallest(cells[b]), sharper, atSmallerScale[b]});
            sizeRow.push_back(std::round(100 * sharper) / 100);
            if (cells[b].there[two] > 0)
                recallRow.push_back(std::round(1000 * cells[b].share(two)) / 1000);
            else
                recallRow.push_back(nullptr);
            fmt::print(stderr, "{:4.2f} um/px, blur {:4.2f}: {:4} specks of 2 um\n", umPerPx, middles[b].get<double>(), cells[b].there[two]);
        }
        recall.push_back(recallRow);
        smallestSizes.push_back(sizeRow);
    }
    out["blur_um"] = middles;
    out["recall_of_2_um"] = recall;
    out["smallest_um"] = smallestSizes;
    fmt::print("{}\n", out.dump(1));
}
