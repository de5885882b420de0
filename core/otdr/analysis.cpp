#include "otdr/analysis.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "otdr/cut_step.h"
#include "otdr/ghosts.h"
#include "otdr/link_span.h"
#include "otdr/overlaps.h"
#include "otdr/peaks.h"
#include "otdr/reflections.h"
#include "otdr/sections.h"
#include "otdr/signal.h"
#include "otdr/step_search.h"
#include "otdr/usual_fibre.h"

namespace clendo::otdr {
namespace {

constexpr std::array<std::pair<EventKind, std::string_view>, 6> kindNames{{{EventKind::Launch, "launch"},
                                                                           {EventKind::Reflective, "reflective"},
                                                                           {EventKind::Loss, "loss"},
                                                                           {EventKind::Gain, "gain"},
                                                                           {EventKind::Ghost, "ghost"},
                                                                           {EventKind::End, "end"}}};

class Analyser {
public:
    Analyser(const Trace& trace, const Cords& cords)
        : trace_(trace), cords_(cords), s_(trace), peaks_(trace, s_), typical_(-usualFibre(trace.wavelength).attenuation.value() / 1000)
    {
    }

    Analysis run()
    {
        const auto [low, high] = std::minmax_element(trace_.level.begin(), trace_.level.end());
        if (*high - *low < 0.5F || trace_.level.size() < 32) return out_;
        places_ = searchReflections(s_, typical_);
        if (!places_.anyLight) return out_;
        divideOverlaps(s_, places_.places);
        fitStretches();
        if (leaveFaintPeaksOut()) fitStretches();
        late_ = lateness();
        addLaunch();
        for (std::size_t k = 0; k < stretches_.size(); ++k) {
            addSteps(k);
            if (k < places_.places.size()) addPeak(k);
        }
        addEnd();
        putInOrder();
        nameGhosts(out_.events, s_);
        for (std::size_t i = 0; i < out_.events.size(); ++i) out_.events[i].number = static_cast<int>(i) + 1;
        doubtUnits();
        addSpan(out_, {trace_, s_, stretches_, places_.launchClean, -late_}, cords_);
        return out_;
    }

private:
    /// The highest stored level, and whether light stands at it in more than one place: then it is the receiver's ceiling.
    [[nodiscard]] std::size_t lastIndex() const { return places_.end.value_or(s_.size()); }

    /// What noise and speckle alone make of a loss is about half of what it is off by: steps that are too small to be seen, tails that are no sums of
    /// exponentials, fibre that is not even (docs/traces.md: how it was measured).
    static Decibel stated(double byNoise)
    {
        constexpr double more = 2, least = 0.002;
        return Decibel(std::hypot(more * byNoise, least));
    }

    struct Bounds {
        std::size_t from = 0, to = 0;
    };
    /// Stretch k lies before reflection k; the last one before the end.
    [[nodiscard]] Bounds boundsOf(std::size_t k) const
    {
        const auto& places = places_.places;
        return {k == 0 ? places_.launchClean : places[k - 1].clean, k < places.size() ? places[k].start : lastIndex()};
    }

    /// What the fibre loses, from all that is long enough to have a slope: where it is short it is known by that.
    [[nodiscard]] SlopePrior slopeOfFibre()
    {
        std::vector<SlopeSeen> slopes;
        for (std::size_t k = 0; k <= places_.places.size(); ++k) {
            const Bounds b = boundsOf(k);
            if (b.to <= b.from) continue;
            const auto here = slopesOf(s_, b.from, b.to, typical_);
            slopes.insert(slopes.end(), here.begin(), here.end());
        }
        slopeKnown_ = !slopes.empty();
        return usualSlope(std::move(slopes), {typical_, 0.3 * std::abs(typical_)});
    }

