#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"

namespace clendo {

class TraceView;

/// Traces over the plan.
class TraceDesk : public Desk {
    Q_OBJECT
public:
    explicit TraceDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("trace"); }
    [[nodiscard]] QString title() const override { return tr("Trace"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    [[nodiscard]] bool isFor(StepKind kind) const override { return kind == StepKind::Trace; }
    [[nodiscard]] bool accepts(const QString& file) const override;
    void take(const QString& file) override;
    void openTrace();
    void nextShot();
    [[nodiscard]] TraceView* traces() { return view_; }

private:
    WindowFrame& frame_;
    TraceView* view_ = nullptr;
};

}  // namespace clendo
