#pragma once
#include "app/frame/desk.h"
#include "app/frame/window_frame.h"

namespace clendo {

class BatchView;

/// A folder of pictures, or cords one after the other on a line; also without a job, by the criteria of 2015.
class BatchDesk : public Desk {
    Q_OBJECT
public:
    explicit BatchDesk(WindowFrame& frame) : frame_(frame) {}
    [[nodiscard]] QString id() const override { return QStringLiteral("batch"); }
    [[nodiscard]] QString title() const override { return tr("Batch inspection"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    [[nodiscard]] bool needsJob() const override { return false; }
    BatchView& sheet();

private:
    WindowFrame& frame_;
    BatchView* view_ = nullptr;
};

}  // namespace clendo
