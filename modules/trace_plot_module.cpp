#include <qcustomplot.h>

#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "modules/trace_plot.h"

namespace clendo {
namespace {

class Plot : public TracePlot {
public:
    explicit Plot(QWidget* parent) : TracePlot(parent), plot_(new QCustomPlot(this))
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(plot_);
        for (int i = 0; i < graphs; ++i) plot_->addGraph();
        plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
        plot_->axisRect()->setRangeDrag(Qt::Horizontal);
        plot_->axisRect()->setRangeZoom(Qt::Horizontal);
        plot_->setFocusPolicy(Qt::NoFocus);
        connect(plot_->xAxis, qOverload<const QCPRange&>(&QCPAxis::rangeChanged), this, [this](const QCPRange& range) {
            if (!showing_ && ranged) ranged(range.lower, range.upper);
        });
        graph(difference)->setValueAxis(plot_->yAxis2);
        connect(plot_, &QCustomPlot::mousePress, this, [this](QMouseEvent* event) {
            dragged_ = cursorAt(event->position().x());
            plot_->setInteraction(QCP::iRangeDrag, dragged_ < 0);
        });
        connect(plot_, &QCustomPlot::mouseMove, this, [this](QMouseEvent* event) {
            const double x = event->position().x();
            if (dragged_ >= 0 && moved) moved(dragged_, plot_->xAxis->pixelToCoord(x));
            plot_->setCursor(dragged_ >= 0 || cursorAt(x) >= 0 ? Qt::SizeHorCursor : Qt::ArrowCursor);
        });
        connect(plot_, &QCustomPlot::mouseRelease, this, [this] { dragged_ = -1; });
    }

    void show(const TraceDrawing& drawing, const PlotColours& colours, const Labels& labels) override
    {
        showing_ = true;
        plot_->setBackground(colours.ground);
        for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis, plot_->yAxis2}) {
            axis->setBasePen(QPen(colours.rule));
            axis->setTickPen(QPen(colours.rule));
            axis->setSubTickPen(QPen(colours.rule));
            axis->setTickLabelColor(colours.text);
            axis->setLabelColor(colours.text);
            axis->setTickLabelFont(font());
            axis->setLabelFont(font());
            axis->grid()->setPen(QPen(colours.rule, 1, Qt::DotLine));
        }
        plot_->yAxis2->grid()->setVisible(false);
        plot_->xAxis->setLabel(labels.distance);
        plot_->yAxis->setLabel(labels.level);
        plot_->yAxis2->setLabel(labels.difference);
        plot_->graph(0)->setPen(QPen(colours.plan, colours.planWidth, Qt::SolidLine, Qt::FlatCap));
        plot_->graph(0)->setData(drawing.planDistance, drawing.planLevel, true);
        plot_->graph(1)->setPen(QPen(colours.other, 1));
        plot_->graph(1)->setData(drawing.otherDistance, drawing.otherLevel, true);
        plot_->graph(2)->setPen(QPen(colours.line, 1));
        plot_->graph(2)->setData(drawing.distance, drawing.level, true);
        showDifference(drawing, colours);
        plot_->xAxis->setRange(drawing.first, drawing.last);
        plot_->yAxis->setRange(drawing.bottom, drawing.top);
        plot_->clearItems();
        for (const auto& band : drawing.bands) {
            auto* box = new QCPItemRect(plot_);
            box->topLeft->setTypeY(QCPItemPosition::ptAxisRectRatio);
            box->bottomRight->setTypeY(QCPItemPosition::ptAxisRectRatio);
            box->topLeft->setCoords(band.from, 0);
            box->bottomRight->setCoords(band.to, 1);
            box->setPen(Qt::NoPen);
            box->setBrush(colours.band);
            box->setLayer(QStringLiteral("background"));
        }
        for (const auto& mark : drawing.marks) upright(mark.at, QPen(mark.step ? colours.step : colours.joint, 1, Qt::DashLine));
        cursors_.clear();
        for (qsizetype i = 0; i < drawing.cursors.size(); ++i) {
            const auto& cursor = drawing.cursors[i];
            upright(cursor.at, QPen(colours.cursor, cursor.chosen ? 2.4 : 1.2));
            auto* name = new QCPItemText(plot_);
            name->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
            // close ones at heights of their own
            constexpr double row = 0.11;
            name->position->setCoords(cursor.at, row * double(i));
            name->setPositionAlignment(Qt::AlignTop | Qt::AlignHCenter);
            name->setText(cursor.name);
            name->setFont(font());
            name->setColor(colours.ground);
            name->setBrush(colours.cursor);
            name->setPadding(QMargins(4, 1, 4, 1));
            cursors_ << cursor.at;
        }
        plot_->replot(QCustomPlot::rpQueuedReplot);
        showing_ = false;
    }

private:
    static constexpr int graphs = 4, difference = 3;  // plan, the other shot, the shot, what changed
    [[nodiscard]] QCPGraph* graph(int n) { return plot_->graph(n); }

    void upright(double at, const QPen& pen)
    {
        auto* line = new QCPItemStraightLine(plot_);
        line->point1->setCoords(at, 0);
        line->point2->setCoords(at, 1);
        line->setPen(pen);
    }

    /// On the right, in the upper half: its zero is a quarter from the top, so that it does not lie on the trace.
    void showDifference(const TraceDrawing& drawing, const PlotColours& colours)
    {
        const bool any = !drawing.difference.isEmpty();
        plot_->yAxis2->setVisible(any);
        graph(difference)->setData(drawing.differenceDistance, drawing.difference, true);
        if (!any) return;
        graph(difference)->setPen(QPen(colours.difference, 2));
        graph(difference)->setBrush(Qt::NoBrush);
        constexpr double least = 0.25;  // dB
        double most = least;
        for (const double d : drawing.difference)
            if (!std::isnan(d)) most = std::max(most, std::abs(d));
        // more loss is drawn downwards, as on the trace
        plot_->yAxis2->setRangeReversed(true);
        plot_->yAxis2->setRange(-1.3 * most, 3.5 * most);
    }

    /// The cursor under the mouse, or -1.
    [[nodiscard]] int cursorAt(double x) const
    {
        constexpr double near = 9;  // px
        int best = -1;
        double least = near;
        for (qsizetype i = 0; i < cursors_.size(); ++i)
            if (const double off = std::abs(plot_->xAxis->coordToPixel(cursors_[i]) - x); off <= least) {
                least = off;
                best = static_cast<int>(i);
            }
        return best;
    }

    QCustomPlot* plot_;
    QVector<double> cursors_;
    int dragged_ = -1;
    bool showing_ = false;
};

}  // namespace
}  // namespace clendo

extern "C" __attribute__((visibility("default"))) clendo::TracePlot* clendo_trace_plot(QWidget* parent) { return new clendo::Plot(parent); }
