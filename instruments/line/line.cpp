#include "instruments/line/line.h"

#include <QSerialPort>
#include <QTcpSocket>

namespace clendo {
namespace {

class TcpLine : public Line {
public:
    TcpLine(QString host, quint16 port) : host_(std::move(host)), port_(port)
    {
        connect(&socket_, &QTcpSocket::connected, this, [this] {
            socket_.setSocketOption(QAbstractSocket::LowDelayOption, 1);
            emit opened();
        });
        connect(&socket_, &QTcpSocket::readyRead, this, [this] { emit received(socket_.readAll()); });
        connect(&socket_, &QTcpSocket::disconnected, this, [this] { told(tr("The line to %1 was cut.").arg(TcpLine::place())); });
        connect(&socket_, &QTcpSocket::errorOccurred, this,
                [this] { told(tr("%1 does not answer (%2).").arg(TcpLine::place(), socket_.errorString())); });
    }
    [[nodiscard]] QString place() const override { return QStringLiteral("%1:%2").arg(host_).arg(port_); }
    void open() override
    {
        quiet_ = false;
        socket_.abort();
        socket_.connectToHost(host_, port_);
    }
    void close() override
    {
        quiet_ = true;
        socket_.abort();
    }
    void write(const QByteArray& bytes) override { socket_.write(bytes); }

private:
    /// Once for each time it was opened.
    void told(const QString& sentence)
    {
        if (!std::exchange(quiet_, true)) emit closed(sentence);
    }
    QTcpSocket socket_{this};  // goes to the thread of its line
    QString host_;
    quint16 port_;
    bool quiet_ = true;
};

class SerialLine : public Line {
public:
    SerialLine(const QString& name, int baud)
    {
        port_.setPortName(name);
        port_.setBaudRate(baud);
        connect(&port_, &QSerialPort::readyRead, this, [this] { emit received(port_.readAll()); });
        connect(&port_, &QSerialPort::errorOccurred, this, [this](QSerialPort::SerialPortError error) {
            if (error == QSerialPort::NoError || !port_.isOpen()) return;
            if (error == QSerialPort::ResourceError || error == QSerialPort::ReadError || error == QSerialPort::WriteError) {
                port_.close();
                emit closed(tr("%1 was unplugged.").arg(port_.portName()));
            }
        });
    }
    [[nodiscard]] QString place() const override { return port_.portName(); }
    void open() override
    {
        port_.close();
        if (port_.open(QIODevice::ReadWrite)) {
            port_.clear();
            emit opened();
        } else {
            // two programs on one port, no right to it, or nothing there: the system says which
            emit closed(tr("%1 cannot be opened (%2).").arg(port_.portName(), port_.errorString()));
        }
    }
    void close() override { port_.close(); }
    void write(const QByteArray& bytes) override { port_.write(bytes); }

private:
    QSerialPort port_{this};
};

}  // namespace

std::unique_ptr<Line> makeLine(const QString& place, int baud)
{
    QString where = place.trimmed();
    if (where.startsWith(QLatin1String("serial:"))) return std::make_unique<SerialLine>(where.mid(7), baud);
    if (where.startsWith(QLatin1Char('/'))) return std::make_unique<SerialLine>(where, baud);
    if (where.startsWith(QLatin1String("tcp:"))) where = where.mid(4);
    const auto colon = where.lastIndexOf(QLatin1Char(':'));
    bool whole = false;
    const int port = where.mid(colon + 1).toInt(&whole);
    constexpr int lastPort = 65535;
    if (colon < 1 || !whole || port < 1 || port > lastPort) return nullptr;
    return std::make_unique<TcpLine>(where.left(colon), static_cast<quint16>(port));
}

}  // namespace clendo
