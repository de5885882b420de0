#include "acquisition/auto_measure.h"

#include <algorithm>

namespace clendo {

std::vector<WantedReading> readingOrder(const std::vector<std::string>& links, const std::vector<Nanometre>& wavelengths, Switching switching)
{
    std::vector<WantedReading> out;
    if (switching == Switching::ByLine) {
        auto order = wavelengths;
        for (const auto& link : links) {
            for (const auto wavelength : order) out.push_back({link, wavelength});
            std::reverse(order.begin(), order.end());
        }
        return out;
    }
    auto order = links;
    for (const auto wavelength : wavelengths) {
        for (const auto& link : order) out.push_back({link, wavelength});
        std::reverse(order.begin(), order.end());
    }
    return out;
}

AutoMeasure::AutoMeasure(std::vector<WantedReading> run, const AcquisitionRule& rule, Switching switching)
    : run_(std::move(run)), rule_(rule), acquisition_(rule), switching_(switching)
{
    if (!run_.empty()) rule_.wavelength = run_.front().wavelength;
    acquisition_.restart(rule_);
}

std::optional<AutoMeasure::Taken> AutoMeasure::add(const PowerSample& sample)
{
    if (!wanted() || held_) return std::nullopt;
    acquisition_.add(sample);
    const auto power = acquisition_.take(sample.at);
    if (!power) return std::nullopt;
    Taken out{run_[next_], *power};
    goOn(out.what.link);
    return out;
}

/// To the next reading: at another wavelength the same connection is read again, another link is another connection.
void AutoMeasure::goOn(const std::string& from)
{
    ++next_;
    if (!wanted()) return;
    const bool otherWavelength = wanted()->wavelength != rule_.wavelength;
    rule_.wavelength = wanted()->wavelength;
    held_ = otherWavelength && switching_ == Switching::ByOperator;
    if (wanted()->link == from)
        acquisition_.restart(rule_);
    else
        acquisition_.setWavelength(rule_.wavelength);
}

void AutoMeasure::sourceIsSet() { held_ = false; }

void AutoMeasure::skip()
{
    if (!wanted()) return;
    const std::string from = wanted()->link;
    acquisition_.holdUntilChanged();
    goOn(from);
}

}  // namespace clendo
