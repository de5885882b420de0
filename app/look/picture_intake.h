#pragma once
#include <QObject>
#include <QString>
#include <functional>

#include "app/frame/job_session.h"
#include "app/look/taken_picture.h"
#include "record/state/ferrule.h"

namespace clendo {

/// Takes pictures in: reads, measures on a worker thread, files the look. A picture belongs to the face that was chosen when it
/// came, even if the user has moved on since.
class PictureIntake : public QObject {
    Q_OBJECT
public:
    explicit PictureIntake(JobSession& session, QObject* parent = nullptr);
    /// `heard`: the file was written just now (a watched folder says so); else its own time says when the picture was taken.
    enum class Came { JustNow, ByHand };
    void take(const QString& path, const FaceId& face, Came came = Came::ByHand);
    /// What a live scope showed for a moment: its sharpest look, measured already, and the frames to be combined.
    void takeFrames(const LiveCapture& captured, const FaceId& face);
    /// A picture that was looked at before, as of when it was taken.
    void takeMeasured(const TakenPicture& taken, const FaceId& face);
    /// How ferrules with several fibres are held from now on.
    void setKeyWay(KeyWay key) { key_ = key; }
    [[nodiscard]] KeyWay keyWay() const { return key_; }
    [[nodiscard]] int busy() const { return busy_; }

signals:
    void busyChanged(int pictures);
    void judged(const FaceId& face);
    /// A look was filed; its picture's SHA-256 in hex.
    void filed(const clendo::FaceId& face, const std::string& picture);

private:
    void await(const FaceId& face, std::function<Result<TakenPicture>()> work);
    /// `otherwise`: when it was taken, where the picture says nothing that can be believed.
    void file(const FaceId& face, TakenPicture picture, std::int64_t otherwise);
    [[nodiscard]] Said countsNoMore(const FaceId& face, std::int64_t happened) const;

    JobSession& session_;
    KeyWay key_ = KeyWay::Up;
    int busy_ = 0;
};

}  // namespace clendo
