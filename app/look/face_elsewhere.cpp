// Whether a face of this job was seen in another one: for years a port is the same, whatever it is called.
#include "app/look/face_elsewhere.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QPromise>
#include <QtConcurrentRun>

#include "app/frame/command.h"
#include "app/frame/window_frame.h"
#include "record/advice/filed.h"
#include "result/guarded.h"
#include "session/job_engine.h"

namespace clendo {
namespace {

Result<QString> search(QPromise<Result<QString>>& promise, const LookHeld& look, const std::string& where, const EvidenceSource& evidence,
                       const QString& path)
{
    const auto module = vision();
    if (!module) return tl::unexpected(module.error());
    FacePrints prints;
    const auto own = prints.of(*module, look, evidence);
    if (!own) return failure(Error::Code::FileUnreadable, "The picture of this face cannot be read again.");
    const auto other = readJob(path, JobStore::Access::Read, noClock);
    if (!other) return tl::unexpected(other.error());
    const JobState& state = other->fold.state();
    const auto looks = lastLooks(state, {}, {});
    promise.setProgressRange(0, static_cast<int>(looks.size()));
    said::Elsewhere found;
    found.job = state.plan->job.name;
    const EvidenceSource theirs = [&](const std::string& sha) { return other->store->evidence(sha); };
    for (std::size_t i = 0; i < looks.size(); ++i) {
        if (promise.isCanceled()) return QObject::tr("Stopped.");
        promise.setProgressValue(static_cast<int>(i));
        const auto print = prints.of(*module, looks[i], theirs);
        if (!print) continue;
        ++found.compared;
        const auto match = module->matchFaces(*print, *own);
        if (match.answer == face::SameFace::Different) ++found.different;
        if (match.answer == face::SameFace::Same && (!found.match || match.falseMatchRate < found.match->falseMatchRate)) {
            found.match = match;
            found.where = state.where(looks[i].face);
            found.at = looks[i].at;
        }
    }
    return QString::fromStdString(said::seenElsewhere(where, found));
}

void ask(WindowFrame& frame)
{
    JobSession& session = *frame.session();
    const auto looks = lastLooks(session.state(), frame.chosen(), {});
    if (looks.empty() || !(looks.front().face == frame.chosen()))
        return frame.say(QObject::tr("This face was not seen yet: there is nothing to look for."), true);
    const QString path = QFileDialog::getOpenFileName(frame.widget(), QObject::tr("The other job"), QFileInfo(session.path()).path(),
                                                      QObject::tr("Jobs (*.clendo);;All files (*)"));
    if (!path.isEmpty()) frame.follow(QObject::tr("Looking for this face"), searchElsewhere(session, looks.front(), path));
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    return {{"face.elsewhere",
             CommandMenu::Look,
             QObject::tr("Was this face seen in another job? …"),
             {Qt::CTRL | Qt::Key_H},
             [&frame] { ask(frame); },
             [&frame] { return needsLink(frame); }}};
}

const CommandGroup group(22, commandsOf);

}  // namespace

QFuture<Result<QString>> searchElsewhere(JobSession& session, const LookHeld& look, const QString& otherJob)
{
    const auto work = [look, where = session.state().where(look.face), evidence = session.service().evidenceSource(),
                       otherJob](QPromise<Result<QString>>& promise) {
        promise.addResult(guarded([&] { return search(promise, look, where, evidence, otherJob); }));
    };
    return QtConcurrent::run(&session.workers(), work);
}

}  // namespace clendo
