#include "face/combine/register_frame.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <span>
#include <vector>

#include "face/median.h"

namespace clendo::face {
namespace {

constexpr double reach = 1.3;      // radii of the cladding about which the face is asked
constexpr double smoothing = 1.0;  // px
constexpr double mostSamples = 25000;
constexpr int steps = 12;
constexpr double settled = 0.003;                  // px
constexpr double mostPush = 0.15, mostTurn = 0.1;  // radii; radians: farther from where the fibre was found it is another thing
constexpr double biweight = 4.685;                 // standard deviations (Huber, Robust Statistics, 2009)

cv::Mat1f smooth(const cv::Mat1f& grey)
{
    cv::Mat1f out;
    cv::GaussianBlur(grey, out, {}, smoothing);
    return out;
}

cv::Point2d middleOf(const std::vector<Circle>& fibres)
{
    cv::Point2d sum(0, 0);
    for (const Circle& c : fibres) sum += cv::Point2d(c.x, c.y);
    return sum * (1 / double(fibres.size()));
}

/// Of a row, radians; of a single fibre it is not known.
double turnOf(const std::vector<Circle>& fibres)
{
    const Circle &first = fibres.front(), &last = fibres.back();
    return fibres.size() < 2 ? 0 : std::atan2(last.y - first.y, last.x - first.x);
}

}  // namespace

cv::Matx23d FramePose::map() const
{
    const double c = std::cos(turn), s = std::sin(turn);
    return {c, -s, centre.x - c * centre.x + s * centre.y + push.x, s, c, centre.y - s * centre.x - c * centre.y + push.y};
}

FrameRegistration::FrameRegistration(const cv::Mat1f& reference, std::vector<Circle> fibres) : fibres_(std::move(fibres)), centre_(middleOf(fibres_))
{
    const cv::Mat1f grey = smooth(reference);
    const double mine = mostSamples / double(fibres_.size());  // of each fibre
    for (const Circle& fibre : fibres_) {
        extent_ = std::max(extent_, std::hypot(fibre.x - centre_.x, fibre.y - centre_.y) + fibre.radius);
        const double r = reach * fibre.radius;
        const int stride = std::max(1, static_cast<int>(std::sqrt(4 * r * r / mine)));
        for (int y = std::max(1, static_cast<int>(fibre.y - r)); y < std::min<int>(grey.rows - 1, static_cast<int>(fibre.y + r)); y += stride)
            for (int x = std::max(1, static_cast<int>(fibre.x - r)); x < std::min<int>(grey.cols - 1, static_cast<int>(fibre.x + r)); x += stride)
                if (std::hypot(x - fibre.x, y - fibre.y) < r)
                    samples_.push_back({cv::Point2f(static_cast<float>(x), static_cast<float>(y)), grey(y, x), (grey(y, x + 1) - grey(y, x - 1)) / 2,
                                        (grey(y + 1, x) - grey(y - 1, x)) / 2});
    }
}

std::optional<FramePose> FrameRegistration::lay(const cv::Mat1f& frame, const std::vector<Circle>& fibres) const
{
    if (samples_.size() < 100 || fibres.size() != fibres_.size()) return std::nullopt;
    const cv::Mat1f grey = smooth(frame);
    FramePose pose = itself();
    pose.push = middleOf(fibres) - centre_;
    pose.turn = turnOf(fibres) - turnOf(fibres_);
    const double radius = fibres_.front().radius, startTurn = pose.turn;
    if (std::abs(startTurn) > mostTurn) return std::nullopt;
    const cv::Matx23d begins = pose.map();
    for (std::size_t i = 0; i < fibres.size(); ++i) {  // the same fibres lie to each other as they did
        const cv::Vec3d was(fibres_[i].x, fibres_[i].y, 1);
        const cv::Vec2d there = begins * was;
        if (std::hypot(there[0] - fibres[i].x, there[1] - fibres[i].y) > mostPush * radius) return std::nullopt;
    }
    const cv::Point2d start = pose.push;
    const int n = static_cast<int>(samples_.size());
    constexpr int columns = 1024;  // remap takes no more than 32767
    cv::Mat1f xs((n + columns - 1) / columns, columns, -10.0F), ys = xs.clone(), levels;
    for (int step = 0; step < steps; ++step) {
        const cv::Matx23d map = pose.map();
        for (int i = 0; i < n; ++i) {
            const auto at = samples_[static_cast<std::size_t>(i)].at;
            xs.ptr<float>()[i] = static_cast<float>(map(0, 0) * double(at.x) + map(0, 1) * double(at.y) + map(0, 2));
            ys.ptr<float>()[i] = static_cast<float>(map(1, 0) * double(at.x) + map(1, 1) * double(at.y) + map(1, 2));
        }
        cv::remap(grey, levels, xs, ys, cv::INTER_LINEAR, cv::BORDER_CONSTANT, cv::Scalar(-1));
        const auto level = [&](int i) { return levels.ptr<float>()[i]; };
        const auto inside = [&](int i) { return level(i) >= 0; };
        const auto differs = [&](int i) { return double(samples_[static_cast<std::size_t>(i)].level) - pose.gain * double(level(i)) - pose.offset; };
        std::vector<float> size;
        for (int i = 0; i < n; ++i)
            if (inside(i)) size.push_back(static_cast<float>(std::abs(differs(i))));
        if (size.size() < samples_.size() / 2) return std::nullopt;
        const double width = biweight * std::max(0.5, 1.4826 * double(medianOf(std::span(size))));
        Eigen::Matrix<double, 5, 5> normal = Eigen::Matrix<double, 5, 5>::Zero();
        Eigen::Matrix<double, 5, 1> right = Eigen::Matrix<double, 5, 1>::Zero();
        for (int i = 0; i < n; ++i) {
            if (!inside(i)) continue;
            const double e = differs(i), u = e / width;
            if (std::abs(u) >= 1) continue;
            const double weight = (1 - u * u) * (1 - u * u);
            const Sample& s = samples_[static_cast<std::size_t>(i)];
            const double ax = double(s.at.x) - centre_.x, ay = double(s.at.y) - centre_.y;
            Eigen::Matrix<double, 5, 1> row;
            row << double(s.dx), double(s.dy), double(s.dy) * ax - double(s.dx) * ay, double(level(i)), 1;
            normal += weight * row * row.transpose();
            right += weight * e * row;
        }
        normal.diagonal().array() += 1e-6;
        const Eigen::Matrix<double, 5, 1> by = normal.ldlt().solve(right);
        if (!by.allFinite()) return std::nullopt;
        pose.push += cv::Point2d(by[0], by[1]);
        pose.turn += by[2];
        pose.gain += by[3];
        pose.offset += by[4];
        const bool strayed = cv::norm(pose.push - start) > mostPush * radius || std::abs(pose.turn - startTurn) > mostTurn * radius / extent_;
        if (strayed || !(pose.gain > 0.2 && pose.gain < 5)) return std::nullopt;
        if (std::hypot(by[0], by[1]) + std::abs(by[2]) * extent_ < settled) break;
    }
    return pose;
}

}  // namespace clendo::face
