#pragma once
#include <string>

#include "record/state/job_settings.h"

namespace clendo {

/// What a job answers to a question of policyRows(): settings that are fields of their own (edition, reference, ferrules) included.
std::string answerOf(const JobSettings& job, std::string_view key);

/// The job with another answer. An answer that is the default is not kept apart.
JobSettings withAnswer(JobSettings job, std::string_view key, std::string_view answer);

}  // namespace clendo
