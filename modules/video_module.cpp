#include <QCamera>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QMediaCaptureSession>
#include <QMediaDevices>
#include <QMediaPlayer>
#include <QUrl>
#include <QVideoFrame>
#include <QVideoSink>
#include <QtConcurrentRun>

#include "modules/video.h"
#include "pictures/decode.h"
#include "result/guarded.h"

namespace clendo {
namespace {

/// Frames of a sink as grey pictures: turned on a worker thread, one at a time; what comes meanwhile is dropped.
class SinkSource : public VideoSource {
public:
    SinkSource()
    {
        connect(&sink_, &QVideoSink::videoFrameChanged, this, [this](const QVideoFrame& frame) {
            if (turning_ || !frame.isValid()) return;
            turning_ = true;
            auto* watcher = new QFutureWatcher<Frame>(this);
            connect(watcher, &QFutureWatcher<Frame>::finished, this, [this, watcher] {
                watcher->deleteLater();
                turning_ = false;
                const Frame grey = watcher->result();
                if (grey) emit VideoSource::frame(grey);
            });
            watcher->setFuture(QtConcurrent::run([frame]() -> Frame {
                const auto turned = guardedResult([&]() -> Frame {
                    const QImage image = frame.toImage();
                    return image.isNull() ? nullptr : std::make_shared<const face::Picture>(greyPicture(image));
                });
                return turned.value_or(nullptr);
            }));
        });
    }

protected:
    QVideoSink sink_;

private:
    bool turning_ = false;
};

class FileSource : public SinkSource {
public:
    explicit FileSource(const QString& path) : path_(path)
    {
        player_.setVideoSink(&sink_);
        player_.setLoops(QMediaPlayer::Infinite);
        connect(&player_, &QMediaPlayer::errorOccurred, this, [this](QMediaPlayer::Error, const QString&) {
            emit trouble(tr("“%1” cannot be played. A video of a common kind (AVI, MP4, MKV) can.").arg(name()));
        });
    }
    [[nodiscard]] QString name() const override { return QFileInfo(path_).fileName(); }
    void start() override
    {
        player_.setSource(QUrl::fromLocalFile(path_));
        player_.play();
    }
    void stop() override { player_.stop(); }

private:
    QString path_;
    QMediaPlayer player_;
};

class CameraSource : public SinkSource {
public:
    explicit CameraSource(const QString& id) : id_(id)
    {
        session_.setVideoSink(&sink_);
        connect(&devices_, &QMediaDevices::videoInputsChanged, this, [this] {
            if (wanted_) open();
        });
    }
    [[nodiscard]] QString name() const override { return title_.isEmpty() ? id_ : title_; }
    void start() override
    {
        wanted_ = true;
        open();
    }
    void stop() override
    {
        wanted_ = false;
        camera_.reset();
    }

private:
    void open()
    {
        const auto inputs = QMediaDevices::videoInputs();
        for (const auto& device : inputs) {
            if (QString::fromUtf8(device.id()) != id_) continue;
            if (camera_ && camera_->isActive()) return;
            title_ = device.description();
            camera_ = std::make_unique<QCamera>(device);
            session_.setCamera(camera_.get());
            connect(camera_.get(), &QCamera::errorOccurred, this, [this] {
                emit trouble(tr("The scope “%1” answers with an error. Close other programs that use it, or plug it in again.").arg(name()));
            });
            camera_->start();
            return;
        }
        camera_.reset();
        emit trouble(tr("The scope “%1” is not plugged in. It is taken up again as soon as it is.").arg(name()));
    }

    QString id_, title_;
    QMediaDevices devices_;
    QMediaCaptureSession session_;
    std::unique_ptr<QCamera> camera_;
    bool wanted_ = false;
};

QList<CameraName> cameras()
{
    QList<CameraName> out;
    const auto inputs = QMediaDevices::videoInputs();
    for (const auto& device : inputs) out.push_back({QString::fromUtf8(device.id()), device.description()});
    return out;
}

}  // namespace
}  // namespace clendo

extern "C" __attribute__((visibility("default"))) void clendo_video(clendo::Video* video)
{
    video->cameras = &clendo::cameras;
    video->camera = [](const QString& id) -> std::unique_ptr<clendo::VideoSource> { return std::make_unique<clendo::CameraSource>(id); };
    video->file = [](const QString& path) -> std::unique_ptr<clendo::VideoSource> { return std::make_unique<clendo::FileSource>(path); };
}
