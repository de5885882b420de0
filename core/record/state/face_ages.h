#pragma once
#include <cstdint>
#include <limits>
#include <map>
#include <optional>
#include <set>
#include <vector>

#include "plant/face_id.h"

namespace clendo {

/// When which face becomes another one by age alone. Times in seconds since 1970-01-01 UTC.
class FaceAges {
public:
    /// A face that ages: `at` it becomes another one, if nothing is done with it; nothing: it has aged as far as it goes.
    void expect(const FaceId& face, std::optional<std::int64_t> at);
    /// It does not age any more.
    void forget(const FaceId& face);
    /// The faces that may be others now than when they were expected: those whose time has come, all where the clock was set back. They are
    /// forgotten.
    [[nodiscard]] std::vector<FaceId> until(std::int64_t now);
    /// The next moment at which there is one; nothing: never.
    [[nodiscard]] std::optional<std::int64_t> next() const;

private:
    std::map<FaceId, std::optional<std::int64_t>> expected_;
    std::set<std::pair<std::int64_t, FaceId>> queue_;  ///< of those that have a time
    std::int64_t now_ = std::numeric_limits<std::int64_t>::min();
};

}  // namespace clendo
