#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"

namespace clendo {

class JournalView;

/// Everything that was filed, searched and filtered.
class JournalDesk : public Desk {
    Q_OBJECT
public:
    explicit JournalDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("journal"); }
    [[nodiscard]] QString title() const override { return tr("Journal"); }
    [[nodiscard]] bool isWide() const override { return true; }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    void jobGoes() override;
    JournalView* journal() { return view_; }

private:
    WindowFrame& frame_;
    JournalView* view_ = nullptr;
};

}  // namespace clendo
