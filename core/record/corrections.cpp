#include "record/corrections.h"

namespace clendo {

std::set<std::int64_t> correctedEntries(std::span<const Entry> entries)
{
    std::set<std::int64_t> out;
    for (const auto& e : entries)
        if (const auto* c = std::get_if<Corrected>(&e.fact)) out.insert(c->entry);
    return out;
}

}  // namespace clendo
