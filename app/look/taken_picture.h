#pragma once
#include <string>
#include <vector>

#include "face/face_report.h"
#include "files/evidence.h"
#include "result/result.h"

namespace clendo {

/// A picture with what it shows.
struct TakenPicture {
    Evidence evidence;
    std::vector<face::FaceMeasurement> faces;
    std::int64_t at = 0;  ///< when it was taken, as its file or the clipboard says, microseconds since 1970-01-01 UTC; 0: not known
};

/// For worker threads. `several`: all fibres of a row are measured, else one.
Result<TakenPicture> readAndMeasure(const std::string& path, const std::string& name, bool several);
Result<TakenPicture> measureBytes(std::string bytes, const std::string& name, bool several);

}  // namespace clendo
