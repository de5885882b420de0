#include "face/even/core_kind.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <limits>
#include <span>
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
constexpr double blackestCore = -0.5;      // no core is so dark
constexpr double discUm = 1, aroundDiscUm = 4, unevenDisc = 0.3, allOfDisc = 0.94;  // of the core's strength; of the cells there
constexpr double mostOfMultimode = 0.8;                                             // of the cells: there is room for dirt on it and beside it
constexpr double unevenUsual = 0.02;                                                // what light that was divided out leaves at the rim
constexpr double shapeMiss = 0.05;                                                  // of a core's strength: no core has just the shape of the model
constexpr double allRound = 0.6;                                                    // share of the directions in which a core must show
constexpr double bothMayBe = 1.15;  // times the cells that one kind leaves unexplained: the other may be it as well
constexpr double leastSpread = 0.004, tukey = 4.685;
constexpr float nearUm = 12, edgeUm = 1.5F;  // about a small core; how soft a core's edge may be
constexpr int absolutePasses = 5, passes = 8, passesToComeNear = 3;
constexpr double asWell = 1.1;    // times the cells that a core may leave unexplained in another frame
constexpr double farWorse = 1.5;  // times the cells that the other kind leaves unexplained: no other radius makes up for it
constexpr Eigen::Index leastCells = 100;
using Cells = Eigen::ArrayXf;  // a value each: means of grey levels tell no more than a float does

float single(double v) { return static_cast<float>(v); }

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
    Cells miss{};

    [[nodiscard]] double strength() const { return core / glass; }
};

class Fitter {
public:
    explicit Fitter(const RingCells& cells)
        : cells_(cells), root_(cells.weight.sqrt()), bend_((cells.r / single(RingCells::reachUm)).square() * single(unevenUsual))
    {
        while (near_ < cells.size() && cells.r[near_] < nearUm) ++near_;
    }

    /// `near`: a fit of a shape that is much the same, from which this one starts.
    [[nodiscard]] Fit operator()(std::optional<CoreKind> kind, const CoreShape& shape, const Fit* near = nullptr) const
    {
        Fit f;
        f.kind = kind;
        if (near) f.miss = near->miss;
        f.shape = shape;
        const Cells g = kind ? shapeOver(shape) : Cells::Zero(cells_.size()), y = cells_.level - 1;
        Cells weight = cells_.weight;
        Cells share;  // of how far a cell may lie off, before it is no more believed
        for (int pass = near ? passesToComeNear : 0; pass < passes; ++pass) {
            // least absolute residuals first, which no start can mislead, then the biweight
            if (pass >= absolutePasses)
                weight = cells_.weight * (1 - share).max(0).square();
            else if (pass > 0)
                weight = root_ / f.miss.abs().max(0.002F);
            Eigen::Matrix3d m;
            const Cells bent = weight * bend_, shaped = weight * g;
            const double wb = double(bent.sum()), wg = double(shaped.sum()), wbg = double((bent * g).sum());
            m << double(weight.sum()) + 1e-9, wb, wg, wb, double((bent * bend_).sum()) + 1e-3, wbg, wg, wbg, double((shaped * g).sum()) + 1e-6;
            const Eigen::Vector3d v(double((weight * y).sum()), double((bent * y).sum()), double((shaped * y).sum()));
            const Eigen::Vector3d x = m.ldlt().solve(v);
            f.glass = 1 + x[0], f.uneven = x[1], f.core = x[2];
            f.miss = y - single(x[0]) - single(x[1]) * bend_ - single(x[2]) * g;
            if (pass + 1 >= absolutePasses) f.spread = spreadOf(f);
            if (pass + 1 >= absolutePasses && pass + 1 < passes) share = shares(f, f.spread);
        }
        return f;
    }

    /// A small core on glass that is known: exactly the least absolute residuals (a weighted median), then the biweight, of the cells near it.
    [[nodiscard]] Fit small(const CoreShape& shape, const Fit& glassOnly) const
    {
        Fit f = glassOnly;
        f.kind = CoreKind::SingleMode;
        f.shape = shape;
        const Cells g = shapeOver(shape), gNear = g.head(near_), missed = glassOnly.miss.head(near_);
        std::vector<std::pair<double, double>> ratios;  // the core that each cell speaks for, and how loudly
        double all = 0;
        for (Eigen::Index i = 0; i < near_; ++i)
            if (g[i] > 0.05F) {
                ratios.emplace_back(double(missed[i] / g[i]), double(root_[i] * g[i]));
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
            f.miss = missed - single(f.core) * gNear;
            const Cells weighed = cells_.weight.head(near_) * (1 - shares(f, f.spread)).max(0).square() * gNear;
            f.core = double((weighed * missed).sum()) / (double((weighed * gNear).sum()) + 1e-6);
        }
        f.miss = glassOnly.miss - single(f.core) * g;
        return f;
    }

