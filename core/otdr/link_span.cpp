#include "otdr/link_span.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "otdr/joint.h"

namespace clendo::otdr {
namespace {

class SpanReader {
public:
    SpanReader(Analysis& found, const LinkParts& parts, const Cords& cords) : out_(found), parts_(parts), s_(parts.signal), cords_(cords) {}

    void run()
    {
        const bool ended = !out_.events.empty() && out_.events.back().kind == EventKind::End;
        const double end = ended ? out_.events.back().at.value() : s_.z(s_.size() - 1);
        const double launch = cords_.launch.value(), tail = cords_.tail.value();
        if (launch > 0 && faultOfLaunch(launch, ended ? std::optional(end) : std::nullopt)) return;
        Span span;
        span.from = Metre(std::max(0.0, s_.z(0)));
        if (launch > 0) {
            const Event* near = connectorNear(launch, launch);
            span.from = near ? near->at : cords_.launch;
            if (!near) out_.notes.emplace_back("The launch cord's far connector cannot be seen: its stated length was used.");
        } else {
            out_.notes.push_back(
                fmt::format("Shot without a launch cord: the first connection, and any joint in the first {:.0f} m, cannot be measured.",
                            s_.z(std::min(parts_.launchClean, s_.size() - 1))));
        }
        span.to = Metre(end);
        if (tail > 0 && ended) {
            const Event* near = connectorNear(end - tail, tail);
            span.to = near ? near->at : Metre(end - tail);
            if (!near) out_.notes.emplace_back("The tail cord's near connector cannot be seen: its stated length was used.");
        } else {
            out_.notes.push_back(fmt::format("Shot without a tail cord: the last connection, and any joint in the last {:.0f} m, cannot be measured.",
                                             std::min(std::ceil(s_.rampMetres()), std::max(1.0, std::floor(behindLastJoint(end))))));
        }
        if (span.to <= span.from || !ended) return;
        measureSpan(span, tail > 0);
        out_.span = span;
    }

private:
    /// What lies between the last joint that was found and a place.
    [[nodiscard]] double behindLastJoint(double z) const
    {
        double last = 0;
        for (const auto& e : out_.events)
            if (isJoint(e) && e.at.value() < z) last = std::max(last, e.at.value());
        return z - last;
    }
    [[nodiscard]] const Event* connectorNear(double z, double cord) const
    {
        const Event* best = nullptr;
        const double reach = 0.02 * cord + std::max(s_.pulseMetres(), 5 * s_.spacing()) + 1;
        for (const auto& e : out_.events) {
            if (!isJoint(e)) continue;
            if (std::abs(e.at.value() - z) > reach) continue;
            const auto rank = [&](const Event& x) { return std::abs(x.at.value() - z) + (x.kind == EventKind::Reflective ? 0 : reach); };
            if (!best || rank(e) < rank(*best)) best = &e;
        }
        return best;
    }

    /// What is wrong with the launch cord, so that there is no link to report.
    bool faultOfLaunch(double launch, std::optional<double> end)
    {
        const double reach = 0.02 * launch + s_.pulseMetres() + 1;
        if (end && *end < launch - reach)
            out_.launchFault = fmt::format(
                "Light ends at {:.0f} m, within a {:.0f} m launch cord, if one was used. Prove the cord before you blame the link.", *end, launch);
        else if (end && *end <= launch + reach)
            out_.launchFault = fmt::format(
                "Light ends at {:.0f} m, where the {:.0f} m launch cord ends: its plug is not mated, or nothing goes on behind it. Look at it first.",
                *end, launch);
        constexpr Decibel lost{3};
        for (const auto& e : out_.events)
            if (!out_.launchFault && e.loss && *e.loss >= lost && e.at.value() < launch - reach)
                out_.launchFault =
                    fmt::format("{:.1f} dB are lost at {:.0f} m, within the {:.0f} m launch cord. Prove the cord before you blame the link.",
                                e.loss->value(), e.at.value(), launch);
        return out_.launchFault.has_value();
    }

    void measureSpan(Span& span, bool withTail)
    {
        const double from = span.from.value(), to = span.to.value();
        const Stretch* first = stretchBefore(from);
        const Stretch* last = withTail ? stretchBehind(to) : stretchBefore(to);
        if (!first || !last) return;
        const double in = first->level(from), out = last->levelBehind(withTail ? to + parts_.late : to);
        span.loss = Decibel(in - out);
        double length = 0, sum = 0;
        for (const auto& stretch : parts_.stretches) {
            if (!stretch) continue;
            double begin = s_.z(stretch->from());
            for (std::size_t j = 0; j <= stretch->steps().size(); ++j) {
                const double end = j < stretch->steps().size() ? stretch->steps()[j].at : s_.z(stretch->to() - 1);
                const double a = std::max(begin, from), b = std::min(end, to), slope = stretch->slope(end);
                if (b > a + 1 && slope < 0) {
                    length += b - a;
                    sum += (b - a) * slope;
                }
                begin = end;
            }
        }
        if (length > 0) span.attenuation = DecibelPerKilometre(-1000 * sum / length);
        span.returnLoss = returnLoss(span, *first, withTail);
        span.unevenness = unevenness(span);
        returnLossOfSections(span);
    }

