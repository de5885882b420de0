#include "instruments/line/bench_on_lines.h"

#include <fmt/format.h>

#include <QDateTime>
#include <algorithm>
#include <limits>

namespace clendo {
namespace {

constexpr int publishMs = 100;
constexpr std::size_t ringLength = 200;

}  // namespace

BenchWorker::BenchWorker()
{
    publish_.setInterval(publishMs);
    connect(&publish_, &QTimer::timeout, this, &BenchWorker::publish);
}

void BenchWorker::setMeter(std::unique_ptr<Line> line, const Driver& driver)
{
    meter_.reset();
    last_.reset();
    ring_.clear();
    idle_.reset();
    publish_.start();
    if (line) {
        meter_ = std::make_unique<MeterLine>(std::move(line), driver);
        connect(meter_.get(), &MeterLine::sampled, this, &BenchWorker::take);
        if (set_) meter_->setWavelength(*set_);
        meter_->start();
    }
    publish();
}

void BenchWorker::setSource(std::unique_ptr<Line> line, const Driver& driver)
{
    source_.reset();
    publish_.start();
    if (line) {
        source_ = std::make_unique<SourceLine>(std::move(line), driver);
        if (set_) source_->setWavelength(*set_);
        source_->start();
    }
    publish();
}

void BenchWorker::measure(std::vector<WantedReading> run, const AcquisitionRule& rule)
{
    AcquisitionRule own = rule;
    if (meter_) own.floor = std::max(own.floor, meter_->driver().floor);
    run_.emplace(std::move(run), own, source_ ? Switching::ByLine : Switching::ByOperator);
    set_.reset();
    follow();
    publish();
}

void BenchWorker::stop()
{
    run_.reset();
    idle_.reset();
    publish();
}

void BenchWorker::skip()
{
    if (run_) run_->skip();
    follow();
    publish();
}

void BenchWorker::sourceIsSet()
{
    if (run_) run_->sourceIsSet();
    publish();
}

void BenchWorker::say(const QString& command)
{
    if (!meter_) return emit answered(tr("No meter is on a line."));
    const QByteArray bytes = command.toUtf8();
    if (!command.contains(QLatin1Char('?'))) {
        meter_->client().tell(bytes);
        return emit answered(tr("said; it was no question"));
    }
    meter_->client().ask(bytes, [this](const Result<QByteArray>& answer) {
        emit answered(answer ? QString::fromUtf8(*answer) : QString::fromStdString(answer.error().message));
    });
}

void BenchWorker::sendLog()
{
    QString out;
    const auto add = [&](const QString& title, const QStringList& lines) {
        out += title + QLatin1Char('\n') + lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
    };
    if (meter_) add(tr("Power meter %1").arg(meter_->identity()), meter_->client().log());
    if (source_) add(tr("Light source %1").arg(source_->identity()), source_->client().log());
    emit logged(out);
}

/// Meter and source go to the wavelength that is wanted.
void BenchWorker::follow()
{
    const auto* wanted = run_ ? run_->wanted() : nullptr;
    if (!wanted || set_ == wanted->wavelength) return;
    set_ = wanted->wavelength;
    if (source_) source_->setWavelength(*set_);
    if (meter_) meter_->setWavelength(*set_);
}

bool BenchWorker::sourceReady() const { return !source_ || (run_ && run_->wanted() && source_->wavelength() == run_->wanted()->wavelength); }

void BenchWorker::take(const PowerSample& sample)
{
    last_ = sample;
    ring_.push_back(sample.kind == PowerSample::Kind::Level ? static_cast<float>(sample.power.value()) : std::numeric_limits<float>::quiet_NaN());
    if (ring_.size() > ringLength) ring_.pop_front();
    if (!run_ || !run_->wanted()) {
        if (!idle_) {
            AcquisitionRule rule;
            rule.wavelength = sample.wavelength;
            if (meter_) rule.floor = meter_->driver().floor;
            idle_.emplace(rule);
        }
        idle_->setWavelength(sample.wavelength);
        idle_->add(sample);
        return;
    }
    if (!sourceReady()) return;
    if (const auto reading = run_->add(sample)) {
        emit taken({reading->what, reading->power, meter_ ? meter_->identity() : QString()});
        follow();
        publish();
    }
}

void BenchWorker::publish()
{
    BenchShown out;
    if (meter_) {
        out.meter = meter_->identity();
        out.meterTrouble = meter_->trouble();
    }
    if (source_) {
        out.source = source_->identity();
        out.sourceTrouble = source_->trouble();
        out.sourceWavelength = source_->wavelength();
    }
    if (meter_ && !out.meter.isEmpty()) out.sample = last_;
    const auto now = last_ ? last_->at : 0;
    if (run_ && run_->wanted()) {
        out.wanted = *run_->wanted();
        out.state = run_->state(now);
        out.waitsForOperator = run_->waitsForOperator();
        out.waitsForSource = !sourceReady();
    } else if (idle_) {
        out.state = idle_->state(now);
    }
    if (!out.sample) out.state = AcquisitionState::Silent;
    if (run_) {
        out.done = run_->done();
        out.all = run_->all();
    }
    out.history.assign(ring_.begin(), ring_.end());
    emit shown(out);
    if (!meter_ && !source_) publish_.stop();
}

BenchOnLines::BenchOnLines(const RuleFiles& rules, QObject* parent) : LightBench(parent), drivers_(shippedDrivers(rules)), worker_(new BenchWorker)
{
    qRegisterMetaType<clendo::BenchShown>();
    qRegisterMetaType<clendo::BenchReading>();
    worker_->moveToThread(&thread_);
    connect(&thread_, &QThread::finished, worker_, &QObject::deleteLater);
    connect(worker_, &BenchWorker::shown, this, &LightBench::shown, Qt::QueuedConnection);
    connect(worker_, &BenchWorker::taken, this, &LightBench::taken, Qt::QueuedConnection);
    connect(worker_, &BenchWorker::answered, this, &LightBench::answered, Qt::QueuedConnection);
    connect(worker_, &BenchWorker::logged, this, &LightBench::logged, Qt::QueuedConnection);
    thread_.start();
}

BenchOnLines::~BenchOnLines()
{
    thread_.quit();
    thread_.wait();
}

Result<void> BenchOnLines::put(const QString& place, const QString& name, InstrumentKind kind, Put into)
{
    const auto driver = std::find_if(drivers_.begin(), drivers_.end(),
                                     [&](const Driver& d) { return d.kind == kind && (name.isEmpty() || d.name == name.toStdString()); });
    if (driver == drivers_.end())
        return name.isEmpty()
                   ? failure(Error::Code::DriverInvalid, "There is no driver for it in data/drivers. Install Clendo again, or compare your own copy.")
                   : failure(Error::Code::DriverInvalid,
                             fmt::format("There is no driver “{}” here. Choose another, or load it again.", name.toStdString()));
    std::unique_ptr<Line> line;
    if (!place.trimmed().isEmpty()) {
        line = makeLine(place, driver->baud);
        if (!line)
            return failure(Error::Code::InstrumentGone,
                           "This is no place of an instrument. Give host and port (192.168.0.20:5025) or a serial port (/dev/ttyUSB0).");
        line->moveToThread(&thread_);
    }
    if (kind == InstrumentKind::Source) sourceHasTone_ = line && driver->command("tone", 1).has_value();
    there([into, driver = *driver, line = std::move(line)](BenchWorker& worker) mutable { (worker.*into)(std::move(line), driver); });
    return {};
}

Result<void> BenchOnLines::setMeter(const QString& place, const QString& driver)
{
    return put(place, driver, InstrumentKind::Meter, &BenchWorker::setMeter);
}
Result<void> BenchOnLines::setSource(const QString& place, const QString& driver)
{
    return put(place, driver, InstrumentKind::Source, &BenchWorker::setSource);
}

QStringList BenchOnLines::drivers(InstrumentKind kind) const
{
    QStringList out;
    for (const auto& driver : drivers_)
        if (driver.kind == kind) out << QString::fromStdString(driver.name);
    return out;
}

Result<QString> BenchOnLines::addDriver(const QByteArray& json)
{
    auto driver = parseDriver(json.toStdString());
    if (!driver) return tl::unexpected(driver.error());
    const auto same = [&](const Driver& d) { return d.name == driver->name && d.kind == driver->kind; };
    std::erase_if(drivers_, same);
    drivers_.push_back(std::move(*driver));
    return QString::fromStdString(drivers_.back().name);
}

Result<void> BenchOnLines::setTone(double hertz)
{
    if (!sourceHasTone_)
        return failure(Error::Code::DriverInvalid, "The driver of this source knows no tone. Set it at the source, or load a driver that does.");
    there([hertz](BenchWorker& worker) { worker.setTone(hertz); });
    return {};
}

void BenchOnLines::askLog()
{
    there([](BenchWorker& worker) { worker.sendLog(); });
}

void BenchOnLines::measure(std::vector<WantedReading> run, const AcquisitionRule& rule)
{
    there([run = std::move(run), rule](BenchWorker& worker) mutable { worker.measure(std::move(run), rule); });
}
void BenchOnLines::stop()
{
    there([](BenchWorker& worker) { worker.stop(); });
}
void BenchOnLines::skip()
{
    there([](BenchWorker& worker) { worker.skip(); });
}
void BenchOnLines::sourceIsSet()
{
    there([](BenchWorker& worker) { worker.sourceIsSet(); });
}
void BenchOnLines::say(const QString& command)
{
    there([command](BenchWorker& worker) { worker.say(command); });
}

}  // namespace clendo
