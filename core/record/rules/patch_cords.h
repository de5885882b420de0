#pragma once
#include <string>
#include <vector>

#include "batch/cord_certificate.h"
#include "record/state/state.h"

namespace clendo {

/// The losses of a patch cord that count, the last of each end and wavelength, judged by the limits of a kind of fibre: one connector against a test
/// cord, or both at once less the pair that stood in the reference.
std::vector<CordLossRow> cordLosses(const JobState& state, const std::string& cord, const CablePlan& fibre);

/// "VP-P-017 end A: 0.21 dB at 1310 nm (pass)"; what rests on no good reference says so.
std::string cordLossWords(const std::string& cord, const std::vector<CordLossRow>& rows);

}  // namespace clendo
