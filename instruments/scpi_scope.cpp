#include "instruments/scpi_scope.h"

#include <QFutureWatcher>
#include <QtConcurrentRun>
#include <algorithm>

#include "pictures/decode.h"
#include "result/guarded.h"

namespace clendo {
namespace {

constexpr int pauseMs = 50, patienceMs = 1000;
constexpr double wheelReach = 25, afterMove = 6;  // um

QByteArray focusCommand(double um) { return QByteArrayLiteral("FOC ") + QByteArray::number(um, 'f', 1); }

}  // namespace

ScpiScope::ScpiScope(std::unique_ptr<LineTalk> talk, QString name, QObject* parent)
    : VideoSource(parent), talk_(std::move(talk)), name_(std::move(name))
{
    pause_.setSingleShot(true);
    connect(&pause_, &QTimer::timeout, this, &ScpiScope::next);
    connect(talk_.get(), &LineTalk::gone, this, &VideoSource::trouble);
    connect(talk_.get(), &LineTalk::opened, this, &ScpiScope::next);
    talk_->start();
}

void ScpiScope::start()
{
    running_ = true;
    talk_->tell(focusCommand(focus_));
    next();
}

void ScpiScope::stop() { running_ = false; }

void ScpiScope::turnFocus(double steps)
{
    focus_ = std::clamp(focus_ + steps, -wheelReach, wheelReach);
    talk_->tell(focusCommand(focus_));
}

void ScpiScope::moved()
{
    focus_ = ++moves_ % 2 == 0 ? afterMove : -afterMove;
    talk_->tell(focusCommand(focus_));
}

void ScpiScope::takeStill(LineTalk::Then then)
{
    talk_->tell(focusCommand(0));
    talk_->ask(QByteArrayLiteral("DISP:DATA?"), std::move(then));
    talk_->tell(focusCommand(focus_));
}

void ScpiScope::next()
{
    if (!running_ || asked_) return;
    asked_ = true;
    talk_->ask(QByteArrayLiteral("DISP:DATA?"), [this](const Result<QByteArray>& answer) {
        if (!answer) {
            asked_ = false;
            pause_.start(patienceMs);
            return;
        }
        auto* decoding = new QFutureWatcher<Frame>(this);
        connect(decoding, &QFutureWatcher<Frame>::finished, this, [this, decoding] {
            decoding->deleteLater();
            asked_ = false;
            if (!running_) return;
            if (const Frame decoded = decoding->result()) emit frame(decoded);
            pause_.start(pauseMs);
        });
        decoding->setFuture(QtConcurrent::run([bytes = answer->toStdString()]() -> Frame {
            const auto picture = guarded([&] { return decodePicture(bytes, "the scope's picture"); });
            return picture ? std::make_shared<const face::Picture>(*picture) : nullptr;
        }));
    });
}

}  // namespace clendo
