#pragma once
#include <QImage>
#include <QPainter>
#include <QPdfWriter>
#include <functional>
#include <nlohmann/json_fwd.hpp>

#include "result/result.h"

namespace clendo {

/// Loads the shipped type face; call once before anything is painted. Safe to call again.
void loadTypeface();

/// The colours of a certificate: printed, so not those of the window's theme.
namespace print {
inline constexpr int dotsPerInch = 200;
inline const QColor ink(0x1D, 0x27, 0x33), soft(0x5A, 0x64, 0x6F), rule(0xCF, 0xC9, 0xBC), deep(0x1F, 0x6F, 0xA8), ochre(0x9A, 0x5A, 0x00),
    wine(0x8A, 0x1F, 0x3D);

/// Of a verdict or condition.
QColor toneOf(const QString& verdict);
/// What is said of rules that nobody has compared with a licensed copy of the standard; empty where somebody has.
QString unchecked(const nlohmann::json& rules);
/// A value as it is printed: texts as they are, numbers with two decimals, a dash for nothing.
QString text(const nlohmann::json& value);

}  // namespace print

/// A PDF of A4 pages. `pages` says whether it went well.
Result<std::string> pdfBytes(const QString& title, const std::function<bool(QPdfWriter&)>& pages);

/// Writes a PDF from the top of each page downwards; all lengths in millimetres.
class PdfPage {
public:
    PdfPage(QPdfWriter& pdf, std::function<void()> footer) : painter(&pdf), pdf_(pdf), footer_(std::move(footer)) {}

    [[nodiscard]] double mm(double v) const { return v * print::dotsPerInch / 25.4; }
    [[nodiscard]] double width() const { return pdf_.width() * 25.4 / print::dotsPerInch; }
    [[nodiscard]] double height() const { return pdf_.height() * 25.4 / print::dotsPerInch; }

    void font(double points, bool bold = false)
    {
        QFont f(QStringLiteral("Clendo B612"));
        f.setHintingPreference(QFont::PreferNoHinting);  // hints are for screens: on paper they space letters unevenly
        f.setPointSizeF(points);
        f.setBold(bold);
        painter.setFont(f);
    }
    void words(double x, const QString& t, const QColor& colour = print::ink, double room = 0)
    {
        painter.setPen(colour);
        const QString shown = room > 0 ? painter.fontMetrics().elidedText(t, Qt::ElideRight, static_cast<int>(mm(room))) : t;
        painter.drawText(QPointF(mm(x), mm(y)), shown);
    }
    void paragraph(const QString& t, const QColor& colour = print::ink)
    {
        const auto tall = painter.fontMetrics().boundingRect(QRect(0, 0, static_cast<int>(mm(width())), 100000), Qt::TextWordWrap, t).height();
        need(tall * 25.4 / print::dotsPerInch);
        painter.setPen(colour);
        const QRectF room(0, mm(y - 3.5), mm(width()), mm(240));
        QRectF used;
        painter.drawText(room, Qt::TextWordWrap, t, &used);
        y += used.height() * 25.4 / print::dotsPerInch + 1.5;
    }
    /// The same from `x` to the right edge, at the height of a line of words; the next line comes below it.
    void column(double x, const QString& t, const QColor& colour)
    {
        painter.setPen(colour);
        QRectF used;
        painter.drawText(QRectF(mm(x), mm(y) - painter.fontMetrics().ascent(), mm(width() - x), mm(60)), Qt::TextWordWrap, t, &used);
        y += used.height() * 25.4 / print::dotsPerInch + 0.5;
    }
    void down(double by) { y += by; }
    void line()
    {
        painter.setPen(QPen(print::rule, mm(0.2)));
        painter.drawLine(QPointF(0, mm(y)), QPointF(mm(width()), mm(y)));
        down(5);
    }
    void need(double room)
    {
        if (y + room > height() - 12) newPage();
    }
    /// The middle of a picture as a square of `side` mm with its upper left corner here; dark where there is no picture.
    void square(const QImage& image, double x, double side)
    {
        const QRectF place(mm(x), mm(y), mm(side), mm(side));
        painter.fillRect(place, QColor(0x22, 0x26, 0x2B));
        if (image.isNull()) return;
        const int edge = std::min(image.width(), image.height());
        const QRect middle((image.width() - edge) / 2, (image.height() - edge) / 2, edge, edge);
        painter.drawImage(place, image.copy(middle).scaled(560, 560, Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
    }
    void newPage()
    {
        footer_();
        pdf_.newPage();
        ++number;
        y = 8;
    }

    QPainter painter;
    double y = 8;
    int number = 1;

private:
    QPdfWriter& pdf_;
    std::function<void()> footer_;
};

}  // namespace clendo
