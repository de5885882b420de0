#pragma once
#include <functional>
#include <vector>

#include "shot.h"

namespace clendo::drawn {

/// A picture of an ordinary face by an ordinary camera.
Shot someShot(Dice& dice);

/// What makes a picture special.
struct Kind {
    const char* name;
    std::function<void(Shot&, Dice&)> change;
};
const std::vector<Kind>& kinds();

}  // namespace clendo::drawn
