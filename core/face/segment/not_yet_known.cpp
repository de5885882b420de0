#include "face/segment/not_yet_known.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr double touchesUm = 2, touchesPx = 2;  // of a piece found before
constexpr double farther = 1.15;                // times the largest piece that it touches: else that one's own skirts
constexpr double leastUm = 2.5;                 // half across

cv::Point pixelOf(const Flattened& f, const cv::Point2f& p)
{
    return {static_cast<int>(std::lround((double(p.x) - f.origin.x) / f.reduction)),
            static_cast<int>(std::lround((double(p.y) - f.origin.y) / f.reduction))};
}

/// Leaves only the components of the seeds for which `stays` is true: of the largest radius of the pieces that it touches, 0 for none, and half its
/// own extent, both in pixels of the map.
cv::Mat1b only(cv::Mat1b seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu, const std::function<bool(double, double)>& stays)
{
    if (cv::countNonZero(seeds) == 0) return seeds;
    cv::Mat1b outlines(seeds.size(), std::uint8_t{255});
    cv::Mat1f radii(seeds.size(), 0.0F);
    for (const auto& piece : pieces)
        for (const auto& p : piece.outline) {
            const cv::Point at = pixelOf(f, p);
            if (at.x < 0 || at.y < 0 || at.x >= seeds.cols || at.y >= seeds.rows) continue;
            outlines(at) = 0;
            radii(at) = std::max(radii(at), static_cast<float>(piece.radius / f.reduction));
        }
    cv::Mat1f away;
    cv::Mat1i nearest, labels, stats;
    cv::Mat1d centroids;
    cv::distanceTransform(outlines, away, nearest, cv::DIST_L2, cv::DIST_MASK_5, cv::DIST_LABEL_PIXEL);
    std::vector<float> radiusOf(1, 0.0F);  // by the label of a pixel of an outline
    for (int y = 0; y < seeds.rows; ++y)
        for (int x = 0; x < seeds.cols; ++x)
            if (outlines(y, x) == 0) {
                const auto label = static_cast<std::size_t>(nearest(y, x));
                if (label >= radiusOf.size()) radiusOf.resize(label + 1, 0.0F);
                radiusOf[label] = radii(y, x);
            }
    const auto reach = static_cast<float>(touchesUm * ppu + touchesPx);
    std::vector<double> touched(static_cast<std::size_t>(cv::connectedComponentsWithStats(seeds, labels, stats, centroids, 8)), 0);
    for (int y = 0; y < seeds.rows; ++y)
        for (int x = 0; x < seeds.cols; ++x)
            if (labels(y, x) > 0 && away(y, x) <= reach) {
                double& radius = touched[static_cast<std::size_t>(labels(y, x))];
                radius = std::max(radius, double(radiusOf[static_cast<std::size_t>(nearest(y, x))]));
            }
    std::vector<char> kept(touched.size(), 0);
    for (std::size_t i = 1; i < touched.size(); ++i) {
        const int label = static_cast<int>(i);
        kept[i] = stays(touched[i], std::hypot(stats(label, cv::CC_STAT_WIDTH), stats(label, cv::CC_STAT_HEIGHT)) / 2) ? 1 : 0;
    }
    for (int y = 0; y < seeds.rows; ++y)
        for (int x = 0; x < seeds.cols; ++x)
            if (!kept[static_cast<std::size_t>(labels(y, x))]) seeds(y, x) = 0;
    return seeds;
}

}  // namespace

cv::Mat1b notYetKnown(cv::Mat1b seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu)
{
    return only(std::move(seeds), pieces, f, ppu, [](double touched, double) { return touched == 0; });
}

cv::Mat1f withoutKnown(const Flattened& f, const std::vector<Piece>& pieces, double margin)
{
    cv::Mat1b known(f.contrast.size(), std::uint8_t{0});
    for (const Piece& piece : pieces) {
        std::vector<cv::Point> outline;
        outline.reserve(piece.outline.size());
        for (const auto& p : piece.outline) outline.push_back(pixelOf(f, p));
        cv::fillPoly(known, std::vector{outline}, 255);
    }
    const int wide = 2 * cvCeil(margin) + 1;
    cv::dilate(known, known, cv::getStructuringElement(cv::MORPH_ELLIPSE, {wide, wide}));
    cv::Mat1f out = f.contrast.clone();
    out.setTo(0, known);
    return out;
}

cv::Mat1b farBeyondKnown(cv::Mat1b seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu)
{
    return only(std::move(seeds), pieces, f, ppu,
                [&](double touched, double half) { return touched > 0 && half > farther * touched && half > leastUm * ppu; });
}

}  // namespace clendo::face
