#pragma once
#include <QImage>
#include <QWidget>

#include "record/state.h"

namespace clendo {

/// A picture of a face with its findings outlined: corner marks, sizes beside them, zone circles. Frozen: it is a filed look.
class FacePicture : public QWidget {
    Q_OBJECT
public:
    explicit FacePicture(QWidget* parent = nullptr);
    /// `image` may be null: then `words` stand in its place.
    void show(const QImage& image, const Try* look, const std::optional<ConnectorCriteria>& criteria, const QString& words);
    [[nodiscard]] QSize sizeHint() const override;

signals:
    void dropped(const QString& path);

protected:
    void paintEvent(QPaintEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    void paintFindings(QPainter& painter, const QTransform& toScreen) const;

    QImage image_;
    std::optional<Try> look_;
    std::optional<ConnectorCriteria> criteria_;
    QString words_;
};

}  // namespace clendo
