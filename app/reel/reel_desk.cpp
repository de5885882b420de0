#include "app/reel/reel_desk.h"

#include <QDateTime>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QRandomGenerator>
#include <QStandardPaths>
#include <QtConcurrentRun>

#include "app/frame/open_job.h"
#include "app/reel/cuts_dialog.h"
#include "app/reel/decide_dialog.h"
#include "app/reel/delivery_dialog.h"
#include "app/reel/joint_dialog.h"
#include "app/reel/reel_view.h"
#include "app/reel/sample_dialog.h"
#include "app/sign/signer.h"
#include "app/widgets/pick.h"
#include "app/widgets/when_done.h"
#include "files/files.h"
#include "modules/papers.h"
#include "record/advice/face_advice.h"
#include "record/advice/reel_advice.h"
#include "result/guarded.h"

namespace clendo {

static const DeskEntry entry(95, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<ReelDesk>(frame); });

QWidget* ReelDesk::view()
{
    if (!view_) {
        view_ = new ReelView(frame_.widget());
        connect(view_, &ReelView::picked, this, [this](const QString& reel) { choose(reel.toStdString()); });
    }
    return view_;
}

void ReelDesk::show(const Shown& shown) { view_->show(shown.state(), reel()); }

Advice ReelDesk::advice(const Shown& shown) const { return shown.session ? reelAdvice(shown.state(), reel()) : emptyJobAdvice(); }

bool ReelDesk::accepts(const QString& file) const
{
    return frame_.desk() == id() && !reel().empty() && QFileInfo(file).suffix().toLower() == QLatin1String("sor");
}

std::string ReelDesk::reel() const
{
    if (!frame_.session()) return {};
    const auto& reels = state().reels;
    if (reels.contains(chosen_)) return chosen_;
    return reels.empty() ? std::string() : reels.begin()->first;
}

void ReelDesk::choose(const std::string& reel)
{
    chosen_ = reel;
    frame_.showDesk(id());
    frame_.refresh();
}

void ReelDesk::next(int by)
{
    std::vector<std::string> names;
    for (const auto& [name, reel] : state().reels) names.push_back(name);
    if (names.empty()) return;
    const auto here = std::find(names.begin(), names.end(), reel()) - names.begin();
    const auto count = static_cast<std::ptrdiff_t>(names.size());
    choose(names[static_cast<std::size_t>((here + by + count) % count)]);
}

QString ReelDesk::needsReel() const
{
    if (auto why = clendo::needsJob(frame_); !why.isEmpty()) return why;
    return reel().empty() ? tr("No reel came yet: write one down first.") : QString();
}

ReelStanding ReelDesk::standing() const { return standingOf(state(), reel()); }

