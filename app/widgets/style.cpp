#include "app/widgets/style.h"

#include <QPainter>
#include <QStyleOption>
#include <QWidget>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr int smallestTarget = 42;  // px: cold hands
constexpr int smallestField = 34;
constexpr int barButton = 32;

bool has(const QWidget* widget, const char* property) { return widget && widget->property(property).toBool(); }

void box(QPainter& p, const QRect& rect, const QColor& fill, const QColor& line, double width, double radius)
{
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(line, width));
    p.setBrush(fill);
    p.drawRoundedRect(QRectF(rect).adjusted(width / 2, width / 2, -width / 2, -width / 2), radius, radius);
    p.restore();
}

void buttonBox(QPainter& p, const QStyleOption& o, const QWidget* widget)
{
    const Theme& t = theme();
    const bool focus = o.state & QStyle::State_HasFocus, over = (o.state & QStyle::State_MouseOver) && (o.state & QStyle::State_Enabled);
    if (has(widget, "onBar")) return box(p, o.rect, t.bar, focus || over ? t.barText : t.unknown, focus ? 2 : 1, 6);
    if (has(widget, "first") && (o.state & QStyle::State_Enabled))
        return box(p, o.rect, o.state & QStyle::State_Sunken ? t.fit.darker(120) : t.fit, focus ? t.ink : t.fit, 2, 6);
    box(p, o.rect, o.state & QStyle::State_Sunken ? t.panel : t.card, focus || over ? t.fit : t.rule, focus ? 2 : 1, 6);
}

void buttonLabel(QPainter& p, const QStyleOptionButton& o, const QWidget* widget)
{
    const Theme& t = theme();
    const bool first = has(widget, "first");
    p.save();
    p.setPen(!(o.state & QStyle::State_Enabled) ? t.soft : has(widget, "onBar") ? t.barText : first ? t.onFit() : t.ink);
    if (first) {
        QFont bold = p.font();
        bold.setBold(true);
        p.setFont(bold);
    }
    const QRect inside = o.rect.adjusted(12, 2, -8, -2);
    // a key that is cut off is worse than a smaller word
    const QString text = p.fontMetrics().size(Qt::TextShowMnemonic, o.text).width() <= inside.width()
                             ? o.text
                             : p.fontMetrics().elidedText(o.text, Qt::ElideMiddle, inside.width());
    p.drawText(inside, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextShowMnemonic, text);
    p.restore();
}

/// A box to tick, which Fusion draws too faint to be seen in the dark.
void tick(QPainter& p, const QStyleOption& o)
{
    const Theme& t = theme();
    const bool on = o.state & QStyle::State_On;
    const QRect square(o.rect.center() - QPoint(o.rect.height() / 2 - 1, o.rect.height() / 2 - 1), QSize(o.rect.height() - 1, o.rect.height() - 1));
    box(p, square, on ? t.fit : t.card, on ? t.fit : t.soft, 1.5, 3);
    if (!on) return;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(t.onFit(), 2));
    const QRectF r(square);
    p.drawPolyline(QPolygonF{{r.left() + 0.22 * r.width(), r.center().y()},
                             {r.left() + 0.43 * r.width(), r.top() + 0.72 * r.height()},
                             {r.left() + 0.78 * r.width(), r.top() + 0.28 * r.height()}});
    p.restore();
}

}  // namespace

Style::Style() : QProxyStyle(QStringLiteral("fusion")) { setObjectName(QStringLiteral("clendo")); }

void Style::drawControl(ControlElement element, const QStyleOption* option, QPainter* painter, const QWidget* widget) const
{
    if (element == CE_PushButtonBevel) return buttonBox(*painter, *option, widget);
    if (const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option); button && element == CE_PushButtonLabel)
        return buttonLabel(*painter, *button, widget);
    if (element == CE_HeaderSection || element == CE_HeaderEmptyArea) return painter->fillRect(option->rect, theme().panel);
    QProxyStyle::drawControl(element, option, painter, widget);
}

void Style::drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter, const QWidget* widget) const
{
    if (element == PE_FrameFocusRect && widget && widget->inherits("QPushButton")) return;
    if (element == PE_IndicatorItemViewItemCheck || element == PE_IndicatorCheckBox) return tick(*painter, *option);
    if (element == PE_PanelLineEdit) {
        const auto* frame = qstyleoption_cast<const QStyleOptionFrame*>(option);
        const bool focus = option->state & State_HasFocus;
        if (frame && frame->lineWidth > 0) return box(*painter, option->rect, theme().card, focus ? theme().fit : theme().rule, focus ? 2 : 1, 4);
    }
    QProxyStyle::drawPrimitive(element, option, painter, widget);
}

QSize Style::sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& contents, const QWidget* widget) const
{
    QSize size = QProxyStyle::sizeFromContents(type, option, contents, widget);
    switch (type) {
        case CT_PushButton:
            return {contents.width() + (has(widget, "first") ? contents.width() / 8 : 0) + 28,  // bold is wider
                    std::max(contents.height() + 6, has(widget, "onBar") ? barButton : smallestTarget)};
        case CT_LineEdit:
        case CT_ComboBox:
        case CT_SpinBox: size.setHeight(std::max(size.height(), smallestField)); break;
        default: break;
    }
    return size;
}

}  // namespace clendo
