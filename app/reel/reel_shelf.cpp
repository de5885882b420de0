#include "app/reel/reel_shelf.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/widgets/bold_font.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "record/advice/reel_advice.h"

namespace clendo {

ReelShelf::ReelShelf(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("reelShelf")); }

void ReelShelf::show(const JobState& state, const std::string& chosen)
{
    cards_.clear();
    chosen_ = QString::fromStdString(chosen);
    QStringList words;
    for (const auto& [name, reel] : state.reels) {
        const ReelStanding s = standingOf(state, name);
        QString says = reel.delivered && reel.delivered->what.delivery.ordered
                           ? tr("%1 × %2 m").arg(reel.delivered->what.delivery.fibres).arg(reel.delivered->what.delivery.ordered->value(), 0, 'f', 0)
                           : tr("not written down");
        cards_.push_back({QString::fromStdString(name), says, s.verdict, s.decided()});
        words << cards_.back().name + QStringLiteral(": ") + text(reel::words(s.verdict));
    }
    setAccessibleName(words.join(QStringLiteral("; ")));
    fit();
    update();
}

int ReelShelf::columns() const { return std::max(1, width() / em(9.5)); }

QRectF ReelShelf::boxOf(std::size_t card) const
{
    const int n = columns();
    const double wide = double(width()) / n, high = em(3.7);
    const auto row = static_cast<int>(card) / n, column = static_cast<int>(card) % n;
    return {column * wide, row * high, wide - 6, high - 6};
}

void ReelShelf::fit()
{
    setFixedHeight(cards_.empty() ? 0 : static_cast<int>(boxOf(cards_.size() - 1).bottom()) + 4);
    setVisible(!cards_.empty());
}

void ReelShelf::resizeEvent(QResizeEvent*) { fit(); }

void ReelShelf::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        const Card& card = cards_[i];
        const QRectF box = boxOf(i).adjusted(1, 1, -1, -1);
        const bool here = card.name == chosen_;
        p.setPen(QPen(here ? theme().fit : theme().rule, here ? 2 : 1));
        p.setBrush(here ? theme().chosen : theme().card);
        p.drawRoundedRect(box, 5, 5);
        const double mark = em(1.1);
        paintTone(p, {box.left() + 8, box.top() + em(0.35), mark, mark}, toneOf(card.verdict));
        p.setFont(boldOf(*this));
        p.setPen(theme().ink);
        const QRectF head(box.left() + 14 + mark, box.top() + em(0.2), box.width() - 20 - mark, em(1.4));
        p.drawText(head, Qt::AlignVCenter, p.fontMetrics().elidedText(card.name, Qt::ElideRight, static_cast<int>(head.width())));
        const int before = p.fontMetrics().horizontalAdvance(card.name) + 8;
        p.setFont(font());
        p.setPen(theme().soft);
        p.drawText(head.adjusted(before, 0, 0, 0), Qt::AlignVCenter | Qt::AlignRight, card.says);
        p.setPen(theme().of(toneOf(card.verdict)));
        const QString verdict = card.decided                                   ? text(reel::decided(card.verdict))
                                : card.verdict == reel::ReelVerdict::NotJudged ? tr("not judged yet")
                                                                               : tr("proposed: %1").arg(text(reel::words(card.verdict)));
        const QRectF foot(box.left() + 8, box.top() + em(1.65), box.width() - 14, em(1.4));
        p.drawText(foot, Qt::AlignVCenter, p.fontMetrics().elidedText(verdict, Qt::ElideRight, static_cast<int>(foot.width())));
    }
}

void ReelShelf::mousePressEvent(QMouseEvent* event)
{
    for (std::size_t i = 0; i < cards_.size(); ++i)
        if (boxOf(i).contains(event->position())) return emit picked(cards_[i].name);
}

}  // namespace clendo
