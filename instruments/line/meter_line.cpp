#include "instruments/line/meter_line.h"

namespace clendo {
namespace {

/// "maker,model,serial,version" of IEEE 488.2, 10.14, as people say it; anything else as it is.
QString nameOf(const QByteArray& identity)
{
    const QStringList fields = QString::fromUtf8(identity).split(QLatin1Char(','));
    constexpr int longest = 80;
    return (fields.size() >= 3 ? QStringLiteral("%1 %2").arg(fields[1].trimmed(), fields[2].trimmed()) : QString::fromUtf8(identity)).left(longest);
}

QByteArray bytesOf(const std::optional<std::string>& command) { return QByteArray::fromStdString(command.value_or("")); }

}  // namespace

MeterLine::MeterLine(std::unique_ptr<Line> line, Driver driver, QObject* parent)
    : QObject(parent), driver_(std::move(driver)), client_(std::move(line), QByteArray::fromStdString(driver_.lineEnd), driver_.timeoutMs, this)
{
    clock_.start();
    timer_.setSingleShot(true);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &MeterLine::cycle);
    connect(&client_, &ScpiClient::opened, this, &MeterLine::greet);
    connect(&client_, &ScpiClient::gone, this, [this](const QString& sentence) {
        identity_.clear();
        trouble_ = sentence;
        timer_.stop();
    });
}

void MeterLine::greet()
{
    trouble_.clear();
    const auto ready = [this](const QByteArray& identity) {
        identity_ = identity.isEmpty() ? QString::fromStdString(driver_.name) : nameOf(identity);
        if (const auto unit = driver_.command("set_unit")) client_.tell(bytesOf(unit));
        if (wanted_) setWavelength(*wanted_);
        cycle();
    };
    if (driver_.identify.empty()) return ready({});
    client_.ask(QByteArray::fromStdString(driver_.identify), [this, ready](const Result<QByteArray>& answer) {
        if (!answer) return refused(answer.error());
        if (!matches(driver_, answer->toStdString())) trouble_ = tr("%1 is not what its driver describes.").arg(nameOf(*answer));
        ready(*answer);
    });
}

void MeterLine::setWavelength(Nanometre wavelength)
{
    wanted_ = wavelength;
    if (const auto command = driver_.command("set_wavelength", wavelength.value()); command && client_.isOpen()) client_.tell(bytesOf(command));
}

/// One reading, then what the meter says of itself: so the level has the wavelength that was set before and after it.
void MeterLine::cycle()
{
    began_ = clock_.elapsed();
    client_.ask(bytesOf(driver_.command("read")), [this](const Result<QByteArray>& answer) {
        if (!answer) return refused(answer.error());
        const auto read = readMeterAnswer(answer->toStdString(), driver_);
        PowerSample sample;
        constexpr qint64 microseconds = 1000;
        sample.at = clock_.nsecsElapsed() / microseconds;
        sample.kind = read.kind;
        sample.power = read.power;
        asked(sample);
    });
}

void MeterLine::asked(PowerSample sample)
{
    const auto tone = [this](PowerSample said) {
        const auto relative = [this](PowerSample last) {
            const auto ask = driver_.command("ask_relative");
            if (!ask) {
                emit sampled(last);
                return again();
            }
            client_.ask(bytesOf(ask), [this, last](const Result<QByteArray>& answer) mutable {
                if (!answer) return refused(answer.error());
                // a number of dB that looks like a level is none
                if (readNumberAnswer(answer->toStdString()).value_or(0) != 0) {
                    last.kind = PowerSample::Kind::Unclear;
                    trouble_ = tr("The meter is set to zero and shows dB. Switch it to dBm, or type what it shows as a loss.");
                } else {
                    trouble_.clear();
                }
                emit sampled(last);
                again();
            });
        };
        const auto ask = driver_.command("ask_tone");
        if (!ask) return relative(said);
        client_.ask(bytesOf(ask), [this, said, relative](const Result<QByteArray>& answer) mutable {
            if (!answer) return refused(answer.error());
            const auto hz = readNumberAnswer(answer->toStdString());
            said.tone = hz && *hz > 0;
            relative(said);
        });
    };
    const auto ask = driver_.command("ask_wavelength");
    if (!ask) {
        sample.wavelength = wanted_.value_or(Nanometre(0));  // set by hand, and nobody can ask
        return tone(sample);
    }
    client_.ask(bytesOf(ask), [this, sample, tone](const Result<QByteArray>& answer) mutable {
        if (!answer) return refused(answer.error());
        sample.wavelength = readWavelengthAnswer(answer->toStdString()).value_or(Nanometre(0));
        if (sample.wavelength == Nanometre(0)) sample.kind = PowerSample::Kind::Unclear;
        tone(sample);
    });
}

