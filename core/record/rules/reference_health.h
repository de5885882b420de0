#pragma once
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// What the receive cord added to the reference says of it.
enum class ProofVerdict { Good, Gain, TooMuch };
/// `most`: what two reference-grade connectors may lose together.
ProofVerdict judgeProof(Decibel added, Decibel most);
/// "0.12 dB, of 0.20 that two reference-grade connectors may lose: proven."
std::string proofWords(Decibel added, Decibel most);
/// "Drifted by -0.03 dB: holds." or what it means where it does not.
std::string checkWords(const JobState& state, Decibel drift);

/// What is to be said of the references on which readings of this cable would rest, in sentences: not proven, a bad proof, too old, too many fibres,
/// a cold source, a launch that nobody spoke of, readings in doubt. `now`: seconds since 1970-01-01 UTC; 0: ages are left out.
std::vector<std::string> referenceTroubles(const JobState& state, const CablePlan& cable, std::int64_t now);

/// For which ends the references in force were not proven: "source at A and source at B"; empty: none.
std::string unprovenReferences(const JobState& state, const CablePlan& cable);

/// By how much a cord's proofs have grown since its first ones, and whether it says that the cord is worn: nothing before it was proven often enough.
struct CordWear {
    std::string cord;
    Decibel first, last;  ///< means of the first and the last proofs
    bool worn = false;
};
std::vector<CordWear> cordWear(const JobState& state, Decibel most);
/// What each proof of a cord added, the oldest first: "0.12, 0.13, 0.15 dB in 3 proofs"; of many the first and the last. Empty: it was never proven.
std::string cordHistory(const JobState& state, std::string_view cord);

}  // namespace clendo
