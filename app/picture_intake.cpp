#include "app/picture_intake.h"

#include <QFileInfo>
#include <QFutureWatcher>
#include <QtConcurrentRun>

#include "files/files.h"
#include "modules/vision.h"
#include "pictures/decode.h"

namespace clendo {
namespace {

struct Taken {
    Evidence evidence;
    face::FaceMeasurement measured;
};

Result<Taken> readAndMeasure(const std::string& path, const std::string& name)
{
    auto bytes = readFile(path);
    if (!bytes) return tl::unexpected(bytes.error());
    const auto picture = decodePicture(*bytes, name);
    if (!picture) return tl::unexpected(picture.error());
    const auto module = vision();
    if (!module) return tl::unexpected(module.error());
    auto measured = module->measure(*picture, {});
    return Taken{{name, std::move(*bytes)}, std::move(measured.front())};
}

}  // namespace

PictureIntake::PictureIntake(JobSession& session, QObject* parent) : QObject(parent), session_(session) {}

void PictureIntake::take(const QString& path, const FaceId& face)
{
    const Link* link = session_.state().link(face.link);
    if (!link) {
        session_.say(tr("Choose a face first, then bring the picture."), true);
        return;
    }
    auto* watcher = new QFutureWatcher<Result<Taken>>(this);
    connect(watcher, &QFutureWatcher<Result<Taken>>::finished, this, [this, watcher, face] {
        watcher->deleteLater();
        emit busyChanged(--busy_);
        const Result<Taken> taken = watcher->result();
        if (!taken) {
            session_.say(QString::fromStdString(taken.error().message), true);
            return;
        }
        const FaceSeen seen{face, sha256(taken->evidence.bytes), taken->evidence.name, taken->measured};
        if (session_.file(seen, &taken->evidence)) emit judged(face);
    });
    emit busyChanged(++busy_);
    const std::string file = path.toStdString(), name = QFileInfo(path).fileName().toStdString();
    watcher->setFuture(QtConcurrent::run([file, name] { return readAndMeasure(file, name); }));
}

}  // namespace clendo
