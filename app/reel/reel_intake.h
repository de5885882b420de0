#pragma once
#include <QStringList>
#include <optional>
#include <string>
#include <vector>

#include "app/frame/intake.h"

namespace clendo {

/// With what a reel is shot: the launch cord by its name, where that was said, and its length; 0: without one.
struct ReelLaunch {
    Metre length;
    std::string cord;
};

/// Takes traces of a reel in: read and analysed on worker threads, filed as one act. The fibre is the one that the file's header or name tells; of
/// one that comes alone and tells nothing it is the next one that is asked for, and that is said.
class ReelIntake : public Intake {
    Q_OBJECT
public:
    using Intake::Intake;
    void take(const std::string& reel, const QStringList& files, const ReelLaunch& launch);
    /// A photograph of it.
    void picture(const std::string& reel, const QString& file, const QString& says);

private:
    struct Read {
        std::vector<Fact> facts;
        std::vector<Evidence> evidence;
        std::vector<Error> refused;
        std::optional<int> taken;  ///< for this fibre a trace was taken that does not say of which it is
        std::int64_t takenAt = 0;  ///< of the last of them, seconds since 1970-01-01 UTC
    };
    void file(const std::string& reel, const Read& read, std::int64_t chosen);
    static Read readAll(const QStringList& files, const std::string& reel, int fibres, int next, const ReelLaunch& launch);
};

}  // namespace clendo
