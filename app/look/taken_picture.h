#pragma once
#include <string>
#include <vector>

#include "face/face_report.h"
#include "files/evidence.h"
#include "instruments/live_scope.h"
#include "result/result.h"

namespace clendo {

/// A picture with what it shows.
struct TakenPicture {
    Evidence evidence;
    std::vector<face::FaceMeasurement> faces;
    struct Combined {
        int taken = 0, used = 0;  ///< frames
        Evidence best;            ///< the sharpest of them
    };
    std::optional<Combined> combined{};  ///< nothing: one picture as it came
    std::int64_t at = 0;                 ///< when it was taken, as its file or the clipboard says, microseconds since 1970-01-01 UTC; 0: not known
};

/// For worker threads. `several`: all fibres of a row are measured, else one.
Result<TakenPicture> readAndMeasure(const std::string& path, const std::string& name, bool several);
/// The frames of a live picture held by hand as one picture, where enough of them lie over each other; else the sharpest.
Result<TakenPicture> combineAndMeasure(const LiveCapture& captured, const std::string& name);
Result<TakenPicture> measureBytes(std::string bytes, const std::string& name, bool several);

}  // namespace clendo
