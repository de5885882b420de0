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

/// A loss that was measured of a patch cord.
struct CordLossRow {
    std::string end;  ///< at the reference cord: "A", "B"; empty: both connectors at once
    Nanometre wavelength;
    std::optional<Decibel> loss;  ///< nothing: it rests on no good reference
    Decibel limit, uncertainty;
    std::string verdict;    ///< "pass", "fail", "near limit", "not valid"
    std::string reference;  ///< by which method it was set
};

/// The certificate of one cord of a line: its looks as sheetJson() gives them, what its ends are now, the losses that were measured and the check of
/// the cleaner. An end is what its last look that was evidence says; a cord passes when all its ends that were looked at are fit and every loss that
/// was measured passes. `at`: when it is written.
nlohmann::json cordCertificate(std::string_view label, std::span<const SheetRow> looks, const FaceClass& faceClass, const Criteria& criteria,
                               const CleanerCheck& cleaner, std::span<const CordLossRow> losses, std::int64_t at);

}  // namespace clendo
