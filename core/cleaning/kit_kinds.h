#pragma once
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "result/result.h"

namespace clendo {

/// A kind of thing that a technician carries (data/cleaning/kit.json).
struct KitKind {
    std::string kind;                 ///< "pen"
    std::string title;                ///< "tape pen"
    std::vector<std::string> cleans;  ///< "cord", "adapter", "device", "hardened", "sleeve"
    std::string way;                  ///< "dry", "wet", "both"; empty: cleans nothing
    std::string counts;               ///< "strokes", "matings"; empty: nothing wears out
    int most = 0;                     ///< how many of them it is good for, typically
    bool calibrated = false;          ///< needs a calibration date
    bool byConnector = false;         ///< fits some connectors only
    bool port = false;                ///< has a port of its own, which is an end face
    std::vector<std::string> proofs;  ///< what to look at before the round
};

/// The kind of a golden face: one that is only ever looked at, with one scope and tip, to see whether the scope still shows what it did.
inline constexpr std::string_view goldenKind = "golden face";

Result<std::vector<KitKind>> parseKitKinds(std::string_view json);
Result<std::vector<KitKind>> loadKitKinds(const std::filesystem::path& dataFolder);
/// Nothing where the kind is not known.
const KitKind* kitKindNamed(const std::vector<KitKind>& kinds, std::string_view kind);

}  // namespace clendo
