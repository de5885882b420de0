#include "face/even/core_kind.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <utility>
#include <vector>

#include "face/find/ring_cells.h"
#include "face/median.h"

namespace clendo::face {
namespace {

constexpr double blurUm = 0.7;             // edges of cores are soft
constexpr double leastStrength = 0.012;    // below it nothing shows
constexpr double leastMultimode = 0.025;   // the doped core of multimode differs from the glass by more
constexpr double hintOfMultimode = 0.012;  // what a core of nearly the right shape would still show
constexpr double leastGain = 8;            // cells that only a core explains
constexpr double darkest = -0.2;           // most cores are brighter: what is not is dirt, unless it is as round and as even as a core
constexpr double blackestCore = -0.42;     // no core is so dark
constexpr double discUm = 1, aroundDiscUm = 4, unevenDisc = 0.3, allOfDisc = 0.94;  // of the core's strength; of the cells there
constexpr double unevenUsual = 0.02;                                                // what light that was divided out leaves at the rim
constexpr double shapeMiss = 0.05;                                                  // of a core's strength: no core has just the shape of the model
constexpr double allRound = 0.6;                                                    // share of the directions in which a core must show
constexpr double bothMayBe = 1.15;  // times the cells that one kind leaves unexplained: the other may be it as well
constexpr double leastSpread = 0.004, tukey = 4.685;
constexpr double nearUm = 12, edgeUm = 1.5;  // about a small core; how soft a core's edge may be
constexpr int absolutePasses = 5, passes = 8;
constexpr Eigen::Index leastCells = 100;

/// A core's level about its middle, 1 there and 0 outside.
double shapeAt(const CoreShape& shape, double r)
{
    const double part = r / shape.radius;
    if (shape.modeField) return std::exp(-2 * part * part);
    if (shape.exponent == 0) return 0.5 * std::erfc((r - shape.radius) / (blurUm * 1.4142));
    return part < 1 ? std::pow(1 - part * part, shape.exponent) : 0;
}

/// A core of one shape on uneven glass, fitted to the cells so that dirt does not bend it.
struct Fit {
    std::optional<CoreKind> kind;
    CoreShape shape;
    double glass = 1, uneven = 0, core = 0;
    double spread = 0;  ///< of the cells about it, in levels of a single pixel
    Eigen::ArrayXd miss{};

    [[nodiscard]] double strength() const { return core / glass; }
};

class Fitter {
public:
    explicit Fitter(const RingCells& cells) : cells_(cells), root_(cells.weight.sqrt()), bend_((cells.r / RingCells::reachUm).square() * unevenUsual)
    {
        while (near_ < cells.size() && cells.r[near_] < nearUm) ++near_;
    }

    [[nodiscard]] Fit operator()(std::optional<CoreKind> kind, const CoreShape& shape) const
    {
        Fit f;
        f.kind = kind;
        f.shape = shape;
        const Eigen::ArrayXd g = kind ? shapeOver(shape) : Eigen::ArrayXd::Zero(cells_.size()), y = cells_.level - 1;
        Eigen::ArrayXd weight = cells_.weight;
        Eigen::ArrayXd share;  // of how far a cell may lie off, before it is no more believed
        for (int pass = 0; pass < passes; ++pass) {
            // least absolute residuals first, which no start can mislead, then the biweight
            if (pass >= absolutePasses)
                weight = cells_.weight * (1 - share).max(0).square();
            else if (pass > 0)
                weight = root_ / f.miss.abs().max(0.002);
            Eigen::Matrix3d m;
            const double wb = (weight * bend_).sum(), wg = (weight * g).sum(), wbg = (weight * bend_ * g).sum();
            m << weight.sum() + 1e-9, wb, wg, wb, (weight * bend_ * bend_).sum() + 1e-3, wbg, wg, wbg, (weight * g * g).sum() + 1e-6;
            const Eigen::Vector3d v((weight * y).sum(), (weight * bend_ * y).sum(), (weight * g * y).sum());
            const Eigen::Vector3d x = m.ldlt().solve(v);
            f.glass = 1 + x[0], f.uneven = x[1], f.core = x[2];
            f.miss = y - x[0] - x[1] * bend_ - x[2] * g;
            if (pass + 1 >= absolutePasses) {
                f.spread = spreadOf(f);
                share = shares(f, f.spread);
            }
        }
        return f;
    }

