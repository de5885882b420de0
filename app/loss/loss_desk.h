#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"

namespace clendo {

class LossView;

/// References, readings, right fibre and length.
class LossDesk : public Desk {
    Q_OBJECT
public:
    explicit LossDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("loss"); }
    [[nodiscard]] QString title() const override { return tr("Insertion loss"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    [[nodiscard]] bool isFor(StepKind kind) const override;
    /// Shown, with the cursor in the first reference (or reading) that is missing.
    void typeReference();
    void typeReading();

private:
    WindowFrame& frame_;
    LossView* view_ = nullptr;
};

}  // namespace clendo
