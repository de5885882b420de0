#pragma once
#include <QFuture>
#include <QString>

#include "app/frame/job_session.h"
#include "app/look/face_prints.h"

namespace clendo {

/// Looks for a face of this job among the faces of another one, in the background: "TH-R2 port 3 of “Varrow Point”, as it was on 2025-11-02". The
/// other job is only read; progress counts its faces.
QFuture<Result<QString>> searchElsewhere(JobSession& session, const LookHeld& look, const QString& otherJob);

}  // namespace clendo
