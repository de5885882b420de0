#include "report/certificate_pdf.h"

#include <fmt/format.h>

#include <QDir>
#include <QFile>
#include <QFontDatabase>
#include <QImage>
#include <QPageSize>
#include <QPainter>
#include <QPdfWriter>

#include "files/files.h"
#include "otdr/sor_reader.h"
#include "otdr/thin.h"
#include "record/certificate.h"

namespace clendo {
namespace {

using nlohmann::json;

constexpr int dotsPerInch = 200;
const QColor ink(0x1D, 0x27, 0x33), soft(0x5A, 0x64, 0x6F), rule(0xCF, 0xC9, 0xBC), deep(0x1F, 0x6F, 0xA8), ochre(0x9A, 0x5A, 0x00),
    wine(0x8A, 0x1F, 0x3D);

QString text(const json& value)
{
    if (value.is_string()) return QString::fromStdString(value.get<std::string>());
    if (value.is_number_float()) return QString::number(value.get<double>(), 'f', 2);
    if (value.is_number()) return QString::fromStdString(value.dump());
    return QStringLiteral("–");
}

QColor toneOf(const QString& verdict)
{
    if (verdict == QLatin1String("pass") || verdict == QLatin1String("fit")) return deep;
    if (verdict == QLatin1String("fail") || verdict == QLatin1String("damaged")) return wine;
    return ochre;
}

/// Paints the pages from the top downwards; all lengths in millimetres.
class PageWriter {
public:
    PageWriter(const json& certificate, const EvidenceSource& evidence, QPdfWriter& pdf) : c_(certificate), evidence_(evidence), pdf_(pdf), p_(&pdf)
    {
    }

    bool run()
    {
        if (!p_.isActive()) return false;
        summary();
        for (const auto& link : c_["links"]) {
            if (c_["links"].size() > 1 && untouched(link)) continue;
            if (c_["links"].size() > 1) newPage();
            linkPage(link);
        }
        footer();
        return p_.end();
    }

private:
    static bool untouched(const json& link)
    {
        bool seen = link["loss"].is_object() || !link["traces"].empty();
        for (const auto& face : link["faces"]) seen = seen || !face["looks"].empty();
        return !seen;
    }

    [[nodiscard]] double mm(double v) const { return v * dotsPerInch / 25.4; }
    [[nodiscard]] double width() const { return pdf_.width() * 25.4 / dotsPerInch; }
    [[nodiscard]] double height() const { return pdf_.height() * 25.4 / dotsPerInch; }

    void font(double points, bool bold = false)
    {
        QFont f(QStringLiteral("Clendo B612"));
        f.setPointSizeF(points);
        f.setBold(bold);
        p_.setFont(f);
    }
    void words(double x, const QString& t, const QColor& colour = ink, double room = 0)
    {
        p_.setPen(colour);
        const QString shown = room > 0 ? p_.fontMetrics().elidedText(t, Qt::ElideRight, static_cast<int>(mm(room))) : t;
        p_.drawText(QPointF(mm(x), mm(y_)), shown);
    }
    void paragraph(const QString& t, const QColor& colour = ink)
    {
        p_.setPen(colour);
        const QRectF room(0, mm(y_ - 3.5), mm(width()), mm(60));
        QRectF used;
        p_.drawText(room, Qt::TextWordWrap, t, &used);
        y_ += used.height() * 25.4 / dotsPerInch + 1.5;
    }
    void down(double by) { y_ += by; }
    void line()
    {
        p_.setPen(QPen(rule, mm(0.2)));
        p_.drawLine(QPointF(0, mm(y_)), QPointF(mm(width()), mm(y_)));
        down(5);
    }
    void need(double room)
    {
        if (y_ + room > height() - 12) newPage();
    }
    void newPage()
    {
        footer();
        pdf_.newPage();
        ++page_;
        y_ = 8;
    }
    void footer()
    {
        const double keep = y_;
        y_ = height() - 2;
        font(7.5);
        words(0,
              QStringLiteral("%1 · %2 · page %3 · records until %4")
                  .arg(text(c_["job"]), text(c_["subject"]))
                  .arg(page_)
                  .arg(text(c_["records_until"])),
              soft);
        y_ = keep;
    }