    void fitStretches()
    {
        slope_ = slopeOfFibre();
        stretches_.clear();
        for (std::size_t k = 0; k <= places_.places.size(); ++k) {
            const Bounds b = boundsOf(k);
            const std::size_t least = std::max<std::size_t>(8, s_.pulseSamples() / 2);
            const auto peak = peaks_.over(k == 0 ? s_.indexOf(0) : places_.places[k - 1].start, b.from);
            stretches_.push_back(b.to >= b.from + least ? findSteps(s_, b.from, b.to, peak, slope_) : std::nullopt);
            if (k == places_.places.size() && places_.endPeak && stretches_[k]) endBeforeRamp(*stretches_[k], peak);
        }
    }

    /// Before the end's own reflection light may be lost on a ramp that it cuts short.
    void endBeforeRamp(Stretch& last, const std::optional<Peak>& peak) const
    {
        const std::size_t to = last.to();
        const auto roughly = cutStep(s_, last, to);
        if (!roughly) return;
        std::vector<double> steps;
        for (const Step& step : last.steps()) steps.push_back(step.at);
        auto before = Stretch::fit(s_, last.from(), s_.indexOf(roughly->at), peak, steps, slope_);  // the ramp is no fibre
        if (!before) return;
        const auto step = cutStep(s_, *before, to);
        if (!step) return;
        before->endWith(*step, to);
        last = std::move(*before);
    }

    /// A pulse that is not even, and the receiver, put the middle of a ramp elsewhere than half a pulse behind its begin: reflections of this trace
    /// show where. Negative where steps begin sooner than they seem.
    [[nodiscard]] double lateness() const
    {
        std::vector<double> seen;
        const auto add = [&](double at, double before, double behind) {
            const double length = s_.pulseMetres(), from = at - 0.2 * length, to = at + 1.7 * length;
            double weight = 0, sum = 0, top = 0;
            for (std::size_t i = s_.indexOf(from); i < s_.size() && s_.z(i) <= to; ++i) {
                const double share = std::clamp((s_.z(i) - at) / length, 0.0, 1.0), base = before + share * (behind - before);
                top = std::max(top, s_.power(i));
                weight += s_.power(i) - base;
                sum += (s_.power(i) - base) * (s_.z(i) - at);
            }
            constexpr double clearly = 4;  // of the power before
            if (top > clearly * before && weight > 0) seen.push_back(0.5 * length - sum / weight);
        };
        const auto& places = places_.places;
        for (std::size_t k = 0; k <= places.size(); ++k) {
            if (!stretches_[k] || (k == places.size() && !(places_.end && places_.endPeak))) continue;
            const double at = k < places.size() ? places[k].at : places_.endAt;
            const std::size_t start = k < places.size() ? places[k].start : *places_.end;
            if (peaks_.saturated(start, peaks_.topEnd(start))) continue;
            const double before = std::pow(10, stretches_[k]->level(at) / 5);
            const double behind = k == places.size() ? 0 : stretches_[k + 1] ? std::pow(10, stretches_[k + 1]->level(at) / 5) : before;
            add(at, before, behind);
        }
        if (seen.empty()) return 0;
        std::nth_element(seen.begin(), seen.begin() + static_cast<std::ptrdiff_t>(seen.size() / 2), seen.end());
        return std::clamp(seen[seen.size() / 2], -0.45 * s_.pulseMetres(), 0.1 * s_.pulseMetres());
    }

    /// Rises that do not stand out over the fibre on both sides are no reflections: they are looked at again with the steps.
    bool leaveFaintPeaksOut()
    {
        std::vector<Candidate> kept;
        const auto& places = places_.places;
        for (std::size_t k = 0; k < places.size(); ++k) {
            const double z = s_.z(places[k].start);
            const std::size_t next = k + 1 < places.size() ? places[k + 1].start : lastIndex();
            std::optional<double> level;
            for (const std::size_t side : {k, k + 1})
                if (stretches_[side]) level = std::max(level.value_or(-1e9), stretches_[side]->level(z));
            constexpr double faint = 0.35;  // dB
            if (!level || peaks_.height(places[k].start, next, *level) >= faint || peaks_.saturated(places[k].start, next)) kept.push_back(places[k]);
        }
        if (kept.size() == places.size()) return false;
        places_.places = std::move(kept);
        return true;
    }

