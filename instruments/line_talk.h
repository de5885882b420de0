#pragma once
#include <QByteArray>
#include <QObject>
#include <functional>

#include "result/result.h"

namespace clendo {

/// Questions and answers with something on a line, in the thread in which it was made.
class LineTalk : public QObject {
    Q_OBJECT
public:
    using Then = std::function<void(const Result<QByteArray>&)>;
    using QObject::QObject;
    virtual void start() = 0;
    /// Nothing is waited for.
    virtual void tell(const QByteArray& command) = 0;
    /// The answer without its line end; of a block its bytes. An Error where none came, and for what was asked while the line was gone.
    virtual void ask(const QByteArray& command, Then then) = 0;

signals:
    void opened();
    /// A sentence; it is tried again.
    void gone(const QString& sentence);
};

}  // namespace clendo
