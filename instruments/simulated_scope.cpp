#include "instruments/simulated_scope.h"

#include <QFutureWatcher>
#include <QtConcurrentRun>
#include <cmath>

#include "result/guarded.h"

namespace clendo {
namespace {

constexpr int frameMs = 66;           // 15 frames a second, as many plain scopes give
constexpr Micrometre wheelStep{1.0};  // per press
constexpr Micrometre startDefocus{6.0};
constexpr Micrometre wheelReach{25.0};
constexpr double shakeUm = 0.5;  // of a hand that holds a probe, from one frame to the next

}  // namespace

SimulatedScope::SimulatedScope(QObject* parent) : VideoSource(parent)
{
    timer_.setInterval(frameMs);
    connect(&timer_, &QTimer::timeout, this, &SimulatedScope::render);
}

SimulatedScope::~SimulatedScope() = default;

void SimulatedScope::pointAt(std::function<Scene()> makeScene)
{
    const int pointed = ++pointed_;
    scene_ = nullptr;
    defocus_ = startDefocus * (pointed % 2 == 0 ? 1 : -1);
    auto* watcher = new QFutureWatcher<Scene>(this);
    connect(watcher, &QFutureWatcher<Scene>::finished, this, [this, watcher, pointed] {
        watcher->deleteLater();
        if (pointed == pointed_) scene_ = watcher->result();
    });
    watcher->setFuture(QtConcurrent::run([makeScene = std::move(makeScene)] { return guardedResult(makeScene).value_or(Scene()); }));
}

void SimulatedScope::start() { timer_.start(); }

void SimulatedScope::stop() { timer_.stop(); }

void SimulatedScope::turnFocus(double steps) { defocus_ = std::clamp(defocus_ + wheelStep * steps, -wheelReach, wheelReach); }

void SimulatedScope::render()
{
    if (!scene_ || rendering_) return;
    std::normal_distribution<double> tremble(0, shakeUm);
    const auto held = [&](Micrometre at) { return at * 0.9 + Micrometre(tremble(random_)); };  // drifts, and comes back
    shakeX_ = held(shakeX_);
    shakeY_ = held(shakeY_);
    const world::Handling hand{defocus_, shakeX_, shakeY_, light_, static_cast<std::uint32_t>(random_())};
    rendering_ = true;
    auto* watcher = new QFutureWatcher<Frame>(this);
    connect(watcher, &QFutureWatcher<Frame>::finished, this, [this, watcher, pointed = pointed_] {
        watcher->deleteLater();
        rendering_ = false;
        if (timer_.isActive() && pointed == pointed_) emit frame(watcher->result());
    });
    watcher->setFuture(QtConcurrent::run(
        [scene = scene_, hand] { return guardedResult([&] { return std::make_shared<const face::Picture>(scene(hand)); }).value_or(nullptr); }));
}

}  // namespace clendo