    /// Multimode cores of both kinds, with several forms of profile and radii: all of them where both kinds explain the glass about as well, else
    /// those about the one of each kind that explains most; none where none of about such a size shows. `none`: glass without any.
    [[nodiscard]] std::vector<Fit> multimode(const Fit& none) const
    {
        std::vector<Fit> fits;
        Search fifty{*this, none.spread, CoreKind::Multimode50, 25, 1.5, fits}, sixty{*this, none.spread, CoreKind::Multimode62, 31.25, 1.7, fits};
        const std::array both{&fifty, &sixty};
        for (Search* search : both) search->look(Search::usualForm, 0);
        if (std::none_of(fits.begin(), fits.end(), [](const Fit& f) { return std::abs(f.strength()) > hintOfMultimode; })) return {};
        for (Search* search : both) search->formsOfUsualSize();
        const double better = std::min(fifty.least, sixty.least);
        for (Search* search : both)
            if (search->least < farWorse * (better + leastGain)) search->nearTheBest();
        const auto [least, other] = std::minmax({fifty.least, sixty.least});
        if (other < bothMayBe * least + leastGain && least + leastGain < unexplained(none, none.spread))
            for (Search* search : both) search->everywhere();
        return fits;
    }

    /// The core that is expected, where it shows and explains about as much of the glass as it did.
    [[nodiscard]] std::vector<Fit> asExpected(const Fit& none, const CoreEstimate* expected) const
    {
        if (!expected || !expected->kind) return {};
        const bool single = expected->kind == CoreKind::SingleMode;
        std::vector<Fit> fits{single ? small(expected->shape, none) : (*this)(expected->kind, expected->shape)};
        const Fit& same = fits.front();
        const double left = shareUnexplained(same, none), explains = unexplained(none, none.spread) - left * double(cells_.size());
        const bool as =
            same.core * expected->strength > 0 && explains > leastGain && left < asWell * expected->unexplained + leastGain / double(cells_.size());
        return as ? fits : std::vector<Fit>();
    }

    [[nodiscard]] double shareUnexplained(const Fit& f, const Fit& none) const { return unexplained(f, none.spread) / double(cells_.size()); }

    /// How many cells the fit does not explain, where explained ones lie about it by `spread`.
    [[nodiscard]] double unexplained(const Fit& f, double spread) const { return double((1 - (1 - shares(f, spread)).max(0).cube()).sum()); }

    /// Whether the core shows in most directions: what covers a part of the glass is none.
    [[nodiscard]] bool showsAllRound(const Fit& f) const
    {
        std::array<std::vector<double>, RingCells::sectors> shares;
        for (Eigen::Index i = 0; i < cells_.size(); ++i)
            if (const auto r = double(cells_.r[i]); r > 0.3 * f.shape.radius && r < 0.9 * f.shape.radius)
                shares[static_cast<std::size_t>(cells_.sector[static_cast<std::size_t>(i)])].push_back(
                    double(f.miss[i]) / (f.core * shapeAt(f.shape, r)) + 1);
        int shown = 0;
        for (auto& s : shares) shown += !s.empty() && medianOf(std::span(s)) > 0.5;
        return shown > allRound * RingCells::sectors;
    }

    /// Whether all within is as dark as the rest of it, and all around it is clean: dirt is neither so even nor so round, nor just in the middle.
    [[nodiscard]] bool evenAndRound(const Fit& f) const
    {
        int inside = 0, even = 0, around = 0, clean = 0;
        for (Eigen::Index i = 0; i < cells_.size() && double(cells_.r[i]) < f.shape.radius + aroundDiscUm; ++i) {
            const auto r = double(cells_.r[i]),
                       share = double(f.miss[i]) / std::abs(f.core) * std::sqrt(double(cells_.weight[i] / RingCells::mostPixels));
            if (r < f.shape.radius - discUm) {
                ++inside;
                even += std::abs(share) < unevenDisc ? 1 : 0;
            } else if (r > f.shape.radius + discUm) {
                ++around;
                clean += std::abs(share) < unevenDisc ? 1 : 0;
            }
        }
        const double share = f.kind == CoreKind::SingleMode ? allOfDisc : mostOfMultimode;
        return inside > 0 && even >= share * inside && clean >= share * around;
    }

private:
    /// Fits of one multimode kind by their form of profile and their radius.
    struct Search {
        static constexpr std::array exponents{0.0, 0.3, 0.6, 1.0}, parts{0.0, -1.0, -0.5, 0.5, 1.0};  // of the tolerance of the radius
        static constexpr std::size_t usualForm = 1;

