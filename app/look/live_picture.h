#pragma once
#include <QObject>
#include <atomic>
#include <memory>

#include "app/frame/job_session.h"
#include "instruments/live_scope.h"

namespace clendo {

class LookView;
class PictureIntake;

/// The live picture on the look desk: which scope it comes from, what it says, and what a capture takes.
class LivePicture : public QObject {
    Q_OBJECT
public:
    explicit LivePicture(LookView* view, QObject* parent = nullptr);
    ~LivePicture() override;

    /// Where live pictures come from, from the next start on. A simulated scope draws its faces from the simulated world.
    void useSimulatedScope();
    void useFolder(const QString& folder);
    void useVideoFile(const QString& path);
    void useCamera(const QString& id);
    [[nodiscard]] bool hasSource() const { return bool(make_); }

    [[nodiscard]] bool running() const { return scope_ && scope_->running(); }
    void start();
    void stop();
    /// The face that is under the scope now, with its cleanings. What was seen of another no longer counts.
    void pointAt(const FaceId& face, const JobState& state);
    /// Files the sharpest look of the last second and freezes; an Error says why there is none.
    Result<void> capture(PictureIntake& intake);
    void turnFocus(double steps);
    [[nodiscard]] LiveScope* scope() { return scope_.get(); }

signals:
    void said(const QString& sentence, bool trouble);
    void runningChanged();

private:
    void use(std::function<Result<std::unique_ptr<VideoSource>>()> make);
    void show(const LiveLook& look);
    void aimSimulated();

    LookView* view_;
    std::function<Result<std::unique_ptr<VideoSource>>()> make_;
    std::unique_ptr<LiveScope> scope_;
    FaceId face_;
    int cleanings_ = -1;
    std::optional<ConnectorCriteria> criteria_;
    Profile profile_;
    std::shared_ptr<std::atomic<bool>> several_ = std::make_shared<std::atomic<bool>>(false);  ///< the face shares its ferrule
};

}  // namespace clendo
