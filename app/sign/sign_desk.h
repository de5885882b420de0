#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"

namespace clendo {

class SignView;

/// What is there of every fibre, and its signatures.
class SignDesk : public Desk {
    Q_OBJECT
public:
    explicit SignDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("sign"); }
    [[nodiscard]] QString title() const override { return tr("Sign-off"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    [[nodiscard]] bool isFor(StepKind kind) const override { return kind == StepKind::Sign; }

private:
    WindowFrame& frame_;
    SignView* view_ = nullptr;
};

}  // namespace clendo
