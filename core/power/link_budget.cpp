#include "power/link_budget.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace clendo {
namespace {

constexpr double oneSided95 = 1.645;  // standard deviations of a normal distribution
constexpr double givenBounds = 2;     // spreads around a figure that was given

int rounded(Nanometre wavelength) { return static_cast<int>(std::lround(wavelength.value())); }

/// Mean and standard deviation of one part.
struct Spread {
    double mean = 0, deviation = 0;
};

/// The sum of many such parts that 95 of 100 links stay below. Gamma: never negative, with a long tail upwards; the sum of n alike is drawn at once,
/// it is a gamma distribution of n times the shape.
double drawnP95(const std::vector<Spread>& parts)
{
    constexpr int draws = 100000;
    std::map<std::pair<double, double>, int> alike;
    for (const auto& [mean, deviation] : parts) ++alike[{mean, deviation}];
    std::mt19937_64 random(1);
    std::vector<double> sums(draws, 0.0);
    for (const auto& [part, n] : alike) {
        const auto [mean, deviation] = part;
        if (deviation <= 0 || mean <= 0) {
            for (double& sum : sums) sum += n * mean;
            continue;
        }
        std::gamma_distribution<double> loss(n * mean * mean / (deviation * deviation), deviation * deviation / mean);
        for (double& sum : sums) sum += loss(random);
    }
    const auto at = sums.begin() + draws * 95 / 100;
    std::nth_element(sums.begin(), at, sums.end());
    return *at;
}

class Planning {
public:
    Planning(const LinkPlan& plan, const LimitSet& limits, const TypicalLosses& typical, Statistics statistics)
        : plan_(plan), limits_(limits), typical_(typical)
    {
        out_.link = plan.link;
        out_.statistics = statistics;
        for (const auto& e : plan.elements) {
            out_.connections += e.kind == LinkElement::Kind::Connection ? 1 : 0;
            out_.splices += e.kind == LinkElement::Kind::Splice ? 1 : 0;
            if (e.kind != LinkElement::Kind::Fibre) continue;
            out_.length += e.length;
            if (out_.fibre.empty()) out_.fibre = e.fibre;
        }
        out_.connectionsCounted = std::max(0, out_.connections - 2 + endConnectionsHeld(plan.method));
    }

    LinkBudget run(const std::vector<Application>& applications)
    {
        auto wavelengths = plan_.wavelengths;
        if (wavelengths.empty())
            wavelengths = multimode() ? std::vector{Nanometre(850), Nanometre(1300)} : std::vector{Nanometre(1310), Nanometre(1550)};
        for (const auto wavelength : wavelengths) out_.wavelengths.push_back(at(wavelength));
        for (const auto& application : applications)
            if (const auto* channel = application.on(out_.fibre)) out_.applications.push_back(judged(application, *channel));
        return std::move(out_);
    }

private:
    [[nodiscard]] bool multimode() const { return out_.fibre.starts_with("OM"); }

    /// At most what the limits allow of a part, without the figures that were given.
    [[nodiscard]] std::optional<Decibel> allowed(const LinkElement& e, Nanometre wavelength) const
    {
        switch (e.kind) {
            case LinkElement::Kind::Connection: return limits_.connection;
            case LinkElement::Kind::Splice: return limits_.splice;
            case LinkElement::Kind::Other: return e.loss;
            case LinkElement::Kind::Fibre: break;
        }
        const auto fibre = limits_.attenuation.find(e.fibre);
        if (fibre == limits_.attenuation.end() || !fibre->second.contains(rounded(wavelength))) return std::nullopt;
        return fibre->second.at(rounded(wavelength)) * e.length;
    }

    [[nodiscard]] std::optional<Decibel> worst(const LinkElement& e, Nanometre wavelength) const
    {
        return e.loss ? *e.loss + e.spread.value_or(Decibel(0)) * givenBounds : allowed(e, wavelength);
    }

    [[nodiscard]] std::optional<Spread> usual(const LinkElement& e, Nanometre wavelength) const
    {
        if (e.loss) return Spread{e.loss->value(), e.spread.value_or(Decibel(0)).value()};
        switch (e.kind) {
            case LinkElement::Kind::Connection: return Spread{typical_.connection.value(), typical_.connectionSpread.value()};
            case LinkElement::Kind::Splice: return Spread{typical_.splice.value(), typical_.spliceSpread.value()};
            case LinkElement::Kind::Other: return std::nullopt;
            case LinkElement::Kind::Fibre: break;
        }
        const auto fibre = typical_.fibres.find(e.fibre);
        if (fibre == typical_.fibres.end() || !fibre->second.contains(rounded(wavelength))) return std::nullopt;
        const Decibel loss = fibre->second.at(rounded(wavelength)) * e.length;
        return Spread{loss.value(), loss.value() * typical_.fibreSpreadShare};
    }

    [[nodiscard]] std::optional<Decibel> least(const LinkElement& e, Nanometre wavelength) const
    {
        if (e.loss) return std::max(Decibel(0), *e.loss - e.spread.value_or(Decibel(0)) * givenBounds);
        if (e.kind != LinkElement::Kind::Fibre) return Decibel(0);
        const auto loss = usual(e, wavelength);
        return loss ? std::optional(Decibel(loss->mean)) : std::nullopt;
    }

    /// The sum over all parts; nothing where one of them is not known.
    template <class Of>
    [[nodiscard]] std::optional<Decibel> sum(const Of& of) const
    {
        Decibel total(0);
        for (const auto& e : plan_.elements) {
            const std::optional<Decibel> part = of(e);
            if (!part) return std::nullopt;
            total += *part;
        }
        return total;
    }

