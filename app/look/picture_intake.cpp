#include "app/look/picture_intake.h"

#include <QDateTime>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QtConcurrentRun>

#include "files/files.h"
#include "modules/sounds.h"
#include "pictures/decode.h"
#include "record/rules/gates.h"
#include "result/guarded.h"

namespace clendo {

PictureIntake::PictureIntake(JobSession& session, QObject* parent) : QObject(parent), session_(session) {}

/// When the picture in a file was taken: when the file was written, where that can be; else now.
std::int64_t PictureIntake::takenAt(const QString& path) const
{
    return session_.believedTime(QFileInfo(path).lastModified().toMSecsSinceEpoch() * 1000, timeOfDay());
}

/// What to say where a picture was taken before the face was touched: it is filed, and shows how the face was then.
QString PictureIntake::countsNoMore(const FaceId& face, std::int64_t happened) const
{
    const auto& state = session_.state().face(face);
    if (state.condition != FaceCondition::Stale || state.tries.empty()) return {};
    constexpr std::int64_t second = 1'000'000, late = 5 * second;
    if (timeOfDay() - happened < late) return {};
    return tr("Filed as of %1, when its file was written: the %2 %3 since.")
        .arg(QDateTime::fromSecsSinceEpoch(happened / second).toString(QStringLiteral("HH:mm")), QString::fromStdString(session_.state().where(face)),
             QString::fromStdString(whyNotFit(session_.state(), face)));
}

void PictureIntake::await(const FaceId& face, std::int64_t happened, std::function<Result<TakenPicture>()> work)
{
    auto* watcher = new QFutureWatcher<Result<TakenPicture>>(this);
    connect(watcher, &QFutureWatcher<Result<TakenPicture>>::finished, this, [this, watcher, face, happened] {
        watcher->deleteLater();
        emit busyChanged(--busy_);
        const Result<TakenPicture> taken = watcher->result();
        if (!taken) {
            session_.say(taken.error());
            return;
        }
        const auto fibres = assignFibres(session_.state(), face, taken->faces, key_);
        if (!fibres) {
            session_.say(fibres.error());
            return;
        }
        const QString twice = filedBefore(sha256(taken->evidence.bytes));
        std::vector<Fact> looks;
        for (const auto& one : *fibres) looks.emplace_back(FaceSeen{one.face, sha256(taken->evidence.bytes), taken->evidence.name, one.measured, {}});
        if (session_.file(std::move(looks), std::span(&taken->evidence, 1), happened)) {
            emit judged(face);
            if (!twice.isEmpty())
                session_.say(twice, true);
            else if (const QString old = countsNoMore(face, happened); !old.isEmpty())
                session_.say(old, true);
        }
    });
    emit busyChanged(++busy_);
    watcher->setFuture(QtConcurrent::run([work = std::move(work)] {
        (void)sounds();  // loaded here, the window need not wait for it when the verdict is told
        return guarded(work);
    }));
}

/// What to say where this very picture was filed before and still counts.
QString PictureIntake::filedBefore(const std::string& picture) const
{
    for (const auto& [id, state] : session_.state().faces)
        for (const auto& look : state.tries)
            if (look.seen.picture == picture)
                return tr("The very same picture was filed before, of %1: is the scope's picture frozen? Z takes this one back.")
                    .arg(QString::fromStdString(session_.state().where(id)));
    return {};
}

void PictureIntake::take(const QString& path, const FaceId& face, Came came)
{
    const Link* link = session_.state().link(face.link);
    if (!link && !session_.state().kit.contains(face.link)) {
        session_.say(tr("Choose a face first, then bring the picture."), true);
        return;
    }
    await(face, came == Came::JustNow ? timeOfDay() : takenAt(path),
          [file = path.toStdString(), name = QFileInfo(path).fileName().toStdString(), several = link && link->cable->ferruleFibres > 1] {
              return readAndMeasure(file, name, several);
          });
}

void PictureIntake::takeFrame(const Frame& frame, const std::vector<face::FaceMeasurement>& faces, const FaceId& face)
{
    QString name = QString::fromStdString(face.text()).replace(QLatin1Char('/'), QLatin1Char('-'));
    name += QDateTime::currentDateTimeUtc().toString(QStringLiteral("-yyyyMMdd-HHmmss")) + QStringLiteral(".png");
    await(face, timeOfDay(), [frame, faces, file = name.toStdString()]() -> Result<TakenPicture> {
        return TakenPicture{{file, encodePng(*frame)}, faces};
    });
}

void PictureIntake::takeMeasured(const TakenPicture& taken, const FaceId& face)
{
    await(face, session_.believedTime(taken.at, timeOfDay()), [taken]() -> Result<TakenPicture> { return taken; });
}

}  // namespace clendo
