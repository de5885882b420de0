#include "report/certificate/statement.h"

namespace clendo {

seal::Statement statementOf(const JobState& state, const std::string& subject, const std::string& record, std::int64_t now)
{
    seal::Statement out{subject, state.plan->job.name, now, record, {}};
    for (const auto& [device, head] : state.chainEnds) out.heads.push_back({device, head.sequence, head.hash});
    return out;
}

}  // namespace clendo
