#pragma once
#include <cstdint>
#include <string>

#include "record/state/state.h"
#include "seal/statement.h"

namespace clendo {

/// What is signed of a record of a job: whose it is, and where the journal ended. `record`: the file that holds it; `now`: seconds since 1970-01-01
/// UTC.
seal::Statement statementOf(const JobState& state, const std::string& subject, const std::string& record, std::int64_t now);

}  // namespace clendo
