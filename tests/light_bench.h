#pragma once
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <nlohmann/json.hpp>

#include "app/loss/light_run.h"
#include "app/loss/loss_desk.h"
#include "files/files.h"
#include "sim/simulation.h"
#include "varrow_journal.h"
#include "window_driver.h"
#include "world/scenario.h"

namespace clendo {

/// A window with the demo's cable, and the simulated instruments on their lines, in one process.
struct Bench {
    QTemporaryDir dir;
    MainWindow window;
    sim::Simulation simulation;
    std::unique_ptr<WindowDriver> driver;

    /// `crossed`: fibres 11 and 12 are, as in the demo.
    explicit Bench(bool crossed = true) : simulation(worldOf(crossed), 10) {}
    static world::World worldOf(bool crossed)
    {
        auto scenario = nlohmann::json::parse(*readFile(dataFolder() / "scenarios/varrow-point.json"));
        if (!crossed) scenario["cables"][0].erase("crossed");
        return *world::readScenario(scenario.dump(), dataFolder());
    }

    bool start(const CablePlan& cable = varrowCable())
    {
        window.resize(1280, 800);
        if (!simulation.start() || !created(window, dir.filePath("light.clendo"), "Light")) return false;
        driver = std::make_unique<WindowDriver>(window);
        if (!filed(*window.session(), CablePlanned{cable})) return false;
        window.choose({cable.id + "/1", End::A, Side::Port});
        return run().use(place("meter 1"), place("source 1")).has_value();
    }
    LightRun& run() { return window.deskOf<LossDesk>().run(); }
    [[nodiscard]] QString place(const char* name) const
    {
        const auto ready = simulation.ready();
        for (const auto& one : ready["instruments"])
            if (one["name"] == name) return QStringLiteral("127.0.0.1:%1").arg(one["port"].get<int>());
        return {};
    }
    world::World& world() { return simulation.now(); }
    world::Source& source() { return std::get<world::Source>(world().instrument("source 1")->unit); }
    world::Meter& meter() { return std::get<world::Meter>(world().instrument("meter 1")->unit); }
    const JobState& state() { return window.session()->state(); }

    /// Cords as for the reference: the source cord straight into the meter.
    void forReference()
    {
        for (const char* face : {"RC-1/B", "RC-2/A", "RC-2/B"}) static_cast<void>(world().part(face));
        QVERIFY(world().connect("meter 1", "RC-1/B"));
    }
    void forProof()
    {
        static_cast<void>(world().part("RC-1/B"));
        static_cast<void>(world().part("RC-2/A"));
        QVERIFY(world().mate("RC-1/B", "RC-2/A"));
        QVERIFY(world().connect("meter 1", "RC-2/B"));
    }
    /// Both cords on one fibre.
    void onFibre(int n)
    {
        for (const char* face : {"RC-1/B", "RC-2/A"}) static_cast<void>(world().part(face));
        if (const auto* meterPort = world().face("meter 1"); meterPort) QVERIFY(world().connect("meter 1", "RC-2/B"));
        QVERIFY(world().mate("RC-1/B", "VP-04/" + std::to_string(n) + "/A/port"));
        QVERIFY(world().mate("RC-2/A", "VP-04/" + std::to_string(n) + "/B/port"));
    }
    void offFibre()
    {
        static_cast<void>(world().part("RC-1/B"));
        static_cast<void>(world().part("RC-2/A"));
    }
    [[nodiscard]] bool waited(const std::function<bool()>& done, int ms = 15000) { return QTest::qWaitFor(done, ms); }
    bool referenceSet()
    {
        forReference();
        driver->key(Qt::Key_R);
        return waited([&] {
            return !run().running() && state().reference(run().direction(), Nanometre(1310)) && state().reference(run().direction(), Nanometre(1550));
        });
    }
    /// Into a field of the loss view, with Enter.
    void type(const char* field, const char* figure)
    {
        window.showDesk("loss");
        auto* edit = window.findChild<QLineEdit*>(field);
        QVERIFY(edit);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, figure);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    [[nodiscard]] QString asked() { return window.findChild<QLabel*>("lossTrouble")->text(); }
    [[nodiscard]] std::size_t readings(int fibre) { return state().state("VP-04/" + std::to_string(fibre)).readings.size(); }
    [[nodiscard]] bool warned(int fibre, const char* code)
    {
        const auto& loss = state().state("VP-04/" + std::to_string(fibre)).loss;
        return loss && std::any_of(loss->warnings.begin(), loss->warnings.end(), [&](const auto& w) { return w.code == code; });
    }
    /// Reads one fibre at both wavelengths.
    bool read(int fibre)
    {
        window.choose({"VP-04/" + std::to_string(fibre), End::A, Side::Port});
        const std::size_t before = readings(fibre);
        window.setFocus();  // keys are commands again
        driver->key(Qt::Key_I);
        onFibre(fibre);
        const bool done = waited([&] { return readings(fibre) == before + 2; });
        run().stop();
        offFibre();
        return done;
    }
};

}  // namespace clendo