    void summary()
    {
        const json& cable = c_["cable"];
        font(18, true);
        words(0, QStringLiteral("Certificate %1").arg(text(c_["subject"])));
        down(8);
        font(10);
        words(0, QStringLiteral("%1: %2 to %3 · %4 · %5 · %6 m planned · %7 splices")
                     .arg(text(c_["job"]), text(cable["from"]), text(cable["to"]), text(cable["fibre"]), text(cable["connector"]))
                     .arg(cable["length_m"].get<double>(), 0, 'f', 0)
                     .arg(text(cable["splices"])));
        down(6);
        font(8.5);
        paragraph(QStringLiteral("End faces: %1, class %2, version %3%4. Loss: %5, reference method %6, version %7%8.")
                      .arg(text(c_["criteria"]["name"]), text(c_["criteria"]["class"]), text(c_["criteria"]["version"]), unchecked(c_["criteria"]))
                      .arg(c_["limits"].is_object() ? text(c_["limits"]["title"]) : QStringLiteral("no limits"), text(c_["reference_method"]),
                           c_["limits"].is_object() ? text(c_["limits"]["version"]) : QString(),
                           c_["limits"].is_object() ? unchecked(c_["limits"]) : QString()),
                  soft);
        down(2);
        line();
        const std::vector<std::pair<double, QString>> columns{{0, "Fibre"},  {26, "Colour"},  {50, "nm"},       {62, "A to B"}, {78, "B to A"},
                                                              {94, "Limit"}, {108, "Margin"}, {124, "Verdict"}, {146, "Signed"}};
        font(8.5, true);
        for (const auto& [x, name] : columns) words(x, name, soft);
        down(5.5);
        font(9);
        for (const auto& link : c_["links"]) summaryRows(link);
        down(4);
    }

    static QString unchecked(const json& rules)
    {
        return rules["checked"] == json(true) ? QString() : QStringLiteral(" (not yet compared with a licensed copy)");
    }

    void summaryRows(const json& link)
    {
        need(14);
        words(0, text(link["link"]), ink, 25);
        words(26, text(link["colour"]), ink, 23);
        const QString verdict = text(link["verdict"]);
        if (link["loss"].is_object())
            for (const auto& r : link["loss"]["results"]) {
                words(50, QString::number(r["wavelength_nm"].get<double>(), 'f', 0));
                words(62, text(r["loss_ab_db"]));
                words(78, text(r["loss_ba_db"]));
                words(94, text(r["limit_db"]));
                words(108, text(r["margin_db"]));
                words(124, text(r["verdict"]), toneOf(text(r["verdict"])));
                if (&r == &link["loss"]["results"].front()) words(146, text(link["signed_by"]), ink, 32);
                down(5);
            }
        else {
            words(124, verdict, toneOf(verdict));
            words(146, text(link["signed_by"]), ink, 32);
            down(5);
        }
    }

    void linkPage(const json& link)
    {
        need(60);
        font(13, true);
        words(0, QStringLiteral("Fibre %1, %2").arg(text(link["fibre"]), text(link["colour"])));
        font(11, true);
        words(90, text(link["verdict"]), toneOf(text(link["verdict"])));
        down(6);
        font(8.5);
        QStringList missing;
        for (const auto& m : link["not_tested"]) missing << text(m);
        paragraph(missing.isEmpty() ? QStringLiteral("Everything planned was tested (tier %1).").arg(text(link["tier"]))
                                    : QStringLiteral("Not tested: %1.").arg(missing.join(QStringLiteral("; "))),
                  soft);
        if (link["loss"].is_object())
            for (const auto& r : link["loss"]["results"]) {
                words(0,
                      QStringLiteral("%1 nm: worst %2 dB, margin %3 dB, uncertainty %4 dB. Limit %5")
                          .arg(r["wavelength_nm"].get<double>(), 0, 'f', 0)
                          .arg(text(r["worst_db"]), text(r["margin_db"]), text(r["uncertainty_db"]), text(r["limit_sum"])),
                      ink, width());
                down(4.6);
            }
        if (link["loss"].is_object())
            for (const auto& w : link["loss"]["warnings"]) {
                words(0, text(w["message"]), ochre, width());
                down(4.6);
            }
        down(2);
        for (std::size_t i = 0; i + 1 < link["faces"].size(); i += 2) facePair(link["faces"][i], link["faces"][i + 1]);
        for (const auto& trace : link["traces"]) drawTrace(trace);
    }

