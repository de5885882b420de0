#include "app/trace/trace_intake.h"

#include <QFileInfo>
#include <QFutureWatcher>
#include <QtConcurrentRun>
#include <cctype>

#include "files/files.h"
#include "otdr/sor_reader.h"
#include "result/guarded.h"

namespace clendo {

std::optional<Direction> shotFrom(const otdr::Trace& trace, const std::string& fileName, const std::string& placeA, const std::string& placeB)
{
    if (placeA != placeB) {
        if (trace.locationA == placeA || (trace.locationA.empty() && trace.locationB == placeB)) return Direction::AtoB;
        if (trace.locationA == placeB || (trace.locationA.empty() && trace.locationB == placeA)) return Direction::BtoA;
    }
    std::optional<Direction> out;
    std::string word;
    for (const char c : fileName + ".") {
        if (std::isalnum(static_cast<unsigned char>(c))) {
            word += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
            continue;
        }
        if (const auto way = directionNamed(word)) {
            if (out && *out != *way) return std::nullopt;  // it says both
            out = way;
        }
        word.clear();
    }
    return out;
}

TraceIntake::TraceIntake(JobSession& session, AskDirection ask, QObject* parent) : QObject(parent), session_(session), ask_(std::move(ask)) {}

template <class Out, class Work, class Then>
void TraceIntake::run(Work work, Then then)
{
    auto* watcher = new QFutureWatcher<Result<Out>>(this);
    connect(watcher, &QFutureWatcher<Result<Out>>::finished, this, [this, watcher, then] {
        watcher->deleteLater();
        const Result<Out> out = watcher->result();
        if (out)
            then(*out);
        else
            session_.say(out.error());
        emit busyChanged(--busy_);
    });
    emit busyChanged(++busy_);
    watcher->setFuture(QtConcurrent::run([work = std::move(work)] { return guarded(work); }));
}

void TraceIntake::take(const QString& path, const Link& link, const ShotCords& shotWith)
{
    const JobSettings& job = session_.state().plan->job;
    const Wanted wanted{path.toStdString(),
                        QFileInfo(path).fileName().toStdString(),
                        link.id,
                        link.cable->placeA,
                        link.cable->placeB,
                        link.fibre,
                        {job.launchCord, job.tailCord},
                        timeOfDay(),
                        shotWith};
    using Shared = std::shared_ptr<const Read>;
    run<Shared>(
        [wanted]() -> Result<Shared> {
            auto bytes = readFile(wanted.path);
            if (!bytes) return tl::unexpected(bytes.error());
            auto trace = otdr::readSor(*bytes, wanted.name);
            if (!trace) return tl::unexpected(trace.error());
            auto sha = sha256(*bytes);
            return std::make_shared<const Read>(Read{{wanted.name, std::move(*bytes)}, std::move(sha), std::move(*trace)});
        },
        [this, wanted](const Shared& read) {
            auto direction = shotFrom(read->trace, wanted.name, wanted.placeA, wanted.placeB);
            if (!direction && ask_)
                direction = ask_(QString::fromStdString(wanted.name), QString::fromStdString(wanted.placeA), QString::fromStdString(wanted.placeB));
            if (direction) return analyse(wanted, read, *direction);
            session_.say(tr("Not filed: neither the file nor you say from which end %1 was shot.").arg(QString::fromStdString(wanted.name)), true);
        });
}

void TraceIntake::analyse(const Wanted& wanted, std::shared_ptr<const Read> read, Direction direction)
{
    const bool fromA = direction == Direction::AtoB;
    const otdr::Cords cords = fromA ? wanted.fromA : otdr::Cords{wanted.fromA.tail, wanted.fromA.launch};
    run<otdr::Analysis>([read, cords]() -> Result<otdr::Analysis> { return otdr::analyse(read->trace, cords); },
                        [this, wanted, read, cords, direction](const otdr::Analysis& found) {
                            const otdr::Trace& trace = read->trace;
                            TraceShot shot;
                            shot.link = wanted.link;
                            shot.direction = direction;
                            shot.trace = read->sha256;
                            shot.traceName = wanted.name;
                            shot.wavelength = trace.wavelength;
                            shot.cords = cords;
                            shot.found = found;
                            shot.launchEnd = wanted.cords.launch;
                            shot.tailEnd = wanted.cords.tail;
                            const Said words = said::traceFiled(shot, trace, wanted.fibre);
                            Filing filing{{shot}, {read->file}, session_.believedTime(trace.takenAt * 1'000'000, wanted.chosen)};
                            emit busyChanged(++busy_);
                            const auto done = [this] { emit busyChanged(--busy_); };
                            session_.file(
                                std::move(filing),
                                [this, done, words] {
                                    done();
                                    session_.say(words);
                                },
                                nullptr, done);
                        });
}

}  // namespace clendo
