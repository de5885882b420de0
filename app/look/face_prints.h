#pragma once
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "modules/vision.h"
#include "record/journal/journal_store.h"
#include "record/state/state.h"

namespace clendo {

/// A look to be known again, apart from the state, which goes on.
struct LookHeld {
    FaceId face;
    std::string picture;
    face::FaceMeasurement measured;
    std::int64_t at = 0;
};
/// The last look at each face that is evidence of it and not this picture; of `first` it stands first.
std::vector<LookHeld> lastLooks(const JobState& state, const FaceId& first, const std::string& notThis);

/// By what faces are known again, of looks that were asked for before: shared by workers.
class FacePrints {
public:
    using Print = std::shared_ptr<const face::Fingerprint>;
    /// Null: the picture is no evidence of it, or cannot be read.
    Print of(const Vision& module, const LookHeld& look, const EvidenceSource& evidence);

private:
    std::shared_ptr<const face::Picture> pictureOf(const std::string& sha, const EvidenceSource& evidence);

    std::mutex mutex_;
    std::map<std::string, Print> prints_;
    std::pair<std::string, std::shared_ptr<const face::Picture>> last_;  ///< a ferrule's fibres share a picture
};

}  // namespace clendo
