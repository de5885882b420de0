#pragma once
#include <QObject>
#include <memory>

#include "app/frame/window_frame.h"
#include "instruments/light_bench.h"
#include "power/loss.h"

namespace clendo {

/// What the instruments on the line are asked for, and what is filed of it: references, proofs, checks, and the readings of a cable fibre by fibre.
class LightRun : public QObject {
    Q_OBJECT
public:
    enum class Purpose { Readings, Reference, Proof, Check };

    explicit LightRun(WindowFrame& frame);
    /// Where the instruments are; empty: none. An Error where that is no place.
    Result<void> use(const QString& meter, const QString& source);
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
    void readOnce(Purpose purpose, std::vector<std::string> with, std::string launch);
    void stop();
    void skip();
    void sourceIsSet();
    void say(const QString& command);
    /// What is to be done by hand now, in a sentence.
    [[nodiscard]] QString prompt() const;

signals:
    void changed();
    void answered(const QString& answer);

private:
    void take(const BenchReading& reading);
    [[nodiscard]] QString fibreWords(const std::string& link) const;

    WindowFrame& frame_;
    std::unique_ptr<LightBench> bench_;
    QString meter_, source_;
    BenchShown shown_;
    bool running_ = false;
    Purpose purpose_ = Purpose::Readings;
    Direction direction_ = Direction::AtoB;
    std::vector<std::string> with_;
    std::string launch_;
    std::size_t left_ = 0;  ///< readings of the run that did not come yet
};

}  // namespace clendo
