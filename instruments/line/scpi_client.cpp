#include "instruments/line/scpi_client.h"

#include <algorithm>

namespace clendo {
namespace {

constexpr qsizetype longestLine = 65536, longestBlock = 64 << 20;
constexpr int openingMs = 5000, firstPauseMs = 500, longestPauseMs = 8000, quietMs = 60;
constexpr std::size_t mostWaiting = 200;
constexpr int logLines = 200, loggedLength = 200;

}  // namespace

ScpiClient::ScpiClient(std::unique_ptr<Line> line, QByteArray lineEnd, int timeoutMs, QObject* parent)
    : LineTalk(parent), line_(std::move(line)), lineEnd_(std::move(lineEnd))
{
    line_->setParent(nullptr);
    deadline_.setSingleShot(true);
    deadline_.setInterval(timeoutMs);
    again_.setSingleShot(true);
    pause_.setSingleShot(true);
    pause_.setInterval(quietMs);
    connect(line_.get(), &Line::opened, this, [this] {
        open_ = true;
        opening_.stop();
        first_ = false;
        tries_ = 0;
        received_.clear();
        emit opened();
        next();
    });
    connect(line_.get(), &Line::received, this, &ScpiClient::take);
    connect(line_.get(), &Line::closed, this, &ScpiClient::lost);
    opening_.setSingleShot(true);
    opening_.setInterval(openingMs);
    connect(&opening_, &QTimer::timeout, this, [this] { lost(tr("%1 cannot be reached.").arg(line_->place())); });
    connect(&deadline_, &QTimer::timeout, this, [this] {
        lost(tr("%1 did not answer “%2” in time.")
                 .arg(line_->place(), questions_.empty() ? QString() : QString::fromUtf8(questions_.front().command)));
    });
    connect(&again_, &QTimer::timeout, this, &ScpiClient::open);
    connect(&pause_, &QTimer::timeout, this, &ScpiClient::next);
}

ScpiClient::~ScpiClient()
{
    disconnect(line_.get(), nullptr, this, nullptr);
    line_->close();
}

void ScpiClient::start()
{
    if (line_->thread() != thread()) line_->moveToThread(thread());
    open();
}

void ScpiClient::open()
{
    opening_.start();
    line_->open();
}

void ScpiClient::tell(const QByteArray& command) { ask(command, {}); }

void ScpiClient::ask(const QByteArray& command, Then then)
{
    if ((!open_ && !first_) || questions_.size() >= mostWaiting) {
        if (then) then(failure(Error::Code::InstrumentGone, tr("%1 is not there. Look at its plug and power.").arg(line_->place()).toStdString()));
        return;
    }
    questions_.push_back({command, std::move(then)});
    if (!asked_) next();
}

void ScpiClient::next()
{
    if (asked_ || !open_ || pause_.isActive()) return;
    while (!questions_.empty()) {
        if (!received_.isEmpty()) {  // nobody asked for it: an answer given twice, or noise; the rest of it may still be on its way
            note(QStringLiteral("? %1").arg(QString::fromUtf8(received_.left(loggedLength))));
            received_.clear();
            pause_.start();
            return;
        }
        const QByteArray command = questions_.front().command;
        note(QStringLiteral("> %1").arg(QString::fromUtf8(command)));
        asked_ = bool(questions_.front().then);  // before it is said: an answer may be there at once
        if (asked_)
            deadline_.start();
        else
            questions_.pop_front();
        const bool waits = asked_;
        line_->write(command + lineEnd_);
        if (waits) return;
    }
}

std::pair<QByteArray, qsizetype> ScpiClient::answer() const
{
    if (received_.startsWith('#') && received_.size() > 1 && received_[1] >= '1' && received_[1] <= '9') {  // IEEE 488.2, 8.7.9
        const qsizetype digits = received_[1] - '0';
        if (received_.size() < 2 + digits) return {{}, 0};
        bool whole = false;
        const qsizetype length = received_.mid(2, digits).toLongLong(&whole);
        if (!whole || length > longestBlock) return {{}, -1};
        const qsizetype end = 2 + digits + length;
        if (received_.size() < end + 1) return {{}, 0};
        const qsizetype lineFeed = received_.indexOf('\n', end);
        constexpr qsizetype mostBehind = 2;
        if (lineFeed < 0 || lineFeed - end > mostBehind) return {{}, received_.size() - end > mostBehind ? -1 : 0};
        return {received_.mid(2 + digits, length), lineFeed + 1};
    }
    const char last = lineEnd_.isEmpty() ? '\n' : lineEnd_.back();
    const qsizetype end = received_.indexOf(last);
    if (end < 0) return {{}, received_.size() > longestLine ? -1 : 0};
    QByteArray line = received_.left(end);
    while (line.endsWith('\r') || line.endsWith('\n')) line.chop(1);
    return {line, end + 1};
}

void ScpiClient::take(const QByteArray& bytes)
{
    received_ += bytes;
    if (!asked_) {
        if (received_.size() > longestLine) received_.clear();
        if (pause_.isActive()) {
            received_.clear();
            pause_.start();
        }
        return;
    }
    const auto [text, taken] = answer();
    if (taken == 0) return;
    if (taken < 0) return lost(tr("%1 answered what cannot be an answer.").arg(line_->place()));
    received_.remove(0, taken);
    note(QStringLiteral("< %1").arg(QString::fromUtf8(text.left(loggedLength))));
    finish(text);
}

void ScpiClient::finish(const Result<QByteArray>& result)
{
    deadline_.stop();
    asked_ = false;
    const Question done = std::move(questions_.front());
    questions_.pop_front();
    if (done.then) done.then(result);
    next();
}

void ScpiClient::lost(const QString& sentence)
{
    const bool first = open_ || tries_ == 0;
    open_ = first_ = asked_ = false;
    opening_.stop();
    deadline_.stop();
    pause_.stop();
    received_.clear();
    line_->close();
    again_.start(std::min(longestPauseMs, firstPauseMs << std::min(tries_++, 4)));
    if (first) note(QStringLiteral("! %1").arg(sentence));
    auto waiting = std::move(questions_);
    questions_.clear();
    for (const auto& question : waiting)
        if (question.then) question.then(failure(Error::Code::InstrumentGone, sentence.toStdString()));
    if (first) emit gone(sentence);
}

void ScpiClient::note(const QString& line)
{
    log_ << line;
    while (log_.size() > logLines) log_.removeFirst();
}

}  // namespace clendo
