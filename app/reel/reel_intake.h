#pragma once
#include <QObject>
#include <QStringList>

#include "app/frame/job_session.h"
#include "app/reel/reel_view.h"

namespace clendo {

/// Takes traces of a reel in: read and analysed on worker threads, filed as one act. The fibre is the one that the file's header or name tells; of
/// one that comes alone and tells nothing it is the next one that is asked for, and that is said.
class ReelIntake : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    void take(JobSession& session, const std::string& reel, const QStringList& files, const ReelLaunch& launch);
    /// A photograph of it.
    void picture(JobSession& session, const std::string& reel, const QString& file, const QString& says);

private:
    struct Read {
        std::vector<Fact> facts;
        std::vector<Evidence> evidence;
        std::vector<Error> refused;
        std::optional<int> taken;  ///< for this fibre a trace was taken that does not say of which it is
        std::int64_t takenAt = 0;  ///< of the last of them, seconds since 1970-01-01 UTC
    };
    static Read readAll(const QStringList& files, const std::string& reel, int fibres, int next, const ReelLaunch& launch);
};

}  // namespace clendo
