// Many traces in the window: 300 of 64,000 points moved and zoomed beneath each other, two of them over each other, a folder of 300 files opened.
#include <benchmark/benchmark.h>

#include <QApplication>
#include <QEventLoop>
#include <QTemporaryDir>
#include <cmath>
#include <random>

#include "app/trace/folder_reading.h"
#include "app/trace/glance_map.h"
#include "app/trace/trace_drawing.h"
#include "files/files.h"
#include "modules/trace_plot.h"
#include "otdr/sor_writer.h"

using namespace clendo;

namespace {

constexpr std::size_t traces = 300, points = 64'000;
constexpr double spacing = 0.5, length = 30'000, launch = 500;

/// 30 km under 100 ns, a splice every 4 km, its own noise.
otdr::Trace madeTrace(unsigned seed, std::size_t n = points)
{
    otdr::Trace t;
    t.cable = "VP-04";
    t.fibre = std::to_string(seed % traces + 1);
    t.wavelength = Nanometre(1550);
    t.pulse = Nanosecond(100);
    t.backscatter = Decibel(-81.5);
    std::mt19937 random(seed);
    std::normal_distribution<double> normal(0, 3e-4);
    for (std::size_t i = 0; i < n; ++i) {
        const double z = double(i) * spacing, level = -8 - 0.0002 * z - 0.05 * std::floor(z / 4000) - (seed % 24 == 5 && z > 12000 ? 0.6 : 0);
        const double p = z < launch + length ? std::pow(10, level / 5) * (1 + normal(random)) : 0;
        t.distance.push_back(static_cast<float>(z));
        t.dark.push_back(p <= 0);
        t.level.push_back(static_cast<float>(p <= 0 ? -60 : 5 * std::log10(p)));
    }
    return t;
}

otdr::Analysis foundIn(const otdr::Trace& trace)
{
    otdr::Analysis found;
    otdr::Event end;
    end.kind = otdr::EventKind::End;
    end.at = Metre(launch + length);
    found.events.push_back(end);
    found.span = otdr::Span{Metre(launch), Metre(launch + length), {}, DecibelPerKilometre(0.2), {}};
    (void)trace;
    return found;
}

CablePlan cable()
{
    CablePlan c;
    c.id = "VP-04";
    c.placeA = "Tide Hall";
    c.placeB = "Breakwater Hut";
    c.panelA = "TH";
    c.panelB = "BH";
    c.fibres = static_cast<int>(traces);
    c.length = Metre(length);
    return c;
}

/// One frame: the rows are moved or made larger, and painted.
void moveManyRows(benchmark::State& state)
{
    std::vector<otdr::LevelRow> rows;
    for (unsigned n = 0; n < traces; ++n) {
        const auto trace = madeTrace(n);
        rows.emplace_back(trace, foundIn(trace), Metre(launch), Metre(length), false);
    }
    std::vector<GlanceMap::Row> shown;
    for (std::size_t n = 0; n < rows.size(); ++n) shown.push_back({QString::number(n + 1), &rows[n], n == 7, n % 12 == 0});
    GlanceMap map;
    map.resize(1000, 640);
    map.show(std::move(shown), {{0, QStringLiteral("A")}, {12000, QStringLiteral("manhole 3")}, {length, QStringLiteral("B")}}, {0, length});
    map.QWidget::show();
    QImage frame(map.size(), QImage::Format_RGB32);
    map.zoomBy(3);
    int n = 0;
    for (auto _ : state) {
        if (++n % 8 == 0)
            map.zoomBy(n % 16 == 0 ? 1.5 : 1 / 1.5);
        else
            map.panBy(n % 16 < 8 ? 0.05 : -0.05);
        map.render(&frame);
    }
}
BENCHMARK(moveManyRows)->Unit(benchmark::kMillisecond);

/// One frame of a trace with the other end's shot beneath it.
void moveTwoTraces(benchmark::State& state)
{
    const auto plan = cable();
    const auto links = linksOf(plan);
    const auto a = madeTrace(1), b = madeTrace(2);
    const TraceShot ab{"VP-04/1", Direction::AtoB, "a", "a.sor", Nanometre(1550), {Metre(launch), Metre(0)}, foundIn(a)};
    TraceShot ba = ab;
    ba.direction = Direction::BtoA;
    auto plot = makeTracePlot(nullptr);
    if (!plot) return state.SkipWithError("the module of the plot is missing");
    const std::unique_ptr<TracePlot> owned(*plot);
    owned->resize(900, 420);
    owned->QWidget::show();
    QImage frame(owned->size(), QImage::Format_RGB32);
    double from = 1000;
    for (auto _ : state) {
        from = from > 20000 ? 1000 : from + 37;
        const auto drawing = drawTrace({a, ab}, links[0], DrawnShot{b, ba}, SeenRange{from, from + 8000});
        owned->show(drawing, {Qt::white, Qt::gray, Qt::black, Qt::black, Qt::blue, Qt::green, Qt::red, Qt::gray, Qt::red, Qt::blue, Qt::yellow, 6},
                    {QStringLiteral("m"), QStringLiteral("dB"), QString()});
        QCoreApplication::sendPostedEvents();
        owned->render(&frame);
    }
}
BENCHMARK(moveTwoTraces)->Unit(benchmark::kMillisecond);

/// From the folder to the table that says where each file belongs.
void openFolder(benchmark::State& state)
{
    QTemporaryDir folder;
    for (unsigned n = 0; n < traces; ++n) {
        const QString path = folder.filePath(QStringLiteral("VP-04-%1-1550-ab.sor").arg(n + 1, 3, 10, QLatin1Char('0')));
        if (!writeFile(path.toStdString(), otdr::writeSor(madeTrace(n)))) return state.SkipWithError("no room");
    }
    JobPlan plan;
    plan.cables.push_back(cable());
    plan.makeLinks();
    for (auto _ : state) {
        FolderReading reading;
        QEventLoop loop;
        std::size_t placed = 0;
        QObject::connect(&reading, &FolderReading::wasRead, &loop, [&](std::vector<FolderFile> files) {
            placeAll(files, plan, patternOf(files, plan), {});
            placed = static_cast<std::size_t>(std::count_if(files.begin(), files.end(), [](const auto& f) { return f.willBeFiled(); }));
            loop.quit();
        });
        reading.read(traceFilesOf({folder.path()}));
        loop.exec();
        if (placed != traces) return state.SkipWithError("not all were placed");
    }
}
BENCHMARK(openFolder)->Unit(benchmark::kMillisecond)->Iterations(5)->UseRealTime();

}  // namespace
