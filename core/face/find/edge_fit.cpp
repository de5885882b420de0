#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "face/find/locate.h"
#include "face/find/ray_edges.h"

namespace clendo::face {
namespace {

constexpr int fewRays = 120;         // are enough to come near
constexpr double smallRadius = 115;  // px: below it half the rays still lie no farther apart than those of a large fibre
constexpr double radialStep = RayEdges::step;
constexpr double secondStep = 0.15;  // of the steepest change of a profile
constexpr double brightLine = 1.05;  // than glass and ferrule
constexpr double leastLine = 0.04;   // by which a line differs from the glass where it shows; where it does not, the glass ends within it
constexpr double thickestRing = 0.86, thinnestRing = 0.988;  // radius of the glass over that of what lies around it
constexpr double wholeWithin = 0.8;                          // of the rays that must agree on an edge within another
constexpr double mayBeRamp = 0.0175;                         // of the radius: sigma of an edge from which another look is taken
constexpr double better = 0.9;                               // times the rest of another fit, from which one is believed
constexpr double cropReach = 1.35;                           // radii: the rays and what the circle may still move

/// Adhesive that is not darker than the ferrule has two edges one after the other, of one sign, and the rays find the steeper: the glass ends at the
/// inner one. Nothing where there is but one. Where some rays found the one and some the other, their circle lies between and few agree.
std::optional<Circle> edgeWithin(const cv::Mat1f& grey, const Circle& outer, double sign, double outerCoverage)
{
    const double mostRadius = (outerCoverage < wholeWithin ? 1 : thinnestRing) * outer.radius;
    constexpr double near = 0.97, beyond = 1.03;  // of its radius
    const RayEdges edges(grey, outer, outer.radius * thickestRing, outer.radius * beyond, RayEdges::most / 2);
    const auto within = [&](double to, double share) -> std::optional<Circle> {
        Circle c = outer;
        const double coverage = RayEdges::fitCircle(edges.first(sign, share, to * outer.radius), c);
        return coverage < wholeWithin || c.radius > mostRadius ? std::nullopt : std::optional(c);
    };
    if (auto apart = within(near, 0.6)) return apart;  // well apart, however faint
    return within(beyond, 0.35);
}

/// How blur spreads an edge, by sigmas from it, and how that rises: tables, as fits ask for them ten thousand times.
class Spread {
public:
    Spread(double (*step)(double), double (*rise)(double))
    {
        for (std::size_t i = 0; i < size; ++i) {
            const double t = (double(i) - middle) / each;
            table_[i] = {step(t), rise(t)};
        }
    }
    struct Value {
        double step, rise;
    };
    [[nodiscard]] Value at(double t) const
    {
        const double place = std::clamp(t * each + middle, 0.0, double(size - 2));
        const auto i = static_cast<std::size_t>(place);
        const double part = place - double(i);
        const Value &a = table_[i], &b = table_[i + 1];
        return {a.step + part * (b.step - a.step), a.rise + part * (b.rise - a.rise)};
    }

private:
    static constexpr double each = 256, reach = 6;  // per sigma: straight lines between them are off by less than a millionth; sigmas
    static constexpr double middle = each * reach;
    static constexpr std::size_t size = 2 * static_cast<std::size_t>(middle) + 1;
    std::array<Value, size> table_;
};

/// Of good optics a Gaussian.
const Spread& gaussian()
{
    static const Spread spread([](double t) { return 0.5 * std::erfc(-t / std::numbers::sqrt2); },
                               [](double t) { return std::exp(-t * t / 2) / std::sqrt(2 * std::numbers::pi); });
    return spread;
}

/// Of a lens far out of focus a disc of light, whose radius is two sigmas.
const Spread& disc()
{
    static const Spread spread(
        [](double t) {
            const double u = std::clamp(t / 2, -1.0, 1.0);
            return 0.5 + (u * std::sqrt(1 - u * u) + std::asin(u)) / std::numbers::pi;
        },
        [](double t) { return std::sqrt(std::max(0.0, 1 - t * t / 4)) / std::numbers::pi; });
    return spread;
}

/// inside + (line - inside) step((r - edge)/sigma) + (outside - line) step((r - edge - width)/sigma), fitted by
/// Levenberg-Marquardt. Parameters: edge, log width, log sigma, inside, line, outside.
using Parameters = Eigen::Matrix<double, 6, 1>;
using Jacobian = Eigen::Matrix<double, Eigen::Dynamic, 6>;

/// What the profile differs from the model by, and the model's derivatives. Radii from `from` in steps of radialStep.
Eigen::VectorXd residuals(const std::vector<double>& profile, double from, const Spread& spread, const Parameters& p, Jacobian* derivatives)
{
    const double width = std::exp(p[1]), sigma = std::exp(p[2]), intoLine = p[4] - p[3], outOfLine = p[5] - p[4];
    Eigen::VectorXd e(std::ssize(profile));
    for (Eigen::Index i = 0; i < e.size(); ++i) {
        const double t = (from + double(i) * radialStep - p[0]) / sigma, u = t - width / sigma;
        const auto [s, rises] = spread.at(t);
        const auto [v, risesAfter] = spread.at(u);
        e[i] = profile[static_cast<std::size_t>(i)] - (p[3] + intoLine * s + outOfLine * v);
        if (!derivatives) continue;
        const double riseT = intoLine * rises / sigma, riseU = outOfLine * risesAfter / sigma;
        derivatives->row(i) << -riseT - riseU, -riseU * width, -(riseT * t + riseU * u) * sigma, 1 - s, s - v, v;
    }
    return e;
}

double fitProfile(const std::vector<double>& profile, double from, const Spread& spread, Parameters& p)
{
    double damping = 1e-2;
    Jacobian jacobian(std::ssize(profile), 6);
    Eigen::VectorXd e = residuals(profile, from, spread, p, &jacobian);
    for (int iteration = 0; iteration < 25; ++iteration) {
        Eigen::Matrix<double, 6, 6> normal = jacobian.transpose() * jacobian;
        normal.diagonal() += damping * (normal.diagonal().array() + 1e-6).matrix();
        Parameters q = p + Parameters(normal.ldlt().solve(jacobian.transpose() * e));
        q[1] = std::clamp(q[1], std::log(0.3), std::log(60.0));
        q[2] = std::clamp(q[2], std::log(0.2), std::log(80.0));
        q[4] = std::max(q[4], 0.0);  // a line narrower than the blur could as well be darker than black
        const double before = e.squaredNorm(), after = residuals(profile, from, spread, q, nullptr).squaredNorm();
        if (after < before) {
            p = q;
            e = residuals(profile, from, spread, p, &jacobian);
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

/// Sigma of the whole edge where a line lies in brightness between glass and ferrule; 0 where none does. A lens far out of focus spreads an edge to a
/// ramp, which two steps one after the other fit.
double wholeBlur(const Parameters& p)
{
    const double share = (p[4] - p[3]) / (p[5] - p[3]);
    return share > 0 && share < 1 ? std::hypot(std::exp(p[2]), std::exp(p[1]) * std::sqrt(share * (1 - share))) : 0;
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

std::optional<CladdingEdge> refine(const cv::Mat1b& picture, const Circle& coarse, double reach)
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
    const int rays = coarse.radius < smallRadius ? RayEdges::most / 2 : RayEdges::most;
    double sign = -1;  // glass to dark line: darker outwards
    for (int pass = 0; pass < 3; ++pass) {
        const double from = out.circle.radius * (1 - reach), to = out.circle.radius * (1 + reach);
        const RayEdges edges(grey, out.circle, from, to, pass < 2 ? fewRays : rays);
        if (pass < 2) {
            const auto profile = edges.profile();
            const double inside = mean(profile, 0, profile.size() / 5), outside = mean(profile, profile.size() * 4 / 5, profile.size());
            const double darkest = *std::min_element(profile.begin(), profile.end());
            sign = std::min(inside, outside) - darkest > 0.12 * std::min(inside, outside) || inside > outside ? -1 : 1;
        }
        out.coverage = RayEdges::fitCircle(edges.steepest(sign), out.circle);
        if (out.coverage <= 0) return std::nullopt;
        reach = std::min(reach, 0.10);
    }
    if (const auto glass = edgeWithin(grey, out.circle, sign, out.coverage)) {
        Circle closer = *glass;
        const RayEdges edges(grey, closer, closer.radius * 0.96, closer.radius * 1.012, rays);
        if (const double coverage = RayEdges::fitCircle(edges.steepest(sign), closer); coverage > wholeWithin) {
            out.circle = closer;
            out.coverage = coverage;
        }
    }
    const double from = out.circle.radius * 0.88, to = out.circle.radius * 1.10;
    const auto profile = RayEdges(grey, out.circle, from, to, RayEdges::most / 2).profile();
    out.insideLevel = mean(profile, 0, profile.size() / 6);
    out.outsideLevel = mean(profile, profile.size() * 5 / 6, profile.size());
    const auto darkest = std::min_element(profile.begin(), profile.end()), brightest = std::max_element(profile.begin(), profile.end());
    struct Start {
        double edge, sigma, line, width;
    };
    const double sharp = 0.012 * out.circle.radius, blurred = 0.04 * out.circle.radius;
    const double usual = 0.02 * out.circle.radius;
    // what is blurred more than the line is wide shows the line's outer side alone: the glass ends well within it
    const double within = out.circle.radius - 1.5 * usual;
    std::vector<Start> starts{
        {out.circle.radius, sharp, *darkest, usual}, {out.circle.radius, blurred, *darkest, usual}, {within, blurred, *darkest / 2, usual}};
    if (*brightest > brightLine * std::max(out.insideLevel, out.outsideLevel))
        starts.push_back({from + double(brightest - profile.begin()) * radialStep - 0.01 * out.circle.radius, sharp, *brightest, usual});
    if (const auto steps = twoSteps(profile, sign))  // the line lies between glass and ferrule
        starts.push_back({from + steps->first * radialStep, sharp / 2, profile[static_cast<std::size_t>((steps->first + steps->second) / 2)],
                          (steps->second - steps->first) * radialStep});

    const auto fitted = [&](const Spread& spread) {
        std::pair<double, Parameters> best{1e9, Parameters::Zero()};
        for (const auto& [edge, sigma, line, width] : starts) {
            Parameters p;
            p << edge, std::log(width), std::log(sigma), out.insideLevel, line, out.outsideLevel;
            if (const double error = fitProfile(profile, from, spread, p); error < best.first) best = {error, p};
        }
        return best;
    };
    const auto [error, best] = fitted(gaussian());
    out.blur = std::exp(best[2]);
    out.mostBlur = out.blur;
    if (wholeBlur(best) > mayBeRamp * out.circle.radius) {
        for (const double share : {0.05, 0.07}) starts.push_back({out.circle.radius * (1 - share), blurred, *darkest / 2, usual});
        if (const auto [errorOfDisc, ofDisc] = fitted(disc()); errorOfDisc < better * error) out.mostBlur = std::exp(ofDisc[2]);
    }
    out.ring = std::exp(best[1]);
    out.circle.radius = glassRadius(best, out.circle.radius);
    out.circle.x += near.x;
    out.circle.y += near.y;
    return out;
}

}  // namespace clendo::face
