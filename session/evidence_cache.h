#pragma once
#include <QCache>
#include <QImage>
#include <QObject>
#include <QSet>
#include <functional>
#include <memory>

#include "otdr/trace.h"
#include "result/result.h"

namespace clendo {

class JobService;

/// Pictures and traces of a job, decoded and parsed off the window's thread and kept as long as there is room. Belongs to one thread.
class EvidenceCache : public QObject {
    Q_OBJECT
public:
    static constexpr qint64 room = qint64{256} << 20;  ///< bytes of decoded pictures and traces

    explicit EvidenceCache(JobService& job, qint64 bytes = room) : job_(job), kept_(static_cast<qsizetype>(bytes / unit)) {}

    /// The picture with this SHA-256; a null image: it is on its way, and came() will say so. One that cannot be read is a single grey point.
    QImage picture(const std::string& sha256);
    /// The trace; null: it is on its way. An Error where it cannot be read.
    Result<std::shared_ptr<const otdr::Trace>> trace(const std::string& sha256, const std::string& name);
    [[nodiscard]] qint64 bytes() const { return qint64{kept_.totalCost()} * unit; }

signals:
    void came();

private:
    struct Kept {
        QImage image;
        Result<std::shared_ptr<const otdr::Trace>> trace;
    };
    static constexpr qint64 unit = 1024;  ///< of QCache's costs
    struct Made {
        Kept kept;
        qint64 bytes = 0;
    };
    using Read = std::function<Made(const std::string& bytes)>;
    const Kept* get(const std::string& sha256, Read read);

    JobService& job_;
    QCache<QString, Kept> kept_;
    QSet<QString> wanted_;
};

}  // namespace clendo
