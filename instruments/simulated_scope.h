#pragma once
#include <QTimer>
#include <functional>
#include <random>

#include "instruments/video_source.h"
#include "world/handling.h"

namespace clendo {

/// The microscope of the simulated world: a wheel for the focus, a lamp, and a hand that shakes a little.
class SimulatedScope : public VideoSource {
    Q_OBJECT
public:
    using Scene = std::function<face::Picture(const world::Handling&)>;
    explicit SimulatedScope(QObject* parent = nullptr);
    ~SimulatedScope() override;
    /// What it looks at from now on, a little out of focus as after every move. `makeScene` draws it, on a worker thread.
    void pointAt(std::function<Scene()> makeScene);
    void setLight(double light) { light_ = light; }
    [[nodiscard]] Micrometre defocus() const { return defocus_; }

    [[nodiscard]] QString name() const override { return tr("simulated scope"); }
    void start() override;
    void stop() override;
    void turnFocus(double steps) override;

private:
    void render();

    Scene scene_;
    QTimer timer_;
    std::mt19937 random_{1};
    Micrometre defocus_{0}, shakeX_{0}, shakeY_{0};
    double light_ = 1;
    bool rendering_ = false;
    int pointed_ = 0;
};

}  // namespace clendo
