// picture_fuzz SECONDS [SEED] PICTURE...: breaks the pictures in many ways and judges what is left of them. Meant for the asan preset: any finding of
// the sanitizers, any exception and any measurement that is no number ends it. Says at the end how many pictures were tried.
#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <nlohmann/json.hpp>
#include <vector>

#include "broken.h"
#include "criteria/judge.h"
#include "face/face_json.h"
#include "face/judge/unroll.h"
#include "files/files.h"
#include "pictures/decode.h"

using namespace clendo;

namespace {

/// Pixels of a picture: cut to another size, stripes, noise, turned levels.
face::Picture brokenPicture(const face::Picture& whole, Random& random)
{
    face::Picture p;
    p.width = 1 + static_cast<int>(below(random, static_cast<std::size_t>(whole.width)));
    p.height = 1 + static_cast<int>(below(random, static_cast<std::size_t>(whole.height)));
    if (below(random, 3) > 0) p.width = whole.width, p.height = whole.height;
    const int left = static_cast<int>(below(random, static_cast<std::size_t>(whole.width - p.width + 1))),
              top = static_cast<int>(below(random, static_cast<std::size_t>(whole.height - p.height + 1)));
    for (int y = 0; y < p.height; ++y)
        for (int x = 0; x < p.width; ++x)
            p.pixels.push_back(
                whole.pixels[static_cast<std::size_t>(top + y) * static_cast<std::size_t>(whole.width) + static_cast<std::size_t>(left + x)]);
    for (std::size_t n = below(random, 4); n > 0; --n) {
        const std::size_t kind = below(random, 5), from = below(random, p.pixels.size()), step = 1 + below(random, 5000);
        const auto level = static_cast<std::uint8_t>(random());
        for (std::size_t i = from; i < p.pixels.size(); i += kind == 0 ? step : 1) {
            std::uint8_t& g = p.pixels[i];
            if (kind == 0) g = level;
            if (kind == 1) g = static_cast<std::uint8_t>(255 - g);
            if (kind == 2) g = static_cast<std::uint8_t>(g ^ (random() & 31U));
            if (kind == 3) g = static_cast<std::uint8_t>(std::min(255U, unsigned(g) * (1 + level / 64U)));
            if (kind == 4 && (i / step) % 2 == 0) g = level;
        }
    }
    return p;
}

/// Seconds that it took.
double judged(const face::Picture& picture, Random& random, const Criteria& criteria)
{
    const auto begin = std::chrono::steady_clock::now();
    face::MeasureOptions options;
    if (below(random, 3) == 0) options.fibres.reset();
    if (below(random, 4) == 0) options.scale = Scale(0.05 + double(below(random, 200)) / 100);
    for (const auto& face : face::measure(picture, options)) {
        const auto verdict = judge(face.findings, criteria.find("sm-upc").value(), criteria);
        if (verdict.outcomes.empty() || measurementToJson(face).dump().find("null,null") != std::string::npos) std::abort();
        for (const auto& f : face.findings)
            if (!std::isfinite(f.size.value() + f.width.value() + f.centre.x.value() + f.centre.y.value() + f.nearest.value() + f.contrast))
                std::abort();
        face::unroll(picture, face, {});
    }
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

}  // namespace

int main(int argc, char** argv)
{
    if (argc < 4) return std::fputs("picture_fuzz SECONDS SEED PICTURE...\n", stderr), 2;
    const std::chrono::seconds time(std::atoi(argv[1]));
    Random random(static_cast<Random::result_type>(std::atoi(argv[2])));
    std::vector<std::string> files;
    std::vector<face::Picture> pictures;
    for (int i = 3; i < argc; ++i) {
        files.push_back(readFile(argv[i]).value());
        pictures.push_back(decodePicture(files.back(), argv[i]).value());
    }
    const Criteria criteria = loadCriteria("2015", dataFolder()).value();
    const auto end = std::chrono::steady_clock::now() + time;
    std::size_t tried = 0, decoded = 0;
    double slowest = 0;
    for (; std::chrono::steady_clock::now() < end; ++tried) {
        const std::size_t which = below(random, files.size());
        if (below(random, 2) == 0) {
            const auto picture = decodePicture(brokenFile(files[which], random), "fuzz");
            if (!picture) continue;
            ++decoded;
            slowest = std::max(slowest, judged(*picture, random, criteria));
        } else {
            slowest = std::max(slowest, judged(brokenPicture(pictures[which], random), random, criteria));
        }
    }
    std::printf("%zu pictures tried, %zu broken files still decoded, nothing found; the slowest took %.1f s\n", tried, decoded, slowest);
    return 0;
}
