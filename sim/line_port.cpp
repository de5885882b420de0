#include "sim/line_port.h"

#include <QHostAddress>
#include <QTimer>
#include <cmath>
#include <utility>

namespace clendo::sim {
namespace {

constexpr int longestLine = 65536;
constexpr int mostUnread = 1 << 20;

}  // namespace

LinePort::LinePort(Take take, std::function<void()> overrun, QObject* parent) : QObject(parent), take_(std::move(take)), overrun_(std::move(overrun))
{
    connect(&server_, &QTcpServer::newConnection, this, &LinePort::greet);
}

bool LinePort::listen() { return server_.listen(QHostAddress::LocalHost, 0); }

void LinePort::greet()
{
    while (QTcpSocket* socket = server_.nextPendingConnection()) {
        clients_[socket];
        socket->setSocketOption(QAbstractSocket::LowDelayOption, 1);
        socket->setReadBufferSize(mostUnread);
        connect(socket, &QTcpSocket::readyRead, this, [this, socket] { read(socket); });
        connect(socket, &QTcpSocket::disconnected, this, [this, socket] {
            clients_.erase(socket);
            socket->deleteLater();
        });
    }
}

void LinePort::read(QTcpSocket* socket)
{
    const auto client = clients_.find(socket);
    if (client == clients_.end()) return;
    client->second.unread += socket->readAll();
    next(socket);
}

/// Answers what has come, line by line; the next one when the last answer has gone.
void LinePort::next(QTcpSocket* socket)
{
    while (true) {
        const auto at = clients_.find(socket);
        if (at == clients_.end() || at->second.waiting) return;
        Client& client = at->second;
        const auto end = client.unread.indexOf('\n');
        if (end < 0) {
            if (client.unread.size() <= longestLine) return;
            if (!std::exchange(client.overrun, true)) overrun_();
            client.unread.clear();
            return;
        }
        QByteArray line = client.unread.left(end);
        client.unread.remove(0, end + 1);
        if (line.endsWith('\r')) line.chop(1);
        if (std::exchange(client.overrun, false)) continue;  // the end of what was too long
        const Answer answer = take_(line.toStdString());
        if (answer.cut) return socket->abort();
        if (answer.afterMs <= 0) {
            socket->write(answer.bytes.data(), static_cast<qint64>(answer.bytes.size()));
            continue;
        }
        client.waiting = true;
        QTimer::singleShot(static_cast<int>(std::ceil(answer.afterMs)) + 1, Qt::PreciseTimer, socket, [this, socket, bytes = answer.bytes] {
            const auto later = clients_.find(socket);
            if (later == clients_.end()) return;
            later->second.waiting = false;
            socket->write(bytes.data(), static_cast<qint64>(bytes.size()));
            next(socket);
        });
    }
}

}  // namespace clendo::sim
