#pragma once
#include <QObject>
#include <QString>
#include <memory>

#include "face/picture.h"

namespace clendo {

using Frame = std::shared_ptr<const face::Picture>;

/// Where live pictures come from: a camera, a video file, stills, the simulated scope. Frames may stop, change size or go black at any time; whoever
/// listens must cope. Used from the window's thread; decoding happens elsewhere.
class VideoSource : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    [[nodiscard]] virtual QString name() const = 0;
    virtual void start() = 0;
    virtual void stop() = 0;
    /// Turns the focus where it can be turned from here; positive is away from the face.
    virtual void turnFocus(double /*steps*/) {}

signals:
    void frame(const clendo::Frame& frame);
    /// A sentence for the technician; the source keeps trying.
    void trouble(const QString& sentence);
};

}  // namespace clendo
