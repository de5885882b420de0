#include "acquisition/acquisition.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace clendo {
namespace {

constexpr std::size_t mostKept = 5000;  // a fast meter and a long time: the oldest go

AcquiredPower readingOf(const std::deque<PowerSample>& samples)
{
    AcquiredPower out;
    double milliwatts = 0, sum = 0, squares = 0;
    std::vector<double> levels;
    for (const auto& s : samples) {
        milliwatts += std::pow(10, s.power.value() / 10);
        sum += s.power.value();
        levels.push_back(s.power.value());
    }
    const double n = double(samples.size()), mean = sum / n;
    for (const double level : levels) squares += (level - mean) * (level - mean);
    out.power = DecibelMilliwatt(10 * std::log10(milliwatts / n));
    out.scatter = Decibel(std::sqrt(squares / std::max(1.0, n - 1)));
    std::sort(levels.begin(), levels.end());
    double step = 0;
    constexpr double alike = 1e-9;
    for (std::size_t i = 1; i < levels.size(); ++i)
        if (const double d = levels[i] - levels[i - 1]; d > alike && (step == 0 || d < step)) step = d;
    out.resolution = Decibel(step);
    out.samples = samples.size();
    out.from = samples.front().at;
    out.to = samples.back().at;
    return out;
}

}  // namespace

std::string_view name(AcquisitionState state)
{
    switch (state) {
        case AcquisitionState::Silent: return "silent";
        case AcquisitionState::WrongWavelength: return "wrong wavelength";
        case AcquisitionState::Tone: return "tone";
        case AcquisitionState::Overload: return "overload";
        case AcquisitionState::NoLight: return "no light";
        case AcquisitionState::Unclear: return "unclear";
        case AcquisitionState::Unsteady: return "unsteady";
        case AcquisitionState::Steady: return "steady";
        case AcquisitionState::Taken: return "taken";
    }
    return "silent";
}

void Acquisition::add(const PowerSample& sample)
{
    if (last_ && sample.at <= last_->at) return;
    if (last_ && sample.at - last_->at > rule_.patience) steady_.clear();  // what happened in between is not known
    last_ = sample;
    const bool counts = sample.kind == PowerSample::Kind::Level && std::isfinite(sample.power.value()) && sample.power > rule_.floor &&
                        sample.wavelength == rule_.wavelength && !sample.tone;
    const bool dark = sample.kind == PowerSample::Kind::NoLight || (sample.kind == PowerSample::Kind::Level && sample.power <= rule_.floor);
    if (dark) taken_.reset();
    if (!counts) return steady_.clear();
    if (taken_ && std::abs((sample.power - *taken_).value()) >= rule_.parted.value()) taken_.reset();
    steady_.push_back(sample);
    if (steady_.size() > mostKept) steady_.pop_front();
    // what lies outside the span that ends with the newest goes, and all that came before it
    DecibelMilliwatt low = sample.power, high = sample.power;
    auto keep = steady_.end();
    for (auto it = steady_.end(); it != steady_.begin();) {
        --it;
        low = std::min(low, it->power);
        high = std::max(high, it->power);
        if (high - low > rule_.within) break;
        keep = it;
    }
    steady_.erase(steady_.begin(), keep);
}

bool Acquisition::spans() const { return steady_.size() >= rule_.fewest && steady_.back().at - steady_.front().at >= rule_.lasting; }

AcquisitionState Acquisition::state(std::int64_t now) const
{
    if (!last_ || now - last_->at > rule_.patience) return AcquisitionState::Silent;
    switch (last_->kind) {
        case PowerSample::Kind::Overload: return AcquisitionState::Overload;
        case PowerSample::Kind::NoLight: return AcquisitionState::NoLight;
        case PowerSample::Kind::Unclear: return AcquisitionState::Unclear;
        case PowerSample::Kind::Level: break;
    }
    if (!std::isfinite(last_->power.value())) return AcquisitionState::Unclear;
    if (last_->power <= rule_.floor) return AcquisitionState::NoLight;
    if (last_->wavelength != rule_.wavelength) return AcquisitionState::WrongWavelength;
    if (last_->tone) return AcquisitionState::Tone;
    if (taken_) return AcquisitionState::Taken;
    return spans() ? AcquisitionState::Steady : AcquisitionState::Unsteady;
}

std::optional<AcquiredPower> Acquisition::take(std::int64_t now)
{
    if (state(now) != AcquisitionState::Steady) return std::nullopt;
    const AcquiredPower out = readingOf(steady_);
    taken_ = out.power;
    return out;
}

void Acquisition::restart(const AcquisitionRule& rule)
{
    rule_ = rule;
    steady_.clear();
    last_.reset();
    taken_.reset();
}

void Acquisition::holdUntilChanged()
{
    steady_.clear();
    if (last_ && last_->kind == PowerSample::Kind::Level && last_->power > rule_.floor) taken_ = last_->power;
}

void Acquisition::setWavelength(Nanometre wavelength)
{
    if (wavelength == rule_.wavelength) return;
    rule_.wavelength = wavelength;
    steady_.clear();
}

}  // namespace clendo