    /// A small core on glass that is known: exactly the least absolute residuals (a weighted median), then the biweight, of the cells near it.
    [[nodiscard]] Fit small(const CoreShape& shape, const Fit& glassOnly) const
    {
        Fit f = glassOnly;
        f.kind = CoreKind::SingleMode;
        f.shape = shape;
        const Eigen::ArrayXd g = shapeOver(shape), gNear = g.head(near_), missed = glassOnly.miss.head(near_);
        std::vector<std::pair<double, double>> ratios;  // the core that each cell speaks for, and how loudly
        double all = 0;
        for (Eigen::Index i = 0; i < near_; ++i)
            if (g[i] > 0.05) {
                ratios.emplace_back(missed[i] / g[i], root_[i] * g[i]);
                all += ratios.back().second;
            }
        std::sort(ratios.begin(), ratios.end());
        double sum = 0;
        for (const auto& [ratio, loudness] : ratios)
            if ((sum += loudness) >= all / 2) {
                f.core = ratio;
                break;
            }
        for (int pass = absolutePasses; pass < passes; ++pass) {
            f.miss = missed - f.core * gNear;
            const Eigen::ArrayXd weight = cells_.weight.head(near_) * (1 - shares(f, f.spread)).max(0).square();
            f.core = (weight * gNear * missed).sum() / ((weight * gNear * gNear).sum() + 1e-6);
        }
        f.miss = glassOnly.miss - f.core * g;
        return f;
    }

    /// Adds multimode cores of both kinds, with several forms of profile and radii: all of them where both kinds explain the glass about as well,
    /// else those about the one of each kind that explains most. `none`: glass without any.
    void addMultimode(const Fit& none, std::vector<Fit>& fits) const
    {
        const double spread = none.spread;
        Search fifty{*this, spread, CoreKind::Multimode50, 25, 1.5, fits}, sixty{*this, spread, CoreKind::Multimode62, 31.25, 1.7, fits};
        for (Search* search : {&fifty, &sixty}) search->nearTheBest();
        const auto [better, worse] = std::minmax(fifty.least, sixty.least);
        if (worse < bothMayBe * better + leastGain && better + leastGain < unexplained(none, spread))
            for (Search* search : {&fifty, &sixty}) search->everywhere();
    }

    /// How many cells the fit does not explain, where explained ones lie about it by `spread`.
    [[nodiscard]] double unexplained(const Fit& f, double spread) const { return (1 - (1 - shares(f, spread)).max(0).cube()).sum(); }

    /// Whether the core shows in most directions: what covers a part of the glass is none.
    [[nodiscard]] bool showsAllRound(const Fit& f) const
    {
        std::array<std::vector<double>, RingCells::sectors> shares;
        for (Eigen::Index i = 0; i < cells_.size(); ++i)
            if (const double r = cells_.r[i]; r > 0.3 * f.shape.radius && r < 0.9 * f.shape.radius)
                shares[static_cast<std::size_t>(cells_.sector[static_cast<std::size_t>(i)])].push_back(f.miss[i] / (f.core * shapeAt(f.shape, r)) +
                                                                                                       1);
        int shown = 0;
        for (auto& s : shares) shown += !s.empty() && medianOf(std::span(s)) > 0.5;
        return shown > allRound * RingCells::sectors;
    }

    /// Whether all within is as dark as the rest of it, and all around it is clean: dirt is neither so even nor so round, nor just in the middle.
    [[nodiscard]] bool evenAndRound(const Fit& f) const
    {
        int inside = 0, even = 0, around = 0, clean = 0;
        for (Eigen::Index i = 0; i < near_; ++i) {
            const double r = cells_.r[i], share = f.miss[i] / std::abs(f.core) * std::sqrt(cells_.weight[i] / RingCells::mostPixels);
            if (r < f.shape.radius - discUm) {
                ++inside;
                even += std::abs(share) < unevenDisc ? 1 : 0;
            } else if (r > f.shape.radius + discUm && r < f.shape.radius + aroundDiscUm) {
                ++around;
                clean += std::abs(share) < unevenDisc ? 1 : 0;
            }
        }
        return inside > 0 && even >= allOfDisc * inside && clean >= allOfDisc * around;
    }

private:
    /// Fits of one multimode kind by their form of profile and their radius.
    struct Search {
        static constexpr std::array exponents{0.0, 0.3, 0.6, 1.0}, parts{0.0, -1.0, -0.5, 0.5, 1.0};  // of the tolerance of the radius

        const Fitter& fit;
        double spread;
        CoreKind kind;
        double radius, tolerance;
        std::vector<Fit>& fits;
        std::array<std::array<bool, parts.size()>, exponents.size()> tried{};
        std::size_t form = 0, part = 0;                     ///< of the one that explains most
        double least = std::numeric_limits<double>::max();  ///< cells that it leaves unexplained

