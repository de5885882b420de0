#include "otdr/analysis.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "otdr/event_search.h"
#include "otdr/signal.h"

namespace clendo::otdr {
namespace {

constexpr std::array<std::pair<EventKind, std::string_view>, 6> kindNames{{{EventKind::Launch, "launch"},
                                                                           {EventKind::Reflective, "reflective"},
                                                                           {EventKind::Loss, "loss"},
                                                                           {EventKind::Gain, "gain"},
                                                                           {EventKind::Ghost, "ghost"},
                                                                           {EventKind::End, "end"}}};

/// What fibre of this wavelength usually loses, dB per metre (installed fibre as generally known, not from a standard). Only a starting point for the
/// search.
double typicalSlope(Nanometre wavelength)
{
    const double nm = wavelength.value();
    const double perKilometre = nm < 1000 ? 2.5 : nm < 1305 ? 0.65 : nm < 1450 ? 0.34 : nm < 1520 ? 0.23 : 0.20;
    return -perKilometre / 1000;
}

class Analyser {
public:
    Analyser(const Trace& trace, const Cords& cords) : trace_(trace), cords_(cords), s_(trace), typical_(typicalSlope(trace.wavelength)) {}

    Analysis run()
    {
        const auto [low, high] = std::minmax_element(trace_.level.begin(), trace_.level.end());
        if (*high - *low < 0.5F || trace_.level.size() < 32) return out_;
        places_ = searchEvents(s_, typical_);
        if (!places_.anyLight) return out_;
        findCeiling();
        fitSections();
        addLaunch();
        for (std::size_t k = 0; k < places_.places.size(); ++k) addPlace(k);
        addEnd();
        markGhosts();
        for (std::size_t i = 0; i < out_.events.size(); ++i) out_.events[i].number = static_cast<int>(i) + 1;
        addSpan();
        return out_;
    }

private:
    struct Section {
        std::size_t from = 0, to = 0;
        bool clean = false;
        std::optional<Line> line;  // over the whole section
    };

    void findCeiling() { ceiling_ = *std::max_element(trace_.level.begin(), trace_.level.end()); }

    /// Flat top at the receiver's ceiling: three and more equal samples.
    [[nodiscard]] bool saturated(std::size_t from, std::size_t to) const
    {
        std::size_t run = 0;
        for (std::size_t i = from; i < std::min(to, trace_.level.size()); ++i) {
            run = trace_.level[i] >= ceiling_ - 1e-6F ? run + 1 : 0;
            if (run >= 3) return true;
        }
        return false;
    }

    [[nodiscard]] std::size_t lastIndex() const { return places_.end.value_or(s_.size()); }

    /// Section k lies before place k; the last one before the end.
    void fitSections()
    {
        const auto& places = places_.places;
        for (std::size_t k = 0; k <= places.size(); ++k) {
            Section section;
            section.from = k == 0 ? places_.launchClean : places[k - 1].clean;
            section.to = k < places.size() ? places[k].start : lastIndex();
            const std::size_t least = std::max<std::size_t>(8, s_.pulseSamples() / 2);
            section.clean = section.to >= section.from + least;
            if (section.clean) section.line = s_.fit(section.from, section.to, s_.z(section.from));
            sections_.push_back(section);
        }
    }

    /// The section's own slope where it is long enough to have one, else what the fibre usually has.
    [[nodiscard]] std::optional<double> slopeFor(const Section& section) const
    {
        const double length = s_.z(section.to - 1) - s_.z(section.from);
        const double p = s_.mean(section.from, section.to);
        const double samples = std::max(1.0, double(section.to - section.from) / s_.correlation());
        const double slopeError = s_.sigmaAt(p) * std::sqrt(12 / samples) / std::max(1.0, length);
        const bool longEnough = section.to - section.from > 30 && slopeError < 0.25 * std::abs(typical_);
        return longEnough ? std::nullopt : std::optional(typicalOfLink());
    }

    [[nodiscard]] double typicalOfLink() const
    {
        double weight = 0, sum = 0;
        for (const auto& section : sections_) {
            if (!section.line) continue;
            const double length = s_.z(section.to - 1) - s_.z(section.from);
            if (section.line->slope > 0.5 * typical_ || section.line->slope < 2 * typical_) continue;
            weight += length;
            sum += length * section.line->slope;
        }
        return weight > 0 ? sum / weight : typical_;
    }

