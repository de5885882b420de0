#pragma once
#include <QTimer>

#include "instruments/line_talk.h"
#include "instruments/video_source.h"

namespace clendo {

/// A microscope that gives its picture when it is asked over a line, one after the other.
class ScpiScope : public VideoSource {
    Q_OBJECT
public:
    ScpiScope(std::unique_ptr<LineTalk> talk, QString name, QObject* parent = nullptr);
    [[nodiscard]] QString name() const override { return name_; }
    void start() override;
    void stop() override;
    void turnFocus(double steps) override;
    /// One picture as it comes, sharp; its bytes.
    void takeStill(LineTalk::Then then);
    /// As after every move it is a little out of focus.
    void moved();

private:
    void next();

    std::unique_ptr<LineTalk> talk_;
    QString name_;
    QTimer pause_;
    double focus_ = 0;  ///< um from where it is sharp
    bool running_ = false, asked_ = false;
    int moves_ = 0;
};

}  // namespace clendo
