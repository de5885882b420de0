#include "app/widgets/label_places.h"

#include <algorithm>

namespace clendo {
namespace {

constexpr double gap = 3;  // px between a mark and its words

}  // namespace

bool LabelPlaces::isFree(const QRectF& words, std::size_t own) const
{
    if (!field_.contains(words)) return false;
    for (std::size_t i = 0; i < marks_.size(); ++i)
        if (i != own && marks_[i].intersects(words)) return false;
    return std::none_of(taken_.begin(), taken_.end(), [&](const QRectF& other) { return other.intersects(words); });
}

QRectF LabelPlaces::place(std::size_t mark, const QSizeF& words)
{
    const QRectF& m = marks_[mark];
    const double beside = m.center().y() - words.height() / 2, over = m.center().x() - words.width() / 2;
    const QPointF corners[] = {
        {m.right() + gap, beside}, {m.left() - gap - words.width(), beside}, {over, m.bottom()}, {over, m.top() - words.height()}};
    QRectF chosen(corners[0], words);
    for (const QPointF& corner : corners)
        if (isFree({corner, words}, mark)) {
            chosen = {corner, words};
            break;
        }
    taken_.push_back(chosen);
    return chosen;
}

}  // namespace clendo