    [[nodiscard]] std::optional<DecibelPerKilometre> slopeAt(std::size_t k, double z) const
    {
        if (!stretches_[k]) return std::nullopt;
        const double slope = stretches_[k]->slope(z);
        constexpr double perKilometre = -1000;
        return stretches_[k]->slopeError(z) < 0.25 * std::abs(typical_) && slope < 0 ? std::optional(DecibelPerKilometre(perKilometre * slope))
                                                                                     : std::nullopt;
    }

    /// Places are told to a part of a sample, each by its own means: close ones may have overtaken each other.
    void putInOrder()
    {
        auto& events = out_.events;
        const bool ended = places_.end.has_value();
        std::stable_sort(events.begin(), ended ? events.end() - 1 : events.end(), [](const Event& a, const Event& b) {
            return (a.kind == EventKind::Launch) != (b.kind == EventKind::Launch) ? a.kind == EventKind::Launch : a.at < b.at;
        });
        const Metre least{s_.z(0)}, most = ended ? events.back().at : Metre(s_.z(s_.size() - 1));
        for (auto& e : events) e.at = std::clamp(e.at, std::min(least, most), most);
        for (std::size_t i = 1; i < events.size(); ++i) events[i].at = std::max(events[i].at, events[i - 1].at);
    }

    /// Slopes that fibre does not have at this wavelength, but would have if a unit were another.
    void doubtUnits()
    {
        if (!slopeKnown_) return;
        const double share = slope_.slope / typical_, perKilometre = -1000 * slope_.slope;
        constexpr double twiceFrom = 1.75, twiceTo = 2.4, halfFrom = 0.42, halfTo = 0.57;
        if (share > twiceFrom && share < twiceTo)
            out_.notes.push_back(
                fmt::format("The fibre loses {:.2f} dB/km, about twice what is usual at {:.0f} nm: if the levels were stored two-way, every loss "
                            "is half of what is said here.",
                            perKilometre, trace_.wavelength.value()));
        if (share > halfFrom && share < halfTo)
            out_.notes.push_back(
                fmt::format("The fibre loses {:.2f} dB/km, about half of what is usual at {:.0f} nm: if the distances were stored two-way, every "
                            "place is at half of what is said here.",
                            perKilometre, trace_.wavelength.value()));
    }

    void addLaunch()
    {
        const double begin = s_.z(0);
        if (begin > std::max(s_.pulseMetres(), 5 * s_.spacing())) {
            out_.notes.push_back(fmt::format("The shot begins at {:.0f} m: what lies before, the launch among it, was not measured.", begin));
            return;
        }
        Event e;
        e.kind = EventKind::Launch;
        const std::size_t zero = s_.indexOf(0);
        const std::size_t stop = std::min(s_.size(), zero + 2 * s_.pulseSamples() + 4);
        e.saturated = peaks_.saturated(zero, stop);
        if (stretches_[0]) e.reflectance = reflectance(Decibel(peaks_.height(zero, stop, stretches_[0]->level(0))), trace_.pulse, trace_.backscatter);
        out_.events.push_back(e);
    }

