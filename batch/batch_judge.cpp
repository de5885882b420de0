#include "batch/batch_judge.h"

#include <QDirIterator>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QPointer>
#include <QtConcurrentMap>

#include "files/files.h"
#include "pictures/decode.h"
#include "result/guarded.h"

namespace clendo {

SheetRow judgeFile(const QString& path, const BatchRules& rules)
{
    SheetRow row;
    row.file = path.toStdString();
    row.cord = cordOfFile(QFileInfo(path).fileName().toStdString());
    const auto picture =
        readFile(row.file).and_then([&](const std::string& bytes) { return decodePicture(bytes, QFileInfo(path).fileName().toStdString()); });
    if (!picture) {
        row.error = picture.error();
        return row;
    }
    for (auto& measured : rules.measure(*picture)) {
        auto judged = face::judgeLook(measured, rules.faceClass, rules.criteria);
        row.faces.push_back({std::move(measured), std::move(judged)});
    }
    return row;
}

BatchJudge::BatchJudge(QObject* parent) : QObject(parent) {}

BatchJudge::~BatchJudge()
{
    cancel();
    workers_.waitForDone();
}

void BatchJudge::judge(const QStringList& files, std::shared_ptr<const BatchRules> rules)
{
    if (running_ == 0) {
        asked_ = done_ = 0;
        cancelled_ = false;
    }
    asked_ += static_cast<int>(files.size());
    ++running_;
    auto* watcher = new QFutureWatcher<SheetRow>(this);
    watcher->setPendingResultsLimit(64);
    connect(watcher, &QFutureWatcher<SheetRow>::resultsReadyAt, this, [this, watcher](int begin, int end) {
        std::vector<SheetRow> rows;
        for (int i = begin; i < end; ++i) rows.push_back(watcher->resultAt(i));
        done_ += end - begin;
        emit judged(rows);
    });
    connect(watcher, &QFutureWatcher<SheetRow>::finished, this, [this, watcher] {
        watcher->deleteLater();
        if (--running_ > 0) return;
        cancels_.clear();
        asked_ = done_;
        emit finished(cancelled_);
    });
    cancels_.push_back([watcher = QPointer<QFutureWatcher<SheetRow>>(watcher)] {
        if (watcher) watcher->cancel();
    });
    watcher->setFuture(QtConcurrent::mapped(&workers_, files, [rules](const QString& file) -> SheetRow {
        auto row = guardedResult([&] { return judgeFile(file, *rules); });
        if (row) return std::move(*row);
        SheetRow failed;
        failed.file = file.toStdString();
        failed.cord = cordOfFile(QFileInfo(file).fileName().toStdString());
        failed.error = row.error();
        return failed;
    }));
}

void BatchJudge::cancel()
{
    cancelled_ = true;
    for (const auto& stop : std::exchange(cancels_, {})) stop();
}

QStringList picturesIn(const QString& folder)
{
    QStringList out;
    QDirIterator all(folder, {"*.png", "*.jpg", "*.jpeg", "*.tif", "*.tiff", "*.bmp"}, QDir::Files, QDirIterator::Subdirectories);
    while (all.hasNext()) out << all.next();
    out.sort();
    return out;
}

}  // namespace clendo