    [[nodiscard]] std::optional<Line> lineBefore(std::size_t k, double z) const
    {
        const Section& section = sections_[k];
        if (!section.clean) return std::nullopt;
        const std::size_t window = std::max<std::size_t>(30 * s_.pulseSamples(), 600);
        const std::size_t from = section.to > section.from + window ? section.to - window : section.from;
        return s_.fit(from, section.to, z, slopeFor({from, section.to, true, {}}));
    }
    [[nodiscard]] std::optional<Line> lineBehind(std::size_t k, double z) const
    {
        const Section& section = sections_[k];
        if (!section.clean) return std::nullopt;
        const std::size_t window = std::max<std::size_t>(30 * s_.pulseSamples(), 600);
        const std::size_t to = std::min(section.to, section.from + window);
        return s_.fit(section.from, to, z, slopeFor({section.from, to, true, {}}));
    }

    [[nodiscard]] std::optional<DecibelPerKilometre> leadIn(std::size_t k) const
    {
        const Section& section = sections_[k];
        if (!section.line || slopeFor(section)) return std::nullopt;
        return DecibelPerKilometre(-section.line->slope * 1000);
    }

    /// Height of the peak over `level`: the median of its plateau.
    [[nodiscard]] double peakHeight(std::size_t start, std::size_t stop, double level) const
    {
        stop = std::min({stop, start + s_.pulseSamples() + 3, s_.size()});
        std::vector<float> values(trace_.level.begin() + static_cast<std::ptrdiff_t>(start),
                                  trace_.level.begin() + static_cast<std::ptrdiff_t>(stop));
        if (values.empty()) return 0;
        const auto at = values.begin() + static_cast<std::ptrdiff_t>(double(values.size() - 1) * (s_.pulseSamples() >= 4 ? 0.75 : 1.0));
        std::nth_element(values.begin(), at, values.end());
        return double(*at) - level;
    }

    void addLaunch()
    {
        Event e;
        e.kind = EventKind::Launch;
        const std::size_t zero = s_.indexOf(0);
        const std::size_t stop = std::min(s_.size(), zero + 2 * s_.pulseSamples() + 4);
        e.saturated = saturated(zero, stop);
        if (const auto line = lineBehind(0, 0.0))
            e.reflectance = reflectance(Decibel(peakHeight(zero, stop, line->level)), trace_.pulse, trace_.backscatter);
        out_.events.push_back(e);
    }

    void addPlace(std::size_t k)
    {
        const Candidate& place = places_.places[k];
        Event e;
        const double z = s_.z(place.start);
        e.at = Metre(z);
        e.leadIn = leadIn(k);
        const bool joined = k + 1 < places_.places.size() ? !sections_[k + 1].clean : false;
        // the first event of a group has the clean fibre before it
        std::size_t first = k;
        while (first > 0 && !sections_[first].clean) --first;
        if (!joined) {
            const double readAt = s_.z(places_.places[first].start);
            const auto before = lineBefore(first, readAt), behind = lineBehind(k + 1, readAt);
            if (before && behind) {
                e.loss = Decibel(before->level - behind->level);
                e.lossUncertainty = Decibel(std::hypot(before->levelError, behind->levelError));
            }
        }
        e.joinedWithNext = joined;
        if (place.peak) {
            e.kind = EventKind::Reflective;
            const std::size_t next = k + 1 < places_.places.size() ? places_.places[k + 1].start : lastIndex();
            e.saturated = saturated(place.start, std::min(next, place.start + 2 * s_.pulseSamples() + 6));
            const auto before = lineBefore(k, z);
            const double level = before ? before->level : decibels(std::max(1e-16, s_.mean(place.start > 3 ? place.start - 3 : 0, place.start)));
            e.reflectance = reflectance(Decibel(peakHeight(place.start, next, level)), trace_.pulse, trace_.backscatter);
        } else {
            if (!e.loss && !joined) return;
            e.kind = e.loss && *e.loss < Decibel(0) ? EventKind::Gain : EventKind::Loss;
            if (e.loss && std::abs(e.loss->value()) < std::max(0.035, 3.3 * e.lossUncertainty->value())) return;  // the lines do not bear it out
        }
        out_.events.push_back(e);
    }

