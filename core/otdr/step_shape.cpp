#include "otdr/step_shape.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace clendo::otdr {
namespace {

/// Least squares of one step's shape at all places about it: level, ramp, and the light that a faint reflection adds while the pulse passes it.
class Shape {
public:
    struct Found {
        double at = 0, chi = -1;
        double bump = 0, bumpError = 0;  ///< dB over the line before
    };
    Shape(const Signal& s, const Stretch& stretch, std::size_t j) : ramp_(s.pulseMetres()), rise_(std::max(0.15 * s.pulseMetres(), s.spacing()))
    {
        const auto& steps = stretch.steps();
        const double at = steps[j].at, reach = 8 * ramp_ + 12 * s.spacing();
        const double low = std::max(j > 0 ? steps[j - 1].at + s.rampMetres() : s.z(stretch.from()), at - reach);
        const double high = std::min(j + 1 < steps.size() ? steps[j + 1].at : s.z(stretch.to() - 1), at + s.rampMetres() + reach);
        const std::size_t block = std::max<std::size_t>(1, s.pulseSamples() / 10), last = s.indexOf(high);
        const double slope = stretch.slope(at + 1e-6);
        for (std::size_t i = s.indexOf(low); i + block <= last + 1; i += block) {
            const double p = s.mean(i, i + block), z = (s.z(i) + s.z(i + block - 1)) / 2;
            if (p > 0) points_.push_back({z, decibels(p) - slope * (z - at) - stretch.tail(z), 1 / s.blockVariance(p, block)});
        }
        low_ = low;
        high_ = high;
        loss_ = std::clamp(steps[j].loss, -5.0, 20.0);
    }
    [[nodiscard]] Found best(double at, double by, bool bump) const
    {
        Found best;
        const double from = std::max(low_, at - 1.6 * ramp_ - 2 * rise_), to = std::min(high_ - 0.2 * ramp_, at + 1.2 * ramp_ + 2 * rise_);
        for (double z0 = from; z0 <= to; z0 += by)
            if (const Found here = fit(z0, bump); here.chi >= 0 && (best.chi < 0 || here.chi < best.chi)) best = here;
        return best;
    }
    [[nodiscard]] bool enough() const { return points_.size() >= 8; }

private:
    struct Point {
        double z, y, w;
    };
    /// Of a step whose light falls evenly while the pulse passes; in dB that is no straight line.
    [[nodiscard]] double ramp(double t) const
    {
        const double share = std::clamp(t, 0.0, 1.0);
        if (std::abs(loss_) < 0.3) return share;
        return 5 * std::log10(1 - share + share * std::pow(10, -loss_ / 5)) / -loss_;
    }
    [[nodiscard]] Found fit(double z0, bool bump) const
    {
        const int n = bump ? 3 : 2;
        Eigen::Matrix3d a = Eigen::Matrix3d::Zero();
        Eigen::Vector3d b = Eigen::Vector3d::Zero();
        double yy = 0;
        for (const auto& point : points_) {
            const double t = (point.z - z0) / ramp_;
            const Eigen::Vector3d r(1, -ramp(t),
                                    bump ? std::clamp((point.z - z0) / rise_, 0.0, 1.0) - std::clamp((point.z - z0 - ramp_) / rise_, 0.0, 1.0) : 0);
            a += point.w * r * r.transpose();
            b += point.w * point.y * r;
            yy += point.w * point.y * point.y;
        }
        Found out;
        out.at = z0;
        const Eigen::LDLT<Eigen::MatrixXd> solver(a.topLeftCorner(n, n));
        const Eigen::VectorXd x = solver.solve(b.head(n));
        if (!x.allFinite() || std::abs(a.topLeftCorner(n, n).determinant()) < 1e-9) return out;
        out.chi = std::max(0.0, yy - x.dot(b.head(n)));
        if (bump) {
            out.bump = x[2];
            out.bumpError = std::sqrt(std::max(0.0, solver.solve(Eigen::MatrixXd::Identity(n, n))(2, 2)));
        }
        return out;
    }

    double ramp_, rise_, low_ = 0, high_ = 0, loss_ = 0;
    std::vector<Point> points_;
};

}  // namespace

Step refined(const Signal& s, const Stretch& stretch, std::size_t j)
{
    Step out = stretch.steps()[j];
    out.bump = 0;
    const Shape shape(s, stretch, j);
    if (!shape.enough()) return out;
    const double by = std::max(s.pulseMetres() / 30, s.spacing() / 6);
    const auto plain = shape.best(out.at, by, false), raised = shape.best(out.at, by, true);
    if (plain.chi < 0) return out;
    constexpr double clearly = 25;  // of chi square
    if (raised.chi >= 0 && plain.chi - raised.chi > clearly && raised.bump > 5 * raised.bumpError && raised.bump > 0.03) {
        out.at = raised.at;
        out.bump = raised.bump;
    } else {
        out.at = plain.at;
    }
    return out;
}

}  // namespace clendo::otdr
