#include "app/reel/reel_intake.h"

#include <QFileInfo>
#include <QPointer>
#include <QtConcurrentRun>

#include "app/trace/read_trace.h"
#include "files/files.h"
#include "otdr/analysis.h"
#include "pictures/decode.h"
#include "record/advice/reel_advice.h"
#include "record/rules/reels.h"
#include "result/guarded.h"

namespace clendo {

ReelIntake::Read ReelIntake::readAll(const QStringList& files, const std::string& reel, int fibres, int next, const ReelLaunch& launch)
{
    Read out;
    for (const QString& file : files) {
        const auto read = guarded([&] { return readTrace(file.toStdString()); });
        if (!read) {
            out.refused.push_back(read.error());
            continue;
        }
        const otdr::Trace& trace = (*read)->trace;
        auto fibre = fibreOfReelTrace(trace, (*read)->file.name, reel, fibres);
        if (!fibre && files.size() > 1) {
            out.refused.push_back(
                {Error::Code::PlanInvalid, (*read)->file.name + ": neither the file nor its name says which fibre it is. Open it alone."});
            continue;
        }
        if (!fibre) fibre = out.taken = next;
        ReelTraced shot;
        shot.reel = reel;
        shot.fibre = *fibre;
        shot.trace = (*read)->sha256;
        shot.traceName = (*read)->file.name;
        shot.wavelength = trace.wavelength;
        shot.launch = launch.length;
        shot.cord = launch.cord;
        shot.spacing = trace.spacing();
        shot.found = otdr::analyse(trace, {launch.length, {}});
        out.facts.emplace_back(std::move(shot));
        out.evidence.push_back((*read)->file);
        out.takenAt = trace.takenAt;
    }
    return out;
}

void ReelIntake::take(JobSession& session, const std::string& reel, const QStringList& files, const ReelLaunch& launch)
{
    const ReelStanding standing = standingOf(session.state(), reel);
    const int fibres = standing.filed && standing.filed->delivered ? standing.filed->delivered->what.delivery.fibres : 1;
    QtConcurrent::run(&session.workers(), [files, reel, fibres, next = nextFibre(standing), launch] {
        return guarded([&]() -> Result<Read> { return readAll(files, reel, fibres, next, launch); });
    }).then(this, [open = QPointer(&session), reel, now = timeOfDay()](const Result<Read>& read) {
        if (!open) return;
        if (!read) return open->say(read.error());
        for (const auto& error : read->refused) open->say(error);
        if (read->facts.empty()) return;
        const auto shots = read->facts.size();
        open->file(Filing{read->facts, read->evidence, open->believedTime(read->takenAt * 1'000'000, now)}, [open, reel, shots, taken = read->taken,
                                                                                                             refused = read->refused.size()] {
            if (!open) return;
            const QString words = shots == 1 ? tr("A trace of reel %1 is filed").arg(QString::fromStdString(reel))
                                             : tr("%1 traces of reel %2 are filed").arg(shots).arg(QString::fromStdString(reel));
            if (taken)
                return open->say(
                    tr("Filed as fibre %1, the next that is asked for: neither the trace nor its name says which one it is.").arg(*taken), true);
            open->say(refused == 0 ? words + QLatin1Char('.') : words + tr("; %1 files could not be read.").arg(refused), refused > 0);
        });
    });
}

void ReelIntake::picture(JobSession& session, const std::string& reel, const QString& file, const QString& says)
{
    using Bytes = Result<std::string>;
    QtConcurrent::run(&session.workers(), [file] {
        return guarded([&]() -> Bytes {
            return readFile(file.toStdString()).and_then([&](const std::string& bytes) -> Bytes {
                const auto seen = decodePicture(bytes, QFileInfo(file).fileName().toStdString());
                return seen ? Bytes(bytes) : tl::unexpected(seen.error());
            });
        });
    }).then(this, [open = QPointer(&session), reel, file, says](const Bytes& bytes) {
        if (!open) return;
        if (!bytes) return open->say(bytes.error());
        const std::string name = QFileInfo(file).fileName().toStdString();
        open->file(Filing{{ReelPictured{reel, sha256(*bytes), name, says.toStdString()}}, {{name, *bytes}}, 0});
    });
}

}  // namespace clendo
