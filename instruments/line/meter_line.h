#pragma once
#include <QElapsedTimer>
#include <memory>

#include "acquisition/driver.h"
#include "instruments/line/scpi_client.h"

namespace clendo {

/// A power meter on its line: read again and again, each level with the wavelength and the kind of light that the meter names right after it.
class MeterLine : public QObject {
    Q_OBJECT
public:
    MeterLine(std::unique_ptr<Line> line, Driver driver, QObject* parent = nullptr);
    void start() { client_.start(); }
    /// Sets the meter, where it can be set; an operator does it where not.
    void setWavelength(Nanometre wavelength);
    [[nodiscard]] QString identity() const { return identity_; }
    [[nodiscard]] const QString& trouble() const { return trouble_; }
    [[nodiscard]] ScpiClient& client() { return client_; }
    [[nodiscard]] const Driver& driver() const { return driver_; }

signals:
    void sampled(const clendo::PowerSample& sample);

private:
    void greet();
    void cycle();
    void asked(PowerSample sample);
    void again();
    void refused(const Error& error);

    Driver driver_;
    ScpiClient client_;
    QTimer timer_{this};
    QElapsedTimer clock_;
    QString identity_, trouble_;
    std::optional<Nanometre> wanted_;
    qint64 began_ = 0;
};

/// A light source on its line: set to a wavelength, switched on, continuous, and asked whether it is.
class SourceLine : public QObject {
    Q_OBJECT
public:
    SourceLine(std::unique_ptr<Line> line, Driver driver, QObject* parent = nullptr);
    void start() { client_.start(); }
    void setWavelength(Nanometre wavelength);
    /// Light that comes and goes so often a second, by which a fibre is found; 0: continuous. Nothing happens where the driver knows no tone.
    void setTone(double hertz);
    [[nodiscard]] QString identity() const { return identity_; }
    [[nodiscard]] const QString& trouble() const { return trouble_; }
    /// That it has, as it says itself; nothing: it is not known, being set, or dark.
    [[nodiscard]] std::optional<Nanometre> wavelength() const { return wavelength_; }
    [[nodiscard]] ScpiClient& client() { return client_; }

signals:
    void changed();

private:
    void greet();
    void look();
    void settle(const QByteArray& answer);

    Driver driver_;
    ScpiClient client_;
    QTimer timer_{this};
    QString identity_, trouble_;
    std::optional<Nanometre> wanted_, wavelength_;
    double tone_ = 0;  ///< Hz; 0: continuous
};

}  // namespace clendo