    /// Slopes of pieces of clean fibre between joints against that of all.
    [[nodiscard]] std::optional<DecibelPerKilometre> unevenness(const Span& span) const
    {
        if (!span.attenuation) return std::nullopt;
        constexpr double perKilometre = -1000, clearly = 4;
        const double usual = span.attenuation->value() / perKilometre;
        std::optional<DecibelPerKilometre> most;
        const auto look = [&](double from, double to) {
            if (to <= from) return;
            for (const SlopeSeen& piece : slopesOf(s_, s_.indexOf(from), s_.indexOf(to), usual)) {
                const double off = std::abs(piece.slope - usual),
                             fading = 2 * s_.speckle() * std::sqrt(s_.pulseMetres() / piece.length) / piece.length;
                constexpr double noFibre = 0.1;  // dB per metre
                if (off < clearly * std::hypot(piece.error, fading) || off > noFibre) continue;
                if (const DecibelPerKilometre by{-perKilometre * off}; !most || by > *most) most = by;
            }
        };
        for (const auto& stretch : parts_.stretches) {
            if (!stretch) continue;
            double begin = std::max(s_.z(stretch->from()), span.from.value());
            if (stretch->tailed()) begin += 5 * s_.pulseMetres();
            for (const Step& step : stretch->steps()) {
                look(begin, std::min(step.at, span.to.value()));
                begin = std::max(begin, step.at + s_.rampMetres());
            }
            look(begin, std::min(s_.z(stretch->to() - 1), span.to.value()));
        }
        return most;
    }

    /// The last stretch that begins before a place; the first that reaches beyond it, with the steps up to it.
    [[nodiscard]] const Stretch* stretchBefore(double z) const
    {
        const Stretch* out = nullptr;
        for (const auto& stretch : parts_.stretches)
            if (stretch && (!out || s_.z(stretch->from()) < z)) out = &*stretch;
        return out;
    }
    [[nodiscard]] const Stretch* stretchBehind(double z) const
    {
        for (const auto& stretch : parts_.stretches)
            if (stretch && s_.z(stretch->to() - 1) > z + s_.pulseMetres()) return &*stretch;
        return nullptr;
    }

    /// -10 lg of what comes back from between two places against what enters it at a level; up to point `hidden` the fibre's line counts.
    [[nodiscard]] std::optional<Decibel> returned(double begin, double stop, double level, std::size_t hidden, const Stretch& line) const
    {
        const double perSample = 2 * s_.spacing() * parts_.trace.groupIndex / speedOfLight * 1e9;  // two-way ns
        const double scale = std::pow(10, parts_.trace.backscatter.value() / 10) * perSample / std::pow(10, level / 5);
        double sum = 0;
        for (std::size_t i = s_.indexOf(begin); i < s_.size() && s_.z(i) <= stop; ++i)
            sum += (i < hidden ? std::pow(10, line.level(s_.z(i)) / 5) : s_.power(i)) * scale;
        return sum > 0 ? std::optional(Decibel(-10 * std::log10(sum))) : std::nullopt;
    }

    /// Of the span; the open end of a link without tail is left out. Where it begins at the front panel, that one's own reflection is none of the
    /// link's.
    [[nodiscard]] std::optional<Decibel> returnLoss(const Span& span, const Stretch& first, bool withTail) const
    {
        const std::size_t hidden = span.from > Metre(0) ? 0 : parts_.launchClean;
        const double stop = withTail ? span.to.value() + 1.5 * s_.pulseMetres() : span.to.value() - s_.spacing();
        return returned(span.from.value(), stop, first.level(span.from.value()), hidden, first);
    }

    /// Of the pieces between the joints of the span.
    void returnLossOfSections(const Span& span)
    {
        for (std::size_t i = 0; i < out_.events.size(); ++i) {
            Event& e = out_.events[i];
            if (!isJoint(e) || e.at < span.from || e.at >= span.to) continue;
            double stop = span.to.value();
            for (std::size_t k = i + 1; k < out_.events.size(); ++k)
                if (isJoint(out_.events[k]) || out_.events[k].kind == EventKind::End) {
                    stop = std::min(stop, out_.events[k].at.value());
                    break;
                }
            const Stretch* before = stretchBefore(e.at.value());
            if (before && stop > e.at.value() + s_.pulseMetres())
                e.sectionReturnLoss = returned(e.at.value(), stop - s_.spacing(), before->level(e.at.value()), 0, *before);
        }
    }

    Analysis& out_;
    const LinkParts& parts_;
    const Signal& s_;
    const Cords& cords_;
};

}  // namespace

void addSpan(Analysis& found, const LinkParts& parts, const Cords& cords) { SpanReader(found, parts, cords).run(); }

}  // namespace clendo::otdr
