#include "app/widgets/theme.h"

#include <QDir>
#include <QFont>
#include <QFontDatabase>
#include <QFontMetrics>
#include <QPainter>
#include <QPainterPath>
#include <QPalette>

#include "app/widgets/style.h"
#include "files/files.h"

namespace clendo {
namespace {

Theme light()
{
    return {QColor(0xF4, 0xF1, 0xEA), QColor(0xE9, 0xE4, 0xD8), QColor(0xFB, 0xFA, 0xF6), QColor(0xCF, 0xC9, 0xBC), QColor(0x1D, 0x27, 0x33),
            QColor(0x56, 0x60, 0x6B), QColor(0x12, 0x32, 0x4A), QColor(0xFF, 0xFF, 0xFF), QColor(0x1B, 0x63, 0x98), QColor(0x96, 0x57, 0x00),
            QColor(0x8A, 0x1F, 0x3D), QColor(0x5F, 0x70, 0x80), QColor(0xDD, 0xE8, 0xF0)};
}

Theme dark()
{
    Theme t{QColor(0x16, 0x1B, 0x21), QColor(0x1C, 0x23, 0x2B), QColor(0x22, 0x2A, 0x33), QColor(0x3A, 0x45, 0x50), QColor(0xE6, 0xE9, 0xEC),
            QColor(0xA9, 0xB4, 0xBE), QColor(0x0B, 0x20, 0x30), QColor(0xFF, 0xFF, 0xFF), QColor(0x6F, 0xB6, 0xEA), QColor(0xE3, 0xA3, 0x3C),
            QColor(0xE5, 0x86, 0xA0), QColor(0x9A, 0xAA, 0xB8), QColor(0x24, 0x3B, 0x4E)};
    t.dark = true;
    return t;
}

Theme& current()
{
    static Theme t = light();
    return t;
}

/// The shipped type face, once.
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

QPainterPath halfDisc(QPointF middle, double r, bool left)
{
    QPainterPath path;
    const double s = left ? -1 : 1;
    path.moveTo(middle + QPointF(0, -r));
    path.lineTo(middle + QPointF(s * r * 0.45, -r));
    const QRectF arc(middle.x() + s * r * 0.45 - r, middle.y() - r, 2 * r, 2 * r);
    path.arcTo(arc, 90, left ? 180 : -180);
    path.lineTo(middle + QPointF(0, r));
    path.closeSubpath();
    return path;
}

}  // namespace

const Theme& theme() { return current(); }

QColor Theme::of(FaceCondition condition) const
{
    switch (condition) {
        case FaceCondition::Fit: return fit;
        case FaceCondition::Work: return work;
        case FaceCondition::Damaged: return damaged;
        case FaceCondition::Stale: return work;
        case FaceCondition::NotSeen: return unknown;
    }
    return unknown;
}

QColor Theme::of(Tone tone) const
{
    switch (tone) {
        case Tone::Fit: return fit;
        case Tone::Work: return work;
        case Tone::Damaged: return damaged;
        case Tone::Neutral: return ink;
    }
    return ink;
}

void tint(QWidget* widget, QPalette::ColorRole role, const QColor& colour)
{
    QPalette palette = widget->palette();
    if (palette.color(role) == colour) return;
    palette.setColor(role, colour);
    widget->setPalette(palette);
}

int em(double times) { return static_cast<int>(times * QFontMetrics(QApplication::font()).height()); }

void applyTheme(QApplication& application, bool wantsDark)
{
    loadTypeface();
    current() = wantsDark ? dark() : light();
    const Theme& t = current();
    if (!qobject_cast<Style*>(application.style())) application.setStyle(new Style);
    QFont font(QStringLiteral("Clendo B612"));
    font.setHintingPreference(QFont::PreferNoHinting);  // the typeface has no hints of its own; made up ones space its letters unevenly
    font.setPointSizeF(9.5);
    application.setFont(font);
    QPalette p;
    p.setColor(QPalette::Window, t.ground);
    p.setColor(QPalette::Base, t.card);
    p.setColor(QPalette::AlternateBase, t.panel);
    p.setColor(QPalette::Button, t.card);
    p.setColor(QPalette::ToolTipBase, t.card);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText, QPalette::BrightText})
        p.setColor(role, t.ink);
    p.setColor(QPalette::PlaceholderText, t.soft);
    p.setColor(QPalette::Highlight, t.chosen);
    p.setColor(QPalette::HighlightedText, t.ink);
    p.setColor(QPalette::Link, t.fit);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText}) p.setColor(QPalette::Disabled, role, t.soft);
    application.setPalette(p);
}

void paintFace(QPainter& p, QPointF middle, double r, bool left, FaceCondition condition)
{
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    const QColor colour = theme().of(condition);
    QPainterPath shape = halfDisc(middle, r, left);
    QPen pen(colour, std::max(1.4, r * 0.13));
    QBrush fill(theme().card);
    switch (condition) {
        case FaceCondition::Fit: fill = colour; break;
        case FaceCondition::Work:
            p.fillPath(shape, theme().card);
            fill = QBrush(colour, Qt::BDiagPattern);
            break;
        case FaceCondition::Damaged: {
            fill = colour;
            QPainterPath notch;
            const double s = left ? -1 : 1;
            notch.moveTo(middle + QPointF(s * r * 1.7, -r * 0.55));
            notch.lineTo(middle + QPointF(s * r * 0.35, 0));
            notch.lineTo(middle + QPointF(s * r * 1.7, r * 0.55));
            notch.closeSubpath();
            shape = shape.subtracted(notch);
            break;
        }
        case FaceCondition::Stale: pen.setStyle(Qt::DashLine); break;
        case FaceCondition::NotSeen: break;
    }
    p.setPen(pen);
    p.setBrush(fill);
    p.drawPath(shape);
    p.restore();
}

void paintCorners(QPainter& p, QPointF middle, double half, double arm)
{
    for (const double sx : {-1.0, 1.0})
        for (const double sy : {-1.0, 1.0}) {
            const QPointF corner = middle + QPointF(sx * half, sy * half);
            p.drawLine(corner, corner - QPointF(sx * arm, 0));
            p.drawLine(corner, corner - QPointF(0, sy * arm));
        }
}

void paintTone(QPainter& p, const QRectF& box, Tone tone)
{
    const auto condition = tone == Tone::Fit       ? FaceCondition::Fit
                           : tone == Tone::Work    ? FaceCondition::Work
                           : tone == Tone::Damaged ? FaceCondition::Damaged
                                                   : FaceCondition::NotSeen;
    const double r = box.height() / 2 - 2;
    paintFace(p, box.center() - QPointF(1.5, 0), r * 0.9, true, condition);
    paintFace(p, box.center() + QPointF(1.5, 0), r * 0.9, false, condition);
}

}  // namespace clendo
