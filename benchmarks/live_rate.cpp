// live-rate [FRAMES] [row]: judged frames a second of a 1280 x 960 live picture while the window paints each of them, and how memory grows; with
// `row` of a row of twelve fibres, 3408 x 440.
#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <cstdio>
#include <cstdlib>

#include "app/widgets/face_picture.h"
#include "app/widgets/theme.h"
#include "files/files.h"
#include "instruments/live_scope.h"
#include "modules/vision.h"
#include "world/face_world.h"

namespace {

using namespace clendo;

/// Offers a new frame every 10 ms: more than can be judged.
class Flood : public VideoSource {
public:
    explicit Flood(bool row)
    {
        world::Camera camera;
        camera.width = row ? 3408 : 1280;
        camera.height = row ? 440 : 960;
        camera.scale = Scale(row ? 0.88 : 0.3);
        world::Row fibres;
        for (std::uint32_t n = 0; n < 12; ++n) fibres.fibres.push_back(world::makeFace(world::Story::SomeDust, n + 1));
        const auto scope = row ? world::Microscope(fibres, camera) : world::Microscope(world::makeFace(world::Story::SomeDust, 7), camera);
        for (std::uint32_t n = 0; n < 8; ++n)
            frames_.push_back(
                std::make_shared<const face::Picture>(scope.frame({Micrometre(0.3 * double(n)), Micrometre(double(n)), Micrometre(0), 1, n})));
        timer_.setInterval(10);
        connect(&timer_, &QTimer::timeout, this, [this] { emit VideoSource::frame(frames_[next_++ % frames_.size()]); });
    }
    [[nodiscard]] QString name() const override { return QStringLiteral("flood"); }
    void start() override { timer_.start(); }
    void stop() override { timer_.stop(); }

private:
    QTimer timer_;
    std::vector<Frame> frames_;
    std::size_t next_ = 0;
};

/// Resident memory in MB.
double resident()
{
    QFile status(QStringLiteral("/proc/self/statm"));
    if (!status.open(QIODevice::ReadOnly)) return 0;
    return status.readAll().split(' ').value(1).toDouble() * 4096 / 1e6;
}

}  // namespace

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    applyTheme(application, false);
    const int wanted = argc > 1 ? std::atoi(argv[1]) : 600, warm = wanted / 10;
    const bool row = argc > 2;
    const auto module = vision();
    const auto criteria = loadCriteria("2015", dataFolder());
    if (!module || !criteria || wanted < 10) return 1;
    const auto faceClass = criteria->find(row ? "mm-multi" : "sm-upc").value();
    FacePicture picture;
    picture.resize(620, 560);
    picture.QWidget::show();
    face::MeasureOptions options;
    if (row) options.fibres.reset();
    options.cores = 1;  // as the window does: the frames are judged side by side
    LiveScope scope(std::make_unique<Flood>(row),
                    [measure = module->measureFrame, options](const face::Picture& p, const auto& before) { return measure(p, options, before); });
    int painted = 0;
    double warmMemory = 0;
    QElapsedTimer clock;
    QObject::connect(&scope, &LiveScope::looked, &picture, [&](const LiveLook& look) {
        Look shown;
        shown.seen.measured = look.first();
        shown.verdict = judge(look.first().findings, faceClass, *criteria);
        const auto& p = *look.frame;
        picture.show(QImage(p.pixels.data(), p.width, p.height, p.width, QImage::Format_Grayscale8).copy(), &shown, faceClass, {});
        picture.repaint();
        if (++painted == warm) {
            warmMemory = resident();
            clock.start();
        }
        if (painted >= wanted) QApplication::quit();
    });
    scope.start();
    QApplication::exec();
    std::printf("%d judged and painted frames: %.1f a second; memory %.1f MB after %d frames, %.1f MB at the end\n", painted,
                1000.0 * (painted - warm) / double(clock.elapsed()), warmMemory, warm, resident());
    return 0;
}