void MeterLine::again() { timer_.start(static_cast<int>(std::max<qint64>(1, driver_.everyMs - (clock_.elapsed() - began_)))); }

void MeterLine::refused(const Error& error) { trouble_ = QString::fromStdString(error.message); }

SourceLine::SourceLine(std::unique_ptr<Line> line, Driver driver, QObject* parent)
    : QObject(parent), driver_(std::move(driver)), client_(std::move(line), QByteArray::fromStdString(driver_.lineEnd), driver_.timeoutMs, this)
{
    timer_.setSingleShot(true);
    timer_.setInterval(driver_.everyMs);
    connect(&timer_, &QTimer::timeout, this, &SourceLine::look);
    connect(&client_, &ScpiClient::opened, this, &SourceLine::greet);
    connect(&client_, &ScpiClient::gone, this, [this](const QString& sentence) {
        identity_.clear();
        wavelength_.reset();
        trouble_ = sentence;
        timer_.stop();
        emit changed();
    });
}

void SourceLine::greet()
{
    trouble_.clear();
    client_.ask(QByteArray::fromStdString(driver_.identify.empty() ? std::string("*IDN?") : driver_.identify),
                [this](const Result<QByteArray>& answer) {
                    if (!answer) return;
                    identity_ = nameOf(*answer);
                    if (tone_ > 0)
                        setTone(tone_);
                    else if (wanted_)
                        setWavelength(*wanted_);
                    else
                        look();
                });
}

void SourceLine::setWavelength(Nanometre wavelength)
{
    wanted_ = wavelength;
    wavelength_.reset();
    tone_ = 0;
    if (client_.isOpen()) {
        for (const auto& command : {driver_.command("set_wavelength", wavelength.value()), driver_.command("continuous"), driver_.command("on")})
            if (command) client_.tell(bytesOf(command));
        look();
    }
    emit changed();
}

void SourceLine::setTone(double hertz)
{
    tone_ = hertz;
    if (!client_.isOpen()) return;
    for (const auto& command : {hertz > 0 ? driver_.command("tone", hertz) : driver_.command("continuous"), driver_.command("on")})
        if (command) client_.tell(bytesOf(command));
    look();
}

/// Asks what it is set to: a source that has not the wavelength, or is dark, is not ready.
void SourceLine::look()
{
    timer_.start();
    const auto ask = driver_.command("ask_wavelength");
    if (!ask) {
        wavelength_ = wanted_;
        emit changed();
        return;
    }
    client_.ask(bytesOf(ask), [this](const Result<QByteArray>& answer) {
        if (answer) settle(*answer);
    });
}

void SourceLine::settle(const QByteArray& answer)
{
    const auto has = readWavelengthAnswer(answer.toStdString());
    const auto finish = [this, has](bool on, bool tone) {
        const auto before = wavelength_;
        wavelength_ = on && !tone ? has : std::nullopt;
        trouble_ = !on                                  ? tr("The source is dark: switch it on.")
                   : tone                               ? tr("The source sends a tone: set it to continuous light.")
                   : wanted_ && has && *has != *wanted_ ? tr("The source has no %1 nm: it is at %2 nm.").arg(wanted_->value()).arg(has->value())
                                                        : QString();
        if (before != wavelength_ || !trouble_.isEmpty()) emit changed();
    };
    const auto askOn = driver_.command("ask_on");
    if (!askOn) return finish(true, false);
    client_.ask(bytesOf(askOn), [this, finish](const Result<QByteArray>& on) {
        if (!on) return;
        const bool lit = readNumberAnswer(on->toStdString()).value_or(0) != 0;
        const auto askTone = driver_.command("ask_tone");
        if (!askTone) return finish(lit, false);
        client_.ask(bytesOf(askTone), [finish, lit](const Result<QByteArray>& tone) {
            if (tone) finish(lit, readNumberAnswer(tone->toStdString()).value_or(0) != 0);
        });
    });
}

}  // namespace clendo
