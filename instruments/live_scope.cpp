#include "instruments/live_scope.h"

#include <QFutureWatcher>
#include <QThread>
#include <QtConcurrentRun>
#include <algorithm>

#include "result/guarded.h"

namespace clendo {
namespace {

constexpr Second captureFrom{1.0};    // a capture may take a frame as old as this
constexpr std::size_t mostKept = 12;  // frames of that time are kept, the blurred ones go first
constexpr Second samplesKept{15};
constexpr int silentAfterMs = 2000;

}  // namespace

bool LiveLook::usable() const
{
    return std::all_of(faces.begin(), faces.end(), [](const face::FaceMeasurement& m) { return m.usable(); });
}

LiveScope::LiveScope(std::unique_ptr<VideoSource> source, Measure measure, QObject* parent)
    : QObject(parent), source_(std::move(source)), measure_(std::move(measure))
{
    workers_.setMaxThreadCount(std::clamp(QThread::idealThreadCount(), 1, 2));  // the window needs a share too
    watchdog_.setInterval(silentAfterMs);
    watchdog_.setSingleShot(true);
    connect(&watchdog_, &QTimer::timeout, this, [this] {
        silent_ = true;
        recent_.clear();  // what was seen before is no longer what lies under the scope
        emit silentChanged(true);
    });
    connect(source_.get(), &VideoSource::frame, this, &LiveScope::take);
    connect(source_.get(), &VideoSource::trouble, this, &LiveScope::trouble);
}

LiveScope::~LiveScope()
{
    source_->stop();
    workers_.waitForDone();
}

void LiveScope::start()
{
    if (running_) return;
    running_ = true;
    clock_.start();
    forget();
    watchdog_.start();
    source_->start();
}

void LiveScope::stop()
{
    running_ = false;
    source_->stop();
    watchdog_.stop();
    forget();
}

void LiveScope::forget()
{
    waiting_.reset();
    before_.reset();
    recent_.clear();
    samples_.clear();
    oldest_ = number_;
}

void LiveScope::take(const Frame& frame)
{
    if (!running_ || !frame || !frame->sound()) return;
    watchdog_.start();
    if (silent_) {
        silent_ = false;
        emit silentChanged(false);
    }
    if (busy_ < workers_.maxThreadCount())
        judge(frame);
    else
        waiting_ = frame;
}

void LiveScope::judge(const Frame& frame)
{
    const int number = ++number_;
    ++busy_;
    struct Looked {
        LiveLook look;
        std::shared_ptr<const face::FrameBefore> before;
    };
    using Judged = Result<Looked>;
    auto* watcher = new QFutureWatcher<Judged>(this);
    connect(watcher, &QFutureWatcher<Judged>::finished, this, [this, watcher, number] {
        watcher->deleteLater();
        Judged judged = watcher->result();
        if (!judged) emit trouble(QString::fromStdString(judged.error().message));
        auto [look, before] = std::move(judged).value_or(Looked());
        arrived(number, std::move(look), std::move(before));
    });
    watcher->setFuture(QtConcurrent::run(&workers_, [frame, measure = measure_, earlier = before_, at = now()]() -> Judged {
        return guardedResult([&] {
            auto [faces, before] = measure(*frame, earlier);
            return Looked{{frame, std::move(faces), at}, std::move(before)};
        });
    }));
}

void LiveScope::arrived(int number, LiveLook look, std::shared_ptr<const face::FrameBefore> before)
{
    --busy_;
    ++judged_;
    if (number > oldest_) before_ = std::move(before);
    if (running_ && waiting_) judge(std::exchange(waiting_, nullptr));
    // two workers can finish in the wrong order; and a look may come after the scope was stopped or pointed elsewhere
    if (!running_ || number <= oldest_ || number <= shown_ || look.faces.empty()) return;
    shown_ = number;
    const auto& m = look.first();
    samples_.push_back(
        {look.at, m.blur > Micrometre(0) ? std::optional(m.blur) : std::nullopt, m.usable() ? std::nullopt : std::optional(m.retake.front())});
    while (look.at - samples_.front().at > samplesKept) samples_.pop_front();
    recent_.push_back(look);
    std::erase_if(recent_, [&](const LiveLook& old) { return look.at - old.at > captureFrom; });
    if (recent_.size() > mostKept)
        recent_.erase(std::min_element(recent_.begin(), recent_.end() - 1, [](const LiveLook& a, const LiveLook& b) {
            return (a.usable() ? a.first().focus : -1) < (b.usable() ? b.first().focus : -1);
        }));
    emit looked(look);
}

const LiveLook* LiveScope::sharpest() const
{
    const LiveLook* best = nullptr;
    for (const auto& look : recent_)
        if (look.usable() && now() - look.at < captureFrom * 2 && (!best || look.first().focus > best->first().focus)) best = &look;
    return best;
}

std::vector<Frame> LiveScope::usableFrames() const
{
    std::vector<Frame> out;
    for (const auto& look : recent_)
        if (look.usable() && now() - look.at < captureFrom * 2) out.push_back(look.frame);
    return out;
}

face::FocusAdvice LiveScope::advice() const
{
    const std::vector<face::FocusSample> samples(samples_.begin(), samples_.end());
    return face::adviseFocus(samples);
}

}  // namespace clendo
