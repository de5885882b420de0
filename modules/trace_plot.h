#pragma once
#include <QColor>
#include <QString>
#include <QVector>
#include <QWidget>

#include "result/result.h"

namespace clendo {

/// What a plot of a trace shows. Distances in metres from the instrument's front panel, levels in dB.
struct TraceDrawing {
    struct Mark {
        double at = 0;
        bool step = false;  ///< a loss or gain without reflection
    };
    QVector<double> distance, level;          ///< the measured line
    QVector<double> planDistance, planLevel;  ///< what the plan leads one to expect; empty without a plan
    QVector<Mark> marks;
    double last = 0, bottom = 0, top = 0;  ///< the frame: 0 to last, bottom to top
};

struct PlotColours {
    QColor ground, rule, text, line, plan, joint, step;
    double planWidth = 6;
};

/// The trace over its plan. QCustomPlot draws it, in a module of its own.
class TracePlot : public QWidget {
public:
    using QWidget::QWidget;
    virtual void show(const TraceDrawing& drawing, const PlotColours& colours, const QString& distanceLabel, const QString& levelLabel) = 0;
};

/// A plot from the module, or an Error when its file is missing. Owned by `parent`.
Result<TracePlot*> makeTracePlot(QWidget* parent);

}  // namespace clendo
