#pragma once
#include <cstdint>
#include <string_view>

#include "batch/sheet.h"

namespace clendo {

/// What was looked at of a line's cleaning machine before it began.
struct CleanerCheck {
    std::int64_t at = 0;  ///< seconds since 1970-01-01 UTC; 0: it was not looked at
    std::vector<std::string> good, open;
};

/// The certificate of one cord of a line: its looks as sheetJson() gives them, what its ends are now, and the check of the cleaner. An end is what
/// its last look that was evidence says; a cord is fit when all its ends that were looked at are. `at`: when it is written.
nlohmann::json cordCertificate(std::string_view label, std::span<const SheetRow> looks, const FaceClass& faceClass, const Criteria& criteria,
                               const CleanerCheck& cleaner, std::int64_t at);

}  // namespace clendo
