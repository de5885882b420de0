// face-matches SET [SEED] [FACES]: is a face known again, and is none taken for another? Prints how many looks at one face are missed and how many
// pairs of different faces are taken for one, for
// - the single-fibre pictures of a set with truth, the second look turned, at another scale, in other light, blurred, in other noise, with other
// dust;
// - FACES drawn faces (300) of the simulated world with lasting marks and dirt, the second look after cleaning, turned, by another scope.
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <random>

#include "face/memory/match_faces.h"
#include "files/files.h"
#include "pictures/decode.h"
#include "world/face_world.h"

namespace {

using namespace clendo;
using nlohmann::json;

double between(std::mt19937& dice, double low, double high) { return std::uniform_real_distribution(low, high)(dice); }

/// Two looks at one face.
struct Pair {
    std::string name;
    int lasting = 0;  ///< marks that no cleaning takes, as drawn, of those that show plainly in both
    double turn = 0;  ///< degrees
    std::optional<face::Fingerprint> first, second;
};

std::optional<face::Fingerprint> fingerprint(const face::Picture& picture)
{
    const auto faces = face::measure(picture, {});
    return face::fingerprintOf(picture, faces.front());
}

/// The picture as another scope shows the same face, turned, with other dust.
face::Picture lookedAgain(const face::Picture& picture, cv::Point2d fibre, double radius, double turn, std::mt19937& dice)
{
    const cv::Mat1b grey(picture.height, picture.width, const_cast<std::uint8_t*>(picture.pixels.data()));
    cv::Mat1f out;
    grey.convertTo(out, CV_32F);
    for (int n = static_cast<int>(between(dice, 0, 5.99)); n > 0; --n) {
        const double r = radius * std::sqrt(between(dice, 0, 1)), a = between(dice, 0, 2 * CV_PI), size = between(dice, 0.01, 0.09) * radius;
        cv::Mat1f dust(out.size(), 1.0F);
        cv::ellipse(dust,
                    cv::RotatedRect(cv::Point2f(static_cast<float>(fibre.x + r * std::cos(a)), static_cast<float>(fibre.y + r * std::sin(a))),
                                    cv::Size2f(static_cast<float>(size), static_cast<float>(size * between(dice, 0.5, 1))),
                                    static_cast<float>(between(dice, 0, 180))),
                    cv::Scalar(between(dice, 0.3, 0.8)), cv::FILLED, cv::LINE_AA);
        cv::GaussianBlur(dust, dust, {}, 1);
        out = out.mul(dust);
    }
    const double scale = between(dice, std::max(0.7, 70 / radius), 1.35);
    const cv::Point2d middle(out.cols / 2.0 + between(dice, -20, 20), out.rows / 2.0 + between(dice, -15, 15));
    cv::Mat turned = cv::getRotationMatrix2D(fibre, -turn, scale);
    turned.at<double>(0, 2) += middle.x - fibre.x;
    turned.at<double>(1, 2) += middle.y - fibre.y;
    cv::warpAffine(out, out, turned, out.size(), cv::INTER_CUBIC, cv::BORDER_REFLECT);
    cv::GaussianBlur(out, out, {}, between(dice, 0.3, 1.3));
    const double gamma = between(dice, 0.75, 1.3), bright = between(dice, 0.75, 1.05), noise = between(dice, 0.5, 4),
                 slope = between(dice, -0.0003, 0.0003);
    cv::Mat1b grown(out.size());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            const double light = 255 * std::pow(std::clamp(double(out(y, x)) / 255, 0.0, 1.0), gamma) * bright * (1 + slope * (x - out.cols / 2.0));
            grown(y, x) = cv::saturate_cast<std::uint8_t>(light + std::normal_distribution(0.0, noise)(dice));
        }
    return {grown.cols, grown.rows, std::vector<std::uint8_t>(grown.begin(), grown.end())};
}

