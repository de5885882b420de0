#include "app/reel/reel_intake.h"

#include <QFileInfo>

#include "app/trace/read_trace.h"
#include "files/files.h"
#include "otdr/analysis.h"
#include "pictures/decode.h"
#include "record/advice/reel_advice.h"
#include "record/rules/reels.h"
#include "record/rules/trace_naming.h"
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
        auto fibre = fibreOnReel(trace, QFileInfo(file).completeBaseName().toStdString(), reel, fibres);
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

void ReelIntake::take(const std::string& reel, const QStringList& files, const ReelLaunch& launch)
{
    const ReelStanding standing = standingOf(session_.state(), reel);
    const int fibres = standing.filed && standing.filed->delivered ? standing.filed->delivered->what.delivery.fibres : 1;
    run<Read>([files, reel, fibres, next = nextFibre(standing), launch]() -> Result<Read> { return readAll(files, reel, fibres, next, launch); },
              [this, reel, now = timeOfDay()](const Read& read) { file(reel, read, now); });
}

void ReelIntake::file(const std::string& reel, const Read& read, std::int64_t chosen)
{
    for (const auto& error : read.refused) session_.say(error);
    if (read.facts.empty()) return;
    QString words = read.facts.size() == 1 ? tr("A trace of reel %1 is filed").arg(QString::fromStdString(reel))
                                           : tr("%1 traces of reel %2 are filed").arg(read.facts.size()).arg(QString::fromStdString(reel));
    words += read.refused.empty() ? QStringLiteral(".") : tr("; %1 files could not be read.").arg(read.refused.size());
    if (read.taken)
        words = tr("Filed as fibre %1, the next that is asked for: neither the trace nor its name says which one it is.").arg(*read.taken);
    session_.file(Filing{read.facts, read.evidence, session_.believedTime(read.takenAt * 1'000'000, chosen)},
                  [this, words, trouble = read.taken || !read.refused.empty()] { session_.say(words, trouble); });
}

void ReelIntake::picture(const std::string& reel, const QString& file, const QString& says)
{
    const std::string name = QFileInfo(file).fileName().toStdString();
    run<std::string>(
        [path = file.toStdString(), name]() -> Result<std::string> {
            auto bytes = readFile(path);
            if (!bytes) return bytes;
            if (const auto seen = decodePicture(*bytes, name); !seen) return tl::unexpected(seen.error());
            return bytes;
        },
        [this, reel, name, says = says.toStdString()](const std::string& bytes) {
            session_.file(Filing{{ReelPictured{reel, sha256(bytes), name, says}}, {{name, bytes}}, 0});
        });
}

}  // namespace clendo