    [[nodiscard]] std::optional<Decibel> limit(Nanometre wavelength) const
    {
        if (limits_.total) return limits_.total;
        const int ends = std::min(endConnectionsHeld(plan_.method), out_.connectionsCounted);
        const auto others =
            sum([&](const LinkElement& e) { return e.kind == LinkElement::Kind::Connection ? std::optional(Decibel(0)) : allowed(e, wavelength); });
        if (!others) return std::nullopt;
        return *others + limits_.endConnection * ends + limits_.connection * (out_.connectionsCounted - ends);
    }

    [[nodiscard]] WavelengthBudget at(Nanometre wavelength) const
    {
        WavelengthBudget out;
        out.wavelength = wavelength;
        out.limit = limit(wavelength);
        out.worst = sum([&](const LinkElement& e) { return worst(e, wavelength); });
        out.least = sum([&](const LinkElement& e) { return least(e, wavelength); });
        std::vector<Spread> parts;
        double mean = 0, variance = 0;
        for (const auto& e : plan_.elements) {
            const auto part = usual(e, wavelength);
            if (!part) return out;
            parts.push_back(*part);
            mean += part->mean;
            variance += part->deviation * part->deviation;
        }
        out.typical = Decibel(mean);
        out.typicalP95 = Decibel(out_.statistics == Statistics::MonteCarlo ? drawnP95(parts) : mean + oneSided95 * std::sqrt(variance));
        return out;
    }

    /// The strongest reflection that a joint may have.
    [[nodiscard]] std::optional<Decibel> reflectance() const
    {
        std::optional<Decibel> out;
        for (const auto& e : plan_.elements) {
            if (e.kind == LinkElement::Kind::Connection || e.reflectance) {
                const Decibel of = e.reflectance.value_or(typical_.connectionReflectance);
                out = std::max(out.value_or(of), of);
            }
        }
        return out;
    }

    [[nodiscard]] ApplicationBudget judged(const Application& application, const ApplicationChannel& channel) const
    {
        using Limit = ApplicationBudget::Limit;
        ApplicationBudget out{application.name, application.confidence, {}, {}, Limit::None};
        std::optional<Decibel> spare, tooLittle;
        bool known = true;
        for (const auto wavelength : channel.wavelengths) {
            const auto most = sum([&](const LinkElement& e) { return worst(e, wavelength); });
            const auto least = sum([&](const LinkElement& e) { return this->least(e, wavelength); });
            known = known && most && (!channel.leastLoss || least);
            if (!most) continue;
            spare = std::min(spare.value_or(channel.loss - *most), channel.loss - *most);
            if (channel.leastLoss && least && *least < *channel.leastLoss) {
                const Decibel missing = *least - *channel.leastLoss;
                tooLittle = std::min(tooLittle.value_or(missing), missing);
            }
        }
        if (!spare) return out;
        const auto reflected = reflectance();
        out.limitedBy = *spare < Decibel(-exact)                                                                ? Limit::Loss
                        : out_.length > channel.length                                                          ? Limit::Length
                        : tooLittle                                                                             ? Limit::LeastLoss
                        : !multimode() && channel.reflectance && reflected && *reflected > *channel.reflectance ? Limit::Reflectance
                                                                                                                : Limit::None;
        if (known || out.limitedBy != Limit::None) out.carries = out.limitedBy == Limit::None;
        out.spare = out.limitedBy == Limit::LeastLoss ? *tooLittle : *spare;
        return out;
    }

    static constexpr double exact = 1e-9;  ///< dB: sums of decimal figures are not exact

    const LinkPlan& plan_;
    const LimitSet& limits_;
    const TypicalLosses& typical_;
    LinkBudget out_;
};

}  // namespace

std::string_view name(Statistics statistics) { return statistics == Statistics::MonteCarlo ? "monte carlo" : "root of squares"; }

std::string_view name(ApplicationBudget::Limit limit)
{
    switch (limit) {
        case ApplicationBudget::Limit::Loss: return "loss";
        case ApplicationBudget::Limit::Length: return "length";
        case ApplicationBudget::Limit::LeastLoss: return "least-loss";
        case ApplicationBudget::Limit::Reflectance: return "reflectance";
        case ApplicationBudget::Limit::None: break;
    }
    return "";
}

Result<LinkBudget> planBudget(const LinkPlan& plan, const LimitSet& limits, const TypicalLosses& typical,
                              const std::vector<Application>& applications, Statistics statistics)
{
    std::optional<bool> multimode;
    for (const auto& e : plan.elements) {
        if (e.kind == LinkElement::Kind::Other && !e.loss)
            return failure(Error::Code::LinkInvalid, "Say what each splitter or attenuator loses: it cannot be known from its kind.");
        if (e.kind != LinkElement::Kind::Fibre) continue;
        if (multimode.value_or(e.fibre.starts_with("OM")) != e.fibre.starts_with("OM"))
            return failure(Error::Code::LinkInvalid, "A link is of single-mode or of multimode fibre, not of both.");
        multimode = e.fibre.starts_with("OM");
        if (!limits.attenuation.contains(e.fibre))
            return failure(
                Error::Code::LimitsUnknown,
                fmt::format("The limits “{}” know no {} fibre. Choose other limits, or write the fibre as they do.", limits.name, e.fibre));
    }
    if (!multimode) return failure(Error::Code::LinkInvalid, "The plan has no fibre: give its kind and length.");
    return Planning(plan, limits, typical, statistics).run(applications);
}

}  // namespace clendo
