#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"

namespace clendo {

class LearnView;

/// What the journal teaches, as figures.
class LearnDesk : public Desk {
    Q_OBJECT
public:
    explicit LearnDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("learn"); }
    [[nodiscard]] QString title() const override { return tr("Statistics"); }
    [[nodiscard]] bool isWide() const override { return true; }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;

private:
    WindowFrame& frame_;
    LearnView* view_ = nullptr;
};

}  // namespace clendo
