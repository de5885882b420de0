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
    void show(const QImage& image, const Look* look, const std::optional<FaceClass>& faceClass, const QString& words);
    /// What a live picture says of itself: it must never be taken for a filed look.
    struct Live {
        QString advice;
        double focus = 0, sharpest = 0;  ///< of this frame and of the last second; 0 blurred .. 1 sharp
        bool silent = false;             ///< no frames come: what is shown is old
    };
    void setLive(const std::optional<Live>& live);
    [[nodiscard]] QSize sizeHint() const override;

    /// Larger or smaller about its middle, and moved by dragging; the marks stay where they belong. Another look begins anew.
    void setZoomable() { zoomable_ = true; }
    void zoomBy(double factor);
    void fit();
    [[nodiscard]] double zoom() const { return zoom_; }
    /// Zones, outlines and sizes over the picture.
    void setOverlay(bool shown);
    [[nodiscard]] bool overlay() const { return overlay_; }

    /// A face's state in the corner, as the ribbon paints it.
    void setMark(FaceCondition condition) { mark_ = condition; }

signals:
    void clicked();
    void dropped(const QString& path);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    /// The part of the picture that is shown, pixels.
    [[nodiscard]] QRectF source() const;
    /// `at`, in the widget, stays where it is.
    void zoomAt(const QPointF& at, double factor);
    void paintPicture(QPainter& painter);
    void paintLive(QPainter& painter) const;
    void paintFindings(QPainter& painter, const QTransform& toScreen) const;

    QImage image_;
    std::optional<Look> look_;
    std::optional<FaceClass> faceClass_;
    QString words_;
    std::optional<Live> live_;
    std::optional<FaceCondition> mark_;
    bool zoomable_ = false, overlay_ = true;
    double zoom_ = 1;
    QPointF moved_;    ///< of the middle of what is shown, pixels of the picture
    QPointF dragged_;  ///< where the mouse was last
};

}  // namespace clendo
