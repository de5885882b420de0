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
    state.counters["ns_per_pixel"] =
        benchmark::Counter(double(picture().pixels.size()), benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK(judgedPicture)->Unit(benchmark::kMillisecond);

/// Twelve fibres, 250 um apart, in one wide picture: what a pixel costs beside judgedPicture, on one core and on all.
void judgedRowOfTwelve(benchmark::State& state)
{
    cv::setNumThreads(1);
    constexpr int each = 284, high = 440;
    world::Camera camera;
    camera.width = each;
    camera.height = high;
    camera.scale = Scale(0.88);
    face::Picture row{12 * each, high, std::vector<std::uint8_t>(std::size_t{12} * each * high)};
    for (int n = 0; n < 12; ++n) {
        camera.seed = static_cast<std::uint32_t>(n + 1);
        const auto one = world::takePicture(world::makeFace(n % 3 == 0 ? world::Story::Dusty : world::Story::SomeDust, camera.seed), camera);
        for (int y = 0; y < high; ++y)
            std::copy_n(one.pixels.begin() + std::ptrdiff_t{y} * each, each, row.pixels.begin() + std::ptrdiff_t{y} * 12 * each + n * each);
    }
    face::MeasureOptions options;
    options.fibres.reset();
    options.cores = static_cast<unsigned>(state.range(0));
    for (auto _ : state) benchmark::DoNotOptimize(face::measure(row, options));
    state.counters["ns_per_pixel"] =
        benchmark::Counter(double(row.pixels.size()), benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK(judgedRowOfTwelve)->Arg(1)->Arg(0)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
