// framed-set SET OUT [SEED] [cameras]: the pictures of a set with truth as others would show them. What is on the faces stays, so the truth does.
// - The single-fibre ones through a round window, between black bars, with dark corners, with a line of text: what a frame may cut off is left out.
// - `cameras`: all of them with other tones, sharpened, noisy, softened, in slanting light, of few levels, compressed; each in two of these ways.
#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <random>
#include <vector>

#include "alterations.h"
#include "files/files.h"
#include "pictures/decode.h"

namespace {

using namespace clendo;
using nlohmann::json;

constexpr std::size_t waysOfEach = 2;

/// Whether all of its faces stay as true as they are when something is cut off.
bool bearsFrame(const json& picture)
{
    if (picture["faces"].size() != 1) return false;
    // what lies on the ferrule may be cut off: then its verdict is another one
    const auto& rules = picture["faces"][0]["rules"];
    return std::none_of(rules.begin(), rules.end(), [](const json& r) { return r.value("zone", "") == "D" && !r.value("met", true); });
}

}  // namespace

int main(int argc, char** argv)
{
    if (argc < 3) return 2;
    const std::filesystem::path set = argv[1], out = argv[2];
    std::mt19937 dice(argc > 3 ? static_cast<unsigned>(std::stoul(argv[3])) : 1U);
    const auto text = readFile(set / "truth.json");
    json truth = text ? json::parse(*text, nullptr, false) : json();
    if (!truth.is_object()) return 1;
    std::filesystem::create_directories(out);
    const bool cameras = argc > 4;
    const auto ways = cameras ? framed::cameras() : framed::frames();
    json framed = json::array();
    for (const auto& picture : truth["images"]) {
        if (picture["expected"] != "judge" || !(cameras || bearsFrame(picture))) continue;
        const std::string name = picture["image"].get<std::string>();
        const auto bytes = readFile(set / name);
        auto decoded = bytes ? decodePicture(*bytes, name) : tl::unexpected(bytes.error());
        if (!decoded) continue;
        const json& face = picture["faces"][0];
        const cv::Point2d fibre(face["center_px"][0].get<double>(), face["center_px"][1].get<double>());
        const double radius = face["cladding_um"].get<double>() / face["um_per_px"].get<double>() / 2;
        std::vector<framed::Alteration> chosen(ways.begin(), ways.end());
        if (cameras) {
            std::shuffle(chosen.begin(), chosen.end(), dice);
            chosen.resize(waysOfEach);
        }
        for (const framed::Alteration& frame : chosen) {
            auto copy = *decoded;
            cv::Mat1b grey(copy.height, copy.width, copy.pixels.data());
            frame.draw(grey, fibre, radius, dice);
            json as = picture;
            std::string file = fmt::format("{}-{}.png", std::filesystem::path(name).stem().string(), frame.name);
            std::replace(file.begin(), file.end(), ' ', '-');
            as["image"] = file;
            as["regime"] = frame.name;
            if (!writeFile(out / file, encodePng(copy))) return 1;
            framed.push_back(as);
        }
    }
    truth["images"] = framed;
    return writeFile(out / "truth.json", truth.dump(1)) ? 0 : 1;
}
