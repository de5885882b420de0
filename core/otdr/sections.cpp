#include "otdr/sections.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>

namespace clendo::otdr {
namespace {

constexpr std::size_t mostBlocks = 240, gridLines = 26;
constexpr double leastLoss = 0.1, leastShare = 0.4;  // dB; of the usual slope
constexpr double byChance = 32;                      // of chi square: what one of all places and lengths gains by chance in a hundred traces
constexpr double eachNumber = 6;                     // of chi square, that a place or a size must gain
constexpr double ownSigmas = 6;                      // a joint within a section is one of its own
constexpr double leastPulses = 2.5;                  // shorter is a step
constexpr double mostLoss = 40;                      // dB: more than an instrument sees is no fibre

class SectionSearch {
public:
    /// On the points [from, to) of it.
    SectionSearch(const Signal& s, const Stretch& stretch, const SlopePrior& usual, std::size_t from, std::size_t to)
        : s_(s), stretch_(stretch), usual_(usual)
    {
        for (std::size_t j = 0; j < stretch.steps().size(); ++j)
            if (const double at = stretch.steps()[j].at; at >= s.z(from) && at < s.z(to - 1)) steps_.push_back(j);
        const std::size_t each = std::max({(to - from) / mostBlocks, s.pulseSamples(), std::size_t(1)});
        blockMetres_ = double(each) * s.spacing();
        for (std::size_t i = from; i + each <= to; i += each) {
            const double p = s.mean(i, i + each), z = (s.z(i) + s.z(i + each - 1)) / 2;
            const double variance = s.blockVariance(p, each);
            constexpr double mostNoise = 0.2;  // dB
            if (p <= 0 || variance > mostNoise * mostNoise) continue;
            z_.push_back(z);
            level_.push_back(decibels(p) - stretch.tail(z));
            weight_.push_back(1 / std::sqrt(variance) / stretch.scatter());
        }
    }

    SectionsFound run()
    {
        SectionsFound out;
        constexpr std::size_t enough = 24, mostSections = 4;
        while (z_.size() >= enough && kept_.size() < mostSections) {
            const auto next = strongest();
            if (!next) break;
            kept_.push_back(*next);
        }
        if (kept_.empty()) return out;
        joinNeighbours();
        const Fit all = fit(kept_, ownSteps(kept_));
        for (std::size_t k = 0; k < kept_.size(); ++k) {
            const auto number = static_cast<Eigen::Index>(2 + k);
            const double length = kept_[k].to - kept_[k].from, excess = -all.values[number];
            Section section;
            const double late = s_.pulseMetres() / 2;  // the middle of the pulse is that much behind its front
            section.from = Metre(kept_[k].from - late);
            section.to = Metre(kept_[k].to - late);
            section.excess = Decibel(excess * length);
            // where it begins and ends is known to some percent of its length
            constexpr double more = 2, ofPlaces = 0.05, leastError = 0.003;
            const double byNoise = more * length * std::sqrt(std::max(0.0, all.covariance(number, number)));
            section.uncertainty = Decibel(std::hypot(byNoise, ofPlaces * section.excess.value(), leastError));
            constexpr double kilometre = 1000;
            section.attenuation = DecibelPerKilometre((excess - all.values[1]) * kilometre);
            out.sections.push_back(section);
        }
        const auto own = ownSteps(kept_);
        for (const std::size_t j : steps_)
            if (std::find(own.begin(), own.end(), j) == own.end()) out.explains.push_back(j);
        return out;
    }

private:
    struct Place {
        double from = 0, to = 0;
    };
    using Steps = std::vector<std::size_t>;
    struct Fit {
        double chi = 0;
        Eigen::VectorXd values;
        Eigen::MatrixXd covariance;
    };

