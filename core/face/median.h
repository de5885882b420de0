#pragma once
#include <algorithm>
#include <span>

namespace clendo::face {

/// The value in the middle, the upper one of two; the order of the values is lost. There must be one at least.
template <typename T>
T medianOf(std::span<T> values)
{
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

/// The same, and the same value, of single precision in less time where there are many.
float medianOf(std::span<float> values);

}  // namespace clendo::face
