#pragma once
#include <QWidget>

#include "record/output/planned_loss.h"
#include "record/rules/hidden_by_shot.h"

namespace clendo {

/// The chosen link as a line, end A left, end B right, roughly to scale: faces as half-discs (panels in between and devices too), splices, planned
/// and measured loss by wavelength. Shows a state; a click on a half says which face is wanted.
class RibbonView : public QWidget {
    Q_OBJECT
public:
    explicit RibbonView(QWidget* parent = nullptr);
    void show(const JobState* state, const Link* link, const FaceId& chosen);
    /// Lengths that a shot with the advised settings will not show, drawn on the line; none: nothing is drawn.
    void showHidden(std::vector<HiddenLength> hidden);
    [[nodiscard]] QSize sizeHint() const override;

signals:
    void faceChosen(const FaceId& face);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

private:
    [[nodiscard]] double xOf(Metre at) const;
    /// Of a mated pair; those that stand close together in the cable are drawn apart.
    [[nodiscard]] double xOf(Connection at) const;
    [[nodiscard]] QPointF middleOf(const FaceId& face) const;
    void paintLabels(QPainter& painter) const;
    void paintHidden(QPainter& painter) const;
    void paintLoss(QPainter& painter, double top, double height) const;

    const JobState* state_ = nullptr;
    const Link* link_ = nullptr;
    FaceId chosen_;
    std::vector<PlannedLoss> planned_;
    std::vector<HiddenLength> hidden_;
};

}  // namespace clendo