    /// Two faces side by side: the pair that touches.
    void facePair(const json& left, const json& right)
    {
        if (left["looks"].empty() && right["looks"].empty()) return;
        constexpr double side = 26;
        need(side + 24);
        const double top = y_;
        double lowest = top;
        for (const auto* face : {&left, &right}) {
            y_ = top;
            faceColumn(*face, face == &left ? 0 : width() / 2 + 2, side);
            lowest = std::max(lowest, y_);
        }
        y_ = lowest + 3;
    }

    void faceColumn(const json& face, double x, double side)
    {
        font(9, true);
        words(x, text(face["where"]), ink, 50);
        font(9);
        words(x + 54, text(face["condition"]), toneOf(text(face["condition"])));
        down(2);
        if (face["looks"].empty()) return;
        const json& first = face["looks"].front();
        const json& last = face["looks"].back();
        const bool several = face["looks"].size() > 1;
        picture(first, x, side);
        if (several) picture(last, x + side + 3, side);
        down(side + 4.5);
        font(8);
        lookWords(several ? QStringLiteral("before") : QStringLiteral("seen"), first, x);
        if (several)
            lookWords(QStringLiteral("after %1 cleaning%2").arg(text(face["cleanings"]), face["cleanings"] == 1 ? QString() : QStringLiteral("s")),
                      last, x);
    }

    void lookWords(const QString& when, const json& look, double x)
    {
        words(x, QStringLiteral("%1, %2: %3").arg(when, text(look["at"]), text(look["verdict"])), toneOf(text(look["verdict"])), width() / 2 - 4);
        down(4.2);
        for (const auto& r : look["rules"])
            if (!r["met"].get<bool>()) {
                words(x + 2,
                      QStringLiteral("zone %1, %2: %3 counted, %4 allowed")
                          .arg(text(r["zone"]), text(r["kind"]), text(r["counted"]), text(r["allowed"])),
                      wine, width() / 2 - 4);
                down(4.2);
            }
    }

