// Keys of the main window, and the ways they lead.
#include <QKeyEvent>
#include <algorithm>

#include "app/journal_desk.h"
#include "app/live_desk.h"
#include "app/main_window.h"
#include "app/ruling_view.h"
#include "app/trace_view.h"
#include "record/round.h"

namespace clendo {

void MainWindow::keyPressEvent(QKeyEvent* event)
{
    if (event->modifiers() & (Qt::ControlModifier | Qt::AltModifier)) return QMainWindow::keyPressEvent(event);
    if (desk_ == Desk::Batch && batchKey(event->key())) return;
    if (desk_ == Desk::Journal && event->key() == Qt::Key_F) return journal_->search();
    if (desk_ == Desk::Journal && event->key() == Qt::Key_L) return journal_->nextScope();
    if (event->key() != Qt::Key_M) refused_ = {};
    if (event->key() != Qt::Key_S) unsigned_.clear();
    switch (event->key()) {
        case Qt::Key_Left: return moveFace(-1);
        case Qt::Key_Right: return moveFace(1);
        case Qt::Key_Up: return moveLink(-1);
        case Qt::Key_Down: return moveLink(1);
        case Qt::Key_1: return showDesk(Desk::Look);
        case Qt::Key_2: return showDesk(Desk::Loss);
        case Qt::Key_3: return showDesk(Desk::Trace);
        case Qt::Key_4: return showDesk(Desk::Sign);
        case Qt::Key_5: return showDesk(Desk::Batch);
        case Qt::Key_6: return showDesk(Desk::Journal);
        case Qt::Key_7: return showDesk(Desk::Learn);
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_PageDown:  // what pedals send
            if (!ruling_->shown().actions.empty()) act(ruling_->shown().actions.front().kind);
            return;
        case Qt::Key_P: return act(ActionKind::TakePicture);
        case Qt::Key_C: return act(ActionKind::Clean);
        case Qt::Key_M: return act(ActionKind::Mate);
        case Qt::Key_A: return act(ActionKind::CleanSleeve);
        case Qt::Key_H: return handled();
        case Qt::Key_J: return event->modifiers() & Qt::ShiftModifier ? workOnTestCord() : joinTestCord();
        case Qt::Key_G: return showContacts();
        case Qt::Key_L: return nextPlace();
        case Qt::Key_Y: return showCarry();
        case Qt::Key_N:
        case Qt::Key_Space: return act(ActionKind::NextStep);
        case Qt::Key_R: return act(ActionKind::SetReference);
        case Qt::Key_T: return act(ActionKind::ReadPower);
        case Qt::Key_F: return proveFibre(event->modifiers() & Qt::ShiftModifier);
        case Qt::Key_E: return askForLength();
        case Qt::Key_O: return askForFile();
        case Qt::Key_S: return sign(event->modifiers() & Qt::ShiftModifier);
        case Qt::Key_W: return act(ActionKind::Certificate);
        case Qt::Key_Z: return act(ActionKind::Undo);
        case Qt::Key_B: return act(ActionKind::PlanCable);
        case Qt::Key_U: return unroll();
        case Qt::Key_V: return toggleLive();
        case Qt::Key_K: return turnKey();
        case Qt::Key_Plus:
        case Qt::Key_Minus: return live_->turnFocus(event->key() == Qt::Key_Plus ? 1 : -1);
        case Qt::Key_X: return overrule();
        case Qt::Key_D:
            if (trace_ && desk_ == Desk::Trace) trace_->nextShot();
            return;
        case Qt::Key_Escape: return setFocus();
        default: QMainWindow::keyPressEvent(event);
    }
}

void MainWindow::moveFace(int by)
{
    const Link* l = link();
    if (!l) return;
    const auto faces = l->faces();
    const auto at = std::find(faces.begin(), faces.end(), chosen_) - faces.begin();
    const auto next = std::clamp<std::ptrdiff_t>(at + by, 0, static_cast<std::ptrdiff_t>(faces.size()) - 1);
    choose(faces[static_cast<std::size_t>(next)]);
}

void MainWindow::moveLink(int by)
{
    if (!session_ || session_->state().links.empty()) return;
    const auto& links = session_->state().links;
    const auto at = std::find_if(links.begin(), links.end(), [&](const Link& l) { return l.id == chosen_.link; }) - links.begin();
    const auto next = std::clamp<std::ptrdiff_t>(at + by, 0, static_cast<std::ptrdiff_t>(links.size()) - 1);
    choose({links[static_cast<std::size_t>(next)].id, chosen_.connection, chosen_.side});
}

/// Of the steps that can be done: what is ready to be joined first; else the next of the same kind of work, so that six ports can be looked at,
/// cleaned and looked at again; else the first.
const Step* MainWindow::stepAfter(const std::vector<const Step*>& open) const
{
    const Step* first = open.front();
    if ((first->kind != StepKind::Look && first->kind != StepKind::Clean) || desk_ != Desk::Look) return first;
    const Link* here = link();
    for (const Step* step : open) {
        const Link* there = session_->state().link(step->link);
        if (step->kind == working_ && here && there && there->cable == here->cable && step->face.connection == chosen_.connection &&
            step->face.side == chosen_.side && there->fibre > here->fibre)
            return step;
    }
    return first;
}

void MainWindow::nextStep()
{
    if (!session_) return;
    const Round round = roundOf(session_->state(), place_);
    // damaged faces wait for somebody to decide: the round goes past them
    std::vector<const Step*> open;
    for (const auto& step : round.left) {
        const bool stuck = step.kind == StepKind::Clean && session_->state().face(step.face).condition == FaceCondition::Damaged;
        const bool blockedMate = step.kind == StepKind::Mate && session_->state().link(step.link) &&
                                 !mayMate(session_->state(), *session_->state().link(step.link), step.connection);
        // a sleeve is swabbed when the connector is about to go in
        const bool early = step.kind == StepKind::Sleeve && session_->state().link(step.link) &&
                           !bothFit(session_->state(), *session_->state().link(step.link), step.connection);
        const bool same = step.kind != StepKind::Mate && desk_ == Desk::Look && step.face == chosen_ && !step.face.link.empty();
        if (!stuck && !blockedMate && !early && !same) open.push_back(&step);
    }
    if (!open.empty()) return goTo(*stepAfter(open));
    say(round.left.empty() ? tr("The round is done.") : tr("Nothing else can be done now: what is left waits for a decision."), false);
}

}  // namespace clendo
