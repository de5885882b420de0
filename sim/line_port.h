#pragma once
#include <QTcpServer>
#include <QTcpSocket>
#include <functional>
#include <map>
#include <string>

namespace clendo::sim {

/// A port on this computer alone that takes lines and answers lines, to any number of clients; each gets its answers in order.
class LinePort : public QObject {
    Q_OBJECT
public:
    /// What goes back, its line end included, and how many milliseconds from now; `cut`: the line is closed instead. Nothing goes back where it is
    /// empty.
    struct Answer {
        std::string bytes;
        double afterMs = 0;
        bool cut = false;
    };
    using Take = std::function<Answer(const std::string& line)>;
    /// `overrun` is called where a line is longer than any.
    LinePort(Take take, std::function<void()> overrun, QObject* parent = nullptr);
    /// False: no port could be had.
    bool listen();
    [[nodiscard]] int number() const { return server_.serverPort(); }

private:
    void greet();
    void read(QTcpSocket* socket);
    void next(QTcpSocket* socket);

    struct Client {
        QByteArray unread;
        bool waiting = false, overrun = false;
    };
    Take take_;
    std::function<void()> overrun_;
    std::map<QTcpSocket*, Client> clients_;
    QTcpServer server_;  ///< the last: the sockets go with it, and say so
};

}  // namespace clendo::sim
