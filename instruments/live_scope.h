#pragma once
#include <QElapsedTimer>
#include <QThreadPool>
#include <QTimer>
#include <deque>
#include <functional>
#include <optional>

#include "face/judge/focus_advice.h"
#include "face/live_frames.h"
#include "instruments/video_source.h"

namespace clendo {

/// A frame and what was measured in it.
struct LiveLook {
    Frame frame;
    std::vector<face::FaceMeasurement> faces;  ///< never empty
    Second at;                                 ///< since the scope was started
    [[nodiscard]] const face::FaceMeasurement& first() const { return faces.front(); }
    [[nodiscard]] bool usable() const;
};

/// What a capture takes of a live picture.
struct LiveCapture {
    LiveLook best;              ///< the sharpest look of the last second
    std::vector<Frame> frames;  ///< of that second, to be combined
    bool several = false;       ///< all of a ferrule's fibres are in each
};

/// Judges a live picture: frames are measured on worker threads, the newest first; what comes too fast is dropped, never queued.
class LiveScope : public QObject {
    Q_OBJECT
public:
    /// A frame, and what an earlier one tells of it; null where none does.
    using Measure = std::function<face::FrameMeasured(const face::Picture&, const std::shared_ptr<const face::FrameBefore>&)>;
    LiveScope(std::unique_ptr<VideoSource> source, Measure measure, QObject* parent = nullptr);
    ~LiveScope() override;

    void start();
    /// Stops and forgets what was seen.
    void stop();
    [[nodiscard]] bool running() const { return running_; }
    [[nodiscard]] VideoSource& source() { return *source_; }
    /// What was seen so far no longer counts: the face was changed.
    void forget();

    /// The sharpest usable look of the last second; nothing where none was.
    [[nodiscard]] const LiveLook* sharpest() const;
    /// The frames of usable looks of the last second, the oldest first: those from which a capture is combined.
    [[nodiscard]] std::vector<Frame> usableFrames() const;
    /// No frame has come for a while.
    [[nodiscard]] bool silent() const { return silent_; }
    [[nodiscard]] face::FocusAdvice advice() const;
    /// Judged since start().
    [[nodiscard]] int judged() const { return judged_; }

signals:
    void looked(const clendo::LiveLook& look);
    /// Frames have stopped, or come again.
    void silentChanged(bool silent);
    void trouble(const QString& sentence);

private:
    void take(const Frame& frame);
    void judge(const Frame& frame);
    void arrived(int number, LiveLook look, std::shared_ptr<const face::FrameBefore> before);
    [[nodiscard]] Second now() const { return Second(double(clock_.elapsed()) / 1000); }

    std::unique_ptr<VideoSource> source_;
    Measure measure_;
    QThreadPool workers_;
    QElapsedTimer clock_;
    QTimer watchdog_;
    Frame waiting_;
    std::shared_ptr<const face::FrameBefore> before_;
    std::deque<LiveLook> recent_;
    std::deque<face::FocusSample> samples_;
    int busy_ = 0, number_ = 0, shown_ = 0, oldest_ = 0, judged_ = 0;
    bool running_ = false, silent_ = false;
};

}  // namespace clendo
