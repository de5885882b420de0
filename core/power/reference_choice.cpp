#include "power/reference_choice.h"

namespace clendo {
namespace {

ReferenceMethod methodFor(const ReferenceQuestions& answers)
{
    switch (answers.ends) {
        case TestedEnds::Adapters: return answers.meterTakesConnector ? ReferenceMethod::OneCord : ReferenceMethod::ThreeCord;
        case TestedEnds::PlugAndAdapter: return ReferenceMethod::TwoCord;
        case TestedEnds::Plugs: return ReferenceMethod::ThreeCord;
        case TestedEnds::OneConnector: return ReferenceMethod::SingleEnded;
    }
    return ReferenceMethod::OneCord;
}

std::string whyOf(const ReferenceQuestions& answers)
{
    switch (answers.ends) {
        case TestedEnds::Adapters:
            return answers.meterTakesConnector
                       ? "Both panels belong to the link: one cord in the reference lets both count, and is the least uncertain."
                       : "The meter does not take the link's connector, so that no cord alone can go into it: a third reference-grade cord stands in "
                         "for the link. The end connections are then not counted; look at those faces with care.";
        case TestedEnds::PlugAndAdapter:
            return "One end brings its own plug: the cord that it meets is already in the reference, the panel at the other end counts.";
        case TestedEnds::Plugs: return "Both ends bring their own plugs: what they are plugged into later is no part of what is tested.";
        case TestedEnds::OneConnector:
            return answers.meterTakesConnector
                       ? "The far end goes straight into the meter, whose large area forgives it: what is lost is the near connector. Turn "
                         "the cord round for the other."
                       : "The far end has to go straight into the meter: find an adapter for its connector, or read both connectors at once "
                         "with two cords.";
    }
    return {};
}

}  // namespace

ReferenceChoice referenceFor(const ReferenceQuestions& answers)
{
    ReferenceChoice out;
    out.method = methodFor(answers);
    const int held = endConnectionsHeld(out.method);
    out.holds = answers.ends == TestedEnds::OneConnector ? "The loss holds the connector that is at the reference cord."
                : held == 2                              ? "The loss holds both end connections, and everything between."
                : held == 1                              ? "The loss holds one of the end connections, and everything between."
                                                         : "The loss holds none of the end connections, only what lies between.";
    out.why = whyOf(answers);
    if (answers.takeOffLaunch)
        out.why +=
            " The launch cord is proven first at each wavelength: only what was measured is taken off. Set through it, the reference would need "
            "no arithmetic.";
    return out;
}

}  // namespace clendo
