#include "face/core_kind.h"

#include <Eigen/Dense>
#include <array>
#include <cmath>
#include <limits>

namespace clendo::face {
namespace {

struct Template {
    CoreKind kind;
    double radius;
};

constexpr double blurUm = 0.7;  // edges of cores are soft
constexpr double reachUm = 46;
constexpr double stepUm = 0.5;
constexpr double leastStrength = 0.012;
constexpr double leastMultimode = 0.02;  // a graded core differs from the glass by more
constexpr double darkest = -0.2;         // unlit cores differ from the glass by less

double disc(double r, double radius) { return 0.5 * std::erfc((r - radius) / (blurUm * 1.4142)); }
double parabolic(double r, double radius) { return r < radius ? 1 - (r / radius) * (r / radius) : 0; }

struct Fit {
    double error = 0, glass = 0, flat = 0, graded = 0;
};

/// Least squares of the profile on constant + flat disc + graded disc, weighted by the ring's area (to a point).
Fit fit(const RadialProfile& profile, double ppu, double radius, bool withCore)
{
    const int n = static_cast<int>(reachUm / stepUm);
    Eigen::MatrixXd a(n, withCore ? 3 : 1);
    Eigen::VectorXd b(n);
    for (int i = 0; i < n; ++i) {
        const double r = (i + 0.5) * stepUm, weight = std::sqrt(std::min(r, 12.0));
        a(i, 0) = weight;
        if (withCore) {
            a(i, 1) = weight * disc(r, radius);
            a(i, 2) = weight * parabolic(r, radius);
        }
        b[i] = weight * profile.level(r * ppu);
    }
    const Eigen::VectorXd x = a.colPivHouseholderQr().solve(b);
    return {(a * x - b).squaredNorm(), x[0], withCore ? x[1] : 0, withCore ? x[2] : 0};
}

}  // namespace

double CoreEstimate::level(double um) const
{
    return glass * (1 + std::max(darkest, (flat * disc(um, radius) + graded * parabolic(um, radius)) / glass));
}

CoreEstimate estimateCore(const RadialProfile& profile, double ppu)
{
    const Fit none = fit(profile, ppu, 0, false);
    CoreEstimate best;
    double least = std::numeric_limits<double>::max(), multimode = 0;
    for (const auto& [kind, nominal, spread] :
         {std::tuple{CoreKind::SingleMode, 4.5, 0.8}, {CoreKind::Multimode50, 25.0, 1.5}, {CoreKind::Multimode62, 31.25, 1.7}})
        for (const double radius : {nominal - spread, nominal - spread / 2, nominal, nominal + spread / 2, nominal + spread}) {
            const Fit candidate = fit(profile, ppu, radius, true);
            if (kind != CoreKind::SingleMode) multimode = std::max(multimode, std::abs(candidate.flat + candidate.graded));
            if (candidate.error >= least) continue;
            least = candidate.error;
            best = {kind, false, radius, candidate.flat + candidate.graded, candidate.glass, candidate.flat, candidate.graded};
        }
    if (least > 0.5 * none.error || std::abs(best.strength) < leastStrength) {
        best.kind.reset();
        best.inferred = multimode < leastMultimode * best.glass;
    }
    return best;
}

}  // namespace clendo::face
