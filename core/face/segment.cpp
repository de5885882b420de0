#include "face/segment.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr int fine = 4;               // quarter pixels
constexpr double leastGlass = 0.045;  // contrast from which a thing in the glass is looked at
constexpr double leastFerrule = 0.10;
constexpr double noiseFactor = 4.8;

/// Robust standard deviation of a map inside a region (median absolute deviation).
double noiseOf(const cv::Mat1f& map, const cv::Mat1b& region, std::uint8_t which)
{
    std::vector<float> values;
    for (int y = 0; y < map.rows; ++y)
        for (int x = 0; x < map.cols; ++x)
            if (region(y, x) == which) values.push_back(std::abs(map(y, x)));
    if (values.size() < 100) return 1;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return 1.4826 * double(*middle);
}

cv::Mat1f smoothed(const cv::Mat1f& map, double sigma)
{
    cv::Mat1f out;
    cv::GaussianBlur(map, out, {}, std::max(0.3, sigma));
    return out;
}

/// Strongest response to straight strokes of `length` px: the map averaged along 16 directions. Lifts faint scratches out of noise.
cv::Mat1f strokes(const cv::Mat1f& map, double length)
{
    cv::Mat1f best(map.size(), 0.0F);
    const int size = 2 * static_cast<int>(length / 2) + 1;
    for (int k = 0; k < 16; ++k) {
        const double angle = CV_PI * k / 16, c = std::cos(angle), s = std::sin(angle);
        cv::Mat1f kernel(size, size, 0.0F);
        const int reach = size / 2;
        for (double t = -reach; t <= reach; t += 0.5) kernel(size / 2 + int(std::lround(t * s)), size / 2 + int(std::lround(t * c))) = 1;
        kernel /= cv::sum(kernel)[0];
        cv::Mat1f response;
        cv::filter2D(map, response, CV_32F, kernel);
        for (int y = 0; y < map.rows; ++y)
            for (int x = 0; x < map.cols; ++x)
                if (std::abs(response(y, x)) > std::abs(best(y, x))) best(y, x) = response(y, x);
    }
    return best;
}

/// Finds pieces of one sign: seeds above the threshold, cut at half of their own strongest contrast; what is left over is
/// looked at again, so that a faint thing beside a strong one is not lost.
class PieceFinder {
public:
    PieceFinder(const Flattened& f, const cv::Mat1f& map, std::uint8_t region, double threshold, const SegmentOptions& o)
        : flattened_(f), map_(map), region_(region), threshold_(threshold), options_(o)
    {
    }

