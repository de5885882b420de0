#pragma once
#include "instruments/video_source.h"
#include "result/result.h"

namespace clendo {

/// A camera as the system lists it: USB scopes are plain cameras.
struct CameraName {
    QString id, title;
};

/// What the video module offers; loaded when a camera or video file is first wanted.
struct Video {
    QList<CameraName> (*cameras)() = nullptr;
    /// A camera that is unplugged is said so, and taken up again when it is back.
    std::unique_ptr<VideoSource> (*camera)(const QString& id) = nullptr;
    /// Plays a file over and over.
    std::unique_ptr<VideoSource> (*file)(const QString& path) = nullptr;
};
Result<Video> video();

}  // namespace clendo
