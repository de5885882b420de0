#pragma once
#include <QObject>

#include "app/job_session.h"

namespace clendo {

/// Takes trace files in: reads and analyses on a worker thread, files the shot. It belongs to the link that was chosen when it came.
class TraceIntake : public QObject {
    Q_OBJECT
public:
    explicit TraceIntake(JobSession& session, QObject* parent = nullptr);
    void take(const QString& path, const Link& link);

private:
    JobSession& session_;
};

}  // namespace clendo
