#pragma once
#include <QApplication>
#include <QBrush>
#include <QColor>
#include <QPen>
#include <QWidget>

#include "record/advice/advice.h"
#include "record/state/state.h"

namespace clendo {

/// The one home of colours and sizes. Contrast of text on its ground is 4.5:1 and more in both themes.
struct Theme {
    QColor ground, panel, card, rule, ink, soft, bar, barText;
    QColor fit, work, damaged, unknown, chosen;
    QColor pictureGround{0x22, 0x26, 0x2B}, pictureMark{0xFF, 0xB8, 0x4D};
    bool dark = false;

    /// Words on a ground of the colour `fit`.
    [[nodiscard]] QColor onFit() const { return dark ? QColor(0x0B, 0x20, 0x30) : QColor(0xFF, 0xFF, 0xFF); }
    [[nodiscard]] QColor of(FaceCondition condition) const;
    [[nodiscard]] QColor of(Tone tone) const;
};

const Theme& theme();
/// Sets palette, style and type face of the application.
void applyTheme(QApplication& application, bool dark);

/// A half-disc for one face: shape, fill and colour say its condition, never colour alone. `left` opens to the right.
void paintFace(QPainter& painter, QPointF flatMiddle, double radius, bool left, FaceCondition condition);
/// Corner marks around something in a picture, in the painter's pen: they leave free what they mark.
void paintCorners(QPainter& painter, QPointF middle, double half, double arm);
/// The mark of a advice: two halves.
void paintTone(QPainter& painter, const QRectF& box, Tone tone);

/// A size in units of the font's height, so that everything grows with it.
int em(double times);

/// Gives a widget one colour of its own for a role.
void tint(QWidget* widget, QPalette::ColorRole role, const QColor& colour);

}  // namespace clendo
