#include "face/find/edge_profile.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>
#include <utility>

namespace clendo::face {
namespace {

constexpr double radialStep = EdgeProfile::step;
constexpr double secondStep = 0.15;  // of the steepest change of a profile
constexpr double brightLine = 1.05;  // than glass and ferrule
constexpr double leastLine = 0.04;   // by which a line differs from the glass where it shows; where it does not, the glass ends within it
// A line that may be none: by how much of the glass's light it differs, by how much of the step out of it, and its width, a share of the radius
constexpr double fringeDiffers = 0.22, fringeStep = 0.5, fringeWidth = 0.032;
constexpr double rampDiffers = 0.13, rampStep = 0.25, rampWidth = 0.04;
constexpr double mayBeRamp = 0.0175;                  // of the radius: sigma of an edge from which another look is taken
constexpr double likeFerrule = 0.2, likeGlass = 0.8;  // of the step from the one to the other
constexpr double mustExplain = 0.7;                   // of what another fit leaves over
constexpr double better = 0.9;                        // times the rest of another fit, from which one is believed

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
        const double place = t * each + middle;
        if (!(place > 0)) return table_.front();  // also what is no number
        if (place >= double(size - 1)) return table_.back();
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

/// By how much the line's light differs from the glass's, a share of that.
double lineDiffers(const Parameters& p) { return std::abs(p[4] - p[3]) / std::max(1.0, p[3]); }

/// Light that hardly changes and then does by far more, all of it close together, need not have a line between: partly coherent light ends in a
/// fringe of the other sign, and a lens's flare in a ramp of the same.
bool mayBeNoLine(const Parameters& p, double seen)
{
    const double into = p[4] - p[3], outOf = p[5] - p[4], step = std::abs(into / outOf), differs = lineDiffers(p), width = std::exp(p[1]) / seen;
    if (into * outOf < 0) return step < fringeStep && differs < fringeDiffers && width < fringeWidth;
    return step < rampStep && differs < rampDiffers && width < rampWidth;
}

/// Where the glass ends, of the fitted profile and of the rays: those stop at the outside of a line that differs little from the glass.
double glassRadius(const Parameters& p, double seen)
{
    const double inner = p[0], outer = p[0] + std::exp(p[1]), tolerance = 0.03 * seen;
    const bool aroundLine = inner < seen && inner > seen - 2 * tolerance && std::abs(outer - seen) < tolerance;
    if (std::abs(inner - seen) >= tolerance && !aroundLine) return seen;
    return mayBeNoLine(p, seen) || (aroundLine && lineDiffers(p) < leastLine) ? (inner + outer) / 2 : inner;
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

std::optional<EdgeShape> fittedTo(const EdgeProfile& profile, bool finely)
{
    constexpr double none = 1e9;
    EdgeShape out;
    const std::vector<double>& levels = profile.levels;
    out.insideLevel = mean(levels, 0, levels.size() / 6);
    out.outsideLevel = mean(levels, levels.size() * 5 / 6, levels.size());
    const auto darkest = std::min_element(levels.begin(), levels.end()), brightest = std::max_element(levels.begin(), levels.end());
    struct Start {
        double edge, sigma, line, width;
    };
    const double sharp = 0.012 * profile.seen, blurred = 0.04 * profile.seen;
    const double usual = 0.02 * profile.seen;
    // what is blurred more than the line is wide shows the line's outer side alone: the glass ends well within it
    const double within = profile.seen - 1.5 * usual;
    std::vector<Start> starts{
        {profile.seen, sharp, *darkest, usual}, {profile.seen, blurred, *darkest, usual}, {within, blurred, *darkest / 2, usual}};
    const bool bright = *brightest > brightLine * std::max(out.insideLevel, out.outsideLevel);
    if (bright) starts.push_back({profile.from + double(brightest - levels.begin()) * radialStep - 0.01 * profile.seen, sharp, *brightest, usual});
    if (const auto steps = twoSteps(levels, profile.sign))  // the line lies between glass and ferrule
        starts.push_back({profile.from + steps->first * radialStep, sharp / 2, levels[static_cast<std::size_t>((steps->first + steps->second) / 2)],
                          (steps->second - steps->first) * radialStep});

    if (finely)
        for (const double width : {0.01, 0.02, 0.035})
            for (const double share : {0.3, 0.5, 0.7})
                for (const double before : {0.0, 1.0})  // the rays see the line's outer side or its inner one
                    starts.push_back({profile.seen * (1 - before * width), sharp / 2, out.outsideLevel + share * (out.insideLevel - out.outsideLevel),
                                      profile.seen * width});

    const auto fitted = [&](const Spread& spread) {
        std::pair<double, Parameters> best{none, Parameters::Zero()};
        for (const auto& [edge, sigma, line, width] : starts) {
            Parameters p;
            p << edge, std::log(width), std::log(sigma), out.insideLevel, line, out.outsideLevel;
            const double error = fitProfile(levels, profile.from, spread, p);
            // a line as bright as the glass is only how its light ends, or what sharpening makes of it; one between must explain much that a single
            // edge does not
            const double share = (p[4] - p[5]) / (p[3] - p[5]);
            if (finely && share > likeGlass && !(bright && share > 1)) continue;
            const double told = finely && share > likeFerrule && share < likeGlass ? error / mustExplain : error;
            if (told < best.first) best = {told, p};
        }
        return best;
    };
    const auto [error, best] = fitted(gaussian());
    if (finely && error >= none) return std::nullopt;
    out.blur = std::exp(best[2]);
    out.mostBlur = out.blur;
    if (wholeBlur(best) > mayBeRamp * profile.seen) {
        for (const double share : {0.05, 0.07}) starts.push_back({profile.seen * (1 - share), blurred, *darkest / 2, usual});
        if (const auto [errorOfDisc, ofDisc] = fitted(disc()); errorOfDisc < better * error) out.mostBlur = std::exp(ofDisc[2]);
    }
    out.ring = std::exp(best[1]);
    out.radius = glassRadius(best, profile.seen);
    return out;
}

}  // namespace

EdgeShape shapeOf(const EdgeProfile& profile) { return *fittedTo(profile, false); }
std::optional<EdgeShape> finelyShapeOf(const EdgeProfile& profile) { return fittedTo(profile, true); }

}  // namespace clendo::face
