#pragma once
#include <QObject>
#include <atomic>
#include <memory>

#include "instruments/live_scope.h"
#include "record/state/state.h"

namespace clendo {

class FacePicture;

/// A live picture on a desk: which scope it comes from, what it says, and what a capture takes. It is shown in place of what the desk shows.
class LivePicture : public QObject {
    Q_OBJECT
public:
    /// What is under the scope.
    struct Aim {
        FaceId face;
        int cleanings = 0;  ///< for a simulated scope
        std::optional<FaceClass> faceClass;
        Criteria criteria;
        bool several = false;  ///< the face shares its ferrule: all of a picture's fibres are measured
    };

    using QObject::QObject;
    ~LivePicture() override;

    /// Where live pictures come from, from the next start on. A simulated scope draws its faces from the simulated world.
    void useSimulatedScope();
    void useFolder(const QString& folder);
    void useVideoFile(const QString& path);
    void useCamera(const QString& id);
    /// Any other; it is made when it is first wanted. aimedAt() says what has to be brought under it.
    void use(std::function<Result<std::unique_ptr<VideoSource>>()> make);
    [[nodiscard]] bool hasSource() const { return bool(make_); }

    [[nodiscard]] bool running() const { return scope_ && scope_->running(); }
    /// Shows it there from now on; only one desk at a time has it.
    void start(FacePicture& onto);
    void stop();
    /// What was seen of another face no longer counts.
    void pointAt(Aim aim);
    /// Takes what the last second showed, and stops; an Error says why there is nothing.
    Result<LiveCapture> capture();
    void turnFocus(double steps);
    [[nodiscard]] LiveScope* scope() { return scope_.get(); }

signals:
    void said(const QString& sentence, bool trouble);
    void runningChanged();
    /// Another face is wanted under the scope, or the same after it was touched.
    void aimedAt(const clendo::FaceId& face);

private:
    void show(const LiveLook& look);
    void silent(bool silent);
    void aimSimulated();

    FacePicture* picture_ = nullptr;
    std::function<Result<std::unique_ptr<VideoSource>>()> make_;
    std::unique_ptr<LiveScope> scope_;
    Aim aim_;
    bool aimed_ = false;
    std::shared_ptr<std::atomic<bool>> several_ = std::make_shared<std::atomic<bool>>(false);  ///< of the aim, for the workers
};

}  // namespace clendo
