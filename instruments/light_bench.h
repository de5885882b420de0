#pragma once
#include <QObject>
#include <QString>
#include <QStringList>
#include <optional>
#include <vector>

#include "acquisition/auto_measure.h"
#include "acquisition/driver.h"
#include "result/result.h"

namespace clendo {

/// What a source and a meter on their lines show at one moment.
struct BenchShown {
    QString meter, source;                ///< as they name themselves; empty: none is there
    QString meterTrouble, sourceTrouble;  ///< sentences; empty: none
    std::optional<PowerSample> sample;    ///< the newest
    AcquisitionState state = AcquisitionState::Silent;
    std::optional<Nanometre> sourceWavelength;
    std::optional<WantedReading> wanted;  ///< that is waited for; nothing: no run
    std::size_t done = 0, all = 0;        ///< of the run
    bool waitsForOperator = false;        ///< the source has to be set by hand to the wavelength that is wanted
    bool waitsForSource = false;          ///< it is being set over its line
    std::vector<float> history;           ///< levels of the last samples in dBm, the newest last; not a number where there was none
};

/// A reading that came off the line.
struct BenchReading {
    WantedReading what;
    AcquiredPower power;
    QString instrument;
};

/// A source and a meter on lines, in a thread of their own: any number of samples goes in there, at most ten of these snapshots a second come out,
/// and each reading at once.
class LightBench : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    /// By the place of its line (instruments/line/line.h); empty: none. `driver`: by its name; empty: the first. A place that cannot be one, and a
    /// driver that is not there, are Errors.
    virtual Result<void> setMeter(const QString& place, const QString& driver) = 0;
    virtual Result<void> setSource(const QString& place, const QString& driver) = 0;
    /// Names of the drivers of a kind, those that are shipped first.
    [[nodiscard]] virtual QStringList drivers(InstrumentKind kind) const = 0;
    /// Takes one of one's own along (JSON, docs/extending.md); gives its name. Of two with the same name the newer holds. An Error says what is
    /// wrong.
    virtual Result<QString> addDriver(const QByteArray& json) = 0;
    /// Asks the source for light that comes and goes so often a second; 0: continuous. An Error where its driver knows no tone.
    virtual Result<void> setTone(double hertz) = 0;
    /// What was said on both lines lately, "> " and "< " before it; comes with `logged`.
    virtual void askLog() = 0;
    /// Takes the readings one after the other; a run that is under way ends.
    virtual void measure(std::vector<WantedReading> run, const AcquisitionRule& rule) = 0;
    virtual void stop() = 0;
    virtual void skip() = 0;
    virtual void sourceIsSet() = 0;
    /// Says something on the meter's line; the answer comes with `answered`.
    virtual void say(const QString& command) = 0;

signals:
    void shown(const clendo::BenchShown& shown);
    void taken(const clendo::BenchReading& reading);
    void answered(const QString& answer);
    void logged(const QString& text);
};

}  // namespace clendo