    void addEnd()
    {
        if (!places_.end) {
            out_.notes.emplace_back("The fibre goes on beyond what was measured: choose a longer range.");
            return;
        }
        Event e;
        e.kind = EventKind::End;
        const std::size_t k = places_.places.size();
        const double z = s_.z(*places_.end);
        e.at = Metre(z);
        e.leadIn = leadIn(k);
        if (places_.endPeak) {
            e.saturated = saturated(*places_.end, *places_.end + 2 * s_.pulseSamples() + 6);
            if (const auto before = lineBefore(k, z))
                e.reflectance = reflectance(Decibel(peakHeight(*places_.end, s_.size(), before->level)), trace_.pulse, trace_.backscatter);
        }
        out_.events.push_back(e);
    }

    /// A peak without loss at a sum of distances between stronger reflectors, as strong as their echo would be, is no joint.
    void markGhosts()
    {
        const double tolerance = std::max({s_.pulseMetres(), 5 * s_.spacing(), 0.5});
        for (auto& e : out_.events) {
            if (e.kind != EventKind::Reflective || !e.loss || !e.reflectance) continue;
            if (std::abs(e.loss->value()) > std::max(0.05, 3 * e.lossUncertainty.value_or(Decibel(0)).value())) continue;
            if (echoExplains(e, tolerance)) e.kind = EventKind::Ghost;
        }
    }

    [[nodiscard]] bool echoExplains(const Event& e, double tolerance) const
    {
        for (const auto& a : out_.events)
            for (const auto& b : out_.events)
                for (const auto& c : out_.events) {
                    if (!(a.at < b.at) || !(b.at <= c.at) || !a.reflectance || !b.reflectance || !c.reflectance) continue;
                    if (&a == &e || &b == &e || &c == &e || c.at >= e.at) continue;
                    if (std::abs((b.at + c.at - a.at - e.at).value()) > tolerance + 0.001 * e.at.value()) continue;
                    const double strength = a.reflectance->value() + b.reflectance->value() + c.reflectance->value() + (&b == &c ? 0 : 3);
                    const double slack = a.saturated || b.saturated || c.saturated ? 25 : 6;
                    if (strength > e.reflectance->value() - 8 && strength < e.reflectance->value() + 12) return true;
                    if (slack > 6 && strength < e.reflectance->value() && strength + slack > e.reflectance->value()) return true;
                }
        return false;
    }

    [[nodiscard]] const Event* connectorNear(double z, double cord) const
    {
        const Event* best = nullptr;
        const double reach = 0.02 * cord + std::max(s_.pulseMetres(), 5 * s_.spacing()) + 1;
        for (const auto& e : out_.events) {
            if (e.kind == EventKind::Launch || e.kind == EventKind::End || e.kind == EventKind::Ghost) continue;
            if (std::abs(e.at.value() - z) > reach) continue;
            const auto rank = [&](const Event& x) { return std::abs(x.at.value() - z) + (x.kind == EventKind::Reflective ? 0 : reach); };
            if (!best || rank(e) < rank(*best)) best = &e;
        }
        return best;
    }

    void addSpan()
    {
        const bool ended = !out_.events.empty() && out_.events.back().kind == EventKind::End;
        const double end = ended ? out_.events.back().at.value() : s_.z(s_.size() - 1);
        const double launch = cords_.launch.value(), tail = cords_.tail.value();
        if (launch > 0 && ended && end < launch * 0.98 - s_.pulseMetres() - 1) {
            out_.launchFault = fmt::format(
                "Light ends at {:.0f} m, within a {:.0f} m launch cord, if one was used. Prove the cord before you blame the link.", end, launch);
            return;
        }
        Span span;
        span.from = Metre(0);
        if (launch > 0) {
            const Event* near = connectorNear(launch, launch);
            span.from = near ? near->at : cords_.launch;
            if (!near) out_.notes.emplace_back("The launch cord's far connector cannot be seen: its stated length was used.");
        } else {
            out_.notes.emplace_back("Shot without a launch cord: the first connection cannot be measured.");
        }
        span.to = Metre(end);
        if (tail > 0 && ended) {
            const Event* near = connectorNear(end - tail, tail);
            span.to = near ? near->at : Metre(end - tail);
            if (!near) out_.notes.emplace_back("The tail cord's near connector cannot be seen: its stated length was used.");
        } else {
            out_.notes.emplace_back("Shot without a tail cord: the last connection cannot be measured.");
        }
        if (span.to <= span.from || !ended) return;
        measureSpan(span, tail > 0);
        out_.span = span;
    }

