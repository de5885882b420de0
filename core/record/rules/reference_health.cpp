#include "record/rules/reference_health.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "record/facts/reference_facts.h"
#include "record/rules/read_again.h"

namespace clendo {
namespace {

constexpr std::size_t proofsForWear = 3;  // at each end of the history

Decibel mean(const std::vector<Decibel>& values, std::size_t from, std::size_t n)
{
    Decibel sum{0};
    for (std::size_t i = from; i < from + n; ++i) sum += values[i];
    return sum / double(n);
}

}  // namespace

ProofVerdict judgeProof(Decibel added, Decibel most)
{
    if (isGain(added)) return ProofVerdict::Gain;
    constexpr Decibel rounding{1e-9};
    return added > most + rounding ? ProofVerdict::TooMuch : ProofVerdict::Good;
}

std::string proofWords(Decibel added, Decibel most)
{
    switch (judgeProof(added, most)) {
        case ProofVerdict::Good:
            return fmt::format("The receive cord added {:.2f} dB; two reference-grade connectors may lose {:.2f} dB. Proven.", added.value(),
                               most.value());
        case ProofVerdict::Gain:
            return fmt::format("More light with a second cord, by {:.2f} dB: the reference is bad. Clean cord and ports, and set it again.",
                               -added.value());
        case ProofVerdict::TooMuch:
            return fmt::format(
                "The receive cord added {:.2f} dB; two reference-grade connectors may lose {:.2f} dB. Look at both faces, clean, prove again; else "
                "replace "
                "the cord.",
                added.value(), most.value());
    }
    return {};
}

std::string checkWords(const JobState& state, Decibel drift)
{
    const double tolerated = state.plan->policyDecimal("drift").value_or(0.1);
    if (std::abs(drift.value()) <= tolerated + 1e-9)
        return fmt::format("Drifted by {:+.2f} dB of {:.2f} that are tolerated: the reference holds.", drift.value(), tolerated);
    const auto again = readAgain(state);
    return fmt::format(
        "Drifted by {:+.2f} dB, over the {:.2f} that are tolerated: the reference is void, and {} reading{} in doubt. Set it again, then read those "
        "again.",
        drift.value(), tolerated, again.size(), again.size() == 1 ? " is" : "s are");
}

std::vector<std::string> referenceTroubles(const JobState& state, const CablePlan& cable, std::int64_t now)
{
    std::vector<std::string> out;
    const LimitSet* limits = state.plan->limitsFor(cable);
    for (const Direction d : state.plan->lossDirections())
        for (const int nm : state.plan->wavelengthsFor(cable)) {
            const auto* set = state.reference(d, Nanometre(nm));
            if (!set) continue;
            if (set->proof && limits && judgeProof(*set->proof, limits->referencePair) != ProofVerdict::Good)
                out.push_back(fmt::format("{} nm, {}: {}", nm, sourceWords(d), proofWords(*set->proof, limits->referencePair)));
            const auto age = state.plan->policyDecimal("reference_age");
            const std::int64_t since = std::max(set->at, set->checkedAt);
            if (now > 0 && age && double(now - since) > *age * 60)
                out.push_back(
                    fmt::format("{} nm, {}: the reference was set {} minutes ago, and this job trusts it for {:.0f}. Check it, or set it again.", nm,
                                sourceWords(d), (now - since) / 60, *age));
        }
    for (const auto& [key, why] : state.voidedWhy) {
        const auto wanted = state.plan->wavelengthsFor(cable);
        if (std::find(wanted.begin(), wanted.end(), static_cast<int>(key.second)) != wanted.end())
            out.push_back(fmt::format("{:.0f} nm, {}: the reference is void, {}. Set it again.", key.second, sourceWords(key.first), why));
    }
    const double warm = state.plan->policyDecimal("warm_up").value_or(10);
    for (const auto& [source, on] : state.sourcesOn)
        if (now > 0 && double(now - on) < warm * 60)
            out.push_back(
                fmt::format("{} was switched on {} minutes ago: warm after {:.0f}.", source.empty() ? "The source" : source, (now - on) / 60, warm));
    if (const std::string proofless = unprovenReferences(state, cable); !proofless.empty())
        out.push_back(fmt::format("Not proven yet, {}: put the receive cord on behind the reference cord, and read what it adds.", proofless));
    if (const auto again = readAgain(state); !again.empty()) {
        constexpr std::size_t told = 3;
        std::string which;
        for (std::size_t i = 0; i < std::min(told, again.size()); ++i)
            which +=
                fmt::format("{}{} at {:.0f} nm, {}", i == 0 ? "" : "; ", again[i].link, again[i].wavelength.value(), sourceWords(again[i].direction));
        if (again.size() > told) which += fmt::format("; and {} more", again.size() - told);
        out.push_back(fmt::format("{} reading{} in doubt ({}), those nearest to their limit first: {}.", again.size(),
                                  again.size() == 1 ? " is" : "s are", again.front().why, which));
    }
    for (const auto& cord : limits ? cordWear(state, limits->referencePair) : std::vector<CordWear>())
        if (cord.worn)
            out.push_back(fmt::format("Cord {} adds {:.2f} dB by now, {:.2f} dB when it was first proven: worn. Replace it.", cord.cord,
                                      cord.last.value(), cord.first.value()));
    return out;
}

std::string unprovenReferences(const JobState& state, const CablePlan& cable)
{
    std::string out;
    for (const Direction d : state.plan->lossDirections()) {
        const auto wavelengths = state.plan->wavelengthsFor(cable);
        const bool unproven = std::any_of(wavelengths.begin(), wavelengths.end(), [&](int nm) {
            const auto* set = state.reference(d, Nanometre(nm));
            return set && !set->proof && !set->zeroed;
        });
        if (unproven) out += fmt::format("{}{}", out.empty() ? "" : " and ", sourceWords(d));
    }
    return out;
}

std::string cordHistory(const JobState& state, std::string_view cord)
{
    constexpr std::size_t atEachEnd = 4;
    std::vector<double> added;
    for (const auto& proof : state.proofs)
        if (proof.cord == cord) added.push_back(proof.loss.value());
    if (added.empty()) return {};
    std::string out;
    for (std::size_t i = 0; i < added.size(); ++i) {
        if (i == atEachEnd && added.size() > 2 * atEachEnd) {
            out += " …";
            i = added.size() - atEachEnd;
        }
        out += fmt::format("{}{:.2f}", out.empty() ? "" : ", ", added[i]);
    }
    return fmt::format("{} dB in {} proof{}", out, added.size(), added.size() == 1 ? "" : "s");
}

std::vector<CordWear> cordWear(const JobState& state, Decibel most)
{
    std::map<std::string, std::vector<Decibel>> byCord;
    for (const auto& proof : state.proofs)
        if (!proof.cord.empty()) byCord[proof.cord].push_back(proof.loss);
    std::vector<CordWear> out;
    for (const auto& [cord, losses] : byCord) {
        if (losses.size() < 2 * proofsForWear) continue;
        const Decibel first = mean(losses, 0, proofsForWear), last = mean(losses, losses.size() - proofsForWear, proofsForWear);
        out.push_back({cord, first, last, last > most || last - first > most / 2});
    }
    return out;
}

}  // namespace clendo
