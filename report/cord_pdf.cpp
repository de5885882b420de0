#include "report/cord_pdf.h"

#include <QFileInfo>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "pictures/decode.h"
#include "record/journal/time_text.h"
#include "report/certificate_folder.h"
#include "report/pdf_page.h"

namespace clendo {
namespace {

using nlohmann::json;
using namespace print;

class CordPage : PdfPage {
public:
    CordPage(const json& cord, QPdfWriter& pdf) : PdfPage(pdf, [this] { footer(); }), c_(cord) {}

    bool run()
    {
        if (!painter.isActive()) return false;
        font(18, true);
        words(0, QStringLiteral("Cord %1").arg(text(c_["cord"])));
        words(110, text(c_["verdict"]), toneOf(text(c_["verdict"])));
        down(8);
        font(9);
        paragraph(QStringLiteral("End faces: %1, class %2, version %3%4.")
                      .arg(text(c_["criteria"]["name"]), text(c_["criteria"]["class"]), text(c_["criteria"]["version"]), unchecked(c_["criteria"])),
                  soft);
        paragraph(cleaner(), soft);
        losses();
        down(2);
        line();
        for (const auto& look : c_["pictures"]) lookAt(look);
        footer();
        return painter.end();
    }

private:
    void footer()
    {
        const double keep = y;
        y = height() - 2;
        font(7.5);
        words(0, QStringLiteral("Cord %1 · page %2 · written %3").arg(text(c_["cord"])).arg(number).arg(when(c_["written_at"])), soft);
        y = keep;
    }

    static QString when(const json& seconds) { return QString::fromStdString(timeText(seconds.get<std::int64_t>())); }

    [[nodiscard]] QString cleaner() const
    {
        const json& check = c_["cleaner"];
        if (check.is_null()) return QStringLiteral("The line's cleaner was not looked through.");
        QStringList open;
        for (const auto& item : check["open"]) open << text(item);
        return QStringLiteral("The line's cleaner was looked through %1: %2.")
            .arg(when(check["checked_at"]),
                 open.isEmpty() ? QStringLiteral("all was in order") : QStringLiteral("open was %1").arg(open.join(QStringLiteral(", "))));
    }

    void losses()
    {
        const json& measured = c_.contains("loss") ? c_["loss"] : json::array();
        if (measured.empty()) return paragraph(QStringLiteral("Its loss was not measured."), soft);
        down(2);
        words(0, QStringLiteral("Loss"));
        down(4.6);
        for (const auto& row : measured) {
            const QString which = row["end"].is_string() ? QStringLiteral("connector %1").arg(text(row["end"])) : QStringLiteral("both connectors");
            words(0, text(row["verdict"]), toneOf(text(row["verdict"])));
            const QString at = QStringLiteral("%1, %2 nm: ").arg(which).arg(row["wavelength_nm"].get<double>(), 0, 'f', 0);
            const QString says = row["loss_db"].is_null() ? QStringLiteral("no loss is told, for want of a good reference")
                                                          : QStringLiteral("%1 dB; limit %2 dB, uncertain by %3 dB; reference %4")
                                                                .arg(row["loss_db"].get<double>(), 0, 'f', 2)
                                                                .arg(row["limit_db"].get<double>(), 0, 'f', 2)
                                                                .arg(row["uncertainty_db"].get<double>(), 0, 'f', 2)
                                                                .arg(text(row["reference"]));
            words(22, at + says, ink, width() - 22);
            down(4.6);
        }
    }

    void lookAt(const json& look)
    {
        constexpr double side = 42;
        need(side + 6);
        const std::string file = text(look["image"]).toStdString();
        const auto image = readFile(file).and_then([&](const std::string& bytes) { return readImage(bytes, file); });
        square(image.value_or(QImage()), 0, side);
        const double top = y, x = side + 5;
        down(4);
        font(10, true);
        words(x, look["end"].is_string() ? QStringLiteral("End %1: %2").arg(text(look["end"]), text(look["outcome"])) : text(look["outcome"]),
              toneOf(text(look["outcome"])));
        down(5);
        font(8.5);
        words(x, QFileInfo(text(look["image"])).fileName(), soft, width() - x);
        down(4.5);
        if (look.contains("error")) words(x, text(look["error"]["message"]), wine, width() - x);
        for (const auto& face : look["faces"]) {
            for (const auto& reason : face["reasons"]) {
                words(x, text(reason), ochre, width() - x);
                down(4.2);
            }
            for (const auto& r : face["rules"]) {
                if (r["met"].get<bool>() || y > top + side) continue;
                words(x,
                      QStringLiteral("zone %1, %2: %3 counted, %4 allowed")
                          .arg(text(r["zone"]), text(r["kind"]), text(r["counted"]), text(r["allowed"])),
                      wine, width() - x);
                down(4.2);
            }
        }
        y = top + side + 5;
    }

    const json& c_;
};

}  // namespace

Result<QStringList> writeCord(const json& cord, const std::string& csv, const QString& folder)
{
    return pdfBytes(QStringLiteral("Cord %1").arg(text(cord["cord"])), [&](QPdfWriter& pdf) { return CordPage(cord, pdf).run(); })
        .and_then([&](std::string pdf) {
            return placeCertificates({{cord["cord"].get<std::string>(), std::move(pdf), cord, csv}}, folder);
        });
}

}  // namespace clendo
