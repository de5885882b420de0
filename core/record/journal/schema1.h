#pragma once
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "record/facts/entry.h"
#include "result/result.h"

namespace clendo {

/// A line of the journal of a job of schema 1, where entries were known by their number.
struct Schema1Row {
    std::int64_t id = 0, at = 0;  ///< seconds since 1970-01-01 UTC
    std::string who, kind, body;
};

/// The journal as it is today, made from that of a schema-1 job. The same rows give the same entries on every computer, so that two copies that were
/// carried over can be united. Settings are taken apart, numbers of entries become their hashes, readings name the reference that was good when they
/// were read.
struct CarriedOver {
    std::vector<EntryRecord> entries;
    std::optional<Error> trouble;  ///< a row that cannot be carried over; `entries` then end before it
};
CarriedOver carriedOver(std::span<const Schema1Row> rows);

}  // namespace clendo
