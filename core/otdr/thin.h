#pragma once
#include <cstddef>
#include <vector>

#include "otdr/trace.h"

namespace clendo::otdr {

/// Lowest and highest level in one column of a drawing. Keeps every spike: a mean would hide a reflection.
struct ColumnRange {
    double distance = 0, low = 0, high = 0;
};

/// The trace between two distances as `columns` ranges; columns without a point are left out.
std::vector<ColumnRange> thin(const Trace& trace, Metre from, Metre to, std::size_t columns);

}  // namespace clendo::otdr