        void look(std::size_t e, std::size_t p)
        {
            if (std::exchange(tried[e][p], true)) return;
            fits.push_back(fit(kind, {radius + parts[p] * tolerance, exponents[e]}));
            if (const double left = fit.unexplained(fits.back(), spread); left < least) least = left, form = e, part = p;
        }
        void nearTheBest()
        {
            for (std::size_t e = 0; e < exponents.size(); ++e) look(e, 0);
            const std::size_t first = form;
            for (std::size_t p = 0; p < parts.size(); ++p) look(first, p);
            const std::size_t second = form, there = part;
            if (second > 0) look(second - 1, there);
            if (second + 1 < exponents.size()) look(second + 1, there);
        }
        void everywhere()
        {
            for (std::size_t e = 0; e < exponents.size(); ++e)
                for (std::size_t p = 0; p < parts.size(); ++p) look(e, p);
        }
    };

    [[nodiscard]] Eigen::ArrayXd shapeOver(const CoreShape& shape) const
    {
        constexpr int perUm = 4;
        std::array<double, static_cast<std::size_t>(RingCells::reachUm) * perUm + 1> levels{};
        for (std::size_t i = 0; i < levels.size(); ++i) levels[i] = shapeAt(shape, (double(i) + 0.5) / perUm);
        return cells_.r.unaryExpr([&](double r) { return levels[static_cast<std::size_t>(r * perUm)]; });
    }
    /// Square of how far each cell lies off, of as many as the fit has been compared with, in parts of what its noise and, within the core, the
    /// model's shape let it.
    [[nodiscard]] Eigen::ArrayXd shares(const Fit& f, double spread) const
    {
        const double noise = std::max(spread, leastSpread), shape = shapeMiss * f.core;
        const Eigen::Index n = f.miss.size();
        const Eigen::ArrayXd within = (cells_.r.head(n) < f.shape.radius + edgeUm).cast<double>();
        return f.miss.square() / (tukey * tukey * (noise * noise / cells_.weight.head(n) + shape * shape * within));
    }
    [[nodiscard]] double spreadOf(const Fit& f) const
    {
        const Eigen::ArrayXd sizes = f.miss.abs() * root_;
        std::vector<double> sorted(sizes.begin(), sizes.end());
        return 1.48 * medianOf(std::span(sorted));
    }

    const RingCells& cells_;
    Eigen::ArrayXd root_, bend_;
    Eigen::Index near_ = 0;  ///< cells about a small core: the first ones
};

}  // namespace

Micrometre nominalDiameter(CoreKind kind) { return Micrometre(kind == CoreKind::SingleMode ? 9 : kind == CoreKind::Multimode50 ? 50 : 62.5); }

double CoreEstimate::level(double um) const { return glass * (1 + strength * shapeAt(shape, um)); }

CoreEstimate estimateCore(const cv::Mat1f& even, cv::Point2d centre, double ppu)
{
    const RingCells cells(even, centre, ppu);
    if (cells.size() < leastCells) return {};
    const Fitter fit(cells);
    const Fit none = fit(std::nullopt, {});
    std::vector<Fit> fits;
    for (double radius = 3.7; radius < 5.4; radius += 0.2) fits.push_back(fit.small({radius}, none));
    for (const double radius : {4.4, 5.0, 5.6}) fits.push_back(fit.small({radius, 0, true}, none));
    const auto hints = [&](double radius) { return std::abs(fit(CoreKind::Multimode50, {radius, 0.3}).strength()) > hintOfMultimode; };
    if (hints(25) || hints(31.25)) fit.addMultimode(none, fits);
    double spread = none.spread;
    for (const Fit& f : fits) spread = std::min(spread, f.spread);
    const Fit* best = &fits.front();
    double least = std::numeric_limits<double>::max();
    for (const Fit& f : fits) {
        if (f.shape.modeField && f.core < 0) continue;  // light only makes brighter
        if (f.kind != CoreKind::SingleMode && (std::abs(f.strength()) < leastMultimode || !fit.showsAllRound(f))) continue;
        if (const double cost = fit.unexplained(f, spread); cost < least) least = cost, best = &f;
    }
    CoreEstimate out{best->kind, false, best->shape, best->strength(), best->glass};
    const bool shows = fit.unexplained(none, spread) - least > leastGain && std::abs(out.strength) > leastStrength;
    const bool dirt = out.strength < blackestCore ||
                      (out.strength < darkest && !(best->kind == CoreKind::SingleMode && !best->shape.modeField && fit.evenAndRound(*best)));
    if (!shows || dirt) {
        out.kind.reset();
        if (dirt) out.strength = 0;
        out.inferred = best->kind == CoreKind::SingleMode;
    }
    return out;
}

}  // namespace clendo::face
