// line-soak CLENDO-SIM [SECONDS]: ten meters on TCP lines, each asked every 20 ms; how busy the window's thread is by it, and what
// memory does.
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QProcess>
#include <QTemporaryDir>
#include <QTimer>
#include <cstdio>
#include <ctime>
#include <fstream>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "instruments/line/bench_on_lines.h"

namespace {

double threadSeconds()
{
    timespec t{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
    return double(t.tv_sec) + double(t.tv_nsec) * 1e-9;
}

double residentMb()
{
    std::ifstream statm("/proc/self/statm");
    double total = 0, resident = 0;
    statm >> total >> resident;
    constexpr double pageMb = 4096.0 / (1 << 20);
    return resident * pageMb;
}

}  // namespace

int main(int argc, char** argv)
{
    using namespace clendo;
    QCoreApplication application(argc, argv);
    if (argc < 2) return 2;
    const double seconds = argc > 2 ? std::atof(argv[2]) : 60;
    constexpr int instruments = 10, everyMs = 20;
    nlohmann::json scenario{{"format", "clendo-scenario"},
                            {"format_version", 1},
                            {"cords", nlohmann::json::array()},
                            {"instruments", nlohmann::json::array()},
                            {"mated", nlohmann::json::array()}};
    for (int i = 0; i < instruments; ++i) {
        const std::string n = std::to_string(i);
        scenario["cords"].push_back({{"id", "C-" + n}, {"fibre", "OS2"}, {"length_m", 3}});
        scenario["instruments"].push_back({{"name", "source " + n}, {"kind", "source"}, {"lights", {{{"wavelength_nm", 1310}, {"level_dbm", -7}}}}});
        scenario["instruments"].push_back({{"name", "meter " + n}, {"kind", "meter"}});
        scenario["mated"].push_back({"source " + n, "C-" + n + "/A"});
        scenario["mated"].push_back({"meter " + n, "C-" + n + "/B"});
    }
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("ten.json"));
    if (!writeFile(file.toStdString(), scenario.dump())) return 1;
    QProcess simulation;
    simulation.start(QString::fromLocal8Bit(argv[1]), {file});
    if (!simulation.waitForReadyRead()) return 1;
    const auto ready = nlohmann::json::parse(simulation.readLine().toStdString());
    auto driver = nlohmann::json::parse(*readFile(dataFolder() / "drivers/scpi-meter.json"));
    driver["every_ms"] = everyMs;
    const RuleFiles rules(dataFolder(), {{"drivers/scpi-meter.json", driver.dump()}});
    std::vector<std::unique_ptr<BenchOnLines>> benches;
    std::size_t shown = 0;
    std::int64_t first = 0;
    for (const auto& one : ready["instruments"]) {
        if (one["kind"] != "meter") continue;
        benches.push_back(std::make_unique<BenchOnLines>(rules));
        QObject::connect(benches.back().get(), &LightBench::shown, &application, [&](const BenchShown& s) {
            ++shown;
            if (s.sample && first == 0) first = s.sample->at;
        });
        if (!benches.back()->setMeter(QStringLiteral("127.0.0.1:%1").arg(one["port"].get<int>()), {})) return 1;
    }
    constexpr int settleMs = 5000;
    double memory = 0, busy = 0;
    QElapsedTimer clock;
    QTimer::singleShot(settleMs, &application, [&] {
        memory = residentMb();
        busy = threadSeconds();
        shown = 0;
        clock.start();
    });
    QTimer::singleShot(settleMs + static_cast<int>(seconds * 1000), &application, [&] {
        const double wall = double(clock.elapsed()) / 1000;
        std::printf("%d meters, %.0f s: the window's thread busy %.2f %%, %.0f snapshots a second; memory %.1f MB, grown by %.1f MB\n", instruments,
                    wall, (threadSeconds() - busy) / wall * 100, double(shown) / wall, residentMb(), residentMb() - memory);
        simulation.terminate();
        QCoreApplication::quit();
    });
    const int out = QCoreApplication::exec();
    simulation.waitForFinished();
    return out;
}
