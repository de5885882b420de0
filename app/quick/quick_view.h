#pragma once
#include <QWidget>

#include "app/quick/recent_jobs.h"
#include "record/output/quick_look.h"

class QComboBox;
class QVBoxLayout;

namespace clendo {

class FacePicture;
struct Command;
class TextBlock;

/// A picture that belongs to no job, large, and below it the jobs that can be opened.
class QuickView : public QWidget {
    Q_OBJECT
public:
    explicit QuickView(QWidget* parent = nullptr);
    [[nodiscard]] std::string className() const;
    /// The picture with its marks; `words` below it. A null image: nothing was looked at yet.
    void show(const QImage& image, const QuickLook* look, const QString& words);
    /// Whether the jobs that were opened last are offered here, and which they are; and other ways to begin.
    void showJobs(bool offered, const std::vector<RecentJob>& recent, const std::vector<const Command*>& others);
    [[nodiscard]] FacePicture& picture() { return *picture_; }

signals:
    void classChosen();
    void dropped(const QString& file);
    void jobWanted(const QString& path);
    void commandWanted(std::string_view id);

private:
    TextBlock* title_;
    QComboBox* class_;
    FacePicture* picture_;
    QWidget* jobs_;
    QVBoxLayout* recent_;
    QStringList shown_;  ///< their paths
};

}  // namespace clendo
