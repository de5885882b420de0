#include "app/frame/intake.h"

#include <QtConcurrentRun>

#include "app/widgets/when_done.h"

namespace clendo {

void Intake::start(std::function<Finish()> work)
{
    emit busyChanged(++busy_);
    whenDone(QtConcurrent::run(std::move(work)), this, [this](const Finish& finish) {
        finish();
        emit busyChanged(--busy_);
    });
}

}  // namespace clendo
