#include "app/frame/open_job.h"

#include <QTimer>

#include "app/widgets/pick.h"

namespace clendo {

std::unique_ptr<OpenJob> openJobOf(std::unique_ptr<JobSession> session, QWidget* parent)
{
    auto out = std::make_unique<OpenJob>();
    out->pictures = std::make_unique<PictureIntake>(*session);
    out->memory = std::make_unique<FaceMemory>(*session);
    QObject::connect(out->pictures.get(), &PictureIntake::filed, out->memory.get(), &FaceMemory::seen);
    TraceIntake::Ask ask;
    ask.direction = [parent](const QString& file, const QString& placeA, const QString& placeB) -> std::optional<Direction> {
        const QStringList answers{QObject::tr("A to B: the instrument stood at %1").arg(placeA),
                                  QObject::tr("B to A: the instrument stood at %1").arg(placeB)};
        const auto answer =
            pick(parent, QObject::tr("From which end?"), QObject::tr("%1 does not say from which end it was shot.").arg(file), answers, false);
        if (!answer) return std::nullopt;
        return *answer == answers[0] ? Direction::AtoB : Direction::BtoA;
    };
    ask.cable = [parent](const QString& file, const QString& why, const Link& here, const Link& better) -> std::optional<std::string> {
        const auto words = [](const Link& link) {
            return QObject::tr("cable %1, fibre %2").arg(QString::fromStdString(link.cable->id)).arg(link.fibre);
        };
        const std::vector<std::string> links{better.id, here.id};
        const QStringList answers{QObject::tr("It is of %1").arg(words(better)), QObject::tr("It is of %1 all the same").arg(words(here))};
        const auto answer = pick(parent, QObject::tr("Of which cable?"), QObject::tr("%1 shows %2").arg(file, why), answers, false);
        if (!answer) return std::nullopt;
        return links[static_cast<std::size_t>(answers.indexOf(*answer))];
    };
    out->traces = std::make_unique<TraceIntake>(*session, std::move(ask));
    out->reels = std::make_unique<ReelIntake>(*session);
    out->session = std::move(session);
    return out;
}

void LeftJobs::take(std::unique_ptr<OpenJob> job)
{
    if (job->busy() == 0) return;
    OpenJob* leaving = jobs_.emplace_back(std::move(job)).get();
    leaving->session->disconnect();  // nobody shows it any more
    leaving->pictures->disconnect();
    leaving->traces->disconnect();
    leaving->reels->disconnect();
    connect(leaving->session.get(), &JobSession::said, this,
            [this, name = QString::fromStdString(leaving->session->state().plan->job.name)](const QString& s, bool trouble) {
                emit said(tr("%1: %2").arg(name, s), trouble);
            });
    const auto done = [this, leaving] {
        if (leaving->busy() > 0) return;
        // not while its own signal is on the way
        QTimer::singleShot(0, this, [this, leaving] {
            std::erase_if(jobs_, [&](const auto& j) { return j.get() == leaving; });
            emit finished();
        });
    };
    connect(leaving->session.get(), &JobSession::told, this, done);
    connect(leaving->pictures.get(), &PictureIntake::busyChanged, this, done);
    connect(leaving->traces.get(), &TraceIntake::busyChanged, this, done);
    connect(leaving->reels.get(), &ReelIntake::busyChanged, this, done);
}

int LeftJobs::busy() const
{
    int out = 0;
    for (const auto& job : jobs_) out += job->busy();
    return out;
}

}  // namespace clendo
