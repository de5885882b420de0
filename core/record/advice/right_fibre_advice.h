#pragma once
#include "record/advice/advice.h"
#include "record/rules/right_fibre.h"

namespace clendo {

/// What is known of where a cable's fibres come out, what is wrong, and what to open first.
Advice rightFibreAdvice(const RightFibres& fibres, const Link& link);

}  // namespace clendo
