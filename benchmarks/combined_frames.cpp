// combined-frames [FACES] [FRAMES] [SEED]: what do several frames of a face held by hand show that one does not? Drawn faces with small and faint
// dirt and scratches are seen by a camera with noise, a fixed pattern and pixels that are always bright, pushed and turned a little from frame to
// frame. Prints how many of the marks are found, how large they are said to be and what was found that is not there, for one frame and for all of
// them.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <random>

#include "face/combine/combine_frames.h"
#include "world/face_world.h"

namespace {

using namespace clendo;

double between(std::mt19937& dice, double low, double high) { return std::uniform_real_distribution(low, high)(dice); }

world::SimulatedFace someFace(std::mt19937& dice)
{
    world::SimulatedFace face;
    while (face.marks.size() < 10) {
        const double r = 52 * std::sqrt(between(dice, 0.06, 1)), a = between(dice, 0, 2 * CV_PI);
        world::Mark m;
        m.at = {Micrometre(r * std::cos(a)), Micrometre(r * std::sin(a))};
        const bool apart = std::all_of(face.marks.begin(), face.marks.end(),
                                       [&](const world::Mark& o) { return std::hypot((o.at.x - m.at.x).value(), (o.at.y - m.at.y).value()) > 12; });
        if (!apart) continue;
        m.size = Micrometre(between(dice, 1.5, 4));
        m.contrast = -std::pow(10, between(dice, std::log10(0.06), std::log10(0.4)));
        face.marks.push_back(m);
    }
    return face;
}

/// What one camera does to every frame.
struct Sensor {
    cv::Mat1f pattern;
    double noise = 4;

    Sensor(cv::Size size, std::mt19937& dice) : pattern(size, 0.0F), noise(between(dice, 3, 7))
    {
        std::normal_distribution<float> fixed(0, static_cast<float>(between(dice, 0.5, 2)));
        for (float& p : pattern) p = fixed(dice);
        for (int x = 0; x < size.width; ++x) {  // columns differ
            const float column = fixed(dice);
            for (int y = 0; y < size.height; ++y) pattern(y, x) += column;
        }
        for (int n = static_cast<int>(between(dice, 5, 60)); n > 0; --n)
            pattern(std::uniform_int_distribution(0, size.height - 1)(dice), std::uniform_int_distribution(0, size.width - 1)(dice)) +=
                static_cast<float>(between(dice, 30, 120));
    }
};

std::vector<face::Picture> framesOf(const world::SimulatedFace& face, int count, std::mt19937& dice)
{
    world::Camera camera;
    camera.scale = Scale(between(dice, 0.35, 0.55));
    camera.blur = Micrometre(between(dice, 0.4, 0.6));
    camera.noise = 0;
    camera.surface = static_cast<std::uint32_t>(dice());
    camera.seed = static_cast<std::uint32_t>(dice());
    const face::Picture still = world::takePicture(face, camera);
    const cv::Mat1b scene(still.height, still.width, const_cast<std::uint8_t*>(still.pixels.data()));
    const Sensor sensor(scene.size(), dice);
    std::vector<face::Picture> out;
    for (int n = 0; n < count; ++n) {
        cv::Mat pose = cv::getRotationMatrix2D({static_cast<float>(scene.cols) / 2, static_cast<float>(scene.rows) / 2},
                                               n == 0 ? 0 : between(dice, -0.4, 0.4), 1);  // marks are told as the first frame lies
        pose.at<double>(0, 2) += between(dice, -6, 6);
        pose.at<double>(1, 2) += between(dice, -6, 6);
        cv::Mat1f frame;
        scene.convertTo(frame, CV_32F);
        cv::warpAffine(frame, frame, pose, scene.size(), cv::INTER_CUBIC, cv::BORDER_REFLECT);
        cv::GaussianBlur(frame, frame, {}, between(dice, 0.2, 0.6));
        std::normal_distribution<float> noise(0, static_cast<float>(sensor.noise));
        const auto light = static_cast<float>(between(dice, 0.97, 1.03));
        cv::Mat1b grey(frame.size());
        for (int y = 0; y < frame.rows; ++y)
            for (int x = 0; x < frame.cols; ++x)
                grey(y, x) = cv::saturate_cast<std::uint8_t>(frame(y, x) * light + sensor.pattern(y, x) + noise(dice));
        out.push_back({grey.cols, grey.rows, std::vector<std::uint8_t>(grey.begin(), grey.end())});
    }
    return out;
}

struct Counted {
    int faint = 0, faintFound = 0, clear = 0, clearFound = 0, nothing = 0, unusable = 0;
    std::vector<double> sizeErrors;
    std::size_t used = 0;

    void count(const world::SimulatedFace& truth, const face::FaceMeasurement& m)
    {
        if (!m.usable()) {
            ++unusable;
            return;
        }
        std::vector<char> hit(m.findings.size(), 0);
        for (const auto& mark : truth.marks) {
            const bool isFaint = mark.contrast > -0.15;
            bool found = false;
            for (std::size_t i = 0; i < m.findings.size(); ++i) {
                const Finding& f = m.findings[i];
                if (std::hypot((f.centre.x - mark.at.x).value(), (f.centre.y - mark.at.y).value()) > 2.5) continue;
                hit[i] = 1;
                if (!found) sizeErrors.push_back(std::abs((f.size - mark.size).value()));
                found = true;
            }
            (isFaint ? faint : clear) += 1;
            (isFaint ? faintFound : clearFound) += found ? 1 : 0;
        }
        for (std::size_t i = 0; i < m.findings.size(); ++i) nothing += !hit[i] && m.findings[i].farthest < Micrometre(57) ? 1 : 0;
    }

    void print(const char* what)
    {
        std::sort(sizeErrors.begin(), sizeErrors.end());
        const auto at = [&](double share) {
            return sizeErrors.empty() ? 0 : sizeErrors[static_cast<std::size_t>(share * double(sizeErrors.size() - 1))];
        };
        fmt::print(
            "{}: faint marks found {:.1f} % of {}, clear ones {:.1f} % of {}; on nothing {}; size off by {:.2f} um (median), {:.2f} (95 %); unusable "
            "{}\n",
            what, 100.0 * faintFound / std::max(1, faint), faint, 100.0 * clearFound / std::max(1, clear), clear, nothing, at(0.5), at(0.95),
            unusable);
    }
};

}  // namespace

int main(int argc, char** argv)
{
    const int faces = argc > 1 ? std::atoi(argv[1]) : 60, frames = argc > 2 ? std::atoi(argv[2]) : 8;
    Counted one, all;
    std::size_t used = 0;
    for (int n = 0; n < faces; ++n) {
        std::mt19937 dice(static_cast<std::uint32_t>((argc > 3 ? std::atoi(argv[3]) : 1) * 7919 + n));
        const auto face = someFace(dice);
        const auto shown = framesOf(face, frames, dice);
        one.count(face, face::measure(shown.front(), {}).front());
        const auto together = face::combineFrames(shown, {});
        if (!together) continue;
        used += together->used.size();
        all.count(face, face::measure(together->picture, {}).front());
    }
    one.print("one frame");
    all.print(fmt::format("{} frames, {:.1f} of them used", frames, double(used) / faces).c_str());
    return 0;
}
