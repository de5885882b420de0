#include "sim/simulation.h"

#include <fmt/format.h>

#include <QDir>
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "otdr/sor_writer.h"
#include "sim/instrument_commands.h"

namespace clendo::sim {

Simulation::Simulation(world::World world, double speed, QObject* parent) : QObject(parent), world_(std::move(world)), speed_(speed)
{
    clock_.start();
}

world::World& Simulation::now()
{
    const double passed = double(clock_.nsecsElapsed()) * 1e-9;
    world_.wait(Second((passed - told_) * speed_));
    told_ = passed;
    return world_;
}

bool Simulation::start()
{
    control_ = new LinePort([this](const std::string& line) { return controlled(line); }, [] {}, this);
    bool listening = control_->listen();
    for (const auto& instrument : world_.instruments()) {
        auto& line = *lines_.emplace_back(std::make_unique<Line>());
        line.instrument = instrument.name;
        line.device = std::make_unique<ScpiDevice>(deviceOf(instrument.name, [this]() -> world::World& { return now(); }));
        line.port = new LinePort([this, &line](const std::string& text) { return answer(line, text); },
                                 [&line] { line.device->raise(scpi_error::inputOverrun); }, this);
        listening = line.port->listen() && listening;
    }
    return listening;
}

void Simulation::saveTracesTo(const QString& folder)
{
    traces_ = folder;
    constexpr int often = 100;  // ms
    connect(&looks_, &QTimer::timeout, this, &Simulation::saveTraces, Qt::UniqueConnection);
    looks_.start(often);
}

void Simulation::saveTraces()
{
    const world::World& world = now();
    for (const auto& instrument : world.instruments()) {
        const auto* otdr = std::get_if<world::Otdr>(&instrument.unit);
        if (!otdr || !otdr->shot || otdr->ready > world.now()) continue;
        if (const auto last = saved_.find(instrument.name); last != saved_.end() && last->second == otdr->ready.value()) continue;
        const auto trace = world.trace(instrument.name);
        if (!trace) continue;
        std::string name = instrument.name;
        std::replace(name.begin(), name.end(), ' ', '-');
        const QString file =
            QDir(traces_).filePath(QStringLiteral("%1-%2.sor").arg(QString::fromStdString(name)).arg(shots_ + 1, 3, 10, QLatin1Char('0')));
        if (!writeFile(file.toStdString(), otdr::writeSor(*trace))) continue;  // it is tried again
        saved_[instrument.name] = otdr->ready.value();
        ++shots_;
    }
}

LinePort::Answer Simulation::controlled(const std::string& text)
{
    ControlWish wish;
    std::string out = control(now(), text, wish) + "\n";
    if (!wish.instrument.empty()) spoil(wish.instrument, wish.fault, wish.late);
    if (wish.quit) QMetaObject::invokeMethod(this, &Simulation::quitWanted, Qt::QueuedConnection);
    return {out, 0, false};
}

void Simulation::spoil(const std::string& instrument, LineFault fault, double late)
{
    for (auto& line : lines_)
        if (line->instrument == instrument) {
            line->fault = fault;
            line->late = late;
        }
}

LinePort::Answer Simulation::answer(Line& line, const std::string& text)
{
    constexpr double second = 1000;
    const ScpiAnswer said = line.device->line(text);
    LinePort::Answer out{said.bytes.empty() ? std::string() : said.bytes + "\n", said.after * second / speed_, false};
    if (line.fault == LineFault::Cut) return {{}, 0, true};
    if (out.bytes.empty()) return out;
    switch (line.fault) {
        case LineFault::None:
        case LineFault::Cut: break;
        case LineFault::Late: out.afterMs += line.late * second; break;
        case LineFault::Half: out.bytes.resize(out.bytes.size() / 2); break;
        case LineFault::Twice: out.bytes += out.bytes; break;
        case LineFault::Garbage: out.bytes = "\x01\xff#?;%\n"; break;
        case LineFault::Silent: out.bytes.clear(); break;
        case LineFault::Comma: std::replace(out.bytes.begin(), out.bytes.end(), '.', ','); break;
        case LineFault::Milliwatt:
            if (const auto level = scpiNumber(said.bytes, ""); !level.error && level.value < 100)
                out.bytes = fmt::format("{:.6f} mW\n", std::pow(10, level.value / 10));
            break;
    }
    return out;
}

nlohmann::json Simulation::ready() const
{
    const auto place = [](const LinePort& port) { return nlohmann::json{{"host", "127.0.0.1"}, {"port", port.number()}}; };
    nlohmann::json out{{"ready", true}, {"control", place(*control_)}, {"instruments", nlohmann::json::array()}};
    for (const auto& line : lines_) {
        nlohmann::json one = place(*line->port);
        one["name"] = line->instrument;
        one["kind"] = kindOf(*world_.instrument(line->instrument));
        out["instruments"].push_back(one);
    }
    return out;
}

}  // namespace clendo::sim
