#pragma once
#include <QObject>
#include <QString>

#include "app/job_session.h"

namespace clendo {

/// Takes pictures in: reads, measures on a worker thread, files the look. A picture belongs to the face that was chosen when it
/// came, even if the user has moved on since.
class PictureIntake : public QObject {
    Q_OBJECT
public:
    explicit PictureIntake(JobSession& session, QObject* parent = nullptr);
    void take(const QString& path, const FaceId& face);
    [[nodiscard]] int busy() const { return busy_; }

signals:
    void busyChanged(int pictures);
    void judged(const FaceId& face);

private:
    JobSession& session_;
    int busy_ = 0;
};

}  // namespace clendo
