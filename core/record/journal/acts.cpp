#include "record/journal/acts.h"

#include <algorithm>

namespace clendo {
namespace {

/// What Z leaves alone: rules stay kept, because whoever judges by them would keep them again at once.
bool staysFiled(const Fact& fact)
{
    return std::holds_alternative<Corrected>(fact) || std::holds_alternative<LossesNoted>(fact) || std::holds_alternative<RulesKept>(fact);
}

}  // namespace

Corrections correctedEntries(std::span<const Entry> journal)
{
    Corrections out;
    for (const auto& e : journal)
        if (const auto* c = std::get_if<Corrected>(&e.fact)) out.insert(c->entry);
    return out;
}

std::vector<const Entry*> lastActOf(std::span<const Entry> journal, std::string_view who, const std::set<std::string>& devices)
{
    const auto corrected = correctedEntries(journal);
    const auto counts = [&](const Entry& e) {
        return e.who == who && devices.contains(e.device) && !staysFiled(e.fact) && !corrected.contains(e.hash) && e.act != journal.front().act;
    };
    const auto last = std::find_if(journal.rbegin(), journal.rend(), counts);
    std::vector<const Entry*> out;
    if (last == journal.rend()) return out;
    for (const auto& e : journal)
        if (e.act == last->act && counts(e)) out.push_back(&e);
    return out;
}

}  // namespace clendo
