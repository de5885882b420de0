#pragma once
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>

namespace clendo {

/// What a client reads first, counted over the links of a certificate's cables: `fibres`, `verdicts` (how many of each), `sentence`, `overruled`,
/// `exceptions`, `signed`, and `lines`: one each for end faces, tier 1 and tier 2 with how many were asked for, tested, passed, near their limit and
/// failed, and what was not tested, in words.
nlohmann::json certificateSummary(const nlohmann::json& cables);

/// What differs from an earlier certificate of the same subject, part by part: `link`, `about`, `before`, `now` (verdicts; null: no such part), and
/// `kind`: "repaired", "worse", "new", "gone", "changed". `earlier` may be anybody's making; null where it is no certificate.
nlohmann::json certificateChanges(const nlohmann::json& earlier, const nlohmann::json& fresh);

}  // namespace clendo
