#pragma once
#include <QApplication>
#include <QBrush>
#include <QColor>
#include <QPen>
#include <QWidget>

#include "record/ruling.h"
#include "record/state.h"

namespace clendo {

/// The one home of colours and sizes. Contrast of text on its ground is 4.5:1 and more in both themes.
struct Theme {
    QColor ground, panel, card, rule, ink, soft, bar, barText;
    QColor fit, work, damaged, unknown, chosen;
    QColor pictureGround{0x22, 0x26, 0x2B}, pictureMark{0xFF, 0xB8, 0x4D};
    bool dark = false;

    [[nodiscard]] QColor of(FaceCondition condition) const;
    [[nodiscard]] QColor of(Tone tone) const;
};

const Theme& theme();
/// Sets palette, style sheet and type face of the application.
void applyTheme(QApplication& application, bool dark);

/// A half-disc for one face: shape, fill and colour say its condition, never colour alone. `left` opens to the right.
void paintFace(QPainter& painter, QPointF flatMiddle, double radius, bool left, FaceCondition condition);
/// The mark of a ruling: two halves.
void paintTone(QPainter& painter, const QRectF& box, Tone tone);

/// A size in units of the font's height, so that everything grows with it.
int em(double times);

/// Sets a widget's style sheet where it differs: setting one anew costs a full polish.
void restyle(QWidget* widget, const QString& sheet);

}  // namespace clendo
