#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "record/facts/fact_reading.h"
#include "record/state/rules.h"

namespace clendo {

struct JobState;
struct Criteria;

/// What measured something and by which rules it was judged when it was filed. Nothing in it: not known (jobs of schema 1).
struct MadeBy {
    struct Rules {
        std::string name, version, sha256;
        bool operator==(const Rules&) const = default;
    };
    std::string program;  ///< with its version: "clendo 0.1.0"
    std::vector<Rules> rules;
    bool operator==(const MadeBy&) const = default;
};

/// This program, and the criteria or the limits of a link by which something will be judged.
MadeBy judgedBy(const Criteria& criteria);
MadeBy judgedBy(const JobState& state, const std::string& link);

/// Adds the member "made_by" where something is known.
void addMadeBy(nlohmann::json& body, const MadeBy& made);
MadeBy readMadeBy(FactReading& in);

}  // namespace clendo
