#pragma once
#include <QByteArray>
#include <QObject>
#include <QString>
#include <memory>

namespace clendo {

/// Bytes to and from an instrument. Opens when told, and says when it was closed from outside; nobody else opens it again.
class Line : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    [[nodiscard]] virtual QString place() const = 0;  ///< for people
    virtual void open() = 0;
    virtual void close() = 0;
    virtual void write(const QByteArray& bytes) = 0;

signals:
    void opened();
    void received(const QByteArray& bytes);
    /// Could not be opened, or was cut; a sentence.
    void closed(const QString& sentence);
};

/// A line by its place: "127.0.0.1:5025" or "tcp:host:port" over the network, "serial:/dev/ttyUSB0" or "/dev/ttyUSB0" on a serial line (8 data bits,
/// no parity, one stop bit). Null: it is none.
std::unique_ptr<Line> makeLine(const QString& place, int baud);

}  // namespace clendo