    void picture(const json& look, double x, double side)
    {
        const QRectF place(mm(x), mm(y_), mm(side), mm(side));
        p_.fillRect(place, QColor(0x22, 0x26, 0x2B));
        const auto bytes = evidence_(look["picture_sha256"].get<std::string>());
        const QImage image = bytes ? QImage::fromData(reinterpret_cast<const uchar*>(bytes->data()), static_cast<int>(bytes->size())) : QImage();
        if (image.isNull()) return;
        const int edge = std::min(image.width(), image.height());
        const QRect middle((image.width() - edge) / 2, (image.height() - edge) / 2, edge, edge);
        p_.drawImage(place, image.copy(middle).scaled(560, 560, Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
    }

    void drawTrace(const json& trace)
    {
        constexpr double tall = 40;
        need(tall + 12);
        font(9, true);
        words(0, QStringLiteral("Trace %1 nm, %2")
                     .arg(trace["wavelength_nm"].get<double>(), 0, 'f', 0)
                     .arg(trace["direction"] == "ab" ? QStringLiteral("A to B") : QStringLiteral("B to A")));
        font(8.5);
        if (trace["span"].is_object())
            words(60,
                  QStringLiteral("%1 m, %2 dB, return loss %3 dB")
                      .arg(trace["span"]["length_m"].get<double>(), 0, 'f', 1)
                      .arg(text(trace["span"]["loss_db"]), text(trace["span"]["orl_db"])),
                  soft);
        down(2);
        const QRectF box(mm(0), mm(y_), mm(width()), mm(tall));
        p_.setPen(QPen(rule, mm(0.2)));
        p_.drawRect(box);
        const auto bytes = evidence_(trace["trace_sha256"].get<std::string>());
        const auto read = bytes.and_then([&](const std::string& b) { return otdr::readSor(b, "trace"); });
        if (read)
            curve(*read, trace, box);
        else {
            down(10);
            words(4, QStringLiteral("The trace file is missing from the job."), wine);
            down(-10);
        }
        down(tall + 8);
    }

    void curve(const otdr::Trace& t, const json& trace, const QRectF& box)
    {
        const double last = trace["events"].empty() ? double(t.distance.back())
                                                    : std::min(double(t.distance.back()), 1.08 * trace["events"].back()["at_m"].get<double>());
        double top = -100, bottom = 0;
        for (std::size_t i = 0; i < t.level.size() && double(t.distance[i]) < last / 1.1; ++i) {
            top = std::max(top, double(t.level[i]));
            if (!t.dark[i]) bottom = std::min(bottom, double(t.level[i]));
        }
        // the fibre matters; reflections may leave the frame
        std::vector<float> levels(t.level.begin(), t.level.begin() + static_cast<std::ptrdiff_t>(t.level.size() / 4 + 1));
        std::nth_element(levels.begin(), levels.begin() + static_cast<std::ptrdiff_t>(levels.size() / 2), levels.end());
        top = std::min(top, double(levels[levels.size() / 2]) + 5);
        bottom = std::max(bottom, top - 14);
        const auto at = [&](double z, double y) {
            return QPointF(box.left() + z / last * box.width(),
                           box.top() + (top - std::clamp(y, bottom, top)) / std::max(0.1, top - bottom) * box.height());
        };
        QPolygonF points;
        for (const auto& column : otdr::thin(t, Metre(0), Metre(last), 1200))
            points << at(column.distance, column.low) << at(column.distance, column.high);
        p_.setPen(QPen(ink, mm(0.15)));
        p_.drawPolyline(points);
        font(7);
        for (const auto& e : trace["events"]) {
            const double z = e["at_m"].get<double>();
            if (z < 0 || z > last) continue;
            p_.setPen(QPen(deep, mm(0.15), Qt::DashLine));
            p_.drawLine(QPointF(at(z, 0).x(), box.top()), QPointF(at(z, 0).x(), box.bottom()));
            p_.setPen(deep);
            p_.drawText(QPointF(at(z, 0).x() + mm(0.6), box.bottom() - mm(1.2)), QString::number(z, 'f', 0));
        }
    }

    const json& c_;
    const EvidenceSource& evidence_;
    QPdfWriter& pdf_;
    QPainter p_;
    double y_ = 8;
    int page_ = 1;
};

}  // namespace

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

Result<void> writeCertificatePdf(const json& certificate, const EvidenceSource& evidence, const QString& path)
{
    loadTypeface();
    const QString part = path + QStringLiteral(".part");
    bool ok = false;
    {
        QPdfWriter pdf(part);
        pdf.setResolution(dotsPerInch);
        pdf.setPageSize(QPageSize(QPageSize::A4));
        pdf.setPageMargins(QMarginsF(15, 12, 15, 12), QPageLayout::Millimeter);
        pdf.setTitle(QStringLiteral("Certificate %1").arg(text(certificate["subject"])));
        pdf.setCreator(QStringLiteral("Clendo"));
        ok = PageWriter(certificate, evidence, pdf).run();
    }
    QFile::remove(path);
    if (!ok || !QFile::rename(part, path))
        return failure(Error::Code::ExportFailed,
                       fmt::format("The certificate could not be written to “{}”. Free some space or choose another folder.", path.toStdString()));
    return {};
}

Result<QStringList> writeCertificate(const json& certificate, const EvidenceSource& evidence, const QString& folder)
{
    if (!QDir().mkpath(folder))
        return failure(Error::Code::ExportFailed, fmt::format("The folder “{}” cannot be made. Choose another one.", folder.toStdString()));
    QString base = text(certificate["subject"]);
    for (auto& c : base)
        if (!c.isLetterOrNumber() && c != QLatin1Char('-')) c = QLatin1Char('-');
    const QString stem = QDir(folder).filePath(QStringLiteral("certificate-") + base);
    const QStringList paths{stem + QStringLiteral(".pdf"), stem + QStringLiteral(".json"), stem + QStringLiteral(".csv")};
    if (const auto ok = writeCertificatePdf(certificate, evidence, paths[0]); !ok) return tl::unexpected(ok.error());
    if (const auto ok = writeFile(paths[1].toStdString(), certificate.dump(1, ' ', false, json::error_handler_t::replace) + "\n"); !ok)
        return tl::unexpected(ok.error());
    if (const auto ok = writeFile(paths[2].toStdString(), certificateCsv(certificate)); !ok) return tl::unexpected(ok.error());
    return paths;
}

}  // namespace clendo
