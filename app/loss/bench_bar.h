#pragma once
#include <QWidget>

#include "app/loss/light_run.h"

namespace clendo {

/// What the meter on the line shows, large enough to be read from the rack: level, whether it holds still, what to do with the cords, the last
/// seconds.
class BenchBar : public QWidget {
    Q_OBJECT
public:
    /// `only`: shown while the run is for that alone.
    BenchBar(const LightRun& run, QWidget* parent, std::optional<LightRun::Purpose> only = {});

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void follow();
    void paintHistory(QPainter& painter, const QRectF& box) const;

    const LightRun& run_;
    std::optional<LightRun::Purpose> only_;
};

}  // namespace clendo
