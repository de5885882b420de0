#pragma once
#include <QObject>
#include <functional>

#include "app/frame/job_session.h"
#include "result/guarded.h"

namespace clendo {

/// What takes files in for a job: works on threads, then files. It counts what is under way: a job that is left meanwhile stays open until that is
/// done.
class Intake : public QObject {
    Q_OBJECT
public:
    explicit Intake(JobSession& session, QObject* parent = nullptr) : QObject(parent), session_(session) {}
    [[nodiscard]] int busy() const { return busy_; }

signals:
    void busyChanged(int files);

protected:
    /// `work` on a worker thread gives a Result<Out>; an Error is said, else `then` goes on with it in the window's thread.
    template <class Out, class Work, class Then>
    void run(Work work, Then then)
    {
        start([this, work = std::move(work), then = std::move(then)] {
            return [this, then, out = Result<Out>(guarded(work))] {
                if (out)
                    then(*out);
                else
                    session_.say(out.error());
            };
        });
    }

    JobSession& session_;

private:
    /// `work` on a worker thread gives what is done in the window's thread when it ends.
    using Finish = std::function<void()>;
    void start(std::function<Finish()> work);

    int busy_ = 0;
};

}  // namespace clendo
