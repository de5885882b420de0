#include "record/rules/overrulings.h"

#include <algorithm>
#include <map>

#include "record/journal/acts.h"

namespace clendo {

Overrulings overrulingsIn(std::span<const Entry> entries)
{
    const auto corrected = correctedEntries(entries);
    Overrulings out;
    std::map<Appearance, OverrulingsOf> kinds;
    std::map<std::pair<Digest, int>, Appearance> findings;  // by look and id
    std::map<std::pair<Digest, int>, FindingOverruled::As> said;
    for (const auto& entry : entries) {
        if (corrected.contains(entry.hash)) continue;
        if (const auto* seen = std::get_if<FaceSeen>(&entry.fact)) {
            ++out.looks;
            for (const auto& f : seen->measured.findings) {
                ++kinds[f.appearance].found;
                findings[{entry.hash, f.id}] = f.appearance;
            }
        }
        if (const auto* word = std::get_if<FindingOverruled>(&entry.fact)) {
            if (word->as == FindingOverruled::As::Missed)
                ++out.missed;
            else if (findings.contains({word->look, word->finding}))
                said[{word->look, word->finding}] = word->as;
        }
    }
    for (const auto& [which, as] : said) {
        auto& kind = kinds[findings[which]];
        ++(as == FindingOverruled::As::NotReal ? kind.notReal : kind.renamed);
    }
    for (auto& [appearance, counts] : kinds) {
        counts.appearance = appearance;
        out.kinds.push_back(counts);
    }
    return out;
}

}  // namespace clendo
