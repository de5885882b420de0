#pragma once
#include <QWidget>

#include "record/output/contact_picture.h"

namespace clendo {

/// A contact picture, painted: time to the right, a line for each face, a bar where two touched. What may have gone over is thick and has a tip.
/// Up and down choose a face.
class ContactGraph : public QWidget {
    Q_OBJECT
public:
    explicit ContactGraph(QWidget* parent = nullptr);
    void show(ContactPicture picture, const FaceId& chosen);
    [[nodiscard]] FaceId chosen() const;
    [[nodiscard]] QSize sizeHint() const override;

signals:
    void wanted();

protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;

private:
    [[nodiscard]] double laneY(std::size_t lane) const;
    void choose(std::size_t lane);

    ContactPicture picture_;
    std::size_t chosen_ = 0;
};

}  // namespace clendo
