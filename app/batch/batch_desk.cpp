#include "app/batch/batch_desk.h"

#include "app/batch/batch_view.h"
#include "app/frame/job_session.h"
#include "app/loss/bench_bar.h"
#include "app/loss/loss_desk.h"
#include "files/files.h"
#include "record/rules/patch_cords.h"

namespace clendo {

static const DeskEntry entry(50, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<BatchDesk>(frame); });

BatchView& BatchDesk::sheet()
{
    if (!view_) {
        view_ = new BatchView(frame_.widget());
        connect(view_, &BatchView::said, this, [this](const QString& sentence, bool trouble) { frame_.say(sentence, trouble); });
        view_->setLosses([this](const std::string& cord) {
            const Link* link = frame_.link();
            return link ? cordLosses(frame_.session()->state(), cord, *link->cable) : std::vector<CordLossRow>();
        });
        view_->putAbove(new BenchBar(frame_.deskOf<LossDesk>().run(), view_, LightRun::Purpose::PatchCord));
        connect(view_, &BatchView::changed, this, &Desk::adviceChanged);
    }
    return *view_;
}

QWidget* BatchDesk::view() { return &sheet(); }

void BatchDesk::show(const Shown& shown)
{
    sheet().show(shown.session ? shown.state().plan->criteria : loadCriteria("2015", dataFolder()).value_or(Criteria()),
                 shown.link ? shown.link->cable->classAt(shown.chosen.connection, shown.chosen.side) : "sm-upc");
}

Advice BatchDesk::advice(const Shown&) const { return view_->advice(); }

static const CommandGroup group(50, [](WindowFrame& frame) -> std::vector<Command> {
    const QString here = QStringLiteral("batch");
    const auto of = [&frame](auto work) { return [&frame, work] { work(frame.deskOf<BatchDesk>().sheet()); }; };
    const auto menu = CommandMenu::Line;
    return {{"batch.folder", menu, QObject::tr("Judge a folder of pictures …"), {Qt::Key_F}, of([](BatchView& v) { v.askForFolder(); }), {}, here},
            {"batch.line", menu, QObject::tr("Cords on a line, from a folder …"), {Qt::Key_L}, of([](BatchView& v) { v.askForLine(); }), {}, here},
            {"batch.export", menu, QObject::tr("Save the table …"), {Qt::Key_E}, of([](BatchView& v) { v.askForExport(); }), {}, here},
            {"batch.label", menu, QObject::tr("Label of the cord in hand …"), {Qt::Key_T}, of([](BatchView& v) { v.askForLabel(); }), {}, here},
            {"batch.ends", menu, QObject::tr("One end of each cord, or both"), {Qt::Key_D}, of([](BatchView& v) { v.toggleBothEnds(); }), {}, here},
            {"batch.cleaner", menu, QObject::tr("Check the cleaning machine …"), {Qt::Key_J}, of([](BatchView& v) { v.checkCleaner(); }), {}, here},
            {"batch.certificate", menu, QObject::tr("Certificate of the last cord"), {Qt::Key_W}, of([](BatchView& v) { v.writeCord(); }), {}, here},
            {"batch.next", menu, QObject::tr("Next cord"), {Qt::Key_N, Qt::Key_Space}, of([](BatchView& v) { v.nextCord(); }), {}, here},
            {"batch.stop", menu, QObject::tr("Stop"), {Qt::Key_Escape}, of([](BatchView& v) { v.stop(); }), {}, here}};
});

}  // namespace clendo