std::vector<Pair> ofSet(const std::filesystem::path& set, std::uint32_t seed)
{
    std::vector<Pair> out;
    const auto truth = json::parse(readFile((set / "truth.json").string()).value());
    for (const auto& image : truth.at("images")) {
        if (image.at("fibers") != 1 || image.at("expected") != "judge" || image.at("faces").empty()) continue;
        const auto& face = image.at("faces").front();
        const std::string name = image.at("image");
        std::mt19937 dice(seed * 7919U + static_cast<std::uint32_t>(std::hash<std::string>{}(name)));
        const auto picture = decodePicture(readFile((set / name).string()).value(), name);
        if (!picture) continue;
        Pair p{name, 0, between(dice, 0, 360), {}, {}};
        for (const auto& o : face.at("objects")) {
            const std::string appearance = o.at("appearance");
            const bool lasts = o.at("kind") == "scratch" || appearance == "pit" || appearance == "chip" || appearance == "crack";
            p.lasting += lasts && o.at("counted") == true && o.at("r_min_um").get<double>() < 57 && o.at("visibility").get<double>() > 1.75 ? 1 : 0;
        }
        const double scale = face.at("um_per_px");
        const cv::Point2d fibre(face.at("center_px")[0], face.at("center_px")[1]);
        p.first = fingerprint(*picture);
        p.second = fingerprint(lookedAgain(*picture, fibre, 62.5 / scale, p.turn, dice));
        out.push_back(std::move(p));
    }
    return out;
}

world::Mark turnedMark(world::Mark m, double degrees)
{
    const double a = degrees * CV_PI / 180, x = m.at.x.value(), y = m.at.y.value();
    m.at = {Micrometre(x * std::cos(a) - y * std::sin(a)), Micrometre(x * std::sin(a) + y * std::cos(a))};
    m.angle += a;
    return m;
}

world::Camera someScope(std::mt19937& dice)
{
    world::Camera c;
    c.width = 1024;
    c.height = 768;
    c.scale = Scale(between(dice, 0.25, 0.6));
    c.blur = Micrometre(between(dice, 0.4, 0.9));
    c.noise = between(dice, 0.6, 3.5);
    c.brightness = between(dice, 0.75, 1.1);
    c.offsetX = Micrometre(between(dice, -12, 12));
    c.offsetY = Micrometre(between(dice, -9, 9));
    c.seed = static_cast<std::uint32_t>(dice());
    return c;
}

/// Whether a mark shows plainly: as in the sets' truth, 1.75 times a contrast of 0.08 and 1.75 times 6 sigma of the noise are left of it after the
/// blur.
bool isPlain(const world::Mark& mark, const world::Camera& camera)
{
    constexpr double plain = 1.75, faintest = 0.08, aboveNoise = 6, light = 150;
    const double wide = mark.size / camera.blur;
    const double left = mark.shape == world::Mark::Shape::Stroke ? std::erf(wide / (2 * std::numbers::sqrt2)) : 1 - std::exp(-wide * wide / 8);
    const double contrast = std::abs(mark.contrast) * left;
    return contrast > plain * faintest && contrast * light * camera.brightness > plain * aboveNoise * camera.noise;
}

/// A face of one maker: lines of its polish run one way, and more of it is chance.
std::vector<Pair> drawn(int faces, std::uint32_t seed)
{
    std::vector<Pair> out;
    for (int n = 0; n < faces; ++n) {
        std::mt19937 dice(seed * 104729U + static_cast<std::uint32_t>(n));
        world::SimulatedFace face;
        const int lasting = n % 9;
        const double polish = between(dice, 0, CV_PI);
        for (int i = 0; i < lasting; ++i) {
            const double r = 54 * std::sqrt(between(dice, 0, 1)), a = between(dice, 0, 2 * CV_PI);
            world::Mark m;
            m.at = {Micrometre(r * std::cos(a)), Micrometre(r * std::sin(a))};
            m.damage = true;
            m.contrast = between(dice, 0, 1) < 0.25 ? between(dice, 0.2, 0.5) : -between(dice, 0.2, 0.7);
            if (between(dice, 0, 1) < 0.5) {
                m.shape = world::Mark::Shape::Stroke;
                m.size = Micrometre(between(dice, 0.9, 2.5));
                m.length = Micrometre(between(dice, 12, 90));
                m.angle = between(dice, 0, 1) < 0.6 ? polish + between(dice, -0.1, 0.1) : between(dice, 0, CV_PI);
            } else {
                m.shape = world::Mark::Shape::Speck;
                m.size = Micrometre(between(dice, 2, 6));
            }
            face.marks.push_back(m);
        }
        const auto dirt = world::makeFace(static_cast<world::Story>(std::uniform_int_distribution(0, 3)(dice)), static_cast<std::uint32_t>(dice()));
        world::SimulatedFace first = face, second = face;
        first.marks.insert(first.marks.end(), dirt.marks.begin(), dirt.marks.end());
        const auto left = world::cleaned(dirt, 1, static_cast<std::uint32_t>(dice()));
        second.marks.insert(second.marks.end(), left.marks.begin(), left.marks.end());
        Pair p{fmt::format("drawn {}", n), 0, between(dice, 0, 360), {}, {}};
        for (auto& m : second.marks) m = turnedMark(m, p.turn);
        const world::Camera one = someScope(dice), other = someScope(dice);
        p.lasting = static_cast<int>(
            std::count_if(face.marks.begin(), face.marks.end(), [&](const world::Mark& m) { return isPlain(m, one) && isPlain(m, other); }));
        p.first = fingerprint(world::takePicture(first, one));
        p.second = fingerprint(world::takePicture(second, other));
        out.push_back(std::move(p));
    }
    return out;
}

