#include "record/state/job_policy.h"

namespace clendo {

std::string answerOf(const JobSettings& job, std::string_view key)
{
    if (key == "edition") return job.edition;
    if (key == "reference") return std::string(name(job.method));
    if (key == "multi_fibre") return job.stopAtFirstBad ? "stop" : "all";
    return std::string(policy(job.policies, key));
}

JobSettings withAnswer(JobSettings job, std::string_view key, std::string_view answer)
{
    if (key == "edition")
        job.edition = answer;
    else if (key == "reference")
        job.method = referenceMethodNamed(answer).value_or(job.method);
    else if (key == "multi_fibre")
        job.stopAtFirstBad = answer == "stop";
    else if (answer == policy({}, key))
        job.policies.erase(std::string(key));
    else
        job.policies.insert_or_assign(std::string(key), std::string(answer));
    return job;
}

}  // namespace clendo