    void find(const cv::Mat1b& seeds, double sign, std::vector<Piece>& out)
    {
        cv::Mat1b left = seeds.clone();
        for (int pass = 0; pass < 3; ++pass) {
            cv::Mat1i labels, stats;
            cv::Mat1d centroids;
            const int n = cv::connectedComponentsWithStats(left, labels, stats, centroids, 8);
            if (n > 4000) return;  // a picture of something else
            bool more = false;
            for (int label = 1; label < n; ++label) {
                const cv::Rect box(stats(label, 0), stats(label, 1), stats(label, 2), stats(label, 3));
                if (stats(label, 4) < 2) continue;
                more = cut(labels, label, box, sign, left, out) || more;
            }
            if (!more) return;
        }
    }

private:
    bool cut(const cv::Mat1i& labels, int label, cv::Rect box, double sign, cv::Mat1b& left, std::vector<Piece>& out)
    {
        const int margin = 3 + static_cast<int>(2 * options_.blur);
        const cv::Rect around =
            cv::Rect(box.x - margin, box.y - margin, box.width + 2 * margin, box.height + 2 * margin) & cv::Rect(0, 0, map_.cols, map_.rows);
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
        if (strongest < threshold_) return false;
        // a long thing varies along its length: its typical contrast sets the cut, not its strongest place
        const double diagonal = std::hypot(box.width, box.height);
        double reference = sign * double(map_(seed));
        if (diagonal > 10 * options_.pixelsPerMicrometre && double(inside.size()) < 0.35 * diagonal * diagonal) {
            const auto at = inside.begin() + static_cast<std::ptrdiff_t>(double(inside.size()) * 0.75);
            std::nth_element(inside.begin(), at, inside.end());
            reference = std::max(double(*at), threshold_);
        }
        const double level = std::max(0.5 * reference, 0.6 * threshold_);
        cv::Mat1f zoomed;
        cv::resize(map_(around) * sign, zoomed, {}, fine, fine, cv::INTER_CUBIC);
        const cv::Mat above = zoomed > level;
        cv::Mat1i parts;
        cv::connectedComponents(above, parts, 8);
        const int wanted =
            parts(std::min(parts.rows - 1, (seed.y - around.y) * fine + fine / 2), std::min(parts.cols - 1, (seed.x - around.x) * fine + fine / 2));
        if (wanted == 0) return false;
        const cv::Mat1b mask(cv::Mat(parts == wanted));
        Piece piece = collect(mask, around);
        piece.contrast = sign * reference;
        piece.region = region_;
        if (piece.area < 1.5) return false;
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

    [[nodiscard]] Piece collect(const cv::Mat1b& mask, cv::Rect around) const
    {
        Piece piece;
        std::vector<std::vector<cv::Point>> contours;
        std::vector<cv::Vec4i> hierarchy;
        cv::findContours(mask, contours, hierarchy, cv::RETR_CCOMP, cv::CHAIN_APPROX_NONE);
        double hole = 0;
        for (std::size_t i = 0; i < contours.size(); ++i) {
            if (hierarchy[i][3] >= 0) {
                hole += cv::contourArea(contours[i]) / (fine * fine);
                continue;
            }
            for (const auto& p : contours[i])
                piece.outline.emplace_back(static_cast<float>(around.x + (p.x + 0.5) / fine - 0.5),
                                           static_cast<float>(around.y + (p.y + 0.5) / fine - 0.5));
        }
        piece.area = double(cv::countNonZero(mask)) / (fine * fine);
        piece.hollow = hole > 0.25 * piece.area;
        for (const auto& p : piece.outline) {
            const int x = std::clamp(int(std::lround(p.x)), 1, map_.cols - 2), y = std::clamp(int(std::lround(p.y)), 1, map_.rows - 2);
            if (flattened_.region(y - 1, x) != region_ || flattened_.region(y + 1, x) != region_ || flattened_.region(y, x - 1) != region_ ||
                flattened_.region(y, x + 1) != region_)
                piece.atRim = true;
        }
        return piece;
    }

    const Flattened& flattened_;
    const cv::Mat1f& map_;
    std::uint8_t region_;
    double threshold_;
    SegmentOptions options_;
};

cv::Mat1b seedsOf(const cv::Mat1f& map, const Flattened& f, std::uint8_t region, double threshold, double sign)
{
    cv::Mat1b seeds(cv::Mat((map * sign - f.doubt) > threshold));
    seeds.setTo(0, f.region != region);
    return seeds;
}

struct Enclosing {
    cv::Point2f centre;
    float radius = 0;
};

Enclosing enclosing(const Piece& p)
{
    Enclosing e;
    cv::minEnclosingCircle(p.outline, e.centre, e.radius);
    return e;
}

double gapBetween(const Piece& a, const Piece& b)
{
    double least = 1e9;
    for (std::size_t i = 0; i < a.outline.size(); i += 2)
        for (std::size_t k = 0; k < b.outline.size(); k += 2) least = std::min(least, cv::norm(a.outline[i] - b.outline[k]));
    return least;
}

/// Dark and light parts of one droplet or scratch, and parts of one thing on both sides of the cladding's edge.
bool belongTogether(const Piece& a, const Piece& b, const SegmentOptions& o)
{
    const Enclosing ea = enclosing(a), eb = enclosing(b);
    const double apart = cv::norm(ea.centre - eb.centre);
    const double largest = std::max(ea.radius, eb.radius), smallest = std::min(ea.radius, eb.radius);
    if (a.region != b.region)
        return a.atRim && b.atRim && apart < ea.radius + eb.radius + 6 * o.pixelsPerMicrometre && gapBetween(a, b) < 5 * o.pixelsPerMicrometre;
    if (a.contrast * b.contrast > 0) return (a.hollow || b.hollow) && apart + smallest < largest * 1.05;
    return apart + 0.5 * smallest < largest && gapBetween(a, b) < 1.2 * o.pixelsPerMicrometre + o.blur;
}

void join(std::vector<Piece>& pieces, const SegmentOptions& o)
{
    for (bool again = true; again;) {
        again = false;
        for (std::size_t i = 0; i < pieces.size() && !again; ++i)
            for (std::size_t k = i + 1; k < pieces.size() && !again; ++k) {
                if (!belongTogether(pieces[i], pieces[k], o)) continue;
                Piece& a = pieces[i];
                const Piece& b = pieces[k];
                a.outline.insert(a.outline.end(), b.outline.begin(), b.outline.end());
                a.area += b.area;
                if (std::abs(b.contrast) > std::abs(a.contrast)) a.contrast = b.contrast;
                a.region = std::min(a.region, b.region);
                a.hollow = a.hollow || b.hollow || a.contrast * b.contrast < 0;
                pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(k));
                again = true;
            }
    }
}

