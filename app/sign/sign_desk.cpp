#include "app/sign/sign_desk.h"

#include "app/sign/sign_view.h"
#include "record/advice/face_advice.h"
#include "record/advice/link_advice.h"

namespace clendo {

static const DeskEntry entry(40, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<SignDesk>(frame); });

QWidget* SignDesk::view()
{
    if (!view_) view_ = new SignView(frame_.widget());
    return view_;
}

void SignDesk::show(const Shown& shown) { view_->show(*shown.session, shown.link); }

Advice SignDesk::advice(const Shown& shown) const { return shown.link ? signAdvice(shown.state(), *shown.link) : emptyJobAdvice(); }

}  // namespace clendo
