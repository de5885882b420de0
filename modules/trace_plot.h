#pragma once
#include <QColor>
#include <QString>
#include <QVector>
#include <QWidget>
#include <functional>

#include "result/result.h"

namespace clendo {

/// What a plot of a trace shows. Distances in metres of fibre from the link's port at A, whatever end was shot from; levels in dB.
struct TraceDrawing {
    struct Mark {
        double at = 0;
        bool step = false;  ///< a loss or gain without reflection
    };
    QVector<double> distance, level;            ///< the measured line
    QVector<double> otherDistance, otherLevel;  ///< the shot from the other end; empty: there is none
    QVector<double> planDistance, planLevel;    ///< what the plan leads one to expect; empty without a plan
    QVector<Mark> marks;
    double first = 0, last = 0, bottom = 0, top = 0;  ///< the frame
};

struct PlotColours {
    QColor ground, rule, text, line, plan, joint, step, other;
    double planWidth = 6;
};

/// The trace over its plan. QCustomPlot draws it, in a module of its own.
class TracePlot : public QWidget {
public:
    using QWidget::QWidget;
    /// Called when somebody zooms or drags: from and to, in metres from A.
    std::function<void(double from, double to)> ranged{};
    virtual void show(const TraceDrawing& drawing, const PlotColours& colours, const QString& distanceLabel, const QString& levelLabel) = 0;
};

/// A plot from the module, or an Error when its file is missing. Owned by `parent`.
Result<TracePlot*> makeTracePlot(QWidget* parent);

}  // namespace clendo
