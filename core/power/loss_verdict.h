#pragma once
#include "power/loss.h"

namespace clendo {

/// What a loss is against its limit, `uncertainty` expanded. `least`: of its readings the lowest; a gain beyond what two checks may drift proves a
/// bad reference, and nothing is told.
LossVerdict judgeLoss(Decibel loss, Decibel least, Decibel limit, Decibel uncertainty);

}  // namespace clendo
