#include "app/look/picture_intake.h"

#include <QDateTime>
#include <QFileInfo>
#include <QtConcurrentRun>

#include "app/widgets/when_done.h"
#include "files/files.h"
#include "modules/sounds.h"
#include "pictures/decode.h"
#include "result/guarded.h"

namespace clendo {

PictureIntake::PictureIntake(JobSession& session, QObject* parent) : QObject(parent), session_(session) {}

/// What to say where a picture was taken before the face was touched: it is filed, and shows how the face was then.
Said PictureIntake::countsNoMore(const FaceId& face, std::int64_t happened) const
{
    constexpr std::int64_t second = 1'000'000, late = 5 * second;
    if (timeOfDay() - happened < late) return {};
    const QString when = QDateTime::fromSecsSinceEpoch(happened / second).toString(QStringLiteral("HH:mm"));
    return said::pictureOfBefore(session_.state(), face, when.toStdString());
}

void PictureIntake::await(const FaceId& face, std::function<Result<TakenPicture>()> work)
{
    emit busyChanged(++busy_);
    auto judged = QtConcurrent::run([work = std::move(work)] {
        (void)sounds();  // loaded here, the window need not wait for it when the verdict is told
        return guarded(work);
    });
    whenDone(judged, this, [this, face, now = timeOfDay()](Result<TakenPicture> taken) {
        if (taken) return file(face, std::move(*taken), now);
        emit busyChanged(--busy_);
        session_.say(taken.error());
    });
}

void PictureIntake::file(const FaceId& face, TakenPicture picture, std::int64_t otherwise)
{
    const std::int64_t happened = session_.believedTime(picture.at, otherwise);
    const auto twice = std::make_shared<Said>();
    const auto taken = std::make_shared<TakenPicture>(std::move(picture));
    const auto seenFaces = std::make_shared<std::vector<std::pair<FaceId, std::string>>>();
    const auto looks = [=, key = key_](const JobState& now) {
        return assignFibres(now, face, taken->faces, key).map([&](const auto& fibres) {
            const std::string sha = sha256(taken->evidence.bytes);
            *twice = said::samePicture(now, sha);
            Filing filing{{}, {}, happened};
            std::optional<FramesCombined> frames;
            if (const auto& from = taken->combined) frames = FramesCombined{from->taken, from->used, sha256(from->best.bytes)};
            for (const auto& one : fibres) {
                FaceSeen seen{one.face, sha, taken->evidence.name, one.measured, {}};
                seen.frames = frames;
                seenFaces->emplace_back(one.face, sha);
                filing.facts.emplace_back(std::move(seen));
            }
            filing.evidence.push_back(std::move(taken->evidence));
            if (taken->combined) filing.evidence.push_back(std::move(taken->combined->best));
            return filing;
        });
    };
    session_.file(
        looks,
        [this, face, happened, twice, seenFaces] {
            emit busyChanged(--busy_);
            emit judged(face);
            const Said words = twice->sentence.empty() ? countsNoMore(face, happened) : *twice;
            if (!words.sentence.empty()) return session_.say(words);  // the same picture is the same face, of course
            for (const auto& [seen, sha] : *seenFaces) emit filed(seen, sha);
        },
        [this] { emit busyChanged(--busy_); });
}

void PictureIntake::take(const QString& path, const FaceId& face, Came came)
{
    const Link* link = session_.state().link(face.link);
    if (!link && !session_.state().kit.contains(face.link)) {
        session_.say(tr("Choose a face first, then bring the picture."), true);
        return;
    }
    const std::int64_t now = came == Came::JustNow ? timeOfDay() : 0;
    await(face, [file = path.toStdString(), name = QFileInfo(path).fileName().toStdString(), several = link && link->cable->ferruleFibres > 1, now] {
        auto taken = readAndMeasure(file, name, several);
        if (taken && now != 0) taken->at = now;
        return taken;
    });
}

void PictureIntake::takeFrames(const LiveCapture& captured, const FaceId& face)
{
    QString name = QString::fromStdString(face.text()).replace(QLatin1Char('/'), QLatin1Char('-'));
    name += QDateTime::currentDateTimeUtc().toString(QStringLiteral("-yyyyMMdd-HHmmss")) + QStringLiteral(".png");
    await(face, [captured, file = name.toStdString(), now = timeOfDay()] {
        auto taken = combineAndMeasure(captured, file);
        if (taken) taken->at = now;
        return taken;
    });
}

void PictureIntake::takeMeasured(const TakenPicture& taken, const FaceId& face)
{
    await(face, [taken]() -> Result<TakenPicture> { return taken; });
}

}  // namespace clendo
