#pragma once
#include <QObject>
#include <map>
#include <memory>

#include "app/frame/job_session.h"
#include "otdr/level_rows.h"

namespace clendo {

/// The traces of a cable as rows of levels: read one after the other on worker threads, small enough to be kept for hundreds of fibres.
class GlanceRows : public QObject {
    Q_OBJECT
public:
    explicit GlanceRows(JobSession& session, QObject* parent = nullptr) : QObject(parent), session_(session) {}
    /// Null: it is on its way, and came() will say so, or it cannot be read.
    const otdr::LevelRow* row(const TraceShot& shot, const Link& link);
    [[nodiscard]] std::size_t onTheirWay() const { return wanted_ - done_; }

    [[nodiscard]] std::size_t unreadable() const { return unreadable_; }

signals:
    void came();

private:
    JobSession& session_;
    std::map<std::string, std::shared_ptr<const otdr::LevelRow>> rows_;  ///< by link and trace; null: not there yet
    std::size_t wanted_ = 0, done_ = 0, unreadable_ = 0;
};

}  // namespace clendo
