#pragma once
#include <QWidget>
#include <memory>
#include <vector>

#include "record/advice/round.h"

namespace clendo {

/// The plan at a glance, place by place: every port as two half-discs, its cord above and what lies behind the adapter below, and how far the work
/// with light is. What is out of sight costs nothing.
class RoundStrips : public QWidget {
    Q_OBJECT
public:
    explicit RoundStrips(QWidget* parent = nullptr);
    void show(std::shared_ptr<const JobState> state, RoundTally tally, const FaceId& chosen);
    /// Where the chosen port is drawn; nothing: it is not in this round.
    [[nodiscard]] QRect chosenPort() const;

    [[nodiscard]] QSize sizeHint() const override;

signals:
    void faceChosen(const clendo::FaceId& face);
    /// A kind of work with light.
    void kindChosen(clendo::StepKind kind);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    bool event(QEvent*) override;
    void changeEvent(QEvent*) override;

private:
    enum class RowKind { Place, Strip, Ports, Light };
    struct Row {
        RowKind kind = RowKind::Place;
        int y = 0, height = 0;
        std::size_t item = 0;  ///< of the tally: a strip or a kind of light
        int first = 0;         ///< of ports: the first fibre
    };
    void layOut();
    [[nodiscard]] const Strip& stripOf(const Row& row) const;
    [[nodiscard]] const CablePlan& cableOf(const Row& row) const;
    [[nodiscard]] QRect portAt(const Row& row, int n) const;
    [[nodiscard]] std::optional<FaceId> faceAt(QPoint at) const;
    [[nodiscard]] const Row* rowAt(int y) const;
    void paintHead(QPainter& p, const Row& row) const;
    void paintPorts(QPainter& p, const Row& row, const QRect& marked) const;
    void paintLight(QPainter& p, const Row& row) const;

    std::shared_ptr<const JobState> state_;
    RoundTally tally_;
    FaceId chosen_;
    std::vector<Row> rows_;
    int height_ = 0;
};

}  // namespace clendo
