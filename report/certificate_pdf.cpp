#include "report/certificate_pdf.h"

#include <QImage>
#include <QPainter>
#include <QPdfWriter>
#include <nlohmann/json.hpp>

#include "otdr/sor_reader.h"
#include "pictures/decode.h"
#include "record/output/certificate.h"
#include "report/certificate_folder.h"
#include "report/pdf_page.h"
#include "report/trace_curve.h"

namespace clendo {
namespace {

using nlohmann::json;
using namespace print;

/// What stands on the pages of a certificate.
class PageWriter : PdfPage {
public:
    PageWriter(const json& certificate, const EvidenceSource& evidence, const std::function<bool()>& goesOn, QPdfWriter& pdf)
        : PdfPage(pdf, [this] { footer(); }), c_(certificate), evidence_(evidence), goesOn_(goesOn)
    {
    }

    bool run()
    {
        if (!painter.isActive()) return false;
        summary();
        for (const auto& link : c_["links"]) {
            if (goesOn_ && !goesOn_()) return painter.end(), false;
            if (c_["links"].size() > 1 && untouched(link)) continue;
            if (c_["links"].size() > 1) newPage();
            linkPage(link);
        }
        footer();
        return painter.end();
    }

private:
    static bool untouched(const json& link)
    {
        bool seen = link["loss"].is_object() || !link["traces"].empty();
        for (const auto& face : link["faces"]) seen = seen || !face["looks"].empty();
        return !seen;
    }

    void footer()
    {
        const double keep = y;
        y = height() - 2;
        font(7.5);
        words(0,
              QStringLiteral("%1 · %2 · page %3 · records until %4, entry %5")
                  .arg(text(c_["job"]), text(c_["subject"]))
                  .arg(number)
                  .arg(text(c_["records_until"]), text(c_["journal"]["last_entry"]).left(16)),
              soft);
        y = keep;
    }

    /// Where the job differs from the default, and what measured.
    [[nodiscard]] QString rulesOfTheJob() const
    {
        QStringList said, instruments, measured;
        for (const auto& row : c_["policy"])
            if (!row["default"].get<bool>()) said << text(row["answer"]);
        for (const auto& item : c_["instruments"])
            (item["measured"].get<bool>() ? measured : instruments)
                << QStringLiteral("%1 (%2, %3)")
                       .arg(text(item["name"]), item["serial"].is_string() ? text(item["serial"]) : QStringLiteral("no serial number"),
                            item["calibrated_until"].is_string() ? QStringLiteral("calibrated until %1").arg(text(item["calibrated_until"]))
                                                                 : QStringLiteral("no calibration date"));
        QString out;
        if (!said.isEmpty()) out += QStringLiteral("Policy of this job: %1. ").arg(said.join(QStringLiteral("; ")));
        if (!measured.isEmpty()) out += QStringLiteral("Measured with: %1. ").arg(measured.join(QStringLiteral("; ")));
        if (!instruments.isEmpty())
            out += QStringLiteral("In the kit, not said to have measured this: %1.").arg(instruments.join(QStringLiteral("; ")));
        return out.trimmed();
    }

    /// By which the loss was read, of all links.
    [[nodiscard]] QString methods() const
    {
        QStringList said;
        for (const auto& m : c_["reference_methods"]) said << text(m);
        return said.isEmpty() ? QStringLiteral("none, no loss was read") : said.join(QStringLiteral(" and "));
    }

    /// Who signed, when, and whether that still stands; of an overtaken one what differs.
    void signature(const json& s)
    {
        if (!s.is_object()) return paragraph(QStringLiteral("Not signed."), soft);
        QString said = QStringLiteral("Signed by %1, %2").arg(text(s["by"]), text(s["at"]));
        if (s["record_sha256"].is_string()) said += QStringLiteral(", for the record %1…").arg(text(s["record_sha256"]).left(16));
        if (s["state"] == "stands") return paragraph(said + QStringLiteral(": the signature stands."), ink);
        said += QStringLiteral(". Overtaken");
        if (s.contains("since") && s["since"].is_string())
            said += QStringLiteral(" since %1 by entry %2").arg(text(s["since"]), text(s["by_entry"]).left(16));
        paragraph(said + QStringLiteral(": what stands here is not what was signed."), wine);
        if (s.contains("differs"))
            for (const auto& d : s["differs"])
                paragraph(QStringLiteral("%1: signed “%2”, now “%3”").arg(text(d["about"]), text(d["before"]), text(d["now"])), wine);
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
                      .arg(c_["limits"].is_object() ? text(c_["limits"]["title"]) : QStringLiteral("no limits"), methods(),
                           c_["limits"].is_object() ? text(c_["limits"]["version"]) : QString(),
                           c_["limits"].is_object() ? unchecked(c_["limits"]) : QString()),
                  soft);
        if (const QString said = rulesOfTheJob(); !said.isEmpty()) paragraph(said, soft);
        if (c_["signature"].is_object()) signature(c_["signature"]);
        for (const auto& loss : c_["losses"])
            paragraph(QStringLiteral("This record is not whole. %1, noted %2.").arg(text(loss["what"]), text(loss["at"])), wine);
        down(2);
        line();
        const std::vector<std::pair<double, QString>> columns{{0, "Fibre"},  {26, "Colour"},  {50, "nm"},    {62, "Source A"}, {78, "Source B"},
                                                              {94, "Limit"}, {107, "Margin"}, {121, "Loss"}, {135, "Verdict"}, {153, "Signed"}};
        font(8.5, true);
        for (const auto& [x, name] : columns) words(x, name, soft);
        down(5.5);
        font(9);
        for (const auto& link : c_["links"]) summaryRows(link);
        down(4);
    }

