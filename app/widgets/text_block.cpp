#include "app/widgets/text_block.h"

#include <QEvent>
#include <QFontMetricsF>
#include <QPainter>
#include <cmath>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr int preferredEms = 16;  // of a block that wraps: the layout decides, this is where it starts

QFont boldOf(QFont font)
{
    font.setBold(true);
    return font;
}

}  // namespace

TextBlock::TextBlock(QWidget* parent) : QWidget(parent) { setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Minimum); }

void TextBlock::setParagraphs(std::vector<Paragraph> paragraphs)
{
    QStringList all;
    for (const auto& paragraph : paragraphs) {
        QString line;
        for (const auto& run : paragraph) line += run.text;
        all << line;
    }
    const QString words = all.join(QLatin1Char('\n'));
    const bool other = words != accessibleName();
    paragraphs_ = std::move(paragraphs);
    measured_ = false;
    if (other) {
        setAccessibleName(words);
        updateGeometry();
    }
    update();
}

void TextBlock::setText(const QString& text, bool bold, QColor colour)
{
    std::vector<Paragraph> paragraphs;
    if (!text.isEmpty())
        for (const QString& line : text.split(QLatin1Char('\n'))) paragraphs.push_back({{line, bold, colour}});
    setParagraphs(std::move(paragraphs));
}

void TextBlock::setCard(QColor line)
{
    card_ = line;
    update();
}

int TextBlock::margin() const { return card_.isValid() ? 10 : 0; }

void TextBlock::measure() const
{
    if (measured_) return;
    measured_ = true;
    words_.clear();
    natural_ = 0;
    const QFontMetricsF plain(font()), bold(boldOf(font()));
    for (const auto& paragraph : paragraphs_) {
        auto& line = words_.emplace_back();
        double width = 0;
        for (const auto& run : paragraph) {
            const QFontMetricsF& metrics = run.bold ? bold : plain;
            const double space = metrics.horizontalAdvance(QLatin1Char(' '));
            for (const QString& part : run.text.split(QLatin1Char(' '))) {
                if (part.isEmpty()) {
                    if (!line.empty()) width += space, line.back().space += space;
                    continue;
                }
                line.push_back({part, metrics.horizontalAdvance(part), space, run.bold, run.colour});
                width += line.back().width + space;
            }
            // runs are joined as they are written: only a blank between them parts them
            if (!line.empty() && !run.text.endsWith(QLatin1Char(' '))) width -= line.back().space, line.back().space = 0;
        }
        natural_ = std::max(natural_, width);
    }
}

/// Puts every word at its place from the top left; gives the height. A word after none of a space stays with the one before it.
template <class Place>
double TextBlock::flow(double width, Place place) const
{
    measure();
    const double line = QFontMetricsF(font()).lineSpacing();
    double y = 0;
    for (const auto& paragraph : words_) {
        double x = 0;
        for (const Word& word : paragraph) {
            if (!single_ && x > 0 && x + word.width > width) {
                x = 0;
                y += line;
            }
            place(word, x, y);
            x += word.width + word.space;
        }
        y += line;
    }
    return y;
}

QSize TextBlock::sizeHint() const
{
    measure();
    const int width = static_cast<int>(std::ceil(single_ ? natural_ : std::min(natural_, double(em(preferredEms))))) + 2 * margin();
    return {width, heightForWidth(width)};
}

QSize TextBlock::minimumSizeHint() const
{
    if (single_) return {em(4), heightForWidth(em(4))};
    return {em(4), QFontMetrics(font()).lineSpacing() + 2 * margin()};
}

int TextBlock::heightForWidth(int width) const
{
    return static_cast<int>(std::ceil(flow(width - 2 * margin(), [](const Word&, double, double) {}))) + 2 * margin();
}

void TextBlock::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    if (card_.isValid()) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(card_, 2));
        p.setBrush(theme().card);
        p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 6, 6);
    }
    const QFont plain = font(), bold = boldOf(plain);
    const QFontMetricsF metrics(plain);
    const double room = width() - 2 * margin();
    // one line stands in the middle of its bar; paragraphs begin at the top
    const double top = single_ ? std::max(0.0, (height() - metrics.lineSpacing()) / 2) : margin();
    bool full = false;
    flow(room, [&](const Word& word, double x, double y) {
        if (full) return;
        p.setFont(word.bold ? bold : plain);
        p.setPen(isEnabled() && word.colour.isValid() ? word.colour : isEnabled() ? palette().color(QPalette::WindowText) : theme().soft);
        const bool cut = x + word.width > room + 0.5;
        full = single_ && cut;
        const QString text =
            cut ? QFontMetricsF(p.font()).elidedText(word.text + (full ? QStringLiteral(" …") : QString()), Qt::ElideRight, room - x - 2) : word.text;
        p.drawText(QPointF(margin() + x, top + y + metrics.ascent()), text);
    });
}

void TextBlock::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::FontChange) {
        measured_ = false;
        updateGeometry();
    }
    QWidget::changeEvent(event);
}

}  // namespace clendo
