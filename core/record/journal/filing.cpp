#include "record/journal/filing.h"

#include <nlohmann/json.hpp>

#include "files/canonical_json.h"

namespace clendo {

std::vector<EntryRecord> recordsOf(const Act& act, ChainEnd& end)
{
    std::vector<EntryRecord> out;
    for (const Fact& fact : act.facts) {
        EntryRecord e;
        e.act = act.id;
        e.happened = act.happened;
        e.filed = end.clock.next(act.now);
        e.who = act.who;
        e.device = end.device;
        e.sequence = end.head.sequence + 1;
        e.previous = end.head.hash;
        e.kind = kindOf(fact);
        e.body = canonicalJson(bodyOf(fact));
        e.hash = hashOf(e);
        end.head = {e.sequence, e.hash};
        out.push_back(std::move(e));
    }
    return out;
}

Result<EntryRecord> recordOf(const Entry& entry)
{
    EntryRecord out{entry, std::string(kindOf(entry.fact)), {}};
    const auto* unknown = std::get_if<UnknownFact>(&entry.fact);
    out.body = unknown ? unknown->text : canonicalJson(bodyOf(entry.fact));
    if (hashOf(out) != entry.hash)
        return failure(Error::Code::JobDamaged, "An entry was written by another version and stands in the job file only.", out.hash.hex());
    return out;
}

Entry entryOf(EntryRecord record)
{
    const std::string kind = std::move(record.kind), body = std::move(record.body);
    return entryOf(static_cast<EntryHead&&>(std::move(record)), kind, body);
}

Entry entryOf(EntryHead head, std::string_view kind, std::string_view body)
{
    auto fact = factFrom(kind, body);
    if (!fact) fact = UnknownFact{std::string(kind), std::string(body)};
    return {std::move(head), std::move(*fact)};
}

}  // namespace clendo