std::ptrdiff_t upTo(const std::vector<double>& values, double most)
{
    return std::count_if(values.begin(), values.end(), [most](double v) { return v <= most; });
}

void report(const char* what, const std::vector<Pair>& pairs, bool say)
{
    struct Counted {
        int all = 0, same = 0, different = 0, wrongTurn = 0;
    };
    std::map<int, Counted> byMarks;
    int others = 0, falseMatches = 0, told = 0;
    std::vector<double> turnErrors, rates, ratesOfSame;
    const auto start = std::chrono::steady_clock::now();
    for (const auto& p : pairs) {
        if (!p.first || !p.second) continue;
        auto& c = byMarks[std::min(p.lasting, 5)];
        ++c.all;
        const auto m = face::matchFaces(*p.first, *p.second);
        if (p.lasting >= 3) ratesOfSame.push_back(m.falseMatchRate);
        c.same += m.answer == face::SameFace::Same;
        c.different += m.answer == face::SameFace::Different;
        if (m.turnDegrees) {
            turnErrors.push_back(std::abs(std::remainder(*m.turnDegrees - p.turn, 360)));
            c.wrongTurn += turnErrors.back() > 3;
        }
        if (say && p.lasting >= 3 && m.answer != face::SameFace::Same)
            fmt::print("  missed {}: {} marks, found {} and {}, {} by chance {:.1e}, {} used\n", p.name, p.lasting, p.first->marks.size(),
                       p.second->marks.size(), face::name(m.answer), m.falseMatchRate, m.marksUsed);
    }
    for (const auto& p : pairs)
        for (const auto& q : pairs) {
            if (&p == &q || !p.first || !q.second) continue;
            ++others;
            const auto m = face::matchFaces(*p.first, *q.second);
            falseMatches += m.answer == face::SameFace::Same;
            told += m.answer == face::SameFace::Different;
            rates.push_back(m.falseMatchRate);
            if (say && m.falseMatchRate < 1)
                fmt::print("  {} {} and {}: {:.1e}, {} used\n", m.answer == face::SameFace::Same ? "false match" : "alike", p.name, q.name,
                           m.falseMatchRate, m.marksUsed);
        }
    const double ms = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count() / std::max(1, others);
    fmt::print("{}: {} pairs of different faces, {} taken for one, {} told apart; {:.1f} ms a pair\n", what, others, falseMatches, told, ms);
    // what is said to be the chance of a false match, against how often it comes true
    for (const double said : {1e-2, 1e-3, 5e-4, 2e-4, 1e-4, 1e-5, 1e-6, 1e-7})
        fmt::print("  chance said to be up to {:.1g}: {} of {} pairs of different faces, {} of {} of one face with 3 and more lasting marks\n", said,
                   upTo(rates, said), rates.size(), upTo(ratesOfSame, said), ratesOfSame.size());
    for (const auto& [marks, c] : byMarks)
        fmt::print("  {}{} lasting marks: {} pairs of one face, {} known again, {} called different, {} at a wrong turn\n", marks,
                   marks == 5 ? " and more" : "", c.all, c.same, c.different, c.wrongTurn);
    std::sort(turnErrors.begin(), turnErrors.end());
    if (!turnErrors.empty())
        fmt::print("  turn: median {:.2f} degrees off, 95 % within {:.2f}\n", turnErrors[turnErrors.size() / 2],
                   turnErrors[turnErrors.size() * 95 / 100]);
}

}  // namespace

int main(int argc, char** argv)
{
    if (argc < 2) {
        fmt::print(stderr, "face-matches SET [SEED] [FACES] [say]\n");
        return 2;
    }
    const auto seed = static_cast<std::uint32_t>(argc > 2 ? std::atoi(argv[2]) : 1);
    const bool say = argc > 4;
    report("the set's", ofSet(argv[1], seed), say);
    report("drawn", drawn(argc > 3 ? std::atoi(argv[3]) : 150, seed), say);
    return 0;
}
