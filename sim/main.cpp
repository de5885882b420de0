// clendo-sim SCENARIO.json|demo [--speed X] [--traces FOLDER]: the simulated world as a process, on this computer alone.
#include <sys/socket.h>
#include <unistd.h>

#include <QGuiApplication>
#include <QSocketNotifier>
#include <csignal>
#include <cstdio>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "sim/simulation.h"
#include "world/scenario.h"

namespace {

int wake[2];  // a signal handler may write, and nothing else

int fail(const clendo::Error& error)
{
    std::fprintf(stderr, "%s\n", error.message.c_str());
    return 1;
}

}  // namespace

int main(int argc, char** argv)
{
    using namespace clendo;
    if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");  // pictures are drawn, and no window
    QGuiApplication application(argc, argv);
    double speed = 1;
    std::string scenario, traces;
    for (int i = 1; i < argc; ++i) {
        const std::string word = argv[i];
        char* end = nullptr;
        if (word == "--speed" && i + 1 < argc) {
            speed = std::strtod(argv[++i], &end);
            if (*end != '\0' || !(speed >= 0.01 && speed <= 10000)) scenario.clear(), i = argc;
        } else if (word == "--traces" && i + 1 < argc) {
            traces = argv[++i];
        } else if (scenario.empty() && !word.starts_with("--")) {
            scenario = word;
        } else {
            scenario.clear(), i = argc;
        }
    }
    if (scenario.empty()) {
        std::fputs("usage: clendo-sim SCENARIO.json|demo [--speed X] [--traces FOLDER]   (X from 0.01 to 10000)\n", stderr);
        return 2;
    }
    constexpr std::size_t largest = std::size_t{16} << 20;
    const auto text = readFile(scenario == "demo" ? dataFolder() / "scenarios/varrow-point.json" : std::filesystem::path(scenario), largest);
    if (!text) return fail(text.error());
    auto world = world::readScenario(*text, dataFolder());
    if (!world) return fail(world.error());
    sim::Simulation simulation(std::move(*world), speed);
    if (!simulation.start()) return fail({Error::Code::Unexpected, "No free port on this computer could be had."});
    if (!traces.empty()) simulation.saveTracesTo(QString::fromStdString(traces));
    QObject::connect(&simulation, &sim::Simulation::quitWanted, &application, &QCoreApplication::quit, Qt::QueuedConnection);
    std::unique_ptr<QSocketNotifier> woken;
    if (::socketpair(AF_UNIX, SOCK_STREAM, 0, wake) == 0) {
        woken = std::make_unique<QSocketNotifier>(wake[1], QSocketNotifier::Read);
        QObject::connect(woken.get(), &QSocketNotifier::activated, &application, &QCoreApplication::quit);
        const auto end = [](int) {
            const char one = 1;
            static_cast<void>(::write(wake[0], &one, 1) == 1);
        };
        std::signal(SIGTERM, end);
        std::signal(SIGINT, end);
    }
    std::puts(simulation.ready().dump().c_str());
    std::fflush(stdout);
    return QGuiApplication::exec();
}
