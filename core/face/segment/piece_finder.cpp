#include "face/segment/piece_finder.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "face/find/circle_fit.h"

namespace clendo::face {
namespace {

constexpr int fine = 4;           // quarter pixels
constexpr int mostPieces = 4000;  // more: a picture of something else
constexpr int passes = 3;
constexpr double fadesUm = 2;
constexpr double largeUm = 10, spreadsUm = 4;             // across: what varies over its area, and how far it may fade beyond what is plain
constexpr double filmContrast = 0.2, solidShare = 0.2;    // of the square of its diagonal
constexpr double leastHole = 0.25;                        // of the area around it: hollow
constexpr double largestArchUm = 60;                      // across: lint curls about as round in larger ones
constexpr double widestArch = 1.4, offArch = 0.12;        // radius over that of the circle around it; of the radius, both sides of the rim included
constexpr double atEnd = 2;                               // pixels
constexpr double speckUm = 3;                             // across: may be a peak of noise on something small
constexpr double followed = 0.6, followedOfSpeck = 0.75;  // of the threshold: how far into the noise an outline goes

/// What of the picture is above the level and hangs together with that place; nothing where that place is not.
cv::Mat1b partAbove(const cv::Mat1f& picture, double level, cv::Point place)
{
    constexpr int part = 128, eightNeighbours = 8;
    cv::Mat1b above;
    cv::compare(picture, level, above, cv::CMP_GT);
    if (!above(place)) return {};
    cv::floodFill(above, place, part, nullptr, {}, {}, eightNeighbours);
    return cv::Mat(above == part);
}

/// Not a line: that fills little of its box.
bool isSolid(const cv::Mat1b& mask)
{
    const cv::Rect box = cv::boundingRect(mask);
    return double(cv::countNonZero(mask)) > solidShare * double(box.width * box.width + box.height * box.height);
}

/// Whether a piece and the border of the judged area, which its two ends reach, enclose something: a droplet's rim, of which a part lies beyond.
bool closedByTheRim(const Piece& piece, const std::vector<cv::Point2f>& atRim, double pixel)
{
    std::vector<cv::Point2f> hull;
    cv::convexHull(piece.outline, hull);
    if (hull.size() < 3 || cv::contourArea(hull) < (1 + leastHole) * piece.area) return false;
    double widest = 0;
    cv::Point2f one, other;
    for (std::size_t i = 0; i < hull.size(); ++i) {
        const cv::Point2f &from = hull[i], &to = hull[(i + 1) % hull.size()];
        if (const double wide = cv::norm(to - from); wide > widest) widest = wide, one = from, other = to;
    }
    const auto reachesRim = [&](const cv::Point2f& end) {
        return std::any_of(atRim.begin(), atRim.end(), [&](const cv::Point2f& p) { return cv::norm(p - end) < atEnd * pixel; });
    };
    return reachesRim(one) && reachesRim(other);
}

/// Along one circle, as a droplet's rim is: lint that bends back to the rim of the glass winds.
bool isArch(const Piece& piece, double ppu)
{
    const auto circle = 2 * piece.radius < largestArchUm * ppu ? circleThrough(piece.outline) : std::nullopt;
    return circle && circle->radius < widestArch * piece.radius && offCircle(piece.outline, *circle) < offArch * circle->radius;
}

}  // namespace

double PieceFinder::thresholdAt(int x, int y) const
{
    const bool bright = std::hypot(x - flattened_.brightCentre.x, y - flattened_.brightCentre.y) < flattened_.brightRadius;
    return bright ? std::max(search_.least, flattened_.brightNoise * search_.threshold) : search_.threshold;
}

cv::Mat1b PieceFinder::seeds(double sign) const
{
    cv::Mat1b out(map_.size());
    const auto s = static_cast<float>(sign);
    const auto standsOut = [&](int y, int x, float threshold) { return s * map_(y, x) - flattened_.doubt(y, x) > threshold; };
    const auto everywhere = static_cast<float>(search_.threshold);
    for (int y = 0; y < map_.rows; ++y) {
        const float *map = map_.ptr<float>(y), *doubt = flattened_.doubt.ptr<float>(y);
        const std::uint8_t* judged = flattened_.judged.ptr(y);
        std::uint8_t* row = out.ptr(y);
        for (int x = 0; x < map_.cols; ++x) row[x] = s * map[x] - doubt[x] > everywhere ? judged[x] : std::uint8_t{0};
    }
    const double r = flattened_.brightRadius;
    const cv::Rect bright = cv::Rect(static_cast<int>(flattened_.brightCentre.x - r), static_cast<int>(flattened_.brightCentre.y - r),
                                     static_cast<int>(2 * r) + 2, static_cast<int>(2 * r) + 2) &
                            cv::Rect(0, 0, map_.cols, map_.rows);
    for (int y = bright.y; r > 0 && y < bright.br().y; ++y)
        for (int x = bright.x; x < bright.br().x; ++x)
            if (standsOut(y, x, static_cast<float>(thresholdAt(x, y)))) out(y, x) = flattened_.judged(y, x);
    return out;
}

void PieceFinder::find(cv::Mat1b left, double sign, std::vector<Piece>& out) const
{
    for (int pass = 0; pass < passes; ++pass) {
        const cv::Rect within = cv::boundingRect(left);
        if (within.empty()) return;
        cv::Mat1i labels(left.size(), 0), stats;
        cv::Mat1d centroids;
        const int n = cv::connectedComponentsWithStats(left(within), labels(within), stats, centroids, 8);
        if (n > mostPieces) return;
        bool more = false;
        for (int label = 1; label < n; ++label) {
            const cv::Rect box(within.x + stats(label, 0), within.y + stats(label, 1), stats(label, 2), stats(label, 3));
            if (stats(label, 4) >= 2) more = cut(labels, label, box, sign, left, out) || more;
        }
        if (!more) return;
    }
}

bool PieceFinder::cut(const cv::Mat1i& labels, int label, cv::Rect box, double sign, cv::Mat1b& left, std::vector<Piece>& out) const
{
    const double across = std::hypot(box.width, box.height) / search_.pixelsPerMicrometre;
    const bool large = across > largeUm, speck = across < speckUm;
    const int margin = 3 + static_cast<int>(2 * search_.blur),
              reach = margin + (large ? static_cast<int>(spreadsUm * search_.pixelsPerMicrometre) : 0);
    const cv::Rect around =
        cv::Rect(box.x - reach, box.y - reach, box.width + 2 * reach, box.height + 2 * reach) & cv::Rect(0, 0, map_.cols, map_.rows);
    std::vector<float> inside;
    double strongest = 0;
    cv::Point seed;
    for (int y = box.y; y < box.br().y; ++y)
        for (int x = box.x; x < box.br().x; ++x) {
            if (labels(y, x) != label) continue;
            const double v = sign * double(map_(y, x));
            inside.push_back(static_cast<float>(v));
            if (v - double(flattened_.doubt(y, x)) > strongest) {
                strongest = v - double(flattened_.doubt(y, x));
                seed = {x, y};
            }
            left(y, x) = 0;
        }
    const double threshold = thresholdAt(seed.x, seed.y);
    if (strongest < threshold) return false;
    // a long thing varies along its length: its typical contrast sets the cut, not its strongest place
    double reference = sign * double(map_(seed));
    if (large) {
        const auto typical = inside.begin() + static_cast<std::ptrdiff_t>(double(inside.size()) * 0.75);
        std::nth_element(inside.begin(), typical, inside.end());
        reference = std::max(double(*typical), threshold);
    }
    // what hardly rises above noise is not followed far into it, unless so much of it rises that it must be large
    const double floor = (speck ? followedOfSpeck : followed) * std::min(threshold, search_.noise), level = std::max(0.5 * reference, floor);
    cv::Mat1f zoomed;
    cv::resize(map_(around) * sign, zoomed, {}, fine, fine, cv::INTER_CUBIC);
    const cv::Point at(std::min(zoomed.cols - 1, (seed.x - around.x) * fine + fine / 2),
                       std::min(zoomed.rows - 1, (seed.y - around.y) * fine + fine / 2));
    cv::Mat1b mask = partAbove(zoomed, level, at);
    if (mask.empty()) return false;
    // a film is spotted: half of what it is on average is lower than half of its spots
    if (large && reference < filmContrast && isSolid(mask)) mask = partAbove(zoomed, std::clamp(0.5 * cv::mean(zoomed, mask)[0], floor, level), at);
    Piece piece = collect(mask, around);
    piece.contrast = sign * reference;
    if (piece.area < 1.5 * flattened_.reduction * flattened_.reduction) return false;
    // what is left of the component beyond the blur around this piece may be another thing
    bool anyLeft = false;
    cv::Mat1b taken;
    cv::resize(mask, taken, around.size(), 0, 0, cv::INTER_AREA);
    cv::dilate(taken, taken, cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * margin - 3, 2 * margin - 3}));
    for (int y = box.y; y < box.br().y; ++y)
        for (int x = box.x; x < box.br().x; ++x)
            if (labels(y, x) == label && !taken(y - around.y, x - around.x)) {
                left(y, x) = 255;
                anyLeft = true;
            }
    out.push_back(std::move(piece));
    return anyLeft;
}

