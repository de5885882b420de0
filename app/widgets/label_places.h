#pragma once
#include <QRectF>
#include <vector>

namespace clendo {

/// Where the words beside the marks on a picture go, so that close findings stay legible.
class LabelPlaces {
public:
    LabelPlaces(const QRectF& field, std::vector<QRectF> marks) : field_(field), marks_(std::move(marks)) {}

    /// A place for words of this size beside that mark: the first to its right, left, below and above that is within the field and covers no other
    /// mark and no words placed before; to its right where there is none.
    QRectF place(std::size_t mark, const QSizeF& words);

private:
    [[nodiscard]] bool isFree(const QRectF& words, std::size_t own) const;

    QRectF field_;
    std::vector<QRectF> marks_, taken_;
};

}  // namespace clendo
