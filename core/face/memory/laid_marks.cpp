#include "face/memory/laid_marks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr double parallelDegrees = 10;   // between lines of one polish
constexpr double hopeless = 0.2;         // correlation which no small shift makes large: reliefs are smooth
constexpr std::size_t mostPixels = 160;  // of a mark; a quarter of them at half the resolution

constexpr double radians(double degrees) { return degrees * std::numbers::pi / 180; }

cv::Point2d turnedBy(cv::Point2d p, double degrees)
{
    const double c = std::cos(radians(degrees)), s = std::sin(radians(degrees));
    return {c * p.x - s * p.y, s * p.x + c * p.y};
}

const std::array<cv::Point, 8> shifts{cv::Point{-1, 0}, {1, 0}, {0, -1}, {0, 1}, {-1, -1}, {1, -1}, {-1, 1}, {1, 1}};

}  // namespace

LaidMarks::LaidMarks(const Fingerprint& face, const Relief& other, int step)
    : step_(step),
      margin_(static_cast<int>(std::ceil(farthestAside / Relief::umPerPixel / step)) + 4),  // and small shifts, and what rounding does
      middle_(Relief::middle / step + margin_),
      other_(reduced(other.map))
{
    const cv::Mat1f own = reduced(face.relief.map);
    for (const FaceMark& mark : face.marks) marks_.push_back(markOf(mark, own));
}

cv::Mat1f LaidMarks::reduced(const cv::Mat1f& map) const
{
    cv::Mat1f out = map;
    if (step_ > 1) {
        cv::Mat1f smooth;
        cv::GaussianBlur(map, smooth, {}, 0.45 * step_);
        out = cv::Mat1f((map.rows + step_ - 1) / step_, (map.cols + step_ - 1) / step_);
        for (int y = 0; y < out.rows; ++y)
            for (int x = 0; x < out.cols; ++x) out(y, x) = smooth(y * step_, x * step_);
    }
    cv::Mat1f padded;
    cv::copyMakeBorder(out, padded, margin_, margin_, margin_, margin_, cv::BORDER_CONSTANT, cv::Scalar(0));
    return padded;
}

LaidMarks::Mark LaidMarks::markOf(const FaceMark& mark, const cv::Mat1f& map) const
{
    std::vector<cv::Point> mine;
    const cv::Point fibre(Relief::middle, Relief::middle);
    for (const auto& p : mark.pixels)  // of a wide glass a corner of the map, turned, would lie beyond it
        if (p.x % step_ == 0 && p.y % step_ == 0 && cv::norm(p - fibre) <= Relief::middle)
            mine.emplace_back(p.x / step_ + margin_, p.y / step_ + margin_);
    const std::size_t every = std::max<std::size_t>(1, mine.size() * static_cast<std::size_t>(step_ * step_) / mostPixels);
    Mark out;
    out.along = mark.along;
    float sum = 0;
    cv::Point2f places(0, 0);
    for (std::size_t i = 0; i < mine.size(); i += every) {
        out.from.emplace_back(static_cast<float>(mine[i].x - middle_), static_cast<float>(mine[i].y - middle_));
        places += out.from.back();
        out.values.push_back(map(mine[i]));
        sum += out.values.back();
    }
    const double n = std::max<double>(1, double(out.values.size()));
    out.middle = cv::Point2d(places) * (Relief::umPerPixel * step_ / n);
    float squares = 0;
    for (float& v : out.values) {
        v -= sum / static_cast<float>(n);
        squares += v * v;
    }
    for (float& v : out.values) v /= std::max(1e-6F, std::sqrt(squares));
    return out;
}

LaidMarks::Places LaidMarks::turned(std::size_t mark, double degrees) const
{
    const auto c = static_cast<float>(std::cos(radians(degrees))), s = static_cast<float>(std::sin(radians(degrees))),
               m = static_cast<float>(middle_) + 0.5F;
    Places out;
    out.reserve(marks_[mark].from.size());
    for (const auto& p : marks_[mark].from)
        out.push_back(static_cast<int>(s * p.x + c * p.y + m) * other_.cols + static_cast<int>(c * p.x - s * p.y + m));
    return out;
}

cv::Point2d LaidMarks::middle(std::size_t mark, double degrees) const { return turnedBy(marks_[mark].middle, degrees); }

std::optional<cv::Point2d> LaidMarks::along(std::size_t mark, double degrees) const
{
    const auto& along = marks_[mark].along;
    return along ? std::optional(turnedBy(*along, degrees)) : std::nullopt;
}

bool LaidMarks::hasParallel(std::size_t mark) const
{
    const auto& along = marks_[mark].along;
    for (std::size_t i = 0; along && i < marks_.size(); ++i)
        if (i != mark && marks_[i].along && std::abs(along->dot(*marks_[i].along)) > std::cos(radians(parallelDegrees))) return true;
    return false;
}

double LaidMarks::likeness(std::size_t mark, const Places& places, cv::Point2d aside) const
{
    const double pixel = Relief::umPerPixel * step_;
    const cv::Point by(cvRound(aside.x / pixel), cvRound(aside.y / pixel));
    double most = correlation(marks_[mark], places, by);
    if (most < hopeless) return most;
    for (const auto& shift : shifts)
        if (step_ == 1 || shift.x == 0 || shift.y == 0) most = std::max(most, correlation(marks_[mark], places, by + shift));
    return most;
}

double LaidMarks::correlation(const Mark& mark, const Places& places, cv::Point by) const
{
    const float* map = other_.ptr<float>() + by.y * other_.cols + by.x;
    float sum = 0, squares = 0, product = 0;
    for (std::size_t i = 0; i < places.size(); ++i) {
        const float v = map[places[i]];
        sum += v;
        squares += v * v;
        product += mark.values[i] * v;
    }
    const float spread = std::sqrt(std::max(0.0F, squares - sum * sum / static_cast<float>(std::max<std::size_t>(1, places.size()))));
    return spread > 1e-6F ? double(product / spread) : 0;
}

}  // namespace clendo::face
