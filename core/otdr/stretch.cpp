#include "otdr/stretch.h"

#include <algorithm>
#include <cmath>

namespace clendo::otdr {
namespace {

constexpr std::size_t blocksEach = 48;       // between two steps
constexpr std::size_t blocksUnderTail = 96;  // where a tail has to be told from the fibre
constexpr double slopeChange = 0.05;         // share by which the slope of fibres that are joined differs, one sigma

/// By how many dB a tail stands over the fibre behind a reflection, one sigma: what receivers leave of its power, fast and slow.
double tailAtMost(double height, bool slow)
{
    constexpr double fastShare = 0.05, slowShare = 2e-3, perShare = 2.17;
    return std::clamp(perShare * std::pow(10, height / 5) * (slow ? slowShare : fastShare), 0.003, 1.0);
}

struct Block {
    double z = 0, level = 0, weight = 0;
    Eigen::Index line = 0;
    bool whole = false;  ///< longer than a pulse: what it scatters is all of its noise
};

/// Blocks of [from, to): alike, or growing from the start where a tail is.
void addBlocks(const Signal& s, std::size_t from, std::size_t to, std::size_t most, bool growing, std::size_t line, std::vector<Block>& out)
{
    if (to <= from) return;
    const std::size_t n = std::min(most, to - from);
    std::size_t begin = from;
    for (std::size_t b = 1; b <= n && begin < to; ++b) {
        const double share = double(b) / double(n);
        const auto end = b == n ? to : std::max(begin + 1, from + static_cast<std::size_t>(double(to - from) * (growing ? share * share : share)));
        // its variance by the light about it: by its own, blocks that happen to be bright would count for more
        constexpr std::size_t about = 24;
        const double p = s.mean(begin, end);
        const double usual = s.mean(begin > from + about ? begin - about : from, std::min(to, end + about));
        const double variance = s.blockVariance(usual, end - begin);
        constexpr double mostNoise = 0.35;  // dB: beyond, the logarithm is biased
        if (p > 0 && variance < mostNoise * mostNoise)
            out.push_back(
                {(s.z(begin) + s.z(end - 1)) / 2, decibels(p), 1 / variance, static_cast<Eigen::Index>(line), end - begin > s.pulseSamples()});
        begin = end;
    }
}

}  // namespace

/// The line that counts at a place. `done`: a step at the place is behind.
Eigen::Index Stretch::segment(double z, bool done) const
{
    std::size_t j = 0;
    while (j < steps_.size() && (done ? z >= steps_[j].at - 1e-6 : z > steps_[j].at)) ++j;
    return static_cast<Eigen::Index>(j);
}

/// Tails (left out), then level and slope of each line.
Eigen::VectorXd Stretch::row(double z, bool done) const
{
    Eigen::VectorXd out = Eigen::VectorXd::Zero(values_.size());
    const Eigen::Index first = static_cast<Eigen::Index>(decays_.size()), j = segment(z, done);
    const auto line = [&](Eigen::Index k, double share) {
        out[first + 2 * k] += share;
        out[first + 2 * k + 1] += share * (z - starts_[static_cast<std::size_t>(k)]);
    };
    const double share = done || j == 0 ? 1 : std::min(1.0, (z - steps_[static_cast<std::size_t>(j - 1)].at) / ramp_);
    line(j, share);
    if (share < 1) line(j - 1, 1 - share);
    return out;
}

double Stretch::levelError(double z) const
{
    const Eigen::VectorXd r = row(z, false);
    return std::sqrt(std::max(0.0, r.dot(covariance_ * r)));
}

double Stretch::tail(double z) const
{
    double out = 0;
    for (std::size_t k = 0; k < decays_.size(); ++k) out += values_[static_cast<Eigen::Index>(k)] * std::exp(-(z - tailFrom_) / decays_[k]);
    return out;
}

double Stretch::slope(double z) const { return values_[static_cast<Eigen::Index>(decays_.size()) + 2 * segment(z, false) + 1]; }

double Stretch::slopeError(double z) const
{
    const auto at = static_cast<Eigen::Index>(decays_.size()) + 2 * segment(z, false) + 1;
    return std::sqrt(std::max(0.0, covariance_(at, at)));
}

void Stretch::endWith(const Step& step, std::size_t to)
{
    const double before = level(step.at), error = std::hypot(levelError(step.at), step.error), steep = slope(step.at),
                 steepError = slopeError(step.at);
    const Eigen::Index n = values_.size();
    values_.conservativeResize(n + 2);
    values_.tail(2) << before - step.loss, steep;
    Eigen::MatrixXd wider = Eigen::MatrixXd::Zero(n + 2, n + 2);
    wider.topLeftCorner(n, n) = covariance_;
    wider(n, n) = error * error;
    wider(n + 1, n + 1) = steepError * steepError;
    covariance_ = std::move(wider);
    steps_.push_back(step);
    starts_.push_back(step.at);
    to_ = to;
}

std::optional<Stretch> Stretch::fit(const Signal& s, std::size_t from, std::size_t to, const std::optional<Peak>& peak,
                                    const std::vector<double>& steps, const SlopePrior& prior)
{
    Stretch out;
    to = std::min(to, s.size());
    if (to <= from + 3) return std::nullopt;
    out.from_ = from;
    out.to_ = to;
    out.starts_.push_back(s.z(from));
    out.ramp_ = s.rampMetres();
    out.tailed_ = peak.has_value();
    for (const double at : steps) {
        out.steps_.push_back({at, 0, 0, 0});
        out.starts_.push_back(at);
    }
    std::vector<Block> blocks;
    std::size_t begin = from;
    for (std::size_t j = 0; j <= steps.size(); ++j) {
        const std::size_t end = j < steps.size() ? std::clamp(s.indexOf(steps[j]), begin, to) : to;
        const bool tailed = j == 0 && peak;
        addBlocks(s, begin, end, tailed ? blocksUnderTail : blocksEach, tailed, j, blocks);
        if (j < steps.size()) begin = std::clamp(s.indexOf(steps[j] + out.ramp_) + 1, end, to);
    }
    if (blocks.size() < 3) return std::nullopt;
    if (peak) {
        out.tailFrom_ = s.z(from);
        const double length = s.z(to - 1) - s.z(from);
        for (double decay = std::max(0.5 * s.pulseMetres(), 2 * s.spacing()); decay < length / 3 && out.decays_.size() < 6; decay *= 3.2)
            out.decays_.push_back(decay);
    }
    std::vector<double> huber(blocks.size(), 1);
    const auto lines = static_cast<Eigen::Index>(steps.size() + 1);
    const double slopeSpread = slopeChange * std::abs(prior.slope);
    for (int pass = 0; pass < 9; ++pass) {
        const auto tails = static_cast<Eigen::Index>(out.decays_.size()), n = tails + 2 * lines;
        Eigen::MatrixXd a = Eigen::MatrixXd::Zero(n, n);
        Eigen::VectorXd b = Eigen::VectorXd::Zero(n), shape(tails);
        const auto shapeAt = [&](double z) {
            for (Eigen::Index k = 0; k < tails; ++k) shape[k] = std::exp(-(z - out.tailFrom_) / out.decays_[static_cast<std::size_t>(k)]);
        };
        for (std::size_t i = 0; i < blocks.size(); ++i) {
            const Block& block = blocks[i];
            const double w = block.weight * huber[i], x = block.z - out.starts_[static_cast<std::size_t>(block.line)];
            const Eigen::Index at = tails + 2 * block.line;
            a(at, at) += w;
            a(at, at + 1) += w * x;
            a(at + 1, at + 1) += w * x * x;
            b[at] += w * block.level;
            b[at + 1] += w * x * block.level;
            shapeAt(block.z);
            for (Eigen::Index k = 0; k < tails; ++k) {
                for (Eigen::Index l = k; l < tails; ++l) a(k, l) += w * shape[k] * shape[l];
                a(k, at) += w * shape[k];
                a(k, at + 1) += w * shape[k] * x;
                b[k] += w * shape[k] * block.level;
            }
        }
        for (Eigen::Index k = 0; k < tails; ++k) {
            const double sigma = tailAtMost(peak->height, out.decays_[static_cast<std::size_t>(k)] > 1.5 * s.pulseMetres());
            a(k, k) += 1 / (sigma * sigma);
        }
        // the first slope is known beforehand; each next one is like the one before
        const double known = 1 / (prior.sigma * prior.sigma), alike = 1 / (slopeSpread * slopeSpread);
        a(tails + 1, tails + 1) += known;
        b[tails + 1] += known * prior.slope;
        for (Eigen::Index j = 1; j < lines; ++j) {
            const Eigen::Index at = tails + 2 * j + 1;
            a(at, at) += alike;
            a(at - 2, at - 2) += alike;
            a(at - 2, at) -= alike;
        }
        a.triangularView<Eigen::StrictlyLower>() = a.transpose();
        constexpr double barelyKnown = 1e-4;  // a line without a block is not known
        for (Eigen::Index j = 0; j < lines; ++j) a(tails + 2 * j, tails + 2 * j) += barelyKnown;
        const Eigen::LLT<Eigen::MatrixXd> solver(a);
        out.values_ = solver.solve(b);
        out.covariance_ = solver.solve(Eigen::MatrixXd::Identity(n, n));
        // a tail only adds light, and what cannot be told from nothing is none; they are alike, so one goes at a time
        Eigen::Index least = -1;
        double leastSigmas = 1;
        for (Eigen::Index k = 0; k < tails; ++k)
            if (const double sigmas = out.values_[k] / std::sqrt(out.covariance_(k, k)); sigmas < leastSigmas) {
                leastSigmas = sigmas;
                least = k;
            }
        std::vector<double> residuals;
        for (std::size_t i = 0; i < blocks.size(); ++i) {
            const Block& block = blocks[i];
            const Eigen::Index at = tails + 2 * block.line;
            shapeAt(block.z);
            const double line = out.values_[at] + out.values_[at + 1] * (block.z - out.starts_[static_cast<std::size_t>(block.line)]);
            const double r = std::abs(block.level - line - shape.dot(out.values_.head(tails))) * std::sqrt(block.weight);
            if (block.whole) residuals.push_back(r);
            constexpr double usual = 3;
            huber[i] = std::min(1.0, usual / std::max(r, 1e-9));
        }
        constexpr std::size_t enough = 10;
        out.scatter_ = 1;
        if (residuals.size() >= enough) {
            const auto middle = residuals.begin() + static_cast<std::ptrdiff_t>(residuals.size() / 2);
            std::nth_element(residuals.begin(), middle, residuals.end());
            out.scatter_ = std::max(1.0, *middle / 0.6745);
        }
        if (least < 0 && pass >= 1) break;
        if (least >= 0) out.decays_.erase(out.decays_.begin() + least);
    }
    if (!out.values_.allFinite()) return std::nullopt;
    out.covariance_ *= out.scatter_ * out.scatter_;
    for (auto& step : out.steps_) {
        const Eigen::VectorXd difference = out.row(step.at, false) - out.row(step.at, true);
        step.loss = difference.dot(out.values_);
        step.error = std::sqrt(std::max(0.0, difference.dot(out.covariance_ * difference)));
    }
    return out;
}

}  // namespace clendo::otdr
