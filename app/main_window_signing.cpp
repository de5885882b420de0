// What the main window does with a link as a whole: it is the right fibre, so long, signed.
#include <QInputDialog>
#include <utility>

#include "app/main_window.h"
#include "record/completeness.h"

namespace clendo {

void MainWindow::proveFibre(bool elsewhere)
{
    const Link* l = link();
    if (!l) return;
    showDesk(Desk::Loss);
    const int fibre = l->fibre;
    int out = fibre;  // 0: nowhere
    if (elsewhere) {
        QStringList answers{tr("nowhere: no light came out")};
        for (int n = 1; n <= l->cable->fibres; ++n) answers << tr("fibre %1").arg(n);
        bool ok = false;
        const QString answer = QInputDialog::getItem(this, tr("Where did it come out?"), tr("Light into fibre %1 at A came out at B in").arg(fibre),
                                                     answers, 0, false, &ok);
        if (!ok) return;
        out = static_cast<int>(answers.indexOf(answer));
    }
    const std::string cable = l->cable->id;
    LightSeen seen{cable, fibre, {}};
    if (out > 0) seen.out = out;
    if (!session_->file(seen)) return;
    say(out == fibre ? tr("Filed: light into fibre %1 at A came out at fibre %1 at B.").arg(fibre)
        : out        ? tr("Filed: light into fibre %1 at A came out at fibre %2 at B. Two fibres are crossed, or a cord is in the wrong port.")
                    .arg(fibre)
                    .arg(out)
              : tr("Filed: light into fibre %1 at A came out nowhere at B.").arg(fibre),
        out != fibre);
}

void MainWindow::askForLength()
{
    const Link* l = link();
    if (!l) return;
    const std::string id = l->id;
    bool ok = false;
    constexpr double longest = 200000;
    const double length = QInputDialog::getDouble(
        this, tr("Length"), tr("Fibre %1 was measured to be, metres (a trace tells it by itself):").arg(l->fibre), 0, 0, longest, 1, &ok);
    if (!ok || length <= 0) return;
    const QString how =
        QInputDialog::getItem(this, tr("Length"), tr("Measured by"), {tr("the light source and meter"), tr("sheath marks")}, 0, true, &ok).trimmed();
    if (!ok || how.isEmpty()) return;
    if (session_->file(LengthMeasured{id, Metre(length), how.toStdString()})) say(tr("Filed: %1 m by %2.").arg(length, 0, 'f', 1).arg(how), false);
}

void MainWindow::sign(bool wholeCable)
{
    const Link* l = link();
    if (!l) return;
    showDesk(Desk::Sign);
    const JobState& state = session_->state();
    const int fibre = l->fibre;
    const std::string subject = wholeCable ? l->cable->id : l->id;
    const QString what = wholeCable ? tr("cable %1").arg(QString::fromStdString(subject)) : tr("fibre %1").arg(fibre);
    std::string remark;
    if (wholeCable) {
        for (const auto& other : state.links) {
            if (other.cable != l->cable) continue;
            const auto& signature = state.state(other.id).signature;
            if (!signature || !signature->stands)
                return say(tr("Not yet: fibre %1 is %2. The cable is signed when the signatures of all its fibres stand.")
                               .arg(other.fibre)
                               .arg(signature ? tr("signed, but overtaken") : tr("not signed")),
                           true);
        }
        if (const auto before = state.signedCables.find(subject); before != state.signedCables.end() && before->second.stands)
            return say(tr("Signed already: %1.").arg(what), false);
    } else {
        if (const auto& before = state.state(subject).signature; before && before->stands) return say(tr("Signed already: %1.").arg(what), false);
        if (const auto ok = maySign(state, *l); !ok) {
            const QString why = QString::fromStdString(ok.error().message);
            if (std::exchange(unsigned_, subject) != subject) return say(tr("%1 S again: sign all the same, with a reason.").arg(why), true);
            bool sure = false;
            const QString said =
                QInputDialog::getText(this, tr("Sign all the same?"), tr("%1\nIf you sign all the same, say why (Esc: no):").arg(why),
                                      QLineEdit::Normal, QString(), &sure)
                    .trimmed();
            if (!sure || said.isEmpty()) return say(why, true);
            remark = said.toStdString();
        }
    }
    unsigned_.clear();
    if (session_->sign(subject, remark)) say(tr("Signed off: %1.").arg(what), false);
}

}  // namespace clendo
