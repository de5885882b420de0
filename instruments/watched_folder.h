#pragma once
#include <QFileSystemWatcher>
#include <QHash>
#include <QObject>
#include <QTimer>

namespace clendo {

/// A folder into which a scope saves pictures. Tells each file when it has stopped growing, and again each time it was written anew: some scopes
/// always save under the same name. What lay there before watching began is not told. A folder that goes away is waited for.
class WatchedFolder : public QObject {
    Q_OBJECT
public:
    explicit WatchedFolder(QObject* parent = nullptr);
    void watch(const QString& folder);
    [[nodiscard]] QString folder() const { return folder_; }

signals:
    void arrived(const QString& path);

private:
    /// How a file was when it was looked at: what is written anew is another one.
    struct Stamp {
        qint64 size = -1, writtenMs = 0;
        bool operator==(const Stamp&) const = default;
    };
    void lookAround();
    void lookAtTold();

    QString folder_;
    QFileSystemWatcher watcher_;
    QTimer settle_, again_;
    QHash<QString, Stamp> told_, growing_;
    QStringList newest_;  ///< told last: those are asked whether they were written anew
};

}  // namespace clendo
