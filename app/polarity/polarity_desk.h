#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"
#include "record/rules/right_fibre.h"

namespace clendo {

class FibreMapView;

/// Whether light into each fibre comes out where it belongs.
class PolarityDesk : public Desk {
    Q_OBJECT
public:
    explicit PolarityDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("right-fibre"); }
    [[nodiscard]] QString title() const override { return tr("Right fibre"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    [[nodiscard]] bool isFor(StepKind kind) const override { return kind == StepKind::RightFibre; }

private:
    WindowFrame& frame_;
    FibreMapView* view_ = nullptr;
    RightFibres fibres_;  ///< as they are shown
};

}  // namespace clendo
