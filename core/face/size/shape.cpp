#include "face/size/shape.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace clendo::face {

Shape shapeOf(const Piece& piece, double ppu)
{
    const cv::RotatedRect box = cv::minAreaRect(piece.outline);
    cv::Point2f corners[4];
    box.points(corners);
    const cv::Point2f a = corners[1] - corners[0], b = corners[2] - corners[1];
    const cv::Point2f side = cv::norm(a) > cv::norm(b) ? a : b;
    Shape s;
    const double longer = std::max(box.size.width, box.size.height) + 0.25, shorter = std::min(box.size.width, box.size.height) + 0.25;
    s.longer = longer / ppu;
    s.shorter = shorter / ppu;
    s.meanWidth = piece.area / longer / ppu;
    s.along = side / static_cast<float>(std::max(1e-6, cv::norm(side)));
    return s;
}

Course courseOf(const Piece& piece, const Shape& s, double pixel)
{
    const cv::Point2f across(-s.along.y, s.along.x);
    const double bin = std::max(1.0, 1.5 * pixel);
    struct Slice {
        double low = 1e9, high = -1e9;
    };
    std::vector<Slice> slices(static_cast<std::size_t>(s.longer / bin) + 3);
    double first = 1e9;
    for (const auto& p : piece.outline) first = std::min(first, double((p - piece.centre).dot(s.along)) * pixel);
    for (const auto& p : piece.outline) {
        const double t = double((p - piece.centre).dot(s.along)) * pixel - first, u = double((p - piece.centre).dot(across)) * pixel;
        auto& slice = slices[std::min(slices.size() - 1, static_cast<std::size_t>(t / bin))];
        slice.low = std::min(slice.low, u);
        slice.high = std::max(slice.high, u);
    }
    std::vector<cv::Point2d> middle;
    // its ends are cut aslant: what lies within half its width of them says little of its middle
    const std::size_t ends = std::max<std::size_t>(1, static_cast<std::size_t>(s.meanWidth / 2 / bin));
    for (std::size_t i = ends; i + ends + 1 < slices.size(); ++i)
        if (slices[i].low < slices[i].high) middle.emplace_back((double(i) + 0.5) * bin / s.longer * 2 - 1, (slices[i].low + slices[i].high) / 2);
    if (middle.size() < 5) return {};
    cv::Matx33d m = cv::Matx33d::zeros();
    cv::Vec3d v(0, 0, 0);
    for (const auto& p : middle) {
        const cv::Vec3d row(1, p.x, p.x * p.x);
        m += row * row.t();
        v += row * p.y;
    }
    const cv::Vec3d q = m.inv() * v;
    double off = 0;
    for (const auto& p : middle) off += std::pow(p.y - q[0] - q[1] * p.x - q[2] * p.x * p.x, 2);
    return {std::sqrt(off / double(middle.size())), std::abs(q[2]), q, first, true};
}

}  // namespace clendo::face
