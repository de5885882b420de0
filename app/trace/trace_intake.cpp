#include "app/trace/trace_intake.h"

#include <QFileInfo>

#include "record/rules/trace_naming.h"
#include "record/rules/which_cable.h"

namespace clendo {

TraceIntake::TraceIntake(JobSession& session, Ask ask, QObject* parent) : Intake(session, parent), ask_(std::move(ask)) {}

void TraceIntake::take(const QString& path, const Link& link, const ShotCords& shotWith)
{
    const JobSettings& job = session_.state().plan->job;
    const Wanted wanted{path.toStdString(), QFileInfo(path).fileName().toStdString(), link.id,     link.cable->placeA,
                        link.cable->placeB, {job.launchCord, job.tailCord},           timeOfDay(), shotWith};
    using Shared = std::shared_ptr<const ReadTrace>;
    run<Shared>(
        [wanted] { return readTrace(wanted.path); },
        [this, wanted](const Shared& read) {
            auto direction = shotFrom(read->trace, wanted.name, wanted.placeA, wanted.placeB);
            if (!direction && ask_.direction)
                direction =
                    ask_.direction(QString::fromStdString(wanted.name), QString::fromStdString(wanted.placeA), QString::fromStdString(wanted.placeB));
            if (direction) return analyse(wanted, read, *direction);
            session_.say(tr("Not filed: neither the file nor you say from which end %1 was shot.").arg(QString::fromStdString(wanted.name)), true);
        });
}

void TraceIntake::analyse(const Wanted& wanted, std::shared_ptr<const ReadTrace> read, Direction direction)
{
    run<TraceShot>(
        [wanted, read, direction]() -> Result<TraceShot> { return analysedShot(*read, wanted.link, direction, wanted.fromA, wanted.cords); },
        [this, wanted, read](const TraceShot& shot) { file(wanted, *read, shot); });
}

void TraceIntake::file(const Wanted& wanted, const ReadTrace& read, TraceShot shot)
{
    const Link* here = session_.state().link(shot.link);
    if (here && ask_.cable)
        if (const auto cable = whichCable(session_.state(), *here, shot.found, shot.direction); cable.better) {
            // the state may change while a person thinks
            const auto link = ask_.cable(QString::fromStdString(wanted.name), QString::fromStdString(cable.why), *here, *cable.better);
            if (!link) return session_.say(tr("Not filed: %1.").arg(QString::fromStdString(wanted.name)), true);
            shot.link = *link;
            here = session_.state().link(shot.link);
        }
    const Said words = said::traceFiled(shot, read.trace, here ? here->fibre : 0);
    Filing filing{{std::move(shot)}, {read.file}, session_.believedTime(read.trace.takenAt * 1'000'000, wanted.chosen)};
    session_.file(std::move(filing), [this, words] { session_.say(words); });
}

}  // namespace clendo
