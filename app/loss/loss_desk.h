#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"
#include "app/loss/light_run.h"

namespace clendo {

class LossView;

/// References, readings, right fibre and length.
class LossDesk : public Desk {
    Q_OBJECT
public:
    explicit LossDesk(WindowFrame& frame) : frame_(frame), run_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("loss"); }
    [[nodiscard]] QString title() const override { return tr("Insertion loss"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    [[nodiscard]] bool isFor(StepKind kind) const override;
    /// Shown, with the cursor in the first reference (or reading) that is missing.
    void typeReference();
    void typeReading();
    /// The instruments on the line, and what they are asked for.
    [[nodiscard]] LightRun& run() { return run_; }
    /// What is in hand as the view has it.
    [[nodiscard]] LightGear gear();
    void jobGoes() override { run_.stop(); }

private:
    WindowFrame& frame_;
    LightRun run_;
    LossView* view_ = nullptr;
};

}  // namespace clendo
