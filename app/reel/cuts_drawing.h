#pragma once
#include <QWidget>

#include "reel/cuts.h"

namespace clendo {

/// Reels as bars: what is cut from each for which run, what is left, and whether that is kept.
class CutsDrawing : public QWidget {
    Q_OBJECT
public:
    explicit CutsDrawing(QWidget* parent = nullptr);
    /// `stock`: all reels that may be cut, also those that the plan does not open.
    void show(const std::vector<reel::Stock>& stock, const reel::CuttingPlan& plan, Metre keepLeast);
    using QWidget::show;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<reel::Stock> stock_;
    reel::CuttingPlan plan_;
    Metre keepLeast_;
};

}  // namespace clendo
