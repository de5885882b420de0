#pragma once
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <map>
#include <memory>
#include <nlohmann/json_fwd.hpp>

#include "sim/control.h"
#include "sim/line_port.h"
#include "sim/scpi_parser.h"
#include "world/world.h"

namespace clendo::sim {

/// A world with a clock that runs, its instruments on ports of their own, and a port for hands.
class Simulation : public QObject {
    Q_OBJECT
public:
    /// `speed`: seconds of the world in a second.
    Simulation(world::World world, double speed, QObject* parent = nullptr);
    /// False: there were no free ports.
    bool start();
    /// {"ready": true, "control": {...}, "instruments": [...]}, as docs/simulation.md has it.
    [[nodiscard]] nlohmann::json ready() const;
    /// The world, brought up to the clock.
    world::World& now();
    /// Spoils the line to an instrument, or mends it. `late`: seconds.
    void spoil(const std::string& instrument, LineFault fault, double late = 3);

    /// From now on every OTDR saves each shot into this folder when it is done, as instruments do: "otdr-1-001.sor".
    void saveTracesTo(const QString& folder);

signals:
    void quitWanted();

private:
    struct Line {
        std::string instrument;
        std::unique_ptr<ScpiDevice> device;
        LinePort* port;
        LineFault fault = LineFault::None;
        double late = 0;
    };
    LinePort::Answer answer(Line& line, const std::string& text);
    LinePort::Answer controlled(const std::string& text);
    void saveTraces();

    world::World world_;
    double speed_;
    QElapsedTimer clock_;
    double told_ = 0;  ///< seconds of the clock that the world has had
    LinePort* control_ = nullptr;
    std::vector<std::unique_ptr<Line>> lines_;
    QString traces_;
    QTimer looks_;
    std::map<std::string, double> saved_;  ///< by instrument: when the shot was done that it saved last, by the world's clock
    int shots_ = 0;
};

}  // namespace clendo::sim
