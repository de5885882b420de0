#include "record/state/loss_task.h"

namespace clendo {

LossTask lossTaskOf(const Link& link, ReferenceMethod method, const std::vector<Reading>& readings)
{
    return {link.id,
            {link.cable->fibre, link.cable->length, link.cable->testedConnections(), static_cast<int>(link.cable->splices.size())},
            method,
            {},
            readings};
}

}  // namespace clendo
