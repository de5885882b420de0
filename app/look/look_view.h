#pragma once
#include <QHBoxLayout>
#include <QWidget>
#include <map>

#include "app/frame/job_session.h"
#include "app/look/unrolled_view.h"
#include "app/widgets/face_picture.h"
#include "app/widgets/text_block.h"
#include "face/judge/expected_loss.h"
#include "instruments/video_source.h"

namespace clendo {

class FerruleView;

/// Looking and cleaning: the last picture large, the looks side by side below it with what was done between them.
class LookView : public QWidget {
    Q_OBJECT
public:
    explicit LookView(QWidget* parent = nullptr);
    /// `live`: the large picture is a scope's.
    void show(JobSession& session, const Link* link, const FaceId& face, int busy, bool live);
    /// Shows or hides the unrolled view below the picture.
    void toggleUnrolled();

    /// The large picture: larger, smaller, as at first; with zones and marks or without.
    [[nodiscard]] FacePicture& picture() { return *picture_; }
    /// How ferrules with several fibres are held, in words.
    void setKeyWay(const QString& words) { keyWay_ = words; }

signals:
    void faceChosen(const clendo::FaceId& face);
    void dropped(const QString& path);

private:
    /// The picture, or nothing yet: then it is loaded soon and shown by itself.
    void showUnrolled(JobSession& session, const FaceState& face, const std::optional<FaceClass>& faceClass);
    [[nodiscard]] QString expectedWords(const JobState& state, const Look& look);
    void showFerrule(JobSession& session);
    void showLooks(JobSession& session, const FaceState& face, const std::optional<FaceClass>& faceClass);

    TextBlock* title_;
    FacePicture* picture_;
    RuleFiles::Texts constants_;                                         ///< the rule files that these were read from
    std::map<std::pair<CoreKind, int>, Result<face::LightSpot>> spots_;  ///< read once each
    bool wantsUnrolled_ = false;
    UnrolledView* unrolled_ = nullptr;  ///< made when first wanted
    TextBlock* looksTitle_;
    QWidget* looks_;
    QHBoxLayout* looksLayout_;
    FaceId face_;
    int busy_ = 0;
    FerruleView* ferrule_ = nullptr;  ///< made for the first ferrule with several fibres
    QString keyWay_;
};

}  // namespace clendo
