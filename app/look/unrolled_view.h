#pragma once
#include <QImage>
#include <QWidget>

#include "face/judge/compare_looks.h"
#include "record/state/state.h"

namespace clendo {

/// The face laid out flat: angle across, distance from the centre down, zones as bands. Zone and size of a finding can be read off; the look before,
/// turned to lie over it, stands below, with what became of each finding.
class UnrolledView : public QWidget {
    Q_OBJECT
public:
    explicit UnrolledView(QWidget* parent = nullptr);
    /// `before` may be null. The images may still be on their way: null ones leave their strip empty.
    void show(const QImage& image, const Look& look, const QImage& imageBefore, const Look* before, const std::optional<FaceClass>& faceClass);
    [[nodiscard]] const face::LookComparison& comparison() const { return comparison_; }
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Strip {
        QImage image;  ///< unrolled
        Look look;
        double turn = 0;
    };
    void paintStrip(QPainter& painter, const Strip& strip, const QRectF& box, bool later) const;

    std::vector<Strip> strips_;
    face::LookComparison comparison_;
    std::optional<FaceClass> faceClass_;
};

}  // namespace clendo
