#pragma once
#include <QThread>
#include <deque>
#include <memory>

#include "instruments/light_bench.h"
#include "instruments/line/meter_line.h"

namespace clendo {

/// What works in the bench's thread; only that touches it.
class BenchWorker : public QObject {
    Q_OBJECT
public:
    BenchWorker();
    void setMeter(std::unique_ptr<Line> line, const Driver& driver);
    void setSource(std::unique_ptr<Line> line, const Driver& driver);
    void measure(std::vector<WantedReading> run, const AcquisitionRule& rule);
    void stop();
    void skip();
    void sourceIsSet();
    void say(const QString& command);
    void sendLog();
    void setTone(double hertz)
    {
        if (source_) source_->setTone(hertz);
    }

signals:
    void shown(const clendo::BenchShown& shown);
    void taken(const clendo::BenchReading& reading);
    void answered(const QString& answer);
    void logged(const QString& text);

private:
    void take(const PowerSample& sample);
    void follow();
    void publish();
    [[nodiscard]] bool sourceReady() const;

    std::unique_ptr<MeterLine> meter_;
    std::unique_ptr<SourceLine> source_;
    std::optional<AutoMeasure> run_;
    std::optional<Acquisition> idle_;  ///< of what is shown where no run is under way
    std::optional<PowerSample> last_;
    std::deque<float> ring_;
    QTimer publish_{this};
    std::optional<Nanometre> set_;
};

/// The bench over TCP or serial lines, with the drivers that are shipped and those that were added.
class BenchOnLines : public LightBench {
    Q_OBJECT
public:
    explicit BenchOnLines(const RuleFiles& rules, QObject* parent = nullptr);
    ~BenchOnLines() override;
    Result<void> setMeter(const QString& place, const QString& driver) override;
    Result<void> setSource(const QString& place, const QString& driver) override;
    [[nodiscard]] QStringList drivers(InstrumentKind kind) const override;
    Result<QString> addDriver(const QByteArray& json) override;
    void askLog() override;
    Result<void> setTone(double hertz) override;
    void measure(std::vector<WantedReading> run, const AcquisitionRule& rule) override;
    void stop() override;
    void skip() override;
    void sourceIsSet() override;
    void say(const QString& command) override;

private:
    using Put = void (BenchWorker::*)(std::unique_ptr<Line>, const Driver&);
    Result<void> put(const QString& place, const QString& driver, InstrumentKind kind, Put put);
    template <class Work>
    void there(Work work)
    {
        QMetaObject::invokeMethod(
            worker_, [worker = worker_, work = std::move(work)]() mutable { work(*worker); }, Qt::QueuedConnection);
    }

    std::vector<Driver> drivers_;
    bool sourceHasTone_ = false;
    QThread thread_;
    BenchWorker* worker_;
};

}  // namespace clendo
