#include "otdr/step_search.h"

#include <algorithm>
#include <cmath>

#include "otdr/step_shape.h"

namespace clendo::otdr {
namespace {

constexpr double leastStep = 0.006;     // dB; what is smaller than an event is measured too, or its neighbours would have it
constexpr double seenSigmas = 4.3;      // to be looked at: one in 100 traces by chance, at some 500 independent places and five scales
constexpr std::size_t mostSteps = 100;  // of a stretch; more are no fibre, and what they cost grows with the cube
constexpr double keptSigmas = 4.5;      // in the fit of all together

/// Looks along a stretch for the place where the level before and the level behind differ most, over windows of all lengths.
class Scan {
public:
    Scan(const Signal& s, std::size_t from, std::size_t to, const SlopePrior& slope, const Stretch* known)
        : s_(s), from_(from), slope_(slope), block_(std::max<std::size_t>(1, s.pulseSamples() / 6))
    {
        const std::size_t n = (to - from) / block_;
        sums_.assign(n + 1, {});
        for (std::size_t b = 0; b < n; ++b) {
            const std::size_t begin = from + b * block_;
            const double p = s.mean(begin, begin + block_), at = s.z(begin) + s.spacing() * double(block_ - 1) / 2, z = (at - s.z(from)) / kilometre;
            Sums& sum = sums_[b + 1] = sums_[b];
            if (p <= 0) continue;
            const double w = 1 / s.blockVariance(p, block_);
            const double y = decibels(p) - (known ? known->level(at) + known->tail(at) : slope.slope * (at - s.z(from)));
            sum.w += w;
            sum.z += w * z;
            sum.y += w * y;
            sum.zz += w * z * z;
            sum.zy += w * z * y;
        }
        gap_ = std::max<std::size_t>(1, static_cast<std::size_t>(std::ceil(s.rampMetres() / s.spacing() / double(block_))));
        least_ = std::max<std::size_t>(1, std::max<std::size_t>(8, s.pulseSamples() / 2) / block_);
    }

    struct Seen {
        std::size_t at = 0;  ///< block at which the step begins
        double sigmas = 0, size = 0;
    };
    struct Found {
        double at = 0, sigmas = 0;
    };
    /// Within blocks [a, b).
    [[nodiscard]] Seen strongest(std::size_t a, std::size_t b) const
    {
        Seen best;
        if (b < a + 2 * least_ + gap_) return best;
        for (std::size_t window = least_;; window *= 2) {
            const std::size_t stride = std::max<std::size_t>(1, std::min(window / 6, gap_ / 3));
            for (std::size_t i = a + least_; i + gap_ + least_ <= b; i += stride)
                if (const Seen here = at(i, a, b, window); here.sigmas > best.sigmas && std::abs(here.size) >= leastStep) best = here;
            if (window >= b - a) break;
        }
        // the place, by the window that suits it
        return best;
    }
    void split(std::size_t a, std::size_t b, std::vector<Found>& out, int depth) const
    {
        if (depth > 60) return;
        const Seen seen = strongest(a, b);
        if (seen.sigmas < seenSigmas) return;
        out.push_back({s_.z(from_ + seen.at * block_), seen.sigmas});
        split(a, seen.at, out, depth + 1);
        split(std::min(b, seen.at + gap_), b, out, depth + 1);
    }
    [[nodiscard]] std::size_t blocks() const { return sums_.size() - 1; }

private:
    static constexpr double kilometre = 1000;
    /// Of weights, places in km, levels, and their products, up to a block.
    struct Sums {
        double w = 0, z = 0, y = 0, zz = 0, zy = 0;
        Sums operator-(const Sums& o) const { return {w - o.w, z - o.z, y - o.y, zz - o.zz, zy - o.zy}; }
    };
    /// Level before against level behind, with one slope for both sides: as it is known, and as they have it themselves.
    [[nodiscard]] Seen at(std::size_t i, std::size_t a, std::size_t b, std::size_t window) const
    {
        const std::size_t left = i > a + window ? i - window : a, begin = i + gap_, right = std::min(b, begin + window);
        const Sums l = sums_[i] - sums_[left], r = sums_[right] - sums_[begin];
        if (l.w <= 0 || r.w <= 0) return {};
        const double apart = r.z / r.w - l.z / l.w, sigma = slope_.sigma * kilometre;
        const double known = l.zz - l.z * l.z / l.w + r.zz - r.z * r.z / r.w + 1 / (sigma * sigma);
        const double slope = (l.zy - l.z * l.y / l.w + r.zy - r.z * r.y / r.w) / known;
        const double size = l.y / l.w - r.y / r.w + slope * apart;
        return {i, std::abs(size) / std::sqrt(1 / l.w + 1 / r.w + apart * apart / known), size};
    }

