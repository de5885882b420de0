#pragma once
#include <string>

#include "report/pdf/page.h"

namespace clendo::pdf {

/// A QR code (ISO/IEC 18004) of a text as a square of `side` mm with its quiet zone; false, and nothing drawn, where the text is too long for one.
bool drawQrCode(Page& page, const std::string& text, double x, double top, double side, const std::string& says);

}  // namespace clendo::pdf
