#pragma once
#include <string>
#include <vector>

#include "report/pdf/page.h"

namespace clendo::pdf {

/// Makes a PDF of page.cpp one that lasts (PDF/A-2b, ISO 19005-2): says of itself what it is (XMP), what its colours mean (sRGB), in which language
/// it is written, and what each figure shows (`figures`, in their order).
Result<std::string> toArchive(std::string pdf, const About& about, const std::vector<std::string>& figures);

}  // namespace clendo::pdf
