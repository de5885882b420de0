#pragma once
#include <QObject>
#include <memory>

#include "app/frame/window_frame.h"
#include "app/loss/light_gear.h"
#include "batch/cord_line.h"
#include "instruments/light_bench.h"
#include "power/loss.h"

namespace clendo {

struct Filing;

/// What the instruments on the line are asked for, and what is filed of it: references, proofs, checks, and the readings of a cable fibre by fibre.
class LightRun : public QObject {
    Q_OBJECT
public:
    enum class Purpose { Readings, Reference, Proof, Check, PatchCord };

    explicit LightRun(WindowFrame& frame);
    /// Where the instruments are; empty: none. An Error where that is no place.
    Result<void> use(const QString& meter, const QString& source, const QString& meterDriver = {}, const QString& sourceDriver = {});
    [[nodiscard]] QStringList drivers(InstrumentKind kind);
    [[nodiscard]] const QString& meterDriver() const { return meterDriver_; }
    [[nodiscard]] const QString& sourceDriver() const { return sourceDriver_; }
    /// Takes a driver file along, in this and in later runs of the program; its name, or what is wrong with it.
    Result<QString> addDriver(const QString& path);
    /// Files what was said on the lines lately, as evidence.
    void keepLog();
    [[nodiscard]] bool meterOnLine() const { return bench_ && !meter_.isEmpty(); }
    [[nodiscard]] const QString& meterPlace() const { return meter_; }
    [[nodiscard]] const QString& sourcePlace() const { return source_; }
    [[nodiscard]] const BenchShown& shown() const { return shown_; }
    [[nodiscard]] bool running() const { return running_; }
    [[nodiscard]] Purpose purpose() const { return purpose_; }
    /// The end at which the source is.
    [[nodiscard]] Direction direction() const { return direction_; }
    void turnRound();

    /// Fibre by fibre, from the chosen one, all that lack a good reading in this direction; where none lacks one, the chosen one again.
    void readCable();
    /// Once at each wavelength, of what is plugged in now.
    void readOnce(Purpose purpose, LightGear gear);
    /// Patch cords one after the other, each connector that is at the reference cord in turn, until it is stopped or all are read.
    void readCords(std::vector<CordEnd> cords);
    void stop();
    void skip();
    void sourceIsSet();
    /// A tone on the source by which a fibre is found at the other end, or continuous light again.
    Result<void> toggleTone();
    [[nodiscard]] bool toneOn() const { return tone_; }
    void say(const QString& command);
    /// What is to be done by hand now, in a sentence.
    [[nodiscard]] QString prompt() const;

signals:
    void changed();
    void answered(const QString& answer);
    void logKept();

private:
    void begin(Purpose purpose, const std::vector<std::string>& links, const CablePlan& cable);
    void take(const BenchReading& reading);
    void fileAndTell(Filing filing, const std::string& of);
    [[nodiscard]] QString nameOf(const std::string& wanted) const;
    [[nodiscard]] QString moveWords(const std::string& wanted) const;

    WindowFrame& frame_;
    std::unique_ptr<LightBench> bench_;
    Result<void> ready();
    Result<QString> driverIn(const QString& path);
    void keep(const QString& log);

    QString meter_, source_, meterDriver_, sourceDriver_;
    std::vector<CordEnd> cords_;  ///< of a run of patch cords
    BenchShown shown_;
    bool running_ = false, tone_ = false;
    Purpose purpose_ = Purpose::Readings;
    Direction direction_ = Direction::AtoB;
    LightGear gear_;
    std::size_t left_ = 0;  ///< readings of the run that did not come yet
};

}  // namespace clendo