    [[nodiscard]] bool within(std::size_t step, const Place& p) const
    {
        const double z = stretch_.steps()[step].at;
        return z > p.from - s_.rampMetres() && z < p.to + 0.5 * s_.rampMetres();
    }
    /// Clear joints, which stand whatever else is on the stretch; `inside` a section or not.
    [[nodiscard]] Steps clearSteps(const std::vector<Place>& sections, bool inside) const
    {
        constexpr double clear = 0.06;  // dB
        Steps out;
        for (const std::size_t j : steps_) {
            const bool in = std::any_of(sections.begin(), sections.end(), [&](const Place& p) { return within(j, p); });
            if (std::abs(stretch_.steps()[j].loss) >= clear && (inside || !in)) out.push_back(j);
        }
        return out;
    }
    /// What a model says: chi square, and what its numbers cost.
    [[nodiscard]] double costOf(const std::vector<Place>& sections, const Steps& steps) const
    {
        return fit(sections, steps).chi + eachNumber * (3.0 * double(sections.size()) + 2.0 * double(steps.size()));
    }

    /// Level, slope, excess slope of each section, size of each step; the slope is known to a quarter.
    [[nodiscard]] Fit fit(const std::vector<Place>& sections, const Steps& steps) const
    {
        const auto n = static_cast<Eigen::Index>(z_.size()), p = static_cast<Eigen::Index>(2 + sections.size() + steps.size());
        Eigen::MatrixXd a = Eigen::MatrixXd::Zero(n + 1, p);
        Eigen::VectorXd b = Eigen::VectorXd::Zero(n + 1);
        const double zero = z_.front(), sigma = std::max(usual_.sigma, 0.25 * std::abs(usual_.slope));
        for (Eigen::Index i = 0; i < n; ++i) {
            const double z = z_[static_cast<std::size_t>(i)], w = weight_[static_cast<std::size_t>(i)];
            a(i, 0) = w;
            a(i, 1) = w * (z - zero);
            Eigen::Index column = 2;
            for (const Place& s : sections) a(i, column++) = w * std::clamp(z - s.from, 0.0, s.to - s.from);
            for (const std::size_t j : steps) a(i, column++) = w * std::clamp((z - stretch_.steps()[j].at) / s_.rampMetres(), 0.0, 1.0);
            b[i] = w * level_[static_cast<std::size_t>(i)];
        }
        a(n, 1) = 1 / sigma;
        b[n] = usual_.slope / sigma;
        Fit out;
        const Eigen::MatrixXd normal = a.transpose() * a + 1e-9 * Eigen::MatrixXd::Identity(p, p);
        const Eigen::LDLT<Eigen::MatrixXd> solver(normal);
        out.values = solver.solve(a.transpose() * b);
        out.covariance = solver.solve(Eigen::MatrixXd::Identity(p, p));
        out.chi = (a * out.values - b).squaredNorm();
        return out;
    }

    /// With these sections: the clear joints outside, then, one after the other, those that say most, for as long as they say something.
    [[nodiscard]] Steps ownSteps(const std::vector<Place>& sections) const
    {
        if (sections.empty()) return steps_;
        Steps steps = clearSteps(sections, false);
        double cost = costOf(sections, steps);
        for (;;) {
            std::optional<std::size_t> next;
            for (const std::size_t j : steps_) {
                if (std::find(steps.begin(), steps.end(), j) != steps.end()) continue;
                Steps more = steps;
                more.push_back(j);
                const bool inside = std::any_of(sections.begin(), sections.end(), [&](const Place& p) { return within(j, p); });
                const double asked = inside ? ownSigmas * ownSigmas - 2 * eachNumber : 0;
                if (const double here = costOf(sections, more) + asked; here < cost) {
                    cost = here - asked;
                    next = j;
                }
            }
            if (!next) return steps;
            steps.push_back(*next);
            cost = costOf(sections, steps);
        }
    }

    /// Two that follow each other and lose alike are one: a joint within them had divided it.
    void joinNeighbours()
    {
        std::sort(kept_.begin(), kept_.end(), [](const Place& a, const Place& b) { return a.from < b.from; });
        const Fit all = fit(kept_, ownSteps(kept_));
        std::vector<Place> joined;
        double before = 0;
        for (std::size_t k = 0; k < kept_.size(); ++k) {
            constexpr double gap = 0.15, alike = 0.25;
            const double excess = -all.values[static_cast<Eigen::Index>(2 + k)];
            if (!joined.empty() && kept_[k].from - joined.back().to < gap * (kept_[k].to - joined.back().from) &&
                std::abs(excess - before) < alike * std::max(excess, before))
                joined.back().to = kept_[k].to;
            else
                joined.push_back(kept_[k]);
            before = excess;
        }
        kept_ = std::move(joined);
    }

