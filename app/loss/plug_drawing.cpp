#include "app/loss/plug_drawing.h"

#include <QPainter>
#include <QPainterPath>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

/// Boxes and cords along one line; `middle` names what stands between, by what joins them.
class PlugPainter {
public:
    PlugPainter(QPainter& p, double y, double width) : p_(p), y_(y), width_(width) {}

    void row(const QString& title, const std::vector<QString>& parts, const std::vector<bool>& counted)
    {
        p_.setPen(theme().soft);
        p_.drawText(QRectF(0, y_ - em(0.7), em(8), em(1.4)), Qt::AlignVCenter, title);
        const double left = em(8.5), box = em(4.4), right = width_ - box - 2;
        drawBox(left, box, QObject::tr("source"));
        drawBox(right, box, QObject::tr("meter"));
        const double from = left + box, step = (right - from) / double(parts.size());
        for (std::size_t i = 0; i < parts.size(); ++i) {
            const double a = from + step * double(i), b = a + step;
            const bool link = parts[i].startsWith(QLatin1Char('='));
            QPainterPath path(QPointF(a, y_));
            if (link)
                path.lineTo(b, y_);
            else
                path.cubicTo(a + step * 0.35, y_ - em(0.8), a + step * 0.65, y_ + em(0.8), b, y_);
            p_.setPen(QPen(link ? theme().ink : theme().fit, link ? 3 : 2));
            p_.setBrush(Qt::NoBrush);
            p_.drawPath(path);
            p_.setPen(theme().soft);
            p_.drawText(QRectF(a, y_ + em(0.55), step, em(1.2)), Qt::AlignCenter, link ? parts[i].mid(1) : parts[i]);
            if (i + 1 < parts.size()) {
                const auto condition = counted[i] ? FaceCondition::Fit : FaceCondition::NotSeen;
                paintFace(p_, {b - 1, y_}, em(0.42), true, condition);
                paintFace(p_, {b + 1, y_}, em(0.42), false, condition);
            }
        }
    }

private:
    void drawBox(double x, double w, const QString& text)
    {
        const QRectF box(x, y_ - em(0.85), w, em(1.7));
        p_.setPen(QPen(theme().ink, 1.4));
        p_.setBrush(theme().card);
        p_.drawRoundedRect(box, 5, 5);
        p_.drawText(box, Qt::AlignCenter, text);
    }

    QPainter& p_;
    double y_, width_;
};

}  // namespace

PlugDrawing::PlugDrawing(QWidget* parent) : QWidget(parent) { setFixedHeight(em(6.2)); }

void PlugDrawing::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    PlugPainter reference(p, em(1.4), width()), measure(p, em(4.7), width());
    const QString link = QStringLiteral("=") + fibre_;
    switch (method_) {
        case ReferenceMethod::OneCord:
            reference.row(tr("Reference"), {tr("cord R1")}, {});
            measure.row(tr("Then read"), {tr("cord R1"), link, tr("cord R2")}, {true, true});
            break;
        case ReferenceMethod::TwoCord:
            reference.row(tr("Reference"), {tr("cord R1"), tr("cord R2")}, {false});
            measure.row(tr("Then read"), {tr("cord R1"), link, tr("cord R2")}, {true, false});
            break;
        case ReferenceMethod::ThreeCord:
            reference.row(tr("Reference"), {tr("cord R1"), tr("cord R3"), tr("cord R2")}, {false, false});
            measure.row(tr("Then read"), {tr("cord R1"), link, tr("cord R2")}, {false, false});
            break;
        case ReferenceMethod::SingleEnded:
            reference.row(tr("Reference"), {tr("cord R1")}, {});
            measure.row(tr("Then read"), {tr("cord R1"), link}, {true});
            break;
    }
}

void PlugDrawing::show(ReferenceMethod method, const QString& fibre)
{
    method_ = method;
    fibre_ = fibre;
    update();
}

}  // namespace clendo
