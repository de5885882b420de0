#pragma once
#include <functional>
#include <optional>

#include "app/frame/intake.h"
#include "app/trace/read_trace.h"
#include "otdr/trace.h"

namespace clendo {

/// Takes trace files in: reads and analyses on worker threads, files the shot. It belongs to the link that was chosen when it came.
class TraceIntake : public Intake {
    Q_OBJECT
public:
    /// Asks a person what a file does not tell; nothing: it is given up.
    struct Ask {
        /// From which end it was shot, where neither its header nor its name says it.
        std::function<std::optional<Direction>(const QString& file, const QString& placeA, const QString& placeB)> direction;
        /// With which link to file it, by id, where it looks like another cable's: `why`, in a sentence.
        std::function<std::optional<std::string>(const QString& file, const QString& why, const Link& here, const Link& better)> cable;
    };

    TraceIntake(JobSession& session, Ask ask, QObject* parent = nullptr);
    /// `shotWith`: what is at hand now; the shot says that it was at the link.
    void take(const QString& path, const Link& link, const ShotCords& shotWith = {});

private:
    /// What the reading needs to know of the plan: the session's state may change meanwhile.
    struct Wanted {
        std::string path, name, link, placeA, placeB;
        otdr::Cords fromA;
        std::int64_t chosen = 0;
        ShotCords cords;
    };
    void analyse(const Wanted& wanted, std::shared_ptr<const ReadTrace> read, Direction direction);
    void file(const Wanted& wanted, const ReadTrace& read, TraceShot shot);

    Ask ask_;
};

}  // namespace clendo
