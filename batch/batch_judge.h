#pragma once
#include <QObject>
#include <QStringList>
#include <QThreadPool>
#include <functional>
#include <memory>

#include "batch/sheet.h"
#include "face/picture.h"

namespace clendo {

/// How a batch is judged.
struct BatchRules {
    Criteria criteria;
    FaceClass faceClass;
    std::function<std::vector<face::FaceMeasurement>(const face::Picture&)> measure;
};

/// Reads and judges one picture file. Never throws: what cannot be read is a row with an error.
SheetRow judgeFile(const QString& path, const BatchRules& rules);

/// Judges many picture files on all cores. Rows arrive in the order of the files.
class BatchJudge : public QObject {
    Q_OBJECT
public:
    explicit BatchJudge(QObject* parent = nullptr);
    ~BatchJudge() override;

    /// Adds files to what is being judged.
    void judge(const QStringList& files, std::shared_ptr<const BatchRules> rules);
    /// Leaves out what was not begun; what was judged stays.
    void cancel();
    [[nodiscard]] int waiting() const { return asked_ - done_; }
    [[nodiscard]] int asked() const { return asked_; }

signals:
    void judged(const std::vector<clendo::SheetRow>& rows);
    void finished(bool cancelled);

private:
    QThreadPool workers_;
    std::vector<std::function<void()>> cancels_;
    int asked_ = 0, done_ = 0, running_ = 0;
    bool cancelled_ = false;
};

/// The pictures of a folder and the folders in it, by name.
QStringList picturesIn(const QString& folder);

}  // namespace clendo
