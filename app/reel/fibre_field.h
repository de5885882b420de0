#pragma once
#include <QWidget>
#include <optional>
#include <vector>

#include "record/rules/reels.h"

namespace clendo {

/// The fibres of a reel: which are asked for, which were tested, which are bad; below, what they lose against what was ordered.
class FibreField : public QWidget {
    Q_OBJECT
public:
    explicit FibreField(QWidget* parent = nullptr);
    void show(const ReelStanding& standing);
    using QWidget::show;

protected:
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    enum class Fibre { NotAsked, Asked, Good, Bad };
    struct Strip {
        int wavelength;
        std::vector<double> measured;  ///< dB/km
        std::optional<double> allowed, papers;
    };
    [[nodiscard]] int columns() const;
    [[nodiscard]] QRectF boxOf(int fibre) const;
    void paintStrip(QPainter& painter, const Strip& strip, double top) const;
    void fit();

    std::vector<Fibre> fibres_;
    std::vector<QString> says_;
    std::vector<Strip> strips_;
};

}  // namespace clendo
