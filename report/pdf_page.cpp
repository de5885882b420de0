#include "report/pdf_page.h"

#include <fmt/format.h>

#include <QDir>
#include <QFile>
#include <QFontDatabase>
#include <QPageSize>
#include <nlohmann/json.hpp>

#include "files/files.h"

namespace clendo {

void loadTypeface()
{
    static const bool loaded = [] {
        const QDir fonts(QString::fromStdString((dataFolder() / "fonts").string()));
        for (const char* name : {"ClendoB612-Regular.otf", "ClendoB612-Bold.otf"})
            QFontDatabase::addApplicationFont(fonts.filePath(QString::fromLatin1(name)));
        return true;
    }();
    (void)loaded;
}

namespace print {

QColor toneOf(const QString& verdict)
{
    if (verdict == QLatin1String("pass") || verdict.startsWith(QLatin1String("fit"))) return deep;
    if (verdict == QLatin1String("fail") || verdict == QLatin1String("damaged") || verdict == QLatin1String("not fit")) return wine;
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

Result<QStringList> writeSideBySide(const QString& folder, QString name, const std::function<Result<void>(const QString& path)>& pdf,
                                    const nlohmann::json& certificate, const std::string& csv)
{
    if (!QDir().mkpath(folder))
        return failure(Error::Code::ExportFailed, fmt::format("The folder “{}” cannot be made. Choose another one.", folder.toStdString()));
    for (auto& c : name)
        if (!c.isLetterOrNumber() && c != QLatin1Char('-')) c = QLatin1Char('-');
    const QString stem = QDir(folder).filePath(name);
    const QStringList paths{stem + QStringLiteral(".pdf"), stem + QStringLiteral(".json"), stem + QStringLiteral(".csv")};
    const std::string json = certificate.dump(1, ' ', false, nlohmann::json::error_handler_t::replace) + "\n";
    return pdf(paths[0])
        .and_then([&] { return writeFile(paths[1].toStdString(), json); })
        .and_then([&] { return writeFile(paths[2].toStdString(), csv); })
        .map([&] { return paths; });
}

Result<void> writePdf(const QString& path, const QString& title, const std::function<bool(QPdfWriter&)>& pages)
{
    loadTypeface();
    const QString part = path + QStringLiteral(".part");
    bool ok = false;
    {
        QPdfWriter pdf(part);
        pdf.setResolution(print::dotsPerInch);
        pdf.setPageSize(QPageSize(QPageSize::A4));
        pdf.setPageMargins(QMarginsF(15, 12, 15, 12), QPageLayout::Millimeter);
        pdf.setTitle(title);
        pdf.setCreator(QStringLiteral("Clendo"));
        ok = pages(pdf);
    }
    if (ok) QFile::remove(path);
    if (!ok || !QFile::rename(part, path))
        return failure(Error::Code::ExportFailed,
                       fmt::format("The certificate could not be written to “{}”. Free some space or choose another folder.", path.toStdString()));
    return {};
}

}  // namespace clendo
