#pragma once
#include <QObject>
#include <functional>
#include <optional>

#include "app/frame/job_session.h"
#include "otdr/trace.h"

namespace clendo {

/// Free ends of the cords with which is shot, that go to the link; nothing: none, or not said.
struct ShotCords {
    std::optional<FaceId> launch, tail;
};

/// Takes trace files in: reads and analyses on worker threads, files the shot. It belongs to the link that was chosen when it came.
class TraceIntake : public QObject {
    Q_OBJECT
public:
    /// Asks a person from which end a file was shot, where neither its header nor its name tells it; nothing: it is given up.
    using AskDirection = std::function<std::optional<Direction>(const QString& file, const QString& placeA, const QString& placeB)>;

    TraceIntake(JobSession& session, AskDirection ask, QObject* parent = nullptr);
    /// `shotWith`: what is at hand now; the shot says that it was at the link.
    void take(const QString& path, const Link& link, const ShotCords& shotWith = {});
    [[nodiscard]] int busy() const { return busy_; }

signals:
    void busyChanged(int traces);

private:
    /// What the reading needs to know of the plan: the session's state may change meanwhile.
    struct Wanted {
        std::string path, name, link, placeA, placeB;
        int fibre = 0;
        otdr::Cords fromA;
        std::int64_t chosen = 0;
        ShotCords cords;
    };
    struct Read {
        Evidence file;
        std::string sha256;
        otdr::Trace trace;
    };
    template <class Out, class Work, class Then>
    void run(Work work, Then then);
    void analyse(const Wanted& wanted, std::shared_ptr<const Read> read, Direction direction);

    JobSession& session_;
    AskDirection ask_;
    int busy_ = 0;
};

/// From which end a trace was shot: by the places in its header, else by "ab" or "ba" as a word of its file's name; nothing where neither tells it.
std::optional<Direction> shotFrom(const otdr::Trace& trace, const std::string& fileName, const std::string& placeA, const std::string& placeB);

}  // namespace clendo
