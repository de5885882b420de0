#pragma once
#include <string>

#include "power/limits.h"

namespace clendo {

/// What stands at the ends of what is tested.
enum class TestedEnds {
    Adapters,        ///< panels at both ends: cords are put in for the test
    PlugAndAdapter,  ///< a plug at one end, a panel at the other
    Plugs,           ///< its own cords stay in at both ends: plugs
    OneConnector     ///< a patch cord, one connector at a time
};

/// Three answers, from which a reference follows.
struct ReferenceQuestions {
    TestedEnds ends = TestedEnds::Adapters;
    bool meterTakesConnector = true;  ///< that of the link
    bool takeOffLaunch = false;       ///< a launch cord comes in after the reference, and its measured loss is to be taken off
};

struct ReferenceChoice {
    ReferenceMethod method = ReferenceMethod::OneCord;
    std::string holds;  ///< what the loss will hold, in a sentence
    std::string why;
};

/// Which reference counts the connections that belong to what is tested. After IEC 61280-4-1 and IEC 61280-4-2 (method by the ends of the cabling):
/// one cord for adapters at both ends, two for a plug and an adapter, three for plugs at both; three too where the meter does not take the connector.
ReferenceChoice referenceFor(const ReferenceQuestions& answers);

}  // namespace clendo