    void summaryRows(const json& link)
    {
        need(14);
        words(0, text(link["link"]), ink, 25);
        words(26, text(link["colour"]), ink, 23);
        const QString verdict = text(link["verdict"]);
        QString by = text(link["signed_by"]);
        if (link["signature"].is_object() && link["signature"]["state"] != "stands") by += QStringLiteral(", overtaken");
        words(135, verdict, toneOf(verdict), 17);
        words(153, by, ink, width() - 153);
        if (link["loss"].is_object())
            for (const auto& r : link["loss"]["results"]) {
                words(50, QString::number(r["wavelength_nm"].get<double>(), 'f', 0));
                words(62, text(r["loss_ab_db"]));
                words(78, text(r["loss_ba_db"]));
                words(94, text(r["limit_db"]));
                words(107, text(r["margin_db"]));
                words(121, text(r["verdict"]), toneOf(text(r["verdict"])), 13);
                down(5);
            }
        else
            down(5);
    }

    static QString tierWords(const json& link)
    {
        if (link["tier"] == 2) return QStringLiteral("Tier 2: loss, length, right fibre and traces were tested.");
        if (link["tier"] == 1) return QStringLiteral("Tier 1: loss, length and right fibre were tested.");
        return QStringLiteral("No tier is claimed: loss, length or right fibre was not tested.");
    }

    /// What is there of each kind, part by part, with its verdict where that is no pass.
    void parts(const json& link)
    {
        constexpr double kindAt = 0, aboutAt = 22, saysAt = 76;
        QString before;
        for (const auto& part : link["parts"]) {
            if (!part["says"].is_string()) continue;
            need(6);
            const QString kind = text(part["kind"]), verdict = text(part["verdict"]);
            font(8, true);
            if (kind != before) words(kindAt, kind.left(1).toUpper() + kind.mid(1), soft);
            before = kind;
            font(8);
            words(aboutAt, text(part["about"]), ink, saysAt - aboutAt - 2);
            const bool good = verdict == QLatin1String("pass");
            column(saysAt, good ? text(part["says"]) : QStringLiteral("%1: %2").arg(verdict, text(part["says"])), good ? ink : toneOf(verdict));
        }
        font(8.5);
        down(1.5);
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
        signature(link["signature"]);
        const QString because =
            link["verdict_because"].is_string() ? QStringLiteral(", because of: %1").arg(text(link["verdict_because"])) : QString();
        paragraph(QStringLiteral("Verdict: %1%2. %3").arg(text(link["verdict"]), because, tierWords(link)), ink);
        parts(link);
        QStringList missing;
        for (const auto& m : link["not_tested"]) missing << text(m);
        if (!missing.isEmpty()) paragraph(QStringLiteral("Not tested: %1.").arg(missing.join(QStringLiteral("; "))), wine);
        for (const auto& e : link["exceptions"]) paragraph(QStringLiteral("Exception: %1.").arg(text(e)), ink);
        if (link["loss"].is_object())
            for (const auto& r : link["loss"]["results"])
                paragraph(QStringLiteral("%1 nm: limit %2; uncertainty %3 dB.")
                              .arg(r["wavelength_nm"].get<double>(), 0, 'f', 0)
                              .arg(text(r["limit_sum"]), text(r["uncertainty_db"])),
                          soft);
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
        const double top = y;
        double lowest = top;
        for (const auto* face : {&left, &right}) {
            y = top;
            faceColumn(*face, face == &left ? 0 : width() / 2 + 2, side);
            lowest = std::max(lowest, y);
        }
        y = lowest + 3;
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
        const auto sha = look["picture_sha256"].get<std::string>();
        square(evidence_(sha).and_then([&](const std::string& bytes) { return readImage(bytes, sha); }).value_or(QImage()), x, side);
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
        const QRectF box(mm(0), mm(y), mm(width()), mm(tall));
        painter.setPen(QPen(rule, mm(0.2)));
        painter.drawRect(box);
        const auto bytes = evidence_(trace["trace_sha256"].get<std::string>());
        const auto read = bytes.and_then([&](const std::string& b) { return otdr::readSor(b, "trace"); });
        if (read)
            drawCurve(*this, *read, trace, box);
        else {
            down(10);
            words(4, QStringLiteral("The trace file is missing from the job."), wine);
            down(-10);
        }
        down(tall + 8);
    }

    const json& c_;
    const EvidenceSource& evidence_;
    const std::function<bool()>& goesOn_;
};

}  // namespace

Result<std::string> certificatePdf(const json& certificate, const EvidenceSource& evidence, const std::function<bool()>& goesOn)
{
    return pdfBytes(QStringLiteral("Certificate %1").arg(text(certificate["subject"])),
                    [&](QPdfWriter& pdf) { return PageWriter(certificate, evidence, goesOn, pdf).run(); });
}

Result<QStringList> writeCertificates(const std::vector<json>& certificates, const EvidenceSource& evidence, const QString& folder,
                                      const CertificateProgress& progress)
{
    int done = 0, all = 0;
    for (const auto& certificate : certificates) all += static_cast<int>(certificate["links"].size());
    bool stopped = false;
    const auto goesOn = [&] { return !(stopped = progress && !progress(done++, all)); };
    std::vector<CertificateFiles> files;
    for (const auto& certificate : certificates) {
        auto pdf = certificatePdf(certificate, evidence, goesOn);
        if (stopped) return failure(Error::Code::ExportFailed, "Stopped: no certificate was written.");
        if (!pdf) return tl::unexpected(pdf.error());
        files.push_back({certificate["subject"].get<std::string>(), std::move(*pdf), certificate, certificateCsv(certificate)});
    }
    return placeCertificates(files, folder);
}

}  // namespace clendo
