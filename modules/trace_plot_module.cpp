#include <qcustomplot.h>

#include <QVBoxLayout>

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
    }

    void show(const TraceDrawing& drawing, const PlotColours& colours, const QString& distanceLabel, const QString& levelLabel) override
    {
        showing_ = true;
        plot_->setBackground(colours.ground);
        for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
            axis->setBasePen(QPen(colours.rule));
            axis->setTickPen(QPen(colours.rule));
            axis->setSubTickPen(QPen(colours.rule));
            axis->setTickLabelColor(colours.text);
            axis->setLabelColor(colours.text);
            axis->setTickLabelFont(font());
            axis->setLabelFont(font());
            axis->grid()->setPen(QPen(colours.rule, 1, Qt::DotLine));
        }
        plot_->xAxis->setLabel(distanceLabel);
        plot_->yAxis->setLabel(levelLabel);
        plot_->graph(0)->setPen(QPen(colours.plan, colours.planWidth, Qt::SolidLine, Qt::FlatCap));
        plot_->graph(0)->setData(drawing.planDistance, drawing.planLevel, true);
        plot_->graph(1)->setPen(QPen(colours.other, 1));
        plot_->graph(1)->setData(drawing.otherDistance, drawing.otherLevel, true);
        plot_->graph(2)->setPen(QPen(colours.line, 1));
        plot_->graph(2)->setData(drawing.distance, drawing.level, true);
        plot_->xAxis->setRange(drawing.first, drawing.last);
        plot_->yAxis->setRange(drawing.bottom, drawing.top);
        plot_->clearItems();
        for (const auto& mark : drawing.marks) {
            auto* line = new QCPItemStraightLine(plot_);
            line->point1->setCoords(mark.at, 0);
            line->point2->setCoords(mark.at, 1);
            line->setPen(QPen(mark.step ? colours.step : colours.joint, 1, Qt::DashLine));
        }
        plot_->replot(QCustomPlot::rpQueuedReplot);
        showing_ = false;
    }

private:
    static constexpr int graphs = 3;  // plan, the other end's shot, the shot
    QCustomPlot* plot_;
    bool showing_ = false;
};

}  // namespace
}  // namespace clendo

extern "C" __attribute__((visibility("default"))) clendo::TracePlot* clendo_trace_plot(QWidget* parent) { return new clendo::Plot(parent); }