    /// The places beside one, with its ends moved each way by so much.
    template <class Use>
    void around(Place place, double by, Use use) const
    {
        for (const double a : {-by, 0.0, by})
            for (const double b : {-by, 0.0, by}) use({std::max(z_.front(), place.from + a), std::min(z_.back(), place.to + b)});
    }

    /// With one section more.
    [[nodiscard]] std::vector<Place> with(const Place& place) const
    {
        auto out = kept_;
        out.push_back(place);
        return out;
    }
    [[nodiscard]] bool allowed(const Place& place) const
    {
        constexpr double blocks = 6;  // fewer do not tell a length from a step
        return place.to - place.from >= std::max(leastPulses * s_.rampMetres(), blocks * blockMetres_) &&
               std::none_of(kept_.begin(), kept_.end(), [&](const Place& other) { return place.from < other.to && other.from < place.to; });
    }
    /// Whether what it loses is worth a word.
    [[nodiscard]] bool loses(const Place& place, const Fit& fitted) const
    {
        const double excess = -fitted.values[static_cast<Eigen::Index>(2 + kept_.size())], beside = -fitted.values[1], usual = std::abs(usual_.slope);
        constexpr double asUsual = 0.75;  // what is beside it must be fibre as the rest is
        const double lost = excess * (place.to - place.from);
        return lost >= leastLoss && lost <= mostLoss && excess >= leastShare * usual && beside + excess >= (1 + leastShare) * usual &&
               beside >= asUsual * usual;
    }

    /// Slope of the blocks between two places, dB per metre; nothing where they are few.
    [[nodiscard]] std::optional<double> slopeBetween(double from, double to) const
    {
        double w = 0, x = 0, y = 0, xx = 0, xy = 0;
        int n = 0;
        for (std::size_t i = 0; i < z_.size(); ++i) {
            if (z_[i] < from || z_[i] > to) continue;
            const double weight = weight_[i] * weight_[i], z = z_[i] - from;
            w += weight;
            x += weight * z;
            y += weight * level_[i];
            xx += weight * z * z;
            xy += weight * z * level_[i];
            ++n;
        }
        constexpr int fewest = 5;
        const double determinant = w * xx - x * x;
        return n >= fewest && determinant > 0 ? std::optional((w * xy - x * y) / determinant) : std::nullopt;
    }

    /// Whether it is steeper than the fibre next to it, up to the joints there: fibres of several kinds one behind the other are not even anyway.
    [[nodiscard]] bool standsOutBeside(const Place& place, const Steps& own, const Fit& all) const
    {
        const double excess = -all.values[static_cast<Eigen::Index>(2 + kept_.size())], steep = all.values[1] - excess,
                     length = place.to - place.from;
        double before = std::max(z_.front(), place.from - length), behind = std::min(z_.back(), place.to + length);
        for (const std::size_t j : own) {
            const double at = stretch_.steps()[j].at;
            if (at + s_.rampMetres() <= place.from) before = std::max(before, at + s_.rampMetres());
            if (at >= place.to) behind = std::min(behind, at);
        }
        constexpr double mostOf = 0.6;
        for (const auto& beside : {slopeBetween(before, place.from), slopeBetween(place.to, behind)})
            if (beside && *beside - steep < mostOf * leastShare * std::abs(usual_.slope)) return false;
        return true;
    }

