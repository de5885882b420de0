#include "app/loss/loss_desk.h"

#include <QDateTime>

#include "app/loss/loss_view.h"
#include "record/advice/face_advice.h"
#include "record/advice/link_advice.h"
#include "record/rules/reference_faces.h"

namespace clendo {

static const DeskEntry entry(20, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<LossDesk>(frame); });

QWidget* LossDesk::view()
{
    if (!view_) view_ = new LossView(run_, frame_.widget());
    return view_;
}

void LossDesk::show(const Shown& shown) { view_->show(*shown.session, shown.link); }

Advice LossDesk::advice(const Shown& shown) const
{
    if (!shown.link) return emptyJobAdvice();
    Advice advice = lossAdvice(shown.state(), *shown.link, QDateTime::currentSecsSinceEpoch());
    const bool referenced = !shown.state().references.empty();
    if (auto first = view_ && !referenced ? facesToSeeFirst(shown.state(), view_->inHand().with) : std::string(); !first.empty())
        advice.help.insert(advice.help.begin(), std::move(first));
    return advice;
}

bool LossDesk::isFor(StepKind kind) const { return kind == StepKind::Reference || kind == StepKind::Length || kind == StepKind::Loss; }

LightGear LossDesk::gear()
{
    view();
    return view_->inHand();
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
