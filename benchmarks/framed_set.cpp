// framed-set SET OUT [SEED]: the single-fibre pictures of a set with truth as other cameras would show them: through a round window, between black
// bars, with dark corners, with a line of text. What is on the faces stays, so the truth does; only what a frame cuts off is left out.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <opencv2/imgproc.hpp>
#include <random>

#include "files/files.h"
#include "pictures/decode.h"

namespace {

using namespace clendo;
using nlohmann::json;

struct Frame {
    const char* name;
    void (*draw)(cv::Mat1b& picture, cv::Point2d fibre, double claddingRadius, std::mt19937& dice);
};

double between(std::mt19937& dice, double low, double high) { return std::uniform_real_distribution(low, high)(dice); }

/// Dark with a little noise, as a sensor that gets no light.
std::uint8_t noLight(std::mt19937& dice, double level) { return cv::saturate_cast<std::uint8_t>(level + std::normal_distribution(0.0, 1.5)(dice)); }

/// A window whose edge is soft over some pixels; it holds the cladding, and as much of the ferrule as there happens to be.
void roundWindow(cv::Mat1b& p, cv::Point2d fibre, double r, std::mt19937& dice)
{
    const double radius = between(dice, 1.25, 2.4) * r, soft = between(dice, 1.5, 9), level = between(dice, 0, 14), slack = radius - 1.12 * r;
    const double away = between(dice, 0, std::max(0.0, slack)), angle = between(dice, 0, 2 * CV_PI);
    const cv::Point2d middle(fibre.x + away * std::cos(angle), fibre.y + away * std::sin(angle));
    for (int y = 0; y < p.rows; ++y)
        for (int x = 0; x < p.cols; ++x) {
            const double share = 1 / (1 + std::exp((std::hypot(x - middle.x, y - middle.y) - radius) / soft));
            p(y, x) = cv::saturate_cast<std::uint8_t>(share * p(y, x) + (1 - share) * noLight(dice, level));
        }
}

void bars(cv::Mat1b& p, cv::Point2d fibre, double r, std::mt19937& dice)
{
    const double level = between(dice, 0, 20);
    const int left = static_cast<int>(between(dice, 0, std::max(0.0, fibre.x - 1.15 * r))),
              right = static_cast<int>(between(dice, std::min<double>(p.cols, fibre.x + 1.15 * r), p.cols));
    for (int y = 0; y < p.rows; ++y)
        for (int x = 0; x < p.cols; ++x)
            if (x < left || x >= right) p(y, x) = noLight(dice, level);
}

/// Light that falls to the corners as the fourth power of the cosine, and more.
void darkCorners(cv::Mat1b& p, cv::Point2d, double, std::mt19937& dice)
{
    const cv::Point2d middle(p.cols * between(dice, 0.42, 0.58), p.rows * between(dice, 0.42, 0.58));
    const double reach = between(dice, 0.55, 1.0) * std::hypot(p.cols, p.rows) / 2, power = between(dice, 2, 4);
    for (int y = 0; y < p.rows; ++y)
        for (int x = 0; x < p.cols; ++x) {
            const double d = std::hypot(x - middle.x, y - middle.y) / reach;
            p(y, x) = cv::saturate_cast<std::uint8_t>(p(y, x) / std::pow(1 + d * d, power / 2));
        }
}

void stamped(cv::Mat1b& p, cv::Point2d fibre, double r, std::mt19937& dice)
{
    const std::string words = fmt::format("2026-11-{:02} {:02}:{:02} {}X", 1 + dice() % 28, dice() % 24, dice() % 60, 100 * (1 + dice() % 4));
    const double scale = std::max(0.4, p.rows / 960.0);
    const bool top = fibre.y > p.rows / 2.0 && fibre.y - r > 30 * scale;
    const cv::Point at(static_cast<int>(8 * scale), top ? static_cast<int>(22 * scale) : p.rows - static_cast<int>(8 * scale));
    cv::putText(p, words, at, cv::FONT_HERSHEY_SIMPLEX, 0.7 * scale, dice() % 2 ? 255 : 0, std::max(1, cvRound(1.6 * scale)), cv::LINE_AA);
}

constexpr Frame frames[] = {{"round window", roundWindow}, {"bars", bars}, {"dark corners", darkCorners}, {"stamped", stamped}};

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
    json framed = json::array();
    for (const auto& picture : truth["images"]) {
        if (picture["faces"].size() != 1 || picture["expected"] != "judge") continue;
        const std::string name = picture["image"].get<std::string>();
        const auto bytes = readFile(set / name);
        auto decoded = bytes ? decodePicture(*bytes, name) : tl::unexpected(bytes.error());
        if (!decoded) continue;
        const json& face = picture["faces"][0];
        // what lies on the ferrule may be cut off: then its verdict is another one
        const auto& rules = face["rules"];
        if (std::any_of(rules.begin(), rules.end(), [](const json& r) { return r.value("zone", "") == "D" && !r.value("met", true); })) continue;
        const cv::Point2d fibre(face["center_px"][0].get<double>(), face["center_px"][1].get<double>());
        const double radius = face["cladding_um"].get<double>() / face["um_per_px"].get<double>() / 2;
        for (const Frame& frame : frames) {
            auto copy = *decoded;
            cv::Mat1b grey(copy.height, copy.width, copy.pixels.data());
            frame.draw(grey, fibre, radius, dice);
            json as = picture;
            const std::string file = fmt::format("{}-{}.png", std::filesystem::path(name).stem().string(), std::string(frame.name).substr(0, 4));
            as["image"] = file;
            as["regime"] = frame.name;
            if (!writeFile(out / file, encodePng(copy))) return 1;
            framed.push_back(as);
        }
    }
    truth["images"] = framed;
    return writeFile(out / "truth.json", truth.dump(1)) ? 0 : 1;
}