    /// The length that says most beside the clear joints; it stays where it says more than the steps that it stands for.
    [[nodiscard]] std::optional<Place> strongest() const
    {
        const double first = z_.front(), last = z_.back(), pitch = (last - first) / double(gridLines);
        std::optional<Place> best;
        double least = costOf(kept_, clearSteps(kept_, true));
        const auto consider = [&](const Place& place) {
            if (!allowed(place)) return;
            const auto sections = with(place);
            for (const bool inside : {false, true}) {
                const Steps steps = clearSteps(sections, inside);
                const Fit here = fit(sections, steps);
                const double cost = here.chi + eachNumber * (3.0 * double(sections.size()) + 2.0 * double(steps.size()));
                if (cost < least && loses(place, here)) {
                    least = cost;
                    best = place;
                }
            }
        };
        for (std::size_t i = 0; i < gridLines; ++i)
            for (std::size_t k = i + 1; k <= gridLines; ++k) consider({first + double(i) * pitch, first + double(k) * pitch});
        // short ones lie between the lines of the grid: where steps follow each other closely
        const auto& all = stretch_.steps();
        constexpr std::size_t together = 12;
        for (std::size_t i = 0; i + 1 < steps_.size(); ++i)
            for (std::size_t k = i + 1; k < steps_.size() && k < i + together; ++k)
                consider({all[steps_[i]].at - s_.rampMetres(), all[steps_[k]].at + s_.rampMetres()});
        if (!best) return std::nullopt;
        const double by = best->to - best->from < pitch ? 0.3 * (best->to - best->from) : pitch / 2;
        for (double off = by; off > 0.1 * s_.rampMetres(); off *= 0.6) around(*best, off, consider);
        const auto sections = with(*best);
        const auto own = ownSteps(sections);
        const Fit fitted = fit(sections, own);
        if (!loses(*best, fitted) || !standsOutBeside(*best, own, fitted)) return std::nullopt;
        return costOf(kept_, ownSteps(kept_)) - costOf(sections, own) > byChance - 3 * eachNumber ? best : std::nullopt;
    }

    const Signal& s_;
    const Stretch& stretch_;
    SlopePrior usual_;
    Steps steps_;
    double blockMetres_ = 1;
    std::vector<double> z_, level_, weight_;
    std::vector<Place> kept_;
};

/// Places where steps of a loss follow each other closely: by points, with as much fibre on both sides.
std::vector<std::pair<std::size_t, std::size_t>> stairs(const Signal& s, const Stretch& stretch)
{
    constexpr double closely = 6;  // ramps
    constexpr std::size_t least = 3;
    std::vector<std::pair<std::size_t, std::size_t>> out;
    const auto& steps = stretch.steps();
    for (std::size_t i = 0, k = 0; i < steps.size(); i = k + 1) {
        k = i;
        while (k + 1 < steps.size() && steps[k].loss > 0 && steps[k + 1].loss > 0 && steps[k + 1].at - steps[k].at < closely * s.rampMetres()) ++k;
        if (k + 1 - i < least) continue;
        const double beside = std::max(1.5 * (steps[k].at - steps[i].at), 15 * s.rampMetres());
        out.emplace_back(std::max(stretch.from(), s.indexOf(steps[i].at - beside)), std::min(stretch.to(), s.indexOf(steps[k].at + beside)));
    }
    return out;
}

/// All of a stretch, where it is steeper than the rest of the fibre.
std::optional<Section> allOf(const Signal& s, const Stretch& stretch, const SlopePrior& usual)
{
    if (!stretch.steps().empty()) return std::nullopt;
    const double from = s.z(stretch.from()), to = s.z(stretch.to() - 1), middle = (from + to) / 2, length = to - from;
    const double slope = stretch.slope(middle), more = usual.slope - slope, error = std::hypot(stretch.slopeError(middle), usual.sigma);
    if (more < leastShare * std::abs(usual.slope) || more * length < leastLoss || more * length > mostLoss || more < ownSigmas * error)
        return std::nullopt;
    constexpr double kilometre = 1000;
    return Section{Metre(from), Metre(to), DecibelPerKilometre(-slope * kilometre), Decibel(more * length), Decibel(error * length)};
}

}  // namespace

SectionsFound findSections(const Signal& signal, const Stretch& stretch, const SlopePrior& usual)
{
    SectionsFound out = SectionSearch(signal, stretch, usual, stretch.from(), stretch.to()).run();
    for (const auto& [from, to] : stairs(signal, stretch)) {
        const auto close = SectionSearch(signal, stretch, usual, from, to).run();
        for (const Section& section : close.sections)
            if (std::none_of(out.sections.begin(), out.sections.end(), [&](const Section& o) { return section.from < o.to && o.from < section.to; }))
                out.sections.push_back(section);
        out.explains.insert(out.explains.end(), close.explains.begin(), close.explains.end());
    }
    if (out.sections.empty())
        if (const auto all = allOf(signal, stretch, usual)) out.sections.push_back(*all);
    std::sort(out.sections.begin(), out.sections.end(), [](const Section& a, const Section& b) { return a.from < b.from; });
    return out;
}

}  // namespace clendo::otdr
