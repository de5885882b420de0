#include "app/widgets/fold_strip.h"

#include <QPainter>

#include "app/widgets/theme.h"

namespace clendo {

FoldStrip::FoldStrip(const QString& name, QWidget* parent) : QPushButton(parent), name_(name)
{
    setAccessibleName(name);
    setToolTip(name);
    setFixedWidth(em(2));
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    setFocusPolicy(Qt::NoFocus);
    hide();
}

void FoldStrip::fold(QWidget* column, bool folded)
{
    column->setVisible(!folded);
    setVisible(folded);
}

void FoldStrip::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), theme().chosen);
    p.setPen(theme().ink);
    p.translate(width(), 0);
    p.rotate(90);
    p.drawText(QRectF(em(1), 0, height() - em(2), width()), Qt::AlignLeft | Qt::AlignVCenter, name_);
}

}  // namespace clendo
