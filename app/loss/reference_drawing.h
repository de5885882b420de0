#pragma once
#include <QWidget>

#include "record/state/state.h"

namespace clendo {

/// How the reference held over the day: each check's drift within what the job tolerates, and what the receive cord added at each proof against what
/// two reference-grade connectors may lose.
class ReferenceDrawing : public QWidget {
    Q_OBJECT
public:
    explicit ReferenceDrawing(QWidget* parent);
    /// `most`: what a reference-grade pair may lose.
    void show(const JobState& state, Decibel most);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paintPoints(QPainter& painter, const QRectF& box, const std::vector<ReferenceFinding>& points, Decibel low, Decibel high,
                     const QString& title) const;

    std::vector<ReferenceFinding> proofs_, checks_;
    Decibel most_{0.2}, tolerated_{0.1};
};

}  // namespace clendo
