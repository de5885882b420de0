#include "session/evidence_cache.h"

#include <QFutureWatcher>
#include <QPromise>
#include <QThreadPool>
#include <algorithm>

#include "otdr/sor_reader.h"
#include "pictures/decode.h"
#include "result/guarded.h"
#include "session/job_service.h"

namespace clendo {

const EvidenceCache::Kept* EvidenceCache::get(const std::string& sha256, Read read)
{
    const QString key = QString::fromStdString(sha256);
    if (const Kept* known = kept_.object(key)) return known;
    if (wanted_.contains(key)) return nullptr;
    wanted_.insert(key);
    // the job's thread reads it, another decodes it, this one keeps it
    const auto bytes = std::make_shared<QPromise<Result<std::string>>>();
    bytes->start();
    auto* watcher = new QFutureWatcher<Made>(this);
    connect(watcher, &QFutureWatcher<Made>::finished, this, [this, watcher, key] {
        watcher->deleteLater();
        wanted_.remove(key);
        const Made made = watcher->result();
        const auto cost = std::clamp<qint64>(made.bytes / unit, 1, qint64{kept_.maxCost()});
        kept_.insert(key, new Kept(made.kept), static_cast<qsizetype>(cost));
        emit came();
    });
    watcher->setFuture(bytes->future().then(
        QThreadPool::globalInstance(), [read = std::move(read)](const Result<std::string>& came) { return read(came.value_or(std::string())); }));
    job_.evidence(sha256, [bytes](const Result<std::string>& result) {
        bytes->addResult(result);
        bytes->finish();
    });
    return nullptr;
}

QImage EvidenceCache::picture(const std::string& sha256)
{
    const Kept* known = get(sha256, [sha256](const std::string& bytes) {
        constexpr qint64 large = 16'000'000;  // points; colour says nothing of a face, and several of these have to fit
        QImage image = guarded([&] { return readImage(bytes, sha256); }).value_or(QImage());
        if (image.isNull()) image = QImage(1, 1, QImage::Format_Grayscale8);
        if (qint64{image.width()} * image.height() > large) image = image.convertToFormat(QImage::Format_Grayscale8);
        const qint64 size = image.sizeInBytes();
        return Made{{std::move(image), nullptr}, size};
    });
    return known ? known->image : QImage();
}

Result<std::shared_ptr<const otdr::Trace>> EvidenceCache::trace(const std::string& sha256, const std::string& name)
{
    const Kept* known = get(sha256, [name](const std::string& bytes) {
        auto read = guarded([&] { return otdr::readSor(bytes, name); });
        const auto size = static_cast<qint64>(read ? read->level.size() * 2 * sizeof(float) : 0);
        return Made{{{}, std::move(read).map([](otdr::Trace&& trace) { return std::make_shared<const otdr::Trace>(std::move(trace)); })}, size};
    });
    return known ? known->trace : Result<std::shared_ptr<const otdr::Trace>>(nullptr);
}

}  // namespace clendo
