// From a meter's answer on its line to the window painted with the reading that came of it.
#include <benchmark/benchmark.h>

#include <QTcpServer>
#include <QTcpSocket>
#include <QThread>
#include <atomic>
#include <mutex>

#include "app/frame/job_session.h"
#include "app/loss/loss_desk.h"
#include "tests/varrow_journal.h"
#include "tests/window_driver.h"

using namespace clendo;

namespace {

using Clock = std::chrono::steady_clock;

/// A meter in a thread of its own that knows when it gave each level since its light came back.
class TimedMeter {
public:
    TimedMeter()
    {
        server_.moveToThread(&thread_);
        QObject::connect(&server_, &QTcpServer::newConnection, &server_, [this] {
            QTcpSocket* socket = server_.nextPendingConnection();
            QObject::connect(socket, &QTcpSocket::readyRead, socket, [this, socket] {
                while (socket->canReadLine()) answer(*socket, socket->readLine().trimmed());
            });
        });
        thread_.start();
        QMetaObject::invokeMethod(
            &server_, [this] { server_.listen(QHostAddress::LocalHost); }, Qt::BlockingQueuedConnection);
    }
    ~TimedMeter()
    {
        QMetaObject::invokeMethod(&server_, &QTcpServer::close, Qt::BlockingQueuedConnection);
        thread_.quit();
        thread_.wait();
    }
    [[nodiscard]] QString place() const { return QStringLiteral("127.0.0.1:%1").arg(server_.serverPort()); }
    void dark() { level_ = 0; }
    void light(double dBm)
    {
        const std::lock_guard lock(mutex_);
        given_.clear();
        level_ = dBm;
    }
    /// When the answer was given that was the last of so many levels.
    [[nodiscard]] Clock::time_point gave(int samples)
    {
        const std::lock_guard lock(mutex_);
        return given_.at(static_cast<std::size_t>(samples - 1));
    }

private:
    void answer(QTcpSocket& socket, const QByteArray& asked)
    {
        if (asked.startsWith("SENS:POW:WAV ")) nm_ = asked.mid(asked.indexOf(' ') + 1).toDouble();
        if (!asked.endsWith('?')) return;
        const std::lock_guard lock(mutex_);
        const double level = level_;
        QByteArray out = "0";
        if (asked == "*IDN?") out = "Example,Timed meter,1,1";
        if (asked == "SENS:POW:WAV?") out = QByteArray::number(nm_);
        if (asked == "READ:POW?") {
            out = level < 0 ? QByteArray::number(level) : QByteArray("-9.9E37");
            if (level < 0) given_.push_back(Clock::now());
        }
        socket.write(out + "\n");
        socket.flush();
    }

    QThread thread_;
    QTcpServer server_;
    std::mutex mutex_;
    std::vector<Clock::time_point> given_;
    std::atomic<double> level_{0};
    double nm_ = 1310;
};

void AnswerIsOnTheScreen(benchmark::State& state)
{
    const QTemporaryDir folder;
    TimedMeter meter;
    MainWindow window;
    window.resize(1280, 800);
    if (!created(window, folder.filePath(QStringLiteral("light.clendo")), QStringLiteral("Varrow Point"))) return state.SkipWithError("no job");
    JobSession& session = *window.session();
    constexpr int fibres = 288;
    if (!filed(session, CablePlanned{varrowCable(fibres)}) ||
        !filed(session, ReferenceSet{ReferenceMethod::OneCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)}))
        return state.SkipWithError("not filed");
    window.choose({"VP-04/1", End::A, Side::Port});
    window.showDesk(QStringLiteral("loss"));
    window.show();
    LightRun& run = window.deskOf<LossDesk>().run();
    if (!run.use(meter.place(), {})) return state.SkipWithError("no meter");
    QImage picture(window.size(), QImage::Format_RGB32);
    std::optional<Clock::time_point> painted;
    std::size_t filedBefore = 0;
    const auto readings = [&] { return session.state().state("VP-04/1").readings.size(); };
    // asked for after the views have followed: what is painted has the reading
    QObject::connect(&session, &JobSession::changed, &window, [&] {
        if (readings() == filedBefore) return;
        window.render(&picture);
        if (!painted) painted = Clock::now();
    });
    int n = 0;
    for (auto _ : state) {
        filedBefore = readings();
        painted.reset();
        meter.dark();
        window.choose({"VP-04/1", End::A, Side::Port});
        run.readCable();
        run.sourceIsSet();
        if (!QTest::qWaitFor([&] { return run.shown().state == AcquisitionState::NoLight; }, 10000)) return state.SkipWithError("it stays light");
        meter.light(-8.4 - 0.01 * (++n % 20));
        if (!QTest::qWaitFor([&] { return painted.has_value(); }, 10000)) return state.SkipWithError("no reading came");
        const auto& acquired = session.state().state("VP-04/1").readings.back().what.acquired;
        const std::chrono::duration<double> took = *painted - meter.gave(acquired->samples);
        state.SetIterationTime(took.count());
        run.stop();
    }
}
BENCHMARK(AnswerIsOnTheScreen)->Unit(benchmark::kMillisecond)->UseManualTime()->Iterations(20);

}  // namespace
