#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "face/find/locate.h"
#include "face/median.h"

namespace clendo::face {
namespace {

constexpr int rays = 360;
constexpr int fewRays = 120;         // are enough to come near
constexpr double smallRadius = 115;  // px: below it half the rays still lie no farther apart than those of a large fibre
constexpr double radialStep = 0.25;  // px
constexpr double secondStep = 0.15;  // of the steepest change of a profile
constexpr double brightLine = 1.05;  // than glass and ferrule
constexpr double leastLine = 0.04;   // by which a line differs from the glass where it shows; where it does not, the glass ends within it
constexpr double thickestRing = 0.86, thinnestRing = 0.988;  // radius of the glass over that of what lies around it
constexpr double wholeWithin = 0.8;                          // of the rays that must agree on an edge within another
constexpr double cropReach = 1.35;                           // radii: the rays and what the circle may still move

struct Direction {
    float x, y;
};

const std::array<Direction, rays>& directions()
{
    static const auto all = [] {
        std::array<Direction, rays> d{};
        for (int a = 0; a < rays; ++a) {
            const double angle = 2 * std::numbers::pi * a / rays;
            d[static_cast<std::size_t>(a)] = {static_cast<float>(std::cos(angle)), static_cast<float>(std::sin(angle))};
        }
        return d;
    }();
    return all;
}

/// Brightness along rays: rows are `angles` (a divisor of `rays`), columns radii from `from` in steps of radialStep. -1 outside the picture.
cv::Mat1f unroll(const cv::Mat1f& grey, const Circle& c, double from, double to, int angles)
{
    const int columns = std::max(8, static_cast<int>((to - from) / radialStep));
    cv::Mat1f x(angles, columns), y(angles, columns), out;
    for (int a = 0; a < angles; ++a) {
        const auto [dx, dy] = directions()[static_cast<std::size_t>(a) * static_cast<std::size_t>(rays / angles)];
        float* rowX = x.ptr<float>(a);
        float* rowY = y.ptr<float>(a);
        for (int i = 0; i < columns; ++i) {
            const auto r = static_cast<float>(from + i * radialStep);
            rowX[i] = static_cast<float>(c.x) + r * dx;
            rowY[i] = static_cast<float>(c.y) + r * dy;
        }
    }
    cv::remap(grey, out, x, y, cv::INTER_LINEAR, cv::BORDER_CONSTANT, cv::Scalar(-1));
    return out;
}

/// Where each ray leaves the glass: its steepest change of the wanted sign, sub-sample by a parabola. NaN where unclear.
std::vector<double> edgeAlongRays(const cv::Mat1f& unrolled, double from, double sign, double blurSamples)
{
    cv::Mat1f smooth, slope;
    cv::GaussianBlur(unrolled, smooth, {}, blurSamples, std::max(0.5, 2.0 * unrolled.rows / rays), cv::BORDER_REPLICATE);
    cv::Sobel(smooth, slope, CV_32F, 1, 0, 1);
    std::vector<double> out(static_cast<std::size_t>(unrolled.rows), std::nan(""));
    for (int a = 0; a < unrolled.rows; ++a) {
        const auto* row = slope.ptr<float>(a);
        int best = -1;
        for (int i = 2; i + 2 < slope.cols; ++i) {
            if (unrolled(a, i - 2) < 0 || unrolled(a, i + 2) < 0) continue;
            if (best < 0 || sign * double(row[i]) > sign * double(row[best])) best = i;
        }
        if (best < 0 || sign * double(row[best]) < 0.3) continue;
        const double l = row[best - 1], m = row[best], r = row[best + 1], bend = l - 2 * m + r;
        const double shift = std::abs(bend) > 1e-9 ? std::clamp(0.5 * (l - r) / bend, -1.0, 1.0) : 0.0;
        out[static_cast<std::size_t>(a)] = from + (best + shift) * radialStep;
    }
    return out;
}

/// Where each ray first changes by at least `least` (grey levels a sample), from inside. NaN where it does not.
std::vector<double> firstEdgeAlongRays(const cv::Mat1f& unrolled, double from, double sign, double blurSamples, double least)
{
    cv::Mat1f smooth, slope;
    cv::GaussianBlur(unrolled, smooth, {}, blurSamples, std::max(0.5, 2.0 * unrolled.rows / rays), cv::BORDER_REPLICATE);
    cv::Sobel(smooth, slope, CV_32F, 1, 0, 1);
    std::vector<double> out(static_cast<std::size_t>(unrolled.rows), std::nan(""));
    for (int a = 0; a < unrolled.rows; ++a)
        for (int i = 2; i + 2 < slope.cols; ++i) {
            const double before = sign * double(slope(a, i - 1)), here = sign * double(slope(a, i)), after = sign * double(slope(a, i + 1));
            if (unrolled(a, i - 2) < 0 || unrolled(a, i + 2) < 0 || here < least || here < before || here < after) continue;
            out[static_cast<std::size_t>(a)] = from + i * radialStep;
            break;
        }
    return out;
}

/// Robust circle through the ray hits (least squares on r + dx cos + dy sin, Tukey weights). Gives the share of rays that agree.
double fitCircle(const std::vector<double>& hits, Circle& c, double tolerance)
{
    const int angles = static_cast<int>(hits.size());
    Eigen::Vector3d p(0, 0, 0);
    std::vector<double> known;
    for (const double h : hits)
        if (!std::isnan(h)) known.push_back(h);
    if (known.size() < hits.size() / 4) return 0;
    p[2] = medianOf(std::span(known));
    int agreeing = 0;
    for (int pass = 0; pass < 8; ++pass) {
        const double width = std::max(tolerance, tolerance * (8 - pass));
        Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
        Eigen::Vector3d v = Eigen::Vector3d::Zero();
        agreeing = 0;
        for (int a = 0; a < angles; ++a) {
            const double h = hits[static_cast<std::size_t>(a)];
            if (std::isnan(h)) continue;
            const auto [x, y] = directions()[static_cast<std::size_t>(a) * static_cast<std::size_t>(rays / angles)];
            const Eigen::Vector3d row(double(x), double(y), 1);
            const double u = (h - row.dot(p)) / width;
            if (std::abs(u) >= 1) continue;
            const double weight = (1 - u * u) * (1 - u * u);
            m += weight * row * row.transpose();
            v += weight * h * row;
            ++agreeing;
        }
        if (agreeing < angles / 8) return 0;
        p = m.ldlt().solve(v);
    }
    c.x += p[0];
    c.y += p[1];
    c.radius = p[2];
    return double(agreeing) / angles;
}

std::vector<double> medianProfile(const cv::Mat1f& unrolled)
{
    std::vector<double> out(static_cast<std::size_t>(unrolled.cols));
    std::vector<float> column;
    for (int i = 0; i < unrolled.cols; ++i) {
        column.clear();
        for (int a = 0; a < unrolled.rows; ++a)
            if (unrolled(a, i) >= 0) column.push_back(unrolled(a, i));
        if (column.empty()) continue;
        out[static_cast<std::size_t>(i)] = double(medianOf(std::span(column)));
    }
    return out;
}

/// The median of each ray's steepest change.
double usualSteepness(const cv::Mat1f& unrolled, double sign, double blurSamples)
{
    cv::Mat1f smooth, slope;
    cv::GaussianBlur(unrolled, smooth, {}, blurSamples, std::max(0.5, 2.0 * unrolled.rows / rays), cv::BORDER_REPLICATE);
    cv::Sobel(smooth, slope, CV_32F, 1, 0, 1);
    std::vector<double> steepest;
    for (int a = 0; a < slope.rows; ++a) {
        double most = 0;
        for (int i = 2; i + 2 < slope.cols; ++i)
            if (unrolled(a, i - 2) >= 0 && unrolled(a, i + 2) >= 0) most = std::max(most, sign * double(slope(a, i)));
        steepest.push_back(most);
    }
    return medianOf(std::span(steepest));
}

/// Adhesive that is not darker than the ferrule has two edges one after the other, of one sign, and the rays find the steeper: the glass ends at the
/// inner one. Nothing where there is but one. Where some rays found the one and some the other, their circle lies between and few agree.
std::optional<Circle> edgeWithin(const cv::Mat1f& grey, const Circle& outer, double sign, double outerCoverage)
{
    const double blurSamples = std::max(1.5, outer.radius * 0.006 / radialStep), tolerance = std::max(0.75, outer.radius * 0.008);
    const auto within = [&](double to, double share) -> std::optional<Circle> {
        const double from = outer.radius * thickestRing;
        const cv::Mat1f unrolled = unroll(grey, outer, from, outer.radius * to, rays / 2);
        Circle c = outer;
        const double least = share * usualSteepness(unrolled, sign, blurSamples);
        const double coverage = fitCircle(firstEdgeAlongRays(unrolled, from, sign, blurSamples, std::max(0.3, least)), c, tolerance);
        const double mostRadius = outerCoverage < wholeWithin ? 1 : thinnestRing;
        if (coverage < wholeWithin || c.radius > mostRadius * outer.radius) return std::nullopt;
        return c;
    };
    if (auto apart = within(0.97, 0.6)) return apart;  // well apart, however faint
    return within(1.03, 0.35);
}

double step(double t) { return 0.5 * std::erfc(-t / std::numbers::sqrt2); }
double bell(double t) { return std::exp(-t * t / 2) / std::sqrt(2 * std::numbers::pi); }  ///< its derivative

/// inside + (line - inside) step((r - edge)/sigma) + (outside - line) step((r - edge - width)/sigma), fitted by
/// Levenberg-Marquardt. Parameters: edge, log width, log sigma, inside, line, outside.
using Parameters = Eigen::Matrix<double, 6, 1>;
using Jacobian = Eigen::Matrix<double, Eigen::Dynamic, 6>;

/// What the profile differs from the model by, and the model's derivatives. Radii from `from` in steps of radialStep.
Eigen::VectorXd residuals(const std::vector<double>& profile, double from, const Parameters& p, Jacobian* derivatives)
{
    const double width = std::exp(p[1]), sigma = std::exp(p[2]), intoLine = p[4] - p[3], outOfLine = p[5] - p[4];
    Eigen::VectorXd e(std::ssize(profile));
    for (Eigen::Index i = 0; i < e.size(); ++i) {
        const double t = (from + double(i) * radialStep - p[0]) / sigma, u = t - width / sigma, s = step(t), v = step(u);
        e[i] = profile[static_cast<std::size_t>(i)] - (p[3] + intoLine * s + outOfLine * v);
        if (!derivatives) continue;
        const double bellT = intoLine * bell(t) / sigma, bellU = outOfLine * bell(u) / sigma;
        derivatives->row(i) << -bellT - bellU, -bellU * width, -(bellT * t + bellU * u) * sigma, 1 - s, s - v, v;
    }
    return e;
}

double fitProfile(const std::vector<double>& profile, double from, Parameters& p)
{
    double damping = 1e-2;
    Jacobian jacobian(std::ssize(profile), 6);
    Eigen::VectorXd e = residuals(profile, from, p, &jacobian);
    for (int iteration = 0; iteration < 25; ++iteration) {
        Eigen::Matrix<double, 6, 6> normal = jacobian.transpose() * jacobian;
        normal.diagonal() += damping * (normal.diagonal().array() + 1e-6).matrix();
        Parameters q = p + Parameters(normal.ldlt().solve(jacobian.transpose() * e));
        q[1] = std::clamp(q[1], std::log(0.3), std::log(60.0));
        q[2] = std::clamp(q[2], std::log(0.2), std::log(80.0));
        q[4] = std::max(q[4], 0.0);  // a line narrower than the blur could as well be darker than black
        const double before = e.squaredNorm(), after = residuals(profile, from, q, nullptr).squaredNorm();
        if (after < before) {
            p = q;
            e = residuals(profile, from, p, &jacobian);
            damping = std::max(1e-6, damping / 4);
            if (before - after < 1e-5 * before) break;
        } else if ((damping *= 5) > 1e6) {
            break;
        }
    }
    return std::sqrt(e.squaredNorm() / double(profile.size()));
}

/// Where the glass ends, of the fitted profile and of the rays: those stop at the outside of a line that differs little from the glass.
double glassRadius(const Parameters& p, double seen)
{
    const double inner = p[0], outer = p[0] + std::exp(p[1]), tolerance = 0.03 * seen;
    const bool aroundLine = inner < seen && inner > seen - 2 * tolerance && std::abs(outer - seen) < tolerance;
    if (std::abs(inner - seen) >= tolerance && !aroundLine) return seen;
    const double differs = std::abs(p[4] - p[3]) / std::max(1.0, p[3]);
    return aroundLine && differs < leastLine ? (inner + outer) / 2 : inner;
}

/// The places of the first and the last of a profile's steep changes of one sign, where they are two.
std::optional<std::pair<int, int>> twoSteps(const std::vector<double>& profile, double sign)
{
    constexpr int over = 2;  // samples to either side
    std::vector<double> slope(profile.size(), 0);
    for (std::size_t i = over; i + over < profile.size(); ++i) slope[i] = sign * (profile[i + over] - profile[i - over]);
    const double least = secondStep * *std::max_element(slope.begin(), slope.end());
    int first = -1, last = -1;
    for (std::size_t i = 1; i + 1 < slope.size(); ++i) {
        if (slope[i] < least || slope[i] < slope[i - 1] || slope[i] < slope[i + 1]) continue;
        if (first < 0) first = static_cast<int>(i);
        last = static_cast<int>(i);
    }
    if (first < 0 || last - first < 3) return std::nullopt;
    return std::pair(first, last);
}

double mean(const std::vector<double>& v, std::size_t from, std::size_t to)
{
    double sum = 0;
    for (std::size_t i = from; i < to; ++i) sum += v[i];
    return sum / double(std::max<std::size_t>(1, to - from));
}

}  // namespace

std::optional<CladdingEdge> refine(const cv::Mat1b& picture, const Circle& coarse)
{
    CladdingEdge out;
    // everything happens near the circle: a row of twelve fibres must not read the whole picture twelve times
    const int space = static_cast<int>(cropReach * coarse.radius) + 4;
    const cv::Rect near = cv::Rect(static_cast<int>(coarse.x) - space, static_cast<int>(coarse.y) - space, 2 * space, 2 * space) &
                          cv::Rect(0, 0, picture.cols, picture.rows);
    if (near.empty()) return std::nullopt;
    cv::Mat1f grey;
    picture(near).convertTo(grey, CV_32F);
    out.circle = {coarse.x - near.x, coarse.y - near.y, coarse.radius, coarse.support};
    const int angles = coarse.radius < smallRadius ? rays / 2 : rays;
    double reach = 0.14;
    double sign = -1;  // glass to dark line: darker outwards
    for (int pass = 0; pass < 3; ++pass) {
        const double from = out.circle.radius * (1 - reach), to = out.circle.radius * (1 + reach);
        const cv::Mat1f unrolled = unroll(grey, out.circle, from, to, pass < 2 ? fewRays : angles);
        if (pass < 2) {
            const auto profile = medianProfile(unrolled);
            const double inside = mean(profile, 0, profile.size() / 5), outside = mean(profile, profile.size() * 4 / 5, profile.size());
            const double darkest = *std::min_element(profile.begin(), profile.end());
            sign = std::min(inside, outside) - darkest > 0.12 * std::min(inside, outside) || inside > outside ? -1 : 1;
        }
        const auto hits = edgeAlongRays(unrolled, from, sign, std::max(1.5, out.circle.radius * 0.006 / radialStep));
        out.coverage = fitCircle(hits, out.circle, std::max(0.75, out.circle.radius * 0.008));
        if (out.coverage <= 0) return std::nullopt;
        reach = 0.10;
    }
    if (const auto glass = edgeWithin(grey, out.circle, sign, out.coverage)) {
        const double from = glass->radius * 0.96, to = glass->radius * 1.012;
        Circle closer = *glass;
        const auto hits = edgeAlongRays(unroll(grey, closer, from, to, angles), from, sign, std::max(1.5, closer.radius * 0.006 / radialStep));
        if (const double coverage = fitCircle(hits, closer, std::max(0.75, closer.radius * 0.008)); coverage > wholeWithin) {
            out.circle = closer;
            out.coverage = coverage;
        }
    }
    const double from = out.circle.radius * 0.88, to = out.circle.radius * 1.10;
    const auto profile = medianProfile(unroll(grey, out.circle, from, to, rays / 2));
    out.insideLevel = mean(profile, 0, profile.size() / 6);
    out.outsideLevel = mean(profile, profile.size() * 5 / 6, profile.size());
    const auto darkest = std::min_element(profile.begin(), profile.end()), brightest = std::max_element(profile.begin(), profile.end());
    struct Start {
        double edge, sigma, line, width;
    };
    const double sharp = 0.012 * out.circle.radius, blurred = 0.04 * out.circle.radius;
    const double usual = 0.02 * out.circle.radius;
    std::vector<Start> starts{{out.circle.radius, sharp, *darkest, usual}, {out.circle.radius, blurred, *darkest, usual}};
    if (*brightest > brightLine * std::max(out.insideLevel, out.outsideLevel))
        starts.push_back({from + double(brightest - profile.begin()) * radialStep - 0.01 * out.circle.radius, sharp, *brightest, usual});
    if (const auto steps = twoSteps(profile, sign))  // the line lies between glass and ferrule
        starts.push_back({from + steps->first * radialStep, sharp / 2, profile[static_cast<std::size_t>((steps->first + steps->second) / 2)],
                          (steps->second - steps->first) * radialStep});

    Parameters best;
    double leastError = 1e9;
    for (const auto& [edge, sigma, line, width] : starts) {
        Parameters p;
        p << edge, std::log(width), std::log(sigma), out.insideLevel, line, out.outsideLevel;
        const double error = fitProfile(profile, from, p);
        if (error < leastError) {
            leastError = error;
            best = p;
        }
    }

    out.circle.radius = glassRadius(best, out.circle.radius);
    out.blur = std::exp(best[2]);
    out.ring = std::exp(best[1]);
    out.circle.x += near.x;
    out.circle.y += near.y;
    return out;
}

}  // namespace clendo::face
