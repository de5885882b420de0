#pragma once
#include <QImage>
#include <QWidget>

#include "record/state/state.h"

namespace clendo {

/// A picture of a face with its findings outlined: corner marks, sizes beside them, zone circles. Frozen: it is a filed look.
class FacePicture : public QWidget {
    Q_OBJECT
public:
    explicit FacePicture(QWidget* parent = nullptr);
    /// `image` may be null: then `words` stand in its place.
    void show(const QImage& image, const Try* look, const std::optional<ConnectorCriteria>& criteria, const QString& words);
    /// What a live picture says of itself: it must never be taken for a filed look.
    struct Live {
        QString advice;
        double focus = 0, sharpest = 0;  ///< of this frame and of the last second; 0 blurred .. 1 sharp
        bool silent = false;             ///< no frames come: what is shown is old
    };
    void setLive(const std::optional<Live>& live);
    [[nodiscard]] QSize sizeHint() const override;

    /// A face's state in the corner, as the ribbon paints it.
    void setMark(FaceCondition condition) { mark_ = condition; }

signals:
    void clicked();
    void dropped(const QString& path);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    void paintPicture(QPainter& painter);
    void paintLive(QPainter& painter) const;
    void paintFindings(QPainter& painter, const QTransform& toScreen) const;

    QImage image_;
    std::optional<Try> look_;
    std::optional<ConnectorCriteria> criteria_;
    QString words_;
    std::optional<Live> live_;
    std::optional<FaceCondition> mark_;
};

}  // namespace clendo
