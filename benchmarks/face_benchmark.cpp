#include <benchmark/benchmark.h>

#include <opencv2/imgproc.hpp>

#include "face/face_report.h"
#include "world/face_world.h"

using namespace clendo;

namespace {

const face::Picture& picture()
{
    static const face::Picture p = [] {
        world::Camera camera;
        camera.width = 1280;
        camera.height = 960;
        camera.scale = Scale(0.31);
        return world::takePicture(world::makeFace(world::Story::Dusty, 7), camera);
    }();
    return p;
}

/// The floor: three OpenCV calls on the same picture, one thread.
void floorOfThreeCalls(benchmark::State& state)
{
    cv::setNumThreads(1);
    const cv::Mat1b grey(picture().height, picture().width, const_cast<std::uint8_t*>(picture().pixels.data()));
    for (auto _ : state) {
        cv::Mat1b smooth, mask;
        cv::Mat1i labels, stats;
        cv::Mat1d centroids;
        cv::GaussianBlur(grey, smooth, {5, 5}, 0);
        cv::adaptiveThreshold(smooth, mask, 255, cv::ADAPTIVE_THRESH_MEAN_C, cv::THRESH_BINARY_INV, 31, 4);
        benchmark::DoNotOptimize(cv::connectedComponentsWithStats(mask, labels, stats, centroids, 8));
    }
}
BENCHMARK(floorOfThreeCalls)->Unit(benchmark::kMillisecond);

void judgedPicture(benchmark::State& state)
{
    cv::setNumThreads(1);
    for (auto _ : state) benchmark::DoNotOptimize(face::measure(picture(), {}));
}
BENCHMARK(judgedPicture)->Unit(benchmark::kMillisecond);

}  // namespace
