#pragma once
#include <QProxyStyle>

namespace clendo {

/// How buttons, fields and table heads are drawn, in the colours of theme(). Drawn here rather than by a style sheet: a sheet is matched against
/// every widget and was a quarter of the time to a usable window.
///
/// A button with the property "first" is the usual next action; one with "onBar" stands on the title bar.
class Style : public QProxyStyle {
    Q_OBJECT
public:
    Style();
    void drawControl(ControlElement element, const QStyleOption* option, QPainter* painter, const QWidget* widget) const override;
    void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter, const QWidget* widget) const override;
    [[nodiscard]] QSize sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& contents, const QWidget* widget) const override;
};

}  // namespace clendo
