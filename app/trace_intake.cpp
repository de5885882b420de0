#include "app/trace_intake.h"

#include <QFileInfo>
#include <QFutureWatcher>
#include <QtConcurrentRun>

#include "files/files.h"
#include "otdr/sor_reader.h"

namespace clendo {
namespace {

/// What the reading needs to know of the plan: the session's state may change meanwhile.
struct Wanted {
    std::string path, name, link, placeB;
    int fibre = 0;
    JobSettings job;
};

struct Taken {
    TraceShot shot;
    Evidence evidence;
    std::string oddity, otherFibre;  ///< empty where there is nothing to say
};

Result<Taken> readAndAnalyse(const Wanted& wanted)
{
    auto bytes = readFile(wanted.path);
    if (!bytes) return tl::unexpected(bytes.error());
    const auto trace = otdr::readSor(*bytes, wanted.name);
    if (!trace) return tl::unexpected(trace.error());
    // the file says where the instrument stood; without that, from A
    const bool fromB = !trace->locationA.empty() && trace->locationA == wanted.placeB;
    const otdr::Cords cords =
        fromB ? otdr::Cords{wanted.job.tailCord, wanted.job.launchCord} : otdr::Cords{wanted.job.launchCord, wanted.job.tailCord};
    Taken taken{{wanted.link,
                 fromB ? Direction::BtoA : Direction::AtoB,
                 sha256(*bytes),
                 wanted.name,
                 trace->wavelength,
                 cords,
                 otdr::analyse(*trace, cords),
                 {}},
                {},
                {},
                {}};
    taken.evidence = {wanted.name, std::move(*bytes)};
    if (!trace->oddities.empty()) taken.oddity = trace->oddities.front();
    if (!trace->fibre.empty() && trace->fibre != std::to_string(wanted.fibre)) taken.otherFibre = trace->fibre;
    return taken;
}

}  // namespace

TraceIntake::TraceIntake(JobSession& session, QObject* parent) : QObject(parent), session_(session) {}

void TraceIntake::take(const QString& path, const Link& link)
{
    const Wanted wanted{path.toStdString(), QFileInfo(path).fileName().toStdString(), link.id, link.cable->placeB, link.fibre, session_.state().job};
    auto* watcher = new QFutureWatcher<Result<Taken>>(this);
    connect(watcher, &QFutureWatcher<Result<Taken>>::finished, this, [this, watcher, chosen = timeOfDay()] {
        watcher->deleteLater();
        const Result<Taken> taken = watcher->result();
        if (!taken) return session_.say(QString::fromStdString(taken.error().message), true);
        QString sentence = tr("Filed: %1, %2 events.").arg(QString::fromStdString(taken->shot.traceName)).arg(taken->shot.found.events.size());
        if (!taken->oddity.empty()) sentence += QLatin1Char(' ') + QString::fromStdString(taken->oddity);
        if (!taken->otherFibre.empty())
            sentence += tr(" The file says fibre %1: is it the right one?").arg(QString::fromStdString(taken->otherFibre));
        if (session_.file({taken->shot}, std::span(&taken->evidence, 1), chosen)) session_.say(sentence, false);
    });
    watcher->setFuture(QtConcurrent::run([wanted] { return readAndAnalyse(wanted); }));
}

}  // namespace clendo
