#pragma once
#include <QObject>
#include <atomic>
#include <memory>

#include "app/frame/job_session.h"
#include "app/look/face_prints.h"

namespace clendo {

/// Holds each new look against the face that it should be, as it was seen before, and against all others of the job: a wrong face is pointed out.
/// Works on the session's workers.
class FaceMemory : public QObject {
    Q_OBJECT
public:
    explicit FaceMemory(JobSession& session, QObject* parent = nullptr);
    ~FaceMemory() override;
    /// A look was filed, with this picture.
    void seen(const FaceId& face, const std::string& picture);

private:
    /// What is known of faces by their pictures, shared with the workers.
    struct Known {
        FacePrints prints;
        std::atomic<bool> over = false;  ///< nobody wants to know any more
    };

    JobSession& session_;
    std::shared_ptr<Known> known_ = std::make_shared<Known>();
};

}  // namespace clendo
