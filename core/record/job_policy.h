#pragma once
#include <string>

#include "record/facts.h"

namespace clendo {

/// What a job answers to a question of policyRows(): settings that are fields of their own (edition, reference, ferrules) included.
std::string answerOf(const JobSet& job, std::string_view key);

/// The job with another answer. An answer that is the default is not kept apart.
JobSet withAnswer(JobSet job, std::string_view key, std::string_view answer);

}  // namespace clendo
