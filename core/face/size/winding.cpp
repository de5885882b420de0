#include "face/size/winding.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <span>
#include <vector>

#include "face/median.h"
#include "face/size/line_grid.h"

namespace clendo::face {
namespace {

constexpr int arc = 2, windings = 8;             // degrees of the polynomials that follow an arc, and all that lint does
constexpr int looks = 3;                         // each where the last found its middle
constexpr double leastSeen = 0.4;                // share of its length along which its middle must show
constexpr double gap = 0.4, crossing = 2.5;      // of its usual contrast there: below and above it tells nothing of the middle
constexpr double beside = 1.5;                   // pixels looked at beyond its outline
constexpr double outlier = 3, toSigma = 0.6745;  // sigmas; half of a Gaussian's values lie within so many
constexpr int rounds = 4;                        // of leaving out what lies off
constexpr double shared = 2;                     // pixels share their noise with the next ones, as read between them

// um: how wide what may be lint is seen, for the flanks of wider lines differ; how far it winds at least, and no scratch does (those of the sets and
// of drawn faces 0.04 at most). What winds more shows it in its outline, or has others beside it
constexpr double thinnestLint = 1.4, thickestLint = 3.4, leastWinding = 0.05, mostWinding = 1;
constexpr double surely = 3;  // sigmas

/// Legendre polynomials up to `windings` at as many places, evenly from one end to the other; a row each.
cv::Mat1d legendre(int places)
{
    cv::Mat1d p(places, windings + 1);
    for (int k = 0; k < places; ++k) {
        const double x = 2.0 * k / (places - 1) - 1;
        p(k, 0) = 1;
        p(k, 1) = x;
        for (int n = 1; n < windings; ++n) p(k, n + 1) = ((2 * n + 1) * x * p(k, n) - n * p(k, n - 1)) / (n + 1);
    }
    return p;
}

/// How far aside of where it was thought its middle lies, um; 0 where that does not show, and then `shows` is too.
struct Middle {
    cv::Mat1d aside, shows;
    int seen = 0;
};

Middle middleAlong(const cv::Mat1f& contrast, double sign, double ppu)
{
    const int half = contrast.cols / 2;
    std::vector<double> sums(static_cast<std::size_t>(contrast.rows)), moments(sums.size());
    for (int n = 0; n < contrast.rows; ++n)
        for (int i = 0; i < contrast.cols; ++i) {
            const double v = sign * double(contrast(n, i));
            sums[static_cast<std::size_t>(n)] += v;
            moments[static_cast<std::size_t>(n)] += v * (i - half);
        }
    std::vector<double> sorted = sums;
    const double usual = medianOf(std::span(sorted));
    Middle out{cv::Mat1d(contrast.rows, 1, 0.0), cv::Mat1d(contrast.rows, 1, 0.0), 0};
    for (int n = 0; n < contrast.rows && usual > 0; ++n) {
        const double sum = sums[static_cast<std::size_t>(n)], off = moments[static_cast<std::size_t>(n)] / std::max(1e-9, sum);
        if (sum < gap * usual || sum > crossing * usual || std::abs(off) > half) continue;
        out.aside(n) = off / ppu;
        out.shows(n) = 1;
        ++out.seen;
    }
    return out;
}

/// The polynomials' shares in `aside`, and what noise makes of each: its variance.
struct Fit {
    cv::Mat1d shares, variance;
};

Fit robustFit(const cv::Mat1d& basis, const cv::Mat1d& aside, const cv::Mat1d& shows)
{
    cv::Mat1d weights = shows.clone();
    Fit fit;
    for (int round = 0; round < rounds; ++round) {
        cv::Mat1d weighted = basis.clone();
        for (int n = 0; n < basis.rows; ++n) weighted.row(n) *= weights(n);
        const cv::Mat1d normal(weighted.t() * basis), inverse(cv::Mat(normal.inv(cv::DECOMP_SVD)));
        fit.shares = cv::Mat1d(inverse * (weighted.t() * aside));
        const cv::Mat1d rest(aside - basis * fit.shares);
        std::vector<double> off;
        for (int n = 0; n < rest.rows; ++n)
            if (shows(n) > 0) off.push_back(std::abs(rest(n)));
        const double noise = std::max(1e-6, medianOf(std::span(off)) / toSigma);
        const double free = double(off.size()) / std::max(1.0, double(off.size()) - basis.cols);  // the fit takes some of the noise with it
        fit.variance = cv::Mat1d(inverse.diag() * (shared * free * noise * noise));
        for (int n = 0; n < rest.rows; ++n) {
            const double z = rest(n) / (outlier * noise);
            weights(n) = shows(n) > 0 && std::abs(z) < 1 ? (1 - z * z) * (1 - z * z) : 0;
        }
    }
    return fit;
}

}  // namespace

std::optional<Winding> windingOf(const cv::Mat1f& map, cv::Point2d origin, double sign, const Piece& piece, const Shape& shape, const Course& course,
                                 double ppu)
{
    if (!course.known) return std::nullopt;
    const double end = 0.5 * shape.meanWidth;  // its ends are narrower
    const int places = static_cast<int>((shape.longer - 2 * end) * ppu), half = cvCeil(shape.meanWidth / 2 * ppu + beside);
    if (places < 2 * windings) return std::nullopt;
    const cv::Point2d along = shape.along, across(-along.y, along.x), from = cv::Point2d(piece.centre) - origin;
    const cv::Mat1d basis = legendre(places);
    cv::Mat1d middle(places, 1);  // um aside of the piece's centre
    for (int n = 0; n < places; ++n) middle(n) = course.aside(end + n / ppu, shape);
    Fit fit;
    for (int look = 0; look < looks; ++look) {
        const LineGrid grid(places, half,
                            [&](int n, int i) { return from + (course.first + end + n / ppu) * ppu * along + (middle(n) * ppu + i) * across; });
        const Middle found = middleAlong(grid.read(map), sign, ppu);
        if (found.seen < leastSeen * places) return std::nullopt;
        fit = robustFit(basis, cv::Mat1d(middle + found.aside), found.shows);
        middle = cv::Mat1d(basis * fit.shares);
    }
    double off = 0, noise = 0;
    for (int degree = arc + 1; degree <= windings; ++degree) {
        off += fit.shares(degree) * fit.shares(degree) / (2 * degree + 1);
        noise += fit.variance(degree) / (2 * degree + 1);
    }
    return Winding{std::sqrt(std::max(0.0, off - noise)), std::sqrt(noise)};
}

bool isWideAsLint(double width) { return width >= thinnestLint && width <= thickestLint; }

bool windsAsLint(const Winding& winding, double width)
{
    return isWideAsLint(width) && winding.off - surely * winding.unsure > leastWinding && winding.off < mostWinding;
}

}  // namespace clendo::face
