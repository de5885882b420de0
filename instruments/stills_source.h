#pragma once
#include "instruments/video_source.h"
#include "instruments/watched_folder.h"

namespace clendo {

/// Stills that a scope keeps saving into a folder, as a live picture.
class StillsSource : public VideoSource {
    Q_OBJECT
public:
    explicit StillsSource(QString folder, QObject* parent = nullptr);
    [[nodiscard]] QString name() const override { return folder_; }
    void start() override;
    void stop() override;

private:
    void read(const QString& path);

    QString folder_;
    std::unique_ptr<WatchedFolder> watched_;
};

}  // namespace clendo
