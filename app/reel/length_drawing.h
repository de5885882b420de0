#pragma once
#include <QWidget>
#include <optional>
#include <vector>

#include "reel/reel_length.h"

namespace clendo {

/// The reel's length as it was ordered, by its marks, by light and both together, each as far as it is certain, on one axis.
class LengthDrawing : public QWidget {
    Q_OBJECT
public:
    explicit LengthDrawing(QWidget* parent = nullptr);
    void show(const reel::ReelLength& length, std::optional<double> pricePerMetre);
    using QWidget::show;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Row {
        QString name, figure;
        double at, half;  ///< m; half of what it leaves open, twice the standard uncertainty
        bool best;
    };
    std::vector<Row> rows_;
    std::optional<double> ordered_;
    QString verdict_;
    bool shorter_ = false;
};

}  // namespace clendo
