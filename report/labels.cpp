#include "report/labels.h"

#include <fmt/format.h>

#include "record/journal/time_text.h"
#include "report/pdf/qr_code.h"

namespace clendo {
namespace {

using namespace pdf;

constexpr int across = 3, downwards = 9;
constexpr double wide = 60, high = 30, code = 24;

void drawLabel(Page& page, const Label& label, double x, double top)
{
    page.box(x, top, wide, high, faint);
    drawQrCode(page, label.code, x + wide - code - 1, top + 1, code, label.code);
    constexpr double room = wide - code - 4;
    page.y = top + 6.5;
    page.font(10, true);
    page.y = page.column(x + 2.5, label.title, ink, room) + 1;
    page.font(7);
    for (const auto& line : label.lines)
        if (page.y + page.heightOf(line, room) < top + high) page.y = page.column(x + 2.5, line, soft, room) + 0.6;
}

}  // namespace

Result<std::string> labelSheet(const std::vector<Label>& labels, std::int64_t now)
{
    if (labels.empty()) return failure(Error::Code::ExportFailed, "There is nothing to label here: no ports, and no cords in the kit.");
    Page page({"Labels", "Labels of ports, cords and reels", "", now}, [](Page&) {});
    constexpr std::size_t each = across * downwards;
    for (std::size_t i = 0; i < labels.size(); ++i) {
        if (i > 0 && i % each == 0) page.newPage();
        const auto at = static_cast<int>(i % each);
        drawLabel(page, labels[i], (at % across) * wide, (at / across) * high);
    }
    return page.finish();
}

Result<std::string> keySheet(const seal::KeyFile& key, std::int64_t now)
{
    Page page({fmt::format("Key of {}", key.holder), "A signing key on paper", key.holder, now}, [](Page&) {});
    {
        const auto tagged = page.tag(Role::Title);
        page.font(18, true);
        page.words(0, fmt::format("Key of {}", key.holder));
    }
    page.down(9);
    page.font(9.5);
    page.paragraph(fmt::format("Made {}. Its public half, to be read aloud: {}", timeText(key.madeAt), key.publicKey.spoken()));
    page.paragraph(
        "This sheet holds the key itself, sealed with its passphrase. Keep it apart from the computer, and the passphrase apart from both. Whoever "
        "has "
        "both signs as you. To use it again, save the text below, or what the code holds, as a file that ends in .clendo-key.",
        wine);
    page.down(2);
    constexpr double side = 95;
    if (drawQrCode(page, key.text, 0, page.y, side, "The sealed key as QR code")) page.down(side + 4);
    page.font(7);
    page.paragraph(key.text, soft);
    page.down(4);
    page.font(9.5);
    page.paragraph(fmt::format("The whole public half: {}", key.publicKey.hex()));
    return page.finish();
}

}  // namespace clendo
