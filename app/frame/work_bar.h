#pragma once
#include <QFrame>
#include <QFuture>

#include "result/result.h"

class QProgressBar;

namespace clendo {

class TextBlock;

/// How far work is that goes on in the background, and the way to stop it. Not there where there is none.
class WorkBar : public QFrame {
    Q_OBJECT
public:
    explicit WorkBar(QWidget* parent = nullptr);
    /// Shows the work that began last; of all it says what came of them.
    void follow(const QString& title, const QFuture<Result<QString>>& work);
    void stop();

signals:
    void done(const QString& sentence, bool trouble);
    void failed(const clendo::Error& error);

private:
    TextBlock* title_;
    QProgressBar* progress_;
    QFuture<Result<QString>> shown_;
};

}  // namespace clendo