Piece PieceFinder::collect(const cv::Mat1b& mask, cv::Rect around) const
{
    const double scale = flattened_.reduction;
    Piece piece;
    piece.region = search_.region;
    piece.smoothing = search_.smoothing * scale;
    std::vector<std::vector<cv::Point>> contours;
    std::vector<cv::Vec4i> hierarchy;
    cv::findContours(mask, contours, hierarchy, cv::RETR_CCOMP, cv::CHAIN_APPROX_NONE);
    double hole = 0;
    std::vector<cv::Point2f> atRim;
    const cv::Mat1b& judged = flattened_.judged;
    // what is faint fades before the border of the ferrule, which the adhesive's ring makes uncertain
    const int near = search_.region == Region::Ferrule ? 1 + static_cast<int>(fadesUm * search_.pixelsPerMicrometre) : 1;
    for (std::size_t i = 0; i < contours.size(); ++i) {
        if (hierarchy[i][3] >= 0) {
            hole += cv::contourArea(contours[i]) / (fine * fine);
            continue;
        }
        for (const auto& p : contours[i]) {
            const double mx = around.x + (p.x + 0.5) / fine - 0.5, my = around.y + (p.y + 0.5) / fine - 0.5;
            const int x = std::clamp(int(std::lround(mx)), near, judged.cols - 1 - near),
                      y = std::clamp(int(std::lround(my)), near, judged.rows - 1 - near);
            piece.outline.emplace_back(static_cast<float>(flattened_.origin.x + scale * mx), static_cast<float>(flattened_.origin.y + scale * my));
            if (!judged(y - near, x) || !judged(y + near, x) || !judged(y, x - near) || !judged(y, x + near)) atRim.push_back(piece.outline.back());
        }
    }
    const double area = double(cv::countNonZero(mask)) / (fine * fine);
    piece.atRim = !atRim.empty();
    piece.hollow = hole > leastHole * area;
    piece.area = area * scale * scale;
    piece.enclose();
    if (piece.atRim && !piece.hollow) {
        const bool ring = isRing(piece);
        piece.hollow = (ring || isArch(piece, search_.pixelsPerMicrometre * scale)) && closedByTheRim(piece, atRim, scale);
        piece.arch = piece.hollow && !ring;
    }
    return piece;
}

}  // namespace clendo::face
