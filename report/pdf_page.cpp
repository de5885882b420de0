#include "report/pdf_page.h"

#include <QBuffer>
#include <QDir>
#include <QFontDatabase>
#include <QPageSize>
#include <nlohmann/json.hpp>

#include "files/files.h"

namespace clendo {

void loadTypeface()
{
    static const bool loaded = [] {
        const QDir fonts(QString::fromStdString((dataFolder() / "fonts").string()));
        for (const char* name : {"ClendoB612-Regular.ttf", "ClendoB612-Bold.ttf"})
            QFontDatabase::addApplicationFont(fonts.filePath(QString::fromLatin1(name)));
        return true;
    }();
    (void)loaded;
}

namespace print {

QColor toneOf(const QString& verdict)
{
    if (verdict.startsWith(QLatin1String("pass")) || verdict == QLatin1String("fit")) return deep;
    if (verdict == QLatin1String("fail") || verdict == QLatin1String("damaged")) return wine;
    return ochre;
}

QString unchecked(const nlohmann::json& rules)
{
    return rules["checked"] == nlohmann::json(true) ? QString() : QStringLiteral(" (not yet compared with a licensed copy)");
}

QString text(const nlohmann::json& value)
{
    if (value.is_string()) return QString::fromStdString(value.get<std::string>());
    if (value.is_number_float()) return QString::number(value.get<double>(), 'f', 2);
    if (value.is_number()) return QString::fromStdString(value.dump());
    return QStringLiteral("–");
}

}  // namespace print

Result<std::string> pdfBytes(const QString& title, const std::function<bool(QPdfWriter&)>& pages)
{
    loadTypeface();
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    bool ok = false;
    {
        QPdfWriter pdf(&bytes);
        pdf.setResolution(print::dotsPerInch);
        pdf.setPageSize(QPageSize(QPageSize::A4));
        pdf.setPageMargins(QMarginsF(15, 12, 15, 12), QPageLayout::Millimeter);
        pdf.setTitle(title);
        pdf.setCreator(QStringLiteral("Clendo"));
        ok = pages(pdf);
    }
    if (!ok || bytes.data().isEmpty()) return failure(Error::Code::ExportFailed, "The pages of the certificate could not be drawn.");
    return bytes.data().toStdString();
}

}  // namespace clendo
