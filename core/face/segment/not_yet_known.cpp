#include "face/segment/not_yet_known.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <opencv2/imgproc.hpp>
#include <utility>

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

/// The components of seeds, and which of them touch pieces.
class Components {
public:
    Components(const cv::Mat1b& seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu)
        : pieces_(pieces), f_(f), ppu_(ppu), reach_(touchesUm * ppu + touchesPx)
    {
        cv::Mat1d centroids;
        touched_.assign(static_cast<std::size_t>(cv::connectedComponentsWithStats(seeds, labels_, stats_, centroids, 8)), 0);
        if (count() == 1 || pieces.empty()) return;
        cv::Mat1b outlines(seeds.size(), std::uint8_t{255});
        for (const auto& piece : pieces)
            for (const auto& p : piece.outline)
                if (const cv::Point at = pixelOf(f, p); at.x >= 0 && at.y >= 0 && at.x < seeds.cols && at.y < seeds.rows) outlines(at) = 0;
        cv::Mat1f away;
        cv::distanceTransform(outlines, away, cv::DIST_L2, 3);
        for (int y = 0; y < seeds.rows; ++y)
            for (int x = 0; x < seeds.cols; ++x)
                if (labels_(y, x) > 0 && double(away(y, x)) <= reach_) touched_[static_cast<std::size_t>(labels_(y, x))] = 1;
    }

    [[nodiscard]] int count() const { return static_cast<int>(touched_.size()); }
    [[nodiscard]] bool touches(int i) const { return touched_[static_cast<std::size_t>(i)] != 0; }
    /// Whether it reaches much farther than all the pieces that it touches, beyond skirts so wide, px.
    [[nodiscard]] bool farBeyond(int i, double skirts) const
    {
        const double half = std::hypot(stats_(i, cv::CC_STAT_WIDTH), stats_(i, cv::CC_STAT_HEIGHT)) / 2 - skirts;
        if (!touches(i) || half < leastUm * ppu_) return false;
        const auto reach = static_cast<int>(reach_);
        const cv::Rect around(stats_(i, cv::CC_STAT_LEFT) - reach, stats_(i, cv::CC_STAT_TOP) - reach, stats_(i, cv::CC_STAT_WIDTH) + 2 * reach,
                              stats_(i, cv::CC_STAT_HEIGHT) + 2 * reach);
        return std::none_of(pieces_.begin(), pieces_.end(), [&](const Piece& piece) {
            return half < farther * piece.radius / f_.reduction &&
                   std::any_of(piece.outline.begin(), piece.outline.end(), [&](const cv::Point2f& p) { return around.contains(pixelOf(f_, p)); });
        });
    }
    /// Leaves of the seeds those of the components for which it is true.
    template <typename Stays>
    void keep(cv::Mat1b& seeds, Stays stays) const
    {
        std::vector<char> kept(touched_.size(), 0);
        for (int i = 1; i < count(); ++i) kept[static_cast<std::size_t>(i)] = stays(i) ? 1 : 0;
        for (int y = 0; y < seeds.rows; ++y)
            for (int x = 0; x < seeds.cols; ++x)
                if (!kept[static_cast<std::size_t>(labels_(y, x))]) seeds(y, x) = 0;
    }

private:
    const std::vector<Piece>& pieces_;
    const Flattened& f_;
    double ppu_, reach_;
    cv::Mat1i labels_, stats_;
    std::vector<char> touched_;
};

}  // namespace

cv::Mat1b notYetKnown(cv::Mat1b seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu)
{
    return besideKnown(std::move(seeds), pieces, f, ppu, std::numeric_limits<double>::infinity()).seeds;
}

Beside besideKnown(cv::Mat1b seeds, const std::vector<Piece>& pieces, const Flattened& f, double ppu, double skirts)
{
    if (cv::countNonZero(seeds) == 0) return {std::move(seeds), false};
    const Components components(seeds, pieces, f, ppu);
    components.keep(seeds, [&](int i) { return !components.touches(i); });
    bool more = false;
    for (int i = 1; i < components.count() && !more; ++i) more = components.farBeyond(i, skirts);
    return {std::move(seeds), more};
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
    const Components components(seeds, pieces, f, ppu);
    components.keep(seeds, [&](int i) { return components.farBeyond(i, 0); });
    return seeds;
}

}  // namespace clendo::face
