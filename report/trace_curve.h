#pragma once
#include <QRectF>
#include <nlohmann/json_fwd.hpp>

#include "otdr/trace.h"
#include "report/pdf_page.h"

namespace clendo {

/// Draws a trace into `box` (device units) with its events, as listed in the certificate, marked at their distances in metres.
void drawCurve(PdfPage& page, const otdr::Trace& t, const nlohmann::json& trace, const QRectF& box);

}  // namespace clendo
