#pragma once
#include <cstdint>
#include <set>
#include <span>

#include "record/facts.h"

namespace clendo {

/// The entries that a later one corrects: they stay readable and no longer count.
std::set<std::int64_t> correctedEntries(std::span<const Entry> entries);

}  // namespace clendo