    const Signal& s_;
    std::size_t from_;
    SlopePrior slope_;
    std::size_t block_, gap_ = 1, least_ = 1;
    std::vector<Sums> sums_;
};

/// How clearly it stands out. Near a reflection, whose tail has to be told from it, and of two that undo each other more is asked.
std::vector<double> sigmasOf(const Signal& s, const Stretch& stretch)
{
    const auto& steps = stretch.steps();
    std::vector<double> out;
    for (std::size_t j = 0; j < steps.size(); ++j) {
        const double loss = std::abs(steps[j].loss), error = std::max(1e-9, steps[j].error);
        double sigmas = loss < leastStep ? 0 : loss / error;
        if (stretch.tailed()) sigmas -= 2 * std::exp(-(steps[j].at - s.z(stretch.from())) / (10 * s.pulseMetres()));
        const auto undone = [&](std::size_t k) {
            return std::abs(steps[j].loss + steps[k].loss) < 2 * std::hypot(error, steps[k].error) &&
                   std::abs(steps[j].at - steps[k].at) < 12 * s.pulseMetres();
        };
        if ((j > 0 && undone(j - 1)) || (j + 1 < steps.size() && undone(j + 1))) sigmas -= 2;
        out.push_back(sigmas);
    }
    return out;
}

/// Measures all steps together and leaves the weak ones out, those first that are weaker than their neighbours, until each stands out.
std::optional<Stretch> measured(const Signal& s, const Stretch& of, const std::optional<Peak>& peak, std::vector<double>& places,
                                const SlopePrior& prior)
{
    for (;;) {
        auto stretch = Stretch::fit(s, of.from(), of.to(), peak, places, prior);
        if (!stretch || places.empty()) return stretch;
        const auto sigmas = sigmasOf(s, *stretch);
        std::vector<double> kept;
        for (std::size_t j = 0; j < sigmas.size(); ++j) {
            const bool least = (j == 0 || sigmas[j] <= sigmas[j - 1]) && (j + 1 == sigmas.size() || sigmas[j] < sigmas[j + 1]);
            if (sigmas[j] >= keptSigmas || !least) kept.push_back(places[j]);
        }
        if (kept.size() == places.size()) return stretch;
        places = std::move(kept);
    }
}

/// Up, and down again when the pulse has passed: one place that reflects faintly, with the loss of both.
void joinBumps(const Signal& s, const Stretch& stretch, std::vector<double>& places)
{
    const auto& steps = stretch.steps();
    std::vector<double> kept;
    for (std::size_t j = 0; j < steps.size(); ++j) {
        kept.push_back(steps[j].at);
        const bool bump = j + 1 < steps.size() && steps[j].loss < 0 && steps[j + 1].loss > 0 && steps[j + 1].at - steps[j].at < 1.7 * s.rampMetres();
        if (bump) ++j;
    }
    places = std::move(kept);
}

std::optional<Stretch> searched(const Signal& s, std::size_t from, std::size_t to, const std::optional<Peak>& peak, const SlopePrior& prior,
                                int again)
{
    auto stretch = Stretch::fit(s, from, to, peak, {}, prior);
    if (!stretch) return std::nullopt;
    std::vector<double> places;
    // places and stretch stay of each other, also where a fit cannot be made
    const auto remeasure = [&] {
        if (auto next = measured(s, *stretch, peak, places, prior)) {
            stretch = std::move(next);
            return;
        }
        places.clear();
        for (const Step& step : stretch->steps()) places.push_back(step.at);
    };
    for (int pass = 0; pass < 4; ++pass) {
        // first against the usual slope, then in what the fit leaves
        const SlopePrior raw = usualSlope(slopesOf(s, from, to, prior.slope), prior), left{0, 0.3 * prior.sigma};
        const Scan scan(s, from, to, pass == 0 ? raw : left, pass == 0 ? nullptr : &*stretch);
        std::vector<Scan::Found> found;
        scan.split(0, scan.blocks(), found, 0);
        std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.sigmas > b.sigmas; });
        std::vector<double> all = places;
        for (const auto& one : found) {  // one step for each ramp, the clearest first
            if (all.size() >= mostSteps) break;
            if (std::none_of(all.begin(), all.end(), [&](double other) { return std::abs(other - one.at) < 1.1 * s.rampMetres(); }))
                all.push_back(one.at);
        }
        if (pass > 0 && all.size() == places.size()) break;
        std::sort(all.begin(), all.end());
        places = std::move(all);
        remeasure();
        for (std::size_t j = 0; j < places.size(); ++j) places[j] = refined(s, *stretch, j).at;
        std::sort(places.begin(), places.end());
        const auto close = [&](double a, double b) { return b - a < s.rampMetres(); };
        places.erase(std::unique(places.begin(), places.end(), close), places.end());
        remeasure();
    }
    const std::size_t before = places.size();
    joinBumps(s, *stretch, places);
    if (places.size() < before) remeasure();
    // what comes right behind a reflection is the rest of it: the line begins behind that
    if (again > 0 && peak && !stretch->steps().empty() && stretch->steps().front().at - s.z(from) < std::max(2 * s.rampMetres(), 16 * s.spacing())) {
        const std::size_t behind = s.indexOf(stretch->steps().front().at + s.rampMetres()) + 1;
        if (behind + 8 < to) return searched(s, behind, to, peak, prior, again - 1);
    }
    for (std::size_t j = 0; j < places.size(); ++j) stretch->setBump(j, refined(s, *stretch, j).bump);
    return stretch;
}

}  // namespace

std::optional<Stretch> findSteps(const Signal& s, std::size_t from, std::size_t to, const std::optional<Peak>& peak, const SlopePrior& prior)
{
    constexpr int begins = 8;  // so often the line may begin further behind
    return searched(s, from, to, peak, prior, begins);
}

}  // namespace clendo::otdr
