#pragma once
#include <QImage>

#include "app/frame/desk.h"
#include "app/frame/window_frame.h"
#include "app/look/taken_picture.h"
#include "app/quick/recent_jobs.h"
#include "record/output/quick_look.h"

namespace clendo {

class LivePicture;
class QuickView;

/// A look without a job: a picture is dropped, pasted or opened, judged, shown with its marks; saved, copied, or filed under a face later on wish.
/// Shown at first where no job is open.
class QuickDesk : public Desk {
    Q_OBJECT
public:
    explicit QuickDesk(WindowFrame& frame);
    [[nodiscard]] QString id() const override { return QStringLiteral("quick"); }
    [[nodiscard]] QString title() const override { return tr("Quick look"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    [[nodiscard]] bool needsJob() const override { return false; }
    [[nodiscard]] bool isStart() const override { return true; }
    [[nodiscard]] bool accepts(const QString& file) const override;
    void take(const QString& file) override;
    [[nodiscard]] FacePicture* picture() override;
    void jobComes(OpenJob& job) override;
    void left() override;

    void openPicture();
    /// A picture, or a file that holds one, from the clipboard.
    void paste();
    /// The picture with its marks.
    void copy();
    void save();
    void saveTo(const QString& path);
    /// What a scope sees, judged by the chosen class; off again the second time.
    void toggleLive();
    /// Looks at what the live picture showed in the last second.
    void takeLive();
    [[nodiscard]] bool isLive() const;
    /// Files the picture under the chosen face.
    void fileUnderFace();
    [[nodiscard]] bool looked() const { return look_.has_value(); }

private:
    /// What a worker makes of a picture.
    struct Seen {
        TakenPicture taken;
        QImage image;
    };
    /// `take`: reads or makes it and measures it, all of a ferrule's fibres or one; for a worker. What does not say when it was taken was taken now.
    void await(std::function<Result<TakenPicture>(bool several)> take);
    void judge();
    [[nodiscard]] LivePicture& live() const;
    /// Asks for the jobs that were opened last, after this one was put to the front of them.
    void learnJobs(const QString& opened);

    WindowFrame& frame_;
    QuickView* view_ = nullptr;
    std::optional<TakenPicture> taken_;
    QImage image_;
    std::optional<QuickLook> look_;
    std::vector<RecentJob> recent_;
    int jobsAsked_ = 0;
    int busy_ = 0;
};

}  // namespace clendo
