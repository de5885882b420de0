#include "instruments/stills_source.h"

#include <QFileInfo>
#include <QFutureWatcher>
#include <QtConcurrentRun>

#include "files/files.h"
#include "pictures/decode.h"
#include "result/guarded.h"

namespace clendo {

StillsSource::StillsSource(QString folder, QObject* parent) : VideoSource(parent), folder_(std::move(folder)) {}

void StillsSource::start()
{
    watched_ = std::make_unique<WatchedFolder>();
    connect(watched_.get(), &WatchedFolder::arrived, this, &StillsSource::read);
    watched_->watch(folder_);
}

void StillsSource::stop() { watched_.reset(); }

void StillsSource::read(const QString& path)
{
    using Read = Result<face::Picture>;
    auto* watcher = new QFutureWatcher<Read>(this);
    connect(watcher, &QFutureWatcher<Read>::finished, this, [this, watcher] {
        watcher->deleteLater();
        Read picture = watcher->result();
        if (!watched_) return;
        if (picture)
            emit frame(std::make_shared<const face::Picture>(std::move(*picture)));
        else
            emit trouble(QString::fromStdString(picture.error().message));
    });
    watcher->setFuture(QtConcurrent::run([file = path.toStdString(), name = QFileInfo(path).fileName().toStdString()]() -> Read {
        return guarded([&] { return readFile(file).and_then([&](const std::string& bytes) { return decodePicture(bytes, name); }); });
    }));
}

}  // namespace clendo
