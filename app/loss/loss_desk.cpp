#include "app/loss/loss_desk.h"

#include "app/loss/loss_view.h"
#include "record/advice/face_advice.h"
#include "record/advice/link_advice.h"

namespace clendo {

static const DeskEntry entry(20, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<LossDesk>(frame); });

QWidget* LossDesk::view()
{
    if (!view_) view_ = new LossView(run_, frame_.widget());
    return view_;
}

void LossDesk::show(const Shown& shown) { view_->show(*shown.session, shown.link); }

Advice LossDesk::advice(const Shown& shown) const { return shown.link ? lossAdvice(shown.state(), *shown.link) : emptyJobAdvice(); }

bool LossDesk::isFor(StepKind kind) const { return kind == StepKind::Reference || kind == StepKind::Length || kind == StepKind::Loss; }

std::vector<std::string> LossDesk::gear()
{
    view();
    return view_->gear();
}

std::string LossDesk::launch()
{
    view();
    return view_->launch();
}

void LossDesk::typeReference()
{
    frame_.showDesk(id());
    view_->focusReference();
}

void LossDesk::typeReading()
{
    frame_.showDesk(id());
    view_->focusReading();
}

}  // namespace clendo