/// Seeds that touch no piece found before.
cv::Mat1b notYetKnown(cv::Mat1b seeds, const std::vector<Piece>& pieces, const SegmentOptions& o)
{
    cv::Mat1b known(seeds.size(), std::uint8_t{0});
    for (const auto& p : pieces)
        for (const auto& q : p.outline) cv::circle(known, cv::Point(q), static_cast<int>(2 * o.pixelsPerMicrometre) + 2, 255, cv::FILLED);
    cv::Mat1i labels;
    std::vector<char> touched(static_cast<std::size_t>(cv::connectedComponents(seeds, labels, 8)), 0);
    for (int y = 0; y < seeds.rows; ++y)
        for (int x = 0; x < seeds.cols; ++x)
            if (known(y, x)) touched[static_cast<std::size_t>(labels(y, x))] = 1;
    touched[0] = 0;
    for (int y = 0; y < seeds.rows; ++y)
        for (int x = 0; x < seeds.cols; ++x)
            if (touched[static_cast<std::size_t>(labels(y, x))]) seeds(y, x) = 0;
    return seeds;
}

/// Looks at the glass alone: three quarters of the picture are ferrule, which needs less.
std::vector<Piece> segmentGlass(const Flattened& whole, const SegmentOptions& o)
{
    const cv::Mat glassMask = whole.region == 1;
    const cv::Rect box = cv::boundingRect(glassMask);
    if (box.area() == 0) return {};
    Flattened f;
    f.contrast = whole.contrast(box);
    f.doubt = whole.doubt(box);
    f.region = whole.region(box);
    std::vector<Piece> pieces;
    const cv::Mat1f glass = smoothed(f.contrast, std::max(0.5, 0.5 * o.blur));
    const double threshold = std::max(leastGlass, noiseFactor * noiseOf(glass, f.region, 1));
    const cv::Mat1f wide = smoothed(f.contrast, 1.0 * o.pixelsPerMicrometre + o.blur);
    const double wideThreshold = std::max(leastGlass, noiseFactor * noiseOf(wide, f.region, 1));
    // averaging along lines pays only where noise, not the least contrast, sets the threshold
    const bool noisy = threshold > 1.05 * leastGlass;
    const cv::Mat1f lines = noisy ? strokes(glass, 9 * o.pixelsPerMicrometre) : cv::Mat1f();
    const double lineThreshold = noisy ? std::max(leastGlass, noiseFactor * noiseOf(lines, f.region, 1)) : threshold;
    for (const double sign : {-1.0, 1.0}) {
        PieceFinder(f, glass, 1, threshold, o).find(seedsOf(glass, f, 1, threshold, sign), sign, pieces);
        // faint things that only stand out when averaged: over an area, or along a line
        for (const auto& [map, least] : {std::pair{&wide, wideThreshold}, std::pair{&lines, lineThreshold}})
            if (least <= 0.95 * threshold)
                PieceFinder(f, *map, 1, least, o).find(notYetKnown(seedsOf(*map, f, 1, least, sign), pieces, o), sign, pieces);
    }
    for (auto& piece : pieces)
        for (auto& p : piece.outline) p += cv::Point2f(cv::Point(box.tl()));
    return pieces;
}

}  // namespace

std::vector<Piece> segment(const Flattened& f, const SegmentOptions& o)
{
    std::vector<Piece> pieces = segmentGlass(f, o);
    const cv::Mat1f ferrule = smoothed(f.contrast, std::max(0.9 * o.pixelsPerMicrometre, 0.6));
    const double ferruleThreshold = std::max(leastFerrule, 5.5 * noiseOf(ferrule, f.region, 2));
    for (const double sign : {-1.0, 1.0})
        PieceFinder(f, ferrule, 2, ferruleThreshold, o).find(seedsOf(ferrule, f, 2, ferruleThreshold, sign), sign, pieces);
    join(pieces, o);
    return pieces;
}

}  // namespace clendo::face
