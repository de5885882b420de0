#pragma once
#include <functional>
#include <memory>
#include <vector>

#include "app/frame/job_session.h"
#include "app/look/face_memory.h"
#include "app/look/picture_intake.h"
#include "app/reel/reel_intake.h"
#include "app/trace/trace_intake.h"

namespace clendo {

/// A job with what takes pictures, traces and what belongs to reels in for it.
struct OpenJob {
    std::unique_ptr<JobSession> session;
    std::unique_ptr<PictureIntake> pictures;
    std::unique_ptr<FaceMemory> memory;
    std::unique_ptr<TraceIntake> traces;
    std::unique_ptr<ReelIntake> reels;

    [[nodiscard]] int busy() const { return pictures->busy() + traces->busy() + reels->busy() + session->underWay(); }
};

/// `parent`: of the dialog that asks from which end a trace was shot, where the file does not tell it.
std::unique_ptr<OpenJob> openJobOf(std::unique_ptr<JobSession> session, QWidget* parent);

/// Jobs that were left while something of them was still being judged: it belongs to the job for which it was brought, which stays open in the
/// background until it is filed.
class LeftJobs : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    /// Takes a job over, or closes it at once where nothing is on its way.
    void take(std::unique_ptr<OpenJob> job);
    [[nodiscard]] int busy() const;

signals:
    void said(const QString& sentence, bool trouble);
    /// One of them is finished and closed.
    void finished();

private:
    std::vector<std::unique_ptr<OpenJob>> jobs_;
};

}  // namespace clendo
