#include "app/trace/trace_desk.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QVBoxLayout>
#include <QtConcurrentRun>

#include "app/frame/open_job.h"
#include "app/trace/cable_glance.h"
#include "app/trace/folder_dialog.h"
#include "app/trace/trace_view.h"
#include "app/widgets/when_done.h"
#include "instruments/watched_folder.h"
#include "record/advice/face_advice.h"
#include "record/advice/link_advice.h"
#include "result/guarded.h"

namespace clendo {

static const DeskEntry entry(30, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<TraceDesk>(frame); });

QWidget* TraceDesk::view()
{
    if (!both_) {
        both_ = new QWidget(frame_.widget());
        view_ = new TraceView(both_);
        glance_ = new CableGlance(both_);
        auto* layout = new QVBoxLayout(both_);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(view_);
        layout->addWidget(glance_);
        glanceAt(false);
        connect(view_, &TraceView::said, this, [this](const QString& sentence, bool trouble) { frame_.say(sentence, trouble); });
        connect(glance_, &CableGlance::opened, this, [this](const QString& link) {
            const FaceId chosen = frame_.chosen();
            glanceAt(false);
            frame_.choose({link.toStdString(), chosen.connection, chosen.side});
            frame_.refresh();
        });
    }
    return both_;
}

void TraceDesk::glanceAt(bool all)
{
    glancing_ = all;
    view_->setVisible(!all);
    glance_->setVisible(all);
}

void TraceDesk::show(const Shown& shown)
{
    if (glance())
        glance_->show(*shown.session, shown.link);
    else
        view_->show(*shown.session, shown.link);
}

Advice TraceDesk::advice(const Shown& shown) const { return shown.link ? traceAdvice(shown.state(), *shown.link) : emptyJobAdvice(); }

std::vector<HiddenLength> TraceDesk::hidden(const Shown& shown) const
{
    if (!shown.link || !shown.state().state(shown.link->id).traces.empty()) return {};
    const auto choice = advisedShot(shown.state(), *shown.link);
    return choice ? hiddenByShot(*shown.link, *choice) : std::vector<HiddenLength>();
}

TraceView* TraceDesk::traces() const { return glancing_ ? nullptr : view_; }

CableGlance* TraceDesk::glance() const { return glancing_ ? glance_ : nullptr; }

void TraceDesk::toggleGlance()
{
    if (!both_) return;
    glanceAt(!glancing_);
    frame_.refresh();
}

bool TraceDesk::accepts(const QString& file) const
{
    const QFileInfo info(file);
    return info.isDir() ? frame_.session() && !traceFilesOf({file}).isEmpty() : info.suffix().toLower() == QLatin1String("sor");
}

void TraceDesk::take(const QString& file)
{
    if (QFileInfo(file).isDir()) return takeAll({file});
    const Link* link = frame_.link();
    if (!link) return frame_.say(tr("Choose a fibre first."), true);
    frame_.job()->traces->take(file, *link, view_ ? view_->cords() : ShotCords());
    frame_.showDesk(id());
    if (glance()) toggleGlance();
}

void TraceDesk::openTrace()
{
    const QStringList paths = QFileDialog::getOpenFileNames(
        frame_.widget(), tr("Open a trace, or several"), QFileInfo(frame_.session()->path()).path(), tr("OTDR traces (*.sor *.SOR);;All files (*)"));
    if (paths.size() == 1) return take(paths.front());
    if (!paths.isEmpty()) takeAll(paths);
}

void TraceDesk::openFolder()
{
    const QString folder = QFileDialog::getExistingDirectory(frame_.widget(), tr("A folder of traces"), QFileInfo(frame_.session()->path()).path());
    if (!folder.isEmpty()) takeAll({folder});
}

void TraceDesk::takeAll(const QStringList& files)
{
    FolderDialog dialog(*frame_.session(), files, view_ ? view_->cords() : ShotCords(), frame_.widget());
    connect(&dialog, &FolderDialog::filed, this, [this](const QString& sentence, bool trouble) { frame_.say(sentence, trouble); });
    dialog.exec();
}

void TraceDesk::askWhatToWatch()
{
    if (watched_) {
        delete std::exchange(watched_, nullptr);
        return frame_.say(tr("The folder is watched no more."));
    }
    const QString folder =
        QFileDialog::getExistingDirectory(frame_.widget(), tr("The folder into which the OTDR saves"), QFileInfo(frame_.session()->path()).path());
    if (!folder.isEmpty()) watch(folder);
}

void TraceDesk::watch(const QString& folder)
{
    delete watched_;
    watched_ = new WatchedFolder(this);
    connect(watched_, &WatchedFolder::arrived, this, &TraceDesk::cameInto);
    watched_->watch(folder);
    frame_.say(
        tr("What is saved into %1 from now on is taken in: by its names, else for the fibre that is chosen.").arg(QDir::toNativeSeparators(folder)));
}

/// To the fibre that its header and name tell; where they are not sure, to the one that is chosen.
void TraceDesk::cameInto(const QString& file)
{
    if (!accepts(file) || !frame_.session() || !frame_.job()) return;
    whenDone(QtConcurrent::run([file] { return guarded([&] { return readTrace(file.toStdString()); }); }), this,
             [this, file](const ReadFile& read) { place(file, read); });
}

void TraceDesk::place(const QString& file, const ReadFile& read)
{
    if (!frame_.session() || !frame_.job()) return;  // the job went meanwhile
    const JobPlan& plan = *frame_.session()->state().plan;
    const std::string stem = QFileInfo(file).completeBaseName().toStdString();
    const TracePlace place = read ? placeOf(plan, (*read)->trace, readName(patternFor({stem}, plan), stem)) : TracePlace();
    const Link* link = place.sure() ? plan.link(*place.link) : frame_.link();
    if (!link) return frame_.say(tr("%1 came, and no fibre is chosen: choose one and open it.").arg(QFileInfo(file).fileName()), true);
    frame_.job()->traces->take(file, *link, view_ ? view_->cords() : ShotCords());
}

void TraceDesk::jobGoes()
{
    delete std::exchange(watched_, nullptr);
    if (glance_) glance_->forget();
    if (glance()) glanceAt(false);
}

}  // namespace clendo
