#include "face/combine/combine_frames.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <span>

#include "face/combine/register_frame.h"
#include "face/find/row.h"
#include "face/median.h"

namespace clendo::face {
namespace {

constexpr double blurred = 1.35, blurredBy = 0.25;  // times the sharpest, and pixels more: such a frame would only soften the others
constexpr std::size_t enoughForAPattern = 4;        // frames
constexpr double movedApart = 1.5;                  // px between frames, from which the camera is told from the face
constexpr double outlier = 3.5;                     // standard deviations from which a frame does not agree with the others

struct Frame {
    std::size_t place = 0;
    cv::Mat1f grey;
    std::vector<Circle> fibres{};
    double blur = 0;  ///< pixels, of the sharpest edge
    FramePose pose{};
};

/// The fibres of a frame by the edges of their glass: one, or all of a ferrule row by row. Nothing where one has no edge.
std::optional<Frame> lookAt(const cv::Mat1b& grey, const MeasureOptions& options)
{
    std::optional<double> radius;
    if (options.scale) radius = (options.cladding / *options.scale).value() / 2;
    Frame out;
    for (const auto& row : fibresInRows(locate(grey, radius, options.fibres.value_or(mostFibres)), options.fibres))
        for (const Circle& coarse : row) {
            const auto edge = refine(grey, coarse);
            if (!edge) return std::nullopt;
            out.blur = out.fibres.empty() ? edge->blur : std::min(out.blur, edge->blur);
            out.fibres.push_back(edge->circle);
        }
    if (out.fibres.empty()) return std::nullopt;
    grey.convertTo(out.grey, CV_32F);
    return out;
}

/// Frames that show the face, of the first one's size, none much more blurred than the sharpest.
std::vector<Frame> sharpOnes(const std::vector<Picture>& pictures, const MeasureOptions& options)
{
    std::vector<Frame> out;
    for (std::size_t i = 0; i < pictures.size(); ++i) {
        const Picture& p = pictures[i];
        if (!p.sound() || (!out.empty() && (p.width != out.front().grey.cols || p.height != out.front().grey.rows))) continue;
        const cv::Mat1b grey(p.height, p.width, const_cast<std::uint8_t*>(p.pixels.data()));
        auto frame = lookAt(grey, options);
        if (!frame) continue;
        frame->place = i;
        out.push_back(std::move(*frame));
        if (out.size() > 2 * mostFramesCombined) break;
    }
    if (out.empty()) return out;
    std::vector<double> radii;
    double sharpest = out.front().blur;
    for (const Frame& f : out) {
        radii.push_back(f.fibres.front().radius);
        sharpest = std::min(sharpest, f.blur);
    }
    const double radius = medianOf(std::span(radii));
    std::erase_if(
        out, [&](const Frame& f) { return f.blur > blurred * sharpest + blurredBy || std::abs(f.fibres.front().radius - radius) > 0.03 * radius; });
    if (out.size() > mostFramesCombined) out.resize(mostFramesCombined);
    return out;
}

cv::Mat1f laidOver(const Frame& f, const cv::Mat1f& grey, double outside)
{
    cv::Mat1f out;
    cv::warpAffine(grey, out, f.pose.map(), grey.size(), cv::INTER_CUBIC | cv::WARP_INVERSE_MAP, cv::BORDER_CONSTANT, cv::Scalar(outside));
    return out;
}

constexpr float nothing = -1e6F;

/// Where a map was interpolated with nothing: a cubic's lobes are of both signs, and make it far too dark or far too bright.
cv::Mat1b touchesNothing(const cv::Mat1f& map)
{
    cv::Mat1b touches;
    cv::inRange(map, cv::Scalar(-100), cv::Scalar(400), touches);
    cv::bitwise_not(touches, touches);
    return touches;
}

/// Frames laid over the first: its levels; far below 0 where a frame shows nothing.
std::vector<cv::Mat1f> laidOver(const std::vector<Frame>& frames)
{
    std::vector<cv::Mat1f> out;
    for (const Frame& f : frames) {
        cv::Mat1f one = laidOver(f, f.grey, double(nothing));
        const cv::Mat1b outside = touchesNothing(one);
        one = one * f.pose.gain + f.pose.offset;
        one.setTo(nothing, outside);
        out.push_back(one);
    }
    return out;
}

/// Calls `made` with the values that the frames have at each pixel, and keeps what it gives.
template <typename Made>
cv::Mat1f overPixels(const std::vector<cv::Mat1f>& stack, Made made)
{
    cv::Mat1f out(stack.front().size());
    out.forEach([&](float& pixel, const int* at) {
        std::array<float, 2 * mostFramesCombined> values{};
        std::size_t n = 0;
        for (const auto& one : stack)
            if (const float v = one(at[0], at[1]); v > nothing / 2) values[n++] = v;
        pixel = n == 0 ? 0.0F : made(std::span(values.data(), n));
    });
    return out;
}

float meanOfThoseAgreeing(std::span<float> values)
{
    if (values.size() < 3) {
        float sum = 0;
        for (const float v : values) sum += v;
        return sum / static_cast<float>(values.size());
    }
    std::array<float, 2 * mostFramesCombined> away{};
    const float middle = medianOf(values);
    for (std::size_t i = 0; i < values.size(); ++i) away[i] = std::abs(values[i] - middle);
    const float width = std::max(2.0F, static_cast<float>(outlier * 1.4826) * medianOf(std::span(away.data(), values.size())));
    float sum = 0, count = 0;
    for (const float v : values)
        if (std::abs(v - middle) <= width) {
            sum += v;
            ++count;
        }
    return count > 0 ? sum / count : middle;
}

/// How far frames lie apart: by so much the face moved in the camera.
double moved(const std::vector<Frame>& frames)
{
    std::vector<double> away;
    for (const Frame& f : frames) away.push_back(cv::norm(f.pose.push));
    return medianOf(std::span(away));
}

/// What stays at its pixel of the camera while the face moves: what frames have beyond the face, alike in all of them.
cv::Mat1f patternOf(const std::vector<Frame>& frames, const cv::Mat1f& face)
{
    std::vector<cv::Mat1f> beyond;
    for (const Frame& f : frames) {
        cv::Mat1f there;
        cv::warpAffine(face, there, f.pose.map(), face.size(), cv::INTER_CUBIC, cv::BORDER_CONSTANT, cv::Scalar(double(nothing)));
        cv::Mat1f one;
        cv::subtract(f.grey, (there - f.pose.offset) / f.pose.gain, one);
        one.setTo(nothing, touchesNothing(there));
        beyond.push_back(one);
    }
    return overPixels(beyond, [&](std::span<float> values) { return values.size() < enoughForAPattern ? 0.0F : medianOf(values); });
}

}  // namespace

std::optional<CombinedFrames> combineFrames(const std::vector<Picture>& pictures, const MeasureOptions& options)
{
    std::vector<Frame> frames = sharpOnes(pictures, options);
    if (frames.empty()) return std::nullopt;
    const FrameRegistration registration(frames.front().grey, frames.front().fibres);
    frames.front().pose = registration.itself();
    std::vector<Frame> laid{frames.front()};
    for (std::size_t i = 1; i < frames.size(); ++i)
        if (const auto pose = registration.lay(frames[i].grey, frames[i].fibres)) {
            laid.push_back(std::move(frames[i]));
            laid.back().pose = *pose;
        }
    frames = std::move(laid);
    CombinedFrames out;
    double sharpest = frames.front().blur;
    for (const Frame& f : frames) {
        out.used.push_back(f.place);
        if (f.blur <= sharpest) {
            sharpest = f.blur;
            out.best = f.place;
        }
    }
    if (frames.size() == 1) {
        out.picture = pictures[frames.front().place];
        return out;
    }
    if (frames.size() >= enoughForAPattern && moved(frames) > movedApart) {
        const cv::Mat1f face = overPixels(laidOver(frames), [](std::span<float> values) { return medianOf(values); });
        const cv::Mat1f pattern = patternOf(frames, face);
        for (Frame& f : frames) f.grey -= pattern;
    }
    cv::Mat1b combined;
    overPixels(laidOver(frames), meanOfThoseAgreeing).convertTo(combined, CV_8U);
    out.picture = {combined.cols, combined.rows, std::vector<std::uint8_t>(combined.begin(), combined.end())};
    return out;
}

}  // namespace clendo::face