        const Fitter& fit;
        double spread;
        CoreKind kind;
        double radius, tolerance;
        std::vector<Fit>& fits;
        std::array<std::array<bool, parts.size()>, exponents.size()> tried{};
        std::size_t form = 0, part = 0;                     ///< of the one that explains most
        std::optional<std::size_t> best{};                  ///< of the fits, that one
        double least = std::numeric_limits<double>::max();  ///< cells that it leaves unexplained

        void look(std::size_t e, std::size_t p)
        {
            if (std::exchange(tried[e][p], true)) return;
            fits.push_back(fit(kind, {radius + parts[p] * tolerance, exponents[e]}, best ? &fits[*best] : nullptr));
            if (const double left = fit.unexplained(fits.back(), spread); left < least) {
                least = left, form = e, part = p;
                best = fits.size() - 1;
            }
        }
        void formsOfUsualSize()
        {
            for (std::size_t e = 0; e < exponents.size(); ++e) look(e, 0);
        }
        void nearTheBest()
        {
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

    [[nodiscard]] Cells shapeOver(const CoreShape& shape) const
    {
        constexpr int perUm = 4;
        std::array<float, static_cast<std::size_t>(RingCells::reachUm) * perUm + 1> levels{};
        for (std::size_t i = 0; i < levels.size(); ++i) levels[i] = single(shapeAt(shape, (double(i) + 0.5) / perUm));
        return cells_.r.unaryExpr([&](float r) { return levels[static_cast<std::size_t>(r * perUm)]; });
    }
    /// Square of how far each cell lies off, of as many as the fit has been compared with, in parts of what its noise and, within the core, the
    /// model's shape let it.
    [[nodiscard]] Cells shares(const Fit& f, double spread) const
    {
        const double noise = std::max(spread, leastSpread), shape = shapeMiss * f.core;
        const auto noise2 = single(tukey * tukey * noise * noise), shape2 = single(tukey * tukey * shape * shape);
        const Eigen::Index n = f.miss.size();
        const auto within = (cells_.r.head(n) < single(f.shape.radius) + edgeUm).cast<float>();
        return f.miss.square() / (noise2 / cells_.weight.head(n) + shape2 * within);
    }
    [[nodiscard]] double spreadOf(const Fit& f) const
    {
        Cells sizes = f.miss.abs() * root_;
        return 1.48 * double(medianOf(std::span(sizes.data(), static_cast<std::size_t>(sizes.size()))));
    }

    const RingCells& cells_;
    Cells root_, bend_;
    Eigen::Index near_ = 0;  ///< cells about a small core: the first ones
};

}  // namespace

Micrometre nominalDiameter(CoreKind kind) { return Micrometre(kind == CoreKind::SingleMode ? 9 : kind == CoreKind::Multimode50 ? 50 : 62.5); }

double CoreEstimate::level(double um) const { return glass * (1 + strength * shapeAt(shape, um)); }

CoreEstimate estimateCore(const cv::Mat1f& even, cv::Point2d centre, double ppu, const CoreEstimate* expected)
{
    const RingCells cells(even, centre, ppu);
    if (cells.size() < leastCells) return {};
    const Fitter fit(cells);
    const Fit none = fit(std::nullopt, {});
    std::vector<Fit> fits = fit.asExpected(none, expected);
    if (fits.empty()) {
        for (double radius = 3.7; radius < 5.4; radius += 0.2) fits.push_back(fit.small({radius}, none));
        for (const double radius : {4.4, 5.0, 5.6}) fits.push_back(fit.small({radius, 0, true}, none));
        auto multimode = fit.multimode(none);
        std::move(multimode.begin(), multimode.end(), std::back_inserter(fits));
    }
    double spread = none.spread;
    for (const Fit& f : fits) spread = std::min(spread, f.spread);
    const Fit* best = &fits.front();
    double least = std::numeric_limits<double>::max();
    for (const Fit& f : fits) {
        if (f.shape.modeField && f.core < 0) continue;  // light only makes brighter
        if (f.kind != CoreKind::SingleMode && (std::abs(f.strength()) < leastMultimode || !fit.showsAllRound(f))) continue;
        if (const double cost = fit.unexplained(f, spread); cost < least) least = cost, best = &f;
    }
    CoreEstimate out{best->kind, false, best->shape, best->strength(), best->glass, fit.shareUnexplained(*best, none)};
    const bool shows = fit.unexplained(none, spread) - least > leastGain && std::abs(out.strength) > leastStrength;
    const bool dirt = out.strength < blackestCore || (out.strength < darkest && (best->shape.modeField || !fit.evenAndRound(*best)));
    if (!shows || dirt) {
        out.kind.reset();
        if (dirt) out.strength = 0;
        out.inferred = best->kind == CoreKind::SingleMode;
    }
    return out;
}

}  // namespace clendo::face
