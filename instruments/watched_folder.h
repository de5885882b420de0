#pragma once
#include <QFileSystemWatcher>
#include <QHash>
#include <QObject>
#include <QSet>
#include <QTimer>

namespace clendo {

/// A folder into which a scope saves pictures. Tells each new file once, when it has stopped growing; what lay there before
/// watching began is not told. A folder that goes away is waited for.
class WatchedFolder : public QObject {
    Q_OBJECT
public:
    explicit WatchedFolder(QObject* parent = nullptr);
    void watch(const QString& folder);
    [[nodiscard]] QString folder() const { return folder_; }

signals:
    void arrived(const QString& path);

private:
    void lookAround();

    QString folder_;
    QFileSystemWatcher watcher_;
    QTimer settle_;
    QSet<QString> told_;
    QHash<QString, qint64> growing_;
};

}  // namespace clendo