    void measureSpan(Span& span, bool withTail)
    {
        const std::size_t first = sectionBefore(span.from.value()), last = withTail ? sectionBehind(span.to.value()) : sections_.size() - 1;
        const auto in = span.from > Metre(0) ? lineBefore(first, span.from.value()) : lineBehind(0, 0.0);
        const auto out = withTail ? lineBehind(last, span.to.value()) : lineBefore(last, span.to.value());
        if (in && out) span.loss = Decibel(in->level - out->level);
        double weight = 0, sum = 0;
        for (const auto& section : sections_) {
            const double from = std::max(s_.z(section.from), span.from.value()),
                         to = std::min(s_.z(std::max(section.from, section.to - 1)), span.to.value());
            if (!section.line || to - from < 1 || section.line->slope > 0) continue;
            weight += (to - from) * (to - from);
            sum += (to - from) * (to - from) * section.line->slope;
        }
        if (weight > 0) span.attenuation = DecibelPerKilometre(-1000 * sum / weight);
        if (in) span.returnLoss = returnLoss(span, in->level, withTail);
    }

    [[nodiscard]] std::size_t sectionBefore(double z) const
    {
        std::size_t k = 0;
        while (k + 1 < sections_.size() && s_.z(sections_[k + 1].from) <= z + s_.spacing()) ++k;
        while (k > 0 && !sections_[k].clean) --k;
        return k;
    }
    [[nodiscard]] std::size_t sectionBehind(double z) const
    {
        std::size_t k = 0;
        while (k + 1 < sections_.size() && (s_.z(sections_[k].from) <= z || !sections_[k].clean)) ++k;
        return k;
    }

    /// -10 lg of what comes back from the span against what enters it; the open end of a link without tail is left out.
    [[nodiscard]] std::optional<Decibel> returnLoss(const Span& span, double level, bool withTail) const
    {
        const std::size_t from = s_.indexOf(span.from.value());
        const double stop = withTail ? span.to.value() + 1.5 * s_.pulseMetres() : span.to.value() - s_.spacing();
        const double perSample = 2 * s_.spacing() * trace_.groupIndex / speedOfLight * 1e9;  // two-way ns
        double sum = 0;
        for (std::size_t i = from; i < s_.size() && s_.z(i) <= stop; ++i)
            sum += s_.power(i) / std::pow(10, level / 5) * std::pow(10, trace_.backscatter.value() / 10) * perSample;
        if (sum <= 0) return std::nullopt;
        return Decibel(-10 * std::log10(sum));
    }

    const Trace& trace_;
    Cords cords_;
    Signal s_;
    double typical_;
    float ceiling_ = 0;
    FoundPlaces places_;
    std::vector<Section> sections_;
    Analysis out_;
};

}  // namespace

std::string_view name(EventKind kind)
{
    for (const auto& [k, text] : kindNames)
        if (k == kind) return text;
    return "loss";
}

std::optional<EventKind> eventKindNamed(std::string_view wanted)
{
    for (const auto& [k, text] : kindNames)
        if (text == wanted) return k;
    return std::nullopt;
}

std::optional<Decibel> reflectance(Decibel height, Nanosecond pulse, Decibel backscatter)
{
    if (height < Decibel(0.3) || pulse <= Nanosecond(0)) return std::nullopt;
    const double r = backscatter.value() + 10 * std::log10((std::pow(10, height.value() / 5) - 1) * pulse.value());
    return Decibel(std::clamp(r, -109.0, 0.0));
}

Analysis analyse(const Trace& trace, const Cords& cords)
{
    if (trace.level.size() < 32) return {};
    return Analyser(trace, cords).run();
}

}  // namespace clendo::otdr
