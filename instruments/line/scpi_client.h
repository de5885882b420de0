#pragma once
#include <QStringList>
#include <QTimer>
#include <deque>
#include <functional>
#include <memory>

#include "instruments/line/line.h"
#include "instruments/line_talk.h"

namespace clendo {

/// Questions and answers over one line, one after the other. An answer has one deadline for all of it and a largest length; what comes unasked is
/// dropped. After a question that was not answered in time the line is opened anew, so that no late answer is taken for another one; a line that is
/// gone is tried again, after half a second, a second ... up to eight.
class ScpiClient : public LineTalk {
    Q_OBJECT
public:
    ScpiClient(std::unique_ptr<Line> line, QByteArray lineEnd, int timeoutMs, QObject* parent = nullptr);
    ~ScpiClient() override;

    void start() override;
    void tell(const QByteArray& command) override;
    void ask(const QByteArray& command, Then then) override;
    [[nodiscard]] bool isOpen() const { return open_; }
    /// What was said last, "> " and "< " before it; the oldest first.
    [[nodiscard]] const QStringList& log() const { return log_; }

private:
    struct Question {
        QByteArray command;
        Then then;  ///< empty: no answer
    };
    void open();
    void next();
    void take(const QByteArray& bytes);
    /// The answer in what was received, and how many bytes it took; 0: it is not whole yet. -1: it can be none.
    [[nodiscard]] std::pair<QByteArray, qsizetype> answer() const;
    void finish(const Result<QByteArray>& result);
    void lost(const QString& sentence);
    void note(const QString& line);

    std::unique_ptr<Line> line_;
    QByteArray lineEnd_, received_;
    std::deque<Question> questions_;
    bool asked_ = false, open_ = false;
    bool first_ = true;  ///< it is opened for the first time: what is asked meanwhile waits
    int tries_ = 0;
    QTimer opening_{this}, deadline_{this}, again_{this}, pause_{this};
    QStringList log_;
};

}  // namespace clendo
