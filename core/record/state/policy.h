#pragma once
#include <map>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace clendo {

/// One question on which good practitioners disagree, and the answers that a job can choose from.
struct PolicyRow {
    std::string key;                                           ///< as a job keeps it
    std::string question;                                      ///< for people
    std::vector<std::pair<std::string, std::string>> choices;  ///< as a job keeps it, for people; the first is the default
    std::string reason;                                        ///< why the default is what it is
    std::string changes;                                       ///< what the answer changes
};

/// All questions, in the order of the work.
const std::vector<PolicyRow>& policyRows();

/// Answers by question; what is not in it holds by default.
using Policies = std::map<std::string, std::string, std::less<>>;

/// What holds: the job's answer, or the default where it has none or one that this version does not know.
std::string_view policy(const Policies& policies, std::string_view key);

/// Sentences about answers that this version does not know: a job written by another one.
std::vector<std::string> unknownPolicies(const Policies& policies);

}  // namespace clendo
