#include "app/polarity/polarity_desk.h"

#include "app/frame/job_session.h"
#include "app/polarity/fibre_map_view.h"
#include "record/advice/face_advice.h"
#include "record/advice/right_fibre_advice.h"

namespace clendo {

static const DeskEntry entry(90, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<PolarityDesk>(frame); });

QWidget* PolarityDesk::view()
{
    if (!view_) {
        view_ = new FibreMapView(frame_.widget());
        connect(view_, &FibreMapView::fibreChosen, this, [this](int fibre) {
            const Link* link = frame_.link();
            if (!link) return;
            for (const auto& other : frame_.session()->state().plan->links)
                if (other.cable == link->cable && other.fibre == fibre) return frame_.choose({other.id, End::A, Side::Port});
        });
    }
    return view_;
}

void PolarityDesk::show(const Shown& shown)
{
    fibres_ = shown.link ? rightFibres(shown.state(), *shown.link->cable) : RightFibres();
    view_->show(fibres_.ways, fibres_.report, shown.link ? shown.link->fibre : 0);
}

Advice PolarityDesk::advice(const Shown& shown) const { return shown.link ? rightFibreAdvice(fibres_, *shown.link) : emptyJobAdvice(); }

}  // namespace clendo
