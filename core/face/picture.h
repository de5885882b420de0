#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>

#include "units/units.h"

namespace clendo::face {

/// A grey picture, 8 bits, rows from the top without padding: pixels[y * width + x].
struct Picture {
    int width = 0, height = 0;
    std::vector<std::uint8_t> pixels;

    [[nodiscard]] bool sound() const
    {
        return width > 0 && height > 0 && pixels.size() == static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
    }
};

}  // namespace clendo::face