void ReelDesk::deliver(bool anew)
{
    std::vector<std::string> known;
    for (const auto& [name, reel] : state().reels)
        if (reel.delivered) known.push_back(name);
    const ReelStanding s = standing();
    reel::Delivery like;
    if (s.filed && s.filed->delivered) like = s.filed->delivered->what.delivery;
    like.reel = reel();
    DeliveryDialog dialog(known, reel().empty() ? nullptr : &like, anew, frame_.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    const auto delivery = dialog.delivery();
    if (!delivery) return frame_.say(delivery.error());
    chosen_ = delivery->reel;
    frame_.session()->file(
        ReelDelivered{*delivery}, [this] { choose(chosen_); }, this);
}

void ReelDesk::drawSample()
{
    const ReelStanding s = standing();
    if (!s.filed->delivered) return frame_.say(tr("Write down first how many fibres it has."), true);
    auto table = reel::SamplingTable::load(RuleFiles(dataFolder()));
    if (!table) return frame_.say(table.error());
    SampleDialog dialog(reel(), s.filed->delivered->what.delivery.fibres, std::move(*table), QRandomGenerator::global()->generate(), frame_.widget());
    if (dialog.exec() == QDialog::Accepted) frame_.session()->file(dialog.sampled());
}

void ReelDesk::makeJoint()
{
    const ReelStanding s = standing();
    const QString own = QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + QStringLiteral("/clendo/joints");
    const ReelJointMade* last = s.filed->joints.empty() ? nullptr : &s.filed->joints.back().what;
    // what was bad is done again; else the next fibre that is asked for
    const bool again = s.last && !s.last->next.empty();
    const int fibre = again ? s.filed->shots.back().what.fibre : nextFibre(s);
    JointDialog dialog(
        reel(), fibre, s.filed->delivered ? s.filed->delivered->what.delivery.fibres : 1,
        reel::jointKinds({dataFolder() / "joints", own.toStdString()}), last, [this](const std::string& part) { return usesOf(state(), part); },
        frame_.widget());
    if (dialog.exec() == QDialog::Accepted) frame_.session()->file(dialog.made());
}

void ReelDesk::openTraces()
{
    takeTraces(QFileDialog::getOpenFileNames(frame_.widget(), tr("Traces of reel %1").arg(QString::fromStdString(reel())),
                                             QFileInfo(frame_.session()->path()).path(), tr("OTDR traces (*.sor *.SOR);;All files (*)")));
}

void ReelDesk::takeTraces(const QStringList& files)
{
    if (files.isEmpty()) return;
    view();
    frame_.job()->reels->take(reel(), files, view_->launch(state()));
}

void ReelDesk::addPicture()
{
    const QString file = QFileDialog::getOpenFileName(frame_.widget(), tr("A photograph of reel %1").arg(QString::fromStdString(reel())),
                                                      QFileInfo(frame_.session()->path()).path(), tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff)"));
    if (file.isEmpty()) return;
    bool sure = false;
    const QString says = QInputDialog::getText(frame_.widget(), tr("A photograph"), tr("What does it show?"), QLineEdit::Normal, QString(), &sure);
    if (!sure) return;
    frame_.job()->reels->picture(reel(), file, says.trimmed());
}

void ReelDesk::takeCordOut()
{
    const ReelStanding s = standing();
    QStringList cords;
    for (const auto& [name, item] : state().kit)
        if (item.what.kind == "cord" && !item.what.gone) cords << QString::fromStdString(name);
    if (cords.isEmpty()) return frame_.say(tr("The kit has no cord on record."), true);
    if (!s.filed->shots.empty())
        if (const auto at = cords.indexOf(QString::fromStdString(s.filed->shots.back().what.cord)); at > 0) cords.move(at, 0);
    const JobSnapshot job = frame_.session()->snapshot();
    const auto cord = pick(frame_.widget(), tr("Take a cord out of the kit"), tr("Which cord is broken?"), cords, false);
    if (!cord) return;
    const std::string name = cord->toStdString();
    const auto item = state().kit.find(name);
    if (item == state().kit.end()) return;
    KitKept gone = item->second.what;
    gone.gone = true;
    const std::string history = historyOf(*job.state, job.journal.all(), name).sentence(name);
    frame_.session()->file(
        {gone, KitProved{name, "light through", false}},
        [this, cord, history] { frame_.say(tr("%1 is out of the kit. %2").arg(*cord, QString::fromStdString(history))); }, this);
}

void ReelDesk::decide()
{
    const ReelStanding s = standing();
    if (!s.trouble.empty()) return frame_.say(QString::fromStdString(s.trouble), true);
    DecideDialog dialog(reel(), s, frame_.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    frame_.session()->file(
        dialog.decided(), [this] { askForCutsAgain(); }, this);
}

/// A decision can take a reel out of the plan.
void ReelDesk::askForCutsAgain()
{
    if (!state().cuts) return;
    const auto troubles = cutTroubles(state(), state().cuts->what);
    if (troubles.empty()) return;
    frame_.say(QString::fromStdString(troubles.front()), true);
    planCuts();
}

void ReelDesk::planCuts()
{
    const CutsPlanned* before = state().cuts ? &state().cuts->what : nullptr;
    const auto troubles = before ? cutTroubles(state(), *before) : std::vector<std::string>();
    const auto stock = stockOf(state());
    CutsDialog dialog(stock, notAccepted(state(), stock), before, troubles, frame_.widget());
    if (dialog.exec() == QDialog::Accepted)
        frame_.session()->file(
            dialog.planned(), [this] { frame_.say(tr("The cutting plan is filed.")); }, this);
}

void ReelDesk::lay()
{
    QStringList cables;
    for (const auto& cable : state().plan->cables) cables << QString::fromStdString(cable.id);
    if (cables.isEmpty()) return frame_.say(tr("There is no cable in the plan yet."), true);
    if (const Link* link = frame_.link())
        if (const auto at = cables.indexOf(QString::fromStdString(link->cable->id)); at > 0) cables.move(at, 0);
    const QString reel = QString::fromStdString(this->reel());
    const auto cable = pick(frame_.widget(), tr("Laid from reel %1").arg(reel), tr("Which cable was laid from it?"), cables, false);
    if (!cable) return;
    const QStringList ends{tr("end A of the cable"), tr("end B of the cable")};
    const auto end = pick(frame_.widget(), tr("Laid from reel %1").arg(reel), tr("The end into which the reel was shot is now …"), ends, false);
    if (!end) return;
    frame_.session()->file(
        CableLaid{cable->toStdString(), this->reel(), *end == ends.front()},
        [this, cable] { frame_.say(tr("The reel’s traces are the baseline of cable %1: Shift+H at a trace shows then and now.").arg(*cable)); },
        this);
}

void ReelDesk::writeReport()
{
    const QString folder = QFileInfo(frame_.session()->path()).dir().filePath(QStringLiteral("certificates"));
    whenDone(QtConcurrent::run(&frame_.session()->workers(),
                               [job = frame_.session()->snapshot(), evidence = frame_.session()->service().evidenceSource(), folder, reel = reel(),
                                key = Signer::of(frame_.widget()).open()] {
                                   return guarded([&] {
                                       return papers().and_then([&](const Papers& p) {
                                           return p.writeReelReport(*job.state, reel, evidence, folder, key.get(),
                                                                    QDateTime::currentSecsSinceEpoch());
                                       });
                                   });
                               }),
             this, [this](const Result<PlacedFiles>& written) {
                 if (!written) return frame_.say(written.error());
                 frame_.say(tr("The report is in %1.").arg(QFileInfo(written->paths.last()).path()));
             });
}

}  // namespace clendo
