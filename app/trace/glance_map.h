#pragma once
#include <QImage>
#include <QWidget>
#include <algorithm>
#include <optional>
#include <vector>

#include "app/trace/trace_drawing.h"
#include "otdr/level_rows.h"

namespace clendo {

/// Fibres of a cable beneath each other: what each one lost that most others did not, by colour along the line. A wheel or a drag moves along the
/// line; a click wants a fibre.
class GlanceMap : public QWidget {
    Q_OBJECT
public:
    struct Row {
        QString name;                         ///< "7"
        const otdr::LevelRow* levels;         ///< null: not shot, or not read yet
        bool chosen = false, begins = false;  ///< begins: of a tube
    };
    struct Joint {
        double at;
        QString name;
    };
    explicit GlanceMap(QWidget* parent = nullptr);
    void show(std::vector<Row> rows, std::vector<Joint> joints, SeenRange whole);
    void zoomBy(double factor);
    void panBy(double share);
    void showWhole();
    [[nodiscard]] SeenRange seen() const { return seen_.value_or(whole_); }
    /// How many rows there are levels of.
    [[nodiscard]] std::ptrdiff_t compared() const
    {
        return std::count_if(rows_.begin(), rows_.end(), [](const Row& row) { return row.levels != nullptr; });
    }
    /// The difference of the rows over all of the line, of so many columns.
    [[nodiscard]] std::vector<float> map(SeenRange range, std::size_t columns) const;
    /// Where the rows are painted.
    [[nodiscard]] QRectF field() const;
    [[nodiscard]] QSize sizeHint() const override;

signals:
    void wanted(int row);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    bool event(QEvent*) override;

private:
    void see(double from, double to);
    [[nodiscard]] std::optional<std::size_t> rowAt(QPointF at) const;
    [[nodiscard]] double placeOf(double x) const;
    void paintRows(QPainter& p);
    void paintScale(QPainter& p) const;
    void paintLegend(QPainter& p) const;

    std::vector<Row> rows_;
    std::vector<Joint> joints_;
    SeenRange whole_{0, 1};
    std::optional<SeenRange> seen_;
    std::optional<QPointF> pressed_;
    bool dragged_ = false;
};

}  // namespace clendo
