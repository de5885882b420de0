#include "app/learn/learn_desk.h"

#include "app/learn/learn_view.h"
#include "record/advice/record_advice.h"

namespace clendo {

static const DeskEntry entry(70, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<LearnDesk>(frame); });

QWidget* LearnDesk::view()
{
    if (!view_) view_ = new LearnView(frame_.widget());
    return view_;
}

void LearnDesk::show(const Shown& shown) { view_->show(shown.session->entries(), shown.state()); }

Advice LearnDesk::advice(const Shown&) const { return learnAdvice(view_->learned()); }

}  // namespace clendo
