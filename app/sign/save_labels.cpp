#include "app/sign/save_labels.h"

#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QtConcurrentRun>

#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/widgets/when_done.h"
#include "files/files.h"
#include "modules/papers.h"
#include "result/guarded.h"

namespace clendo {

void saveLabels(WindowFrame& frame, const std::vector<Label>& labels, const QString& of)
{
    const QString to = QFileDialog::getSaveFileName(frame.widget(), QObject::tr("Save the labels as"),
                                                    QFileInfo(frame.session()->path()).dir().filePath(QObject::tr("labels %1.pdf").arg(of)),
                                                    QObject::tr("PDF (*.pdf)"));
    if (to.isEmpty()) return;
    whenDone(QtConcurrent::run([labels, to, now = QDateTime::currentSecsSinceEpoch()] {
                 return guarded([&] {
                     return papers().and_then([&](const Papers& p) { return p.labelSheet(labels, now); }).and_then([&](const std::string& pdf) {
                         return writeFile(to.toStdString(), pdf);
                     });
                 });
             }),
             frame.widget(), [&frame, to](const Result<void>& saved) {
                 if (!saved) return frame.say(saved.error());
                 frame.say(QObject::tr("Labels saved as %1: 60 × 30 mm each.").arg(to), false);
             });
}

}  // namespace clendo