    void addSteps(std::size_t k)
    {
        if (!stretches_[k]) return;
        const SectionsFound lossy = findSections(s_, *stretches_[k], slope_);
        out_.sections.insert(out_.sections.end(), lossy.sections.begin(), lossy.sections.end());
        for (std::size_t j = 0; j < stretches_[k]->steps().size(); ++j) {
            if (std::find(lossy.explains.begin(), lossy.explains.end(), j) != lossy.explains.end()) continue;
            const Step& step = stretches_[k]->steps()[j];
            constexpr double leastEvent = 0.042;  // dB; events of 0.05 and more are wanted
            if (std::abs(step.loss) < leastEvent && step.bump < 0.5) continue;
            Event e;
            e.kind = step.loss < 0 ? EventKind::Gain : EventKind::Loss;
            e.at = Metre(step.at + late_);
            e.loss = Decibel(step.loss);
            e.lossUncertainty = stated(step.error);
            e.leadIn = slopeAt(k, step.at);
            constexpr double surelyPeak = 0.5;  // dB
            if (step.bump > 0) e.reflectance = reflectance(Decibel(step.bump), trace_.pulse, trace_.backscatter);
            if (step.bump >= surelyPeak) e.kind = EventKind::Reflective;
            out_.events.push_back(e);
        }
    }

    void addPeak(std::size_t k)
    {
        const Candidate& place = places_.places[k];
        Event e;
        const double z = place.at;
        e.at = Metre(z);
        e.leadIn = slopeAt(k, z);
        e.joinedWithNext = !stretches_[k + 1] && k + 1 < places_.places.size();
        // the first event of a group has the clean fibre before it
        std::size_t first = k;
        while (first > 0 && !stretches_[first]) --first;
        const Stretch* before = stretches_[first] ? &*stretches_[first] : nullptr;
        const Stretch* behind = stretches_[k + 1] ? &*stretches_[k + 1] : nullptr;
        if (!e.joinedWithNext && before && behind) {
            const double readAt = places_.places[first].at;
            e.loss = Decibel(before->level(readAt) - behind->level(readAt));
            e.lossUncertainty = stated(std::hypot(before->levelError(readAt), behind->levelError(readAt)));
        }
        e.kind = EventKind::Reflective;
        const std::size_t next = k + 1 < places_.places.size() ? places_.places[k + 1].start : lastIndex();
        e.saturated = peaks_.saturated(place.start, std::min(next, peaks_.topEnd(place.start)));
        const double level =
            stretches_[k] ? stretches_[k]->level(z) : decibels(std::max(1e-16, s_.mean(place.start > 3 ? place.start - 3 : 0, place.start)));
        double height = peaks_.height(place.start, next, level);
        if (!stretches_[k] && before) height = overFibre(level, height, before->level(z));
        if (e.loss && *e.loss < Decibel(-0.035) && height + e.loss->value() < std::max(0.25, 4 * s_.sigmaAt(s_.mean(place.start, next))))
            e.kind = EventKind::Gain;  // it rises and stays there: more backscatter, no reflection
        else
            e.reflectance = reflectance(Decibel(height), trace_.pulse, trace_.backscatter);
        out_.events.push_back(e);
    }

    /// A peak that stands on the light of another one, as it would stand on the fibre alone: powers add, decibels do not.
    static double overFibre(double level, double height, double fibre)
    {
        const double more = std::pow(10, (level + height) / 5) - std::pow(10, level / 5);
        return decibels(1 + std::max(0.0, more) / std::pow(10, fibre / 5));
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
        const double z = std::min(places_.endPeak ? places_.endAt : s_.z(*places_.end), s_.z(s_.size() - 1));
        e.at = Metre(z);
        e.leadIn = slopeAt(k, z);
        if (places_.endPeak) {
            e.saturated = peaks_.saturated(*places_.end, peaks_.topEnd(*places_.end));
            if (stretches_[k])
                e.reflectance =
                    reflectance(Decibel(peaks_.height(*places_.end, s_.size(), stretches_[k]->levelBehind(z))), trace_.pulse, trace_.backscatter);
        }
        out_.events.push_back(e);
    }

    const Trace& trace_;
    Cords cords_;
    Signal s_;
    Peaks peaks_;
    double typical_;
    SlopePrior slope_;
    bool slopeKnown_ = false;
    double late_ = 0;  ///< m: by how much a step begins later than a ramp of an even pulse would
    FoundPlaces places_;
    std::vector<std::optional<Stretch>> stretches_;
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
