#pragma once
#include <QWidget>
#include <map>
#include <optional>
#include <set>

#include "power/polarity.h"

namespace clendo {

/// Where light came out of each fibre: those of a group side by side, at A above, at B below, a line from one to the other. A line that leaves its
/// row ends in the number where it goes; a fibre that was not tried has none.
class FibreMapView : public QWidget {
    Q_OBJECT
public:
    explicit FibreMapView(QWidget* parent = nullptr);
    /// `chosen`: the fibre in hand.
    void show(const PolarityMap& map, const PolarityReport& report, int chosen);
    [[nodiscard]] QSize minimumSizeHint() const override;
    /// Which fibre is drawn there; 0: none.
    [[nodiscard]] int fibreAt(const QPointF& place) const;

signals:
    void fibreChosen(int fibre);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

private:
    [[nodiscard]] int perRow() const;
    [[nodiscard]] int rows() const;
    [[nodiscard]] double rowHeight() const;
    [[nodiscard]] QPointF portAt(int fibre, bool atA) const;
    void paintRow(QPainter& p, int row) const;
    void paintWay(QPainter& p, int in, const std::optional<int>& out) const;

    PolarityMap map_;
    std::map<int, std::optional<int>> ways_;
    std::set<int> wrong_;    ///< inputs that are in a fault
    std::set<int> reached_;  ///< outputs at which light was seen
    int chosen_ = 0;
};

}  // namespace clendo
