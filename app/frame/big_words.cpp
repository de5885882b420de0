#include "app/frame/big_words.h"

#include <QPainter>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

/// The largest size at which the text fits into the box, wrapped; at least the font's own.
QFont fitting(QFont font, const QString& text, const QRectF& box)
{
    for (double size = box.height() * 0.5; size > font.pointSizeF(); size *= 0.9) {
        QFont larger = font;
        larger.setPixelSize(int(size));
        const QRectF taken = QFontMetricsF(larger).boundingRect(box, Qt::TextWordWrap | Qt::AlignLeft, text);
        bool wordsFit = true;
        for (const QString& word : text.split(QLatin1Char(' '))) wordsFit = wordsFit && QFontMetricsF(larger).horizontalAdvance(word) <= box.width();
        if (wordsFit && taken.height() <= box.height()) return larger;
    }
    return font;
}

}  // namespace

BigWords::BigWords(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("bigWords"));
    setAttribute(Qt::WA_TransparentForMouseEvents);
}

void BigWords::show(const Advice& advice, const QString& where, const QString& key)
{
    advice_ = advice;
    where_ = where;
    key_ = key;
    setAccessibleName(QString::fromStdString(advice.headline) + QLatin1Char('\n') + where);
    setGeometry(parentWidget()->rect());
    raise();
    setVisible(true);
    update();
}

void BigWords::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter p(this);
    p.fillRect(rect(), t.ground);
    const double margin = width() * 0.04;
    const QRectF all = QRectF(rect()).adjusted(margin, margin, -margin, -margin);
    const double mark = all.height() * 0.3;
    paintTone(p, {all.left() + mark * 0.12, all.top() + all.height() * 0.25 - mark / 2, mark, mark}, advice_.tone);
    const QRectF head(all.left() + mark * 1.35 + margin, all.top(), all.width() - mark * 1.35 - margin, all.height() * 0.5);
    QFont bold = font();
    bold.setBold(true);
    const QString headline = QString::fromStdString(advice_.headline);
    p.setFont(fitting(bold, headline, head));
    p.setPen(t.of(advice_.tone));
    p.drawText(head, Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignVCenter, headline);
    const QRectF middle(all.left(), all.top() + all.height() * 0.55, all.width(), all.height() * 0.18);
    p.setPen(t.ink);
    p.setFont(fitting(font(), where_, middle));
    p.drawText(middle, Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignVCenter, where_);
    if (advice_.actions.empty()) return;
    const QRectF last(all.left(), all.top() + all.height() * 0.76, all.width(), all.height() * 0.16);
    const auto& action = advice_.actions.front();
    const QString what = tr("%1: Enter or %2").arg(QString::fromStdString(action.text), key_);
    p.setFont(fitting(bold, what, last));
    p.drawText(last, Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignVCenter, what);
    p.setFont(font());
    p.setPen(t.soft);
    p.drawText(all, Qt::AlignLeft | Qt::AlignBottom, tr("Keys work as ever. F8: back to the window."));
}

}  // namespace clendo
