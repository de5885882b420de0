#pragma once
#include "result/result.h"

namespace clendo {

/// What a sound stands for.
enum class Sound { Fit, Work, Damaged };

/// Plays the sounds of Clendo; loaded when the first one is wanted. On a machine without sound it is silent.
struct Sounds {
    void (*play)(Sound) = nullptr;
};
Result<Sounds> sounds();

}  // namespace clendo
