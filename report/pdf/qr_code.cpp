#include "report/pdf/qr_code.h"

#include <optional>
#include <qrcodegen/qrcodegen.hpp>

namespace clendo::pdf {
namespace {

constexpr int quiet = 4;  // modules around it (ISO/IEC 18004, 6.3.8)

std::optional<qrcodegen::QrCode> codeOf(const std::string& text)
{
    try {
        return qrcodegen::QrCode::encodeText(text.c_str(), qrcodegen::QrCode::Ecc::MEDIUM);
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

}  // namespace

bool drawQrCode(Page& page, const std::string& text, double x, double top, double side, const std::string& says)
{
    const auto code = codeOf(text);
    if (!code) return false;
    const auto tagged = page.figure(says);
    const double module = side / (code->getSize() + 2 * quiet);
    for (int row = 0; row < code->getSize(); ++row)
        for (int from = 0; from < code->getSize();) {
            int to = from;
            while (to < code->getSize() && code->getModule(to, row)) ++to;
            // rows overlap by a hair, or seams would show
            if (to > from) page.box(x + (from + quiet) * module, top + (row + quiet) * module, (to - from) * module, module * 1.02, {}, true);
            from = to + 1;
        }
    return true;
}

}  // namespace clendo::pdf
