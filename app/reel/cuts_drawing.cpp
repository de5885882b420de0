#include "app/reel/cuts_drawing.h"

#include <QPainter>
#include <algorithm>

#include "app/widgets/theme.h"

namespace clendo {

CutsDrawing::CutsDrawing(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("cutsDrawing")); }

void CutsDrawing::show(const std::vector<reel::Stock>& stock, const reel::CuttingPlan& plan, Metre keepLeast)
{
    stock_ = stock;
    plan_ = plan;
    keepLeast_ = keepLeast;
    QString words;
    for (const auto& reel : plan.reels) {
        words += QString::fromStdString(reel.reel) + QStringLiteral(": ");
        for (const auto& cut : reel.cuts) words += tr("%1 m for %2, ").arg(cut.length.value(), 0, 'f', 0).arg(QString::fromStdString(cut.run));
        words += tr("%1 m left; ").arg(reel.left.value(), 0, 'f', 0);
    }
    setAccessibleName(words);
    setMinimumHeight(static_cast<int>(double(std::max<std::size_t>(1, stock.size())) * em(2.4)) + em(1.6));
    update();
}

void CutsDrawing::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double left = em(6), right = width() - em(0.5), high = em(1.7);
    double longest = 1;
    for (const auto& reel : stock_) longest = std::max(longest, reel.length.value());
    const double scale = (right - left) / longest;
    if (stock_.empty()) {
        p.setPen(theme().soft);
        p.drawText(rect(), Qt::AlignLeft | Qt::TextWordWrap, tr("No reel can be cut: none was accepted whose length is known."));
        return;
    }
    double y = 2;
    for (const auto& stock : stock_) {
        const auto cuts = std::find_if(plan_.reels.begin(), plan_.reels.end(), [&](const auto& r) { return r.reel == stock.reel; });
        const bool opened = cuts != plan_.reels.end();
        p.setPen(opened ? theme().ink : theme().soft);
        p.drawText(QRectF(0, y, left - 8, high), Qt::AlignRight | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(QString::fromStdString(stock.reel), Qt::ElideMiddle, static_cast<int>(left) - 8));
        double x = left;
        const auto piece = [&](double wide, const QBrush& brush, const QString& words, const QColor& pen) {
            const QRectF box(x, y, std::max(1.0, wide - 1), high);
            p.setPen(QPen(theme().rule, 1));
            p.setBrush(brush);
            p.drawRect(box);
            p.setPen(pen);
            if (box.width() > em(1.5))
                p.drawText(box.adjusted(5, 0, -3, 0), Qt::AlignVCenter,
                           p.fontMetrics().elidedText(words, Qt::ElideRight, static_cast<int>(box.width()) - 8));
            x += wide;
        };
        if (opened)
            for (const auto& cut : cuts->cuts)
                piece(cut.length.value() * scale, theme().fit,
                      tr("%1 · %2 m").arg(QString::fromStdString(cut.run)).arg(cut.length.value(), 0, 'f', 0), theme().onFit());
        const Metre rest = opened ? cuts->left : stock.length;
        if (rest > Metre(0)) {
            const bool kept = !opened || rest >= keepLeast_;
            piece(rest.value() * scale, kept ? QBrush(theme().card) : QBrush(theme().work, Qt::BDiagPattern),
                  (!opened ? tr("not opened · %1 m")
                   : kept  ? tr("kept · %1 m")
                           : tr("waste · %1 m"))
                      .arg(rest.value(), 0, 'f', 0),
                  theme().ink);
        }
        y += em(2.4);
    }
    if (!plan_.unserved.empty()) {
        QStringList names;
        for (const auto& run : plan_.unserved) names << QString::fromStdString(run);
        p.setPen(theme().damaged);
        p.drawText(QRectF(0, y, width(), em(1.5)), Qt::AlignVCenter, tr("Not served, or not all of it: %1").arg(names.join(QStringLiteral(", "))));
    }
}

}  // namespace clendo
