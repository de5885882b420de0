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
    /// A length of fibre that loses more than the rest.
    struct Band {
        double from = 0, to = 0;
    };
    /// A mark that a person measures with.
    struct Cursor {
        double at = 0;
        QString name;
        bool chosen = false;  ///< the keys move it
    };
    QVector<double> distance, level;                 ///< the measured line
    QVector<double> otherDistance, otherLevel;       ///< the shot from the other end, or the first one; empty: there is none
    QVector<double> planDistance, planLevel;         ///< what the plan leads one to expect; empty without a plan
    QVector<double> differenceDistance, difference;  ///< dB more that are lost up to there than in the first shot, on the right; empty: not shown
    QVector<Mark> marks;
    QVector<Band> bands;
    QVector<Cursor> cursors;
    double first = 0, last = 0, bottom = 0, top = 0;  ///< the frame
};

struct PlotColours {
    QColor ground, rule, text, line, plan, joint, step, other, difference, cursor, band;
    double planWidth = 6;
};

/// The trace over its plan. QCustomPlot draws it, in a module of its own.
class TracePlot : public QWidget {
public:
    using QWidget::QWidget;
    /// Called when somebody zooms or drags: from and to, in metres from A.
    std::function<void(double from, double to)> ranged{};
    /// Called when somebody drags a cursor: its number, and where to.
    std::function<void(int cursor, double at)> moved{};
    struct Labels {
        QString distance, level, difference;
    };
    virtual void show(const TraceDrawing& drawing, const PlotColours& colours, const Labels& labels) = 0;
};

/// A plot from the module, or an Error when its file is missing. Owned by `parent`.
Result<TracePlot*> makeTracePlot(QWidget* parent);

}  // namespace clendo
