#pragma once
#include <QObject>
#include <atomic>
#include <map>
#include <memory>
#include <mutex>

#include "app/frame/job_session.h"

namespace clendo {

namespace face {
struct Fingerprint;
}

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
    using Print = std::shared_ptr<const face::Fingerprint>;
    /// What is known of faces by their pictures, shared with the workers.
    struct Known {
        std::mutex mutex;
        std::map<std::string, Print> prints;
        std::atomic<bool> over = false;  ///< nobody wants to know any more
    };

    JobSession& session_;
    std::shared_ptr<Known> known_ = std::make_shared<Known>();
};

}  // namespace clendo
