#pragma once
#include <QAbstractListModel>
#include <QFrame>
#include <QListView>

#include "app/widgets/text_block.h"
#include "record/advice/round.h"

namespace clendo {

/// The steps that are left, with a heading before the first one of each place. A row is put into words when it is painted, so a long round costs
/// no more than a short one.
class RoundModel : public QAbstractListModel {
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    void set(std::vector<Step> steps, const JobState& state, const std::string& chosenLink);
    /// The step of a row; none for a heading.
    [[nodiscard]] const Step* stepAt(const QModelIndex& index) const;
    /// The first row of the chosen link.
    [[nodiscard]] QModelIndex firstOfChosen() const;

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;

private:
    struct Row {
        std::size_t step;
        bool heading;
        FaceCondition condition;
    };
    std::vector<Step> steps_;
    std::vector<Row> rows_;
    std::string chosenLink_;
};

/// What is left, in walking order: the next step as a card, the rest as a list under the places.
class RoundView : public QFrame {
    Q_OBJECT
public:
    explicit RoundView(QWidget* parent = nullptr);
    /// `place`: of which alone the round is; empty: all.
    void show(const Round& round, const JobState& state, const QString& chosenLink, const QString& place);

signals:
    void stepChosen(const Step& step);

private:
    TextBlock* title_;
    TextBlock* progress_;
    TextBlock* card_;
    QListView* list_;
    RoundModel* model_;
};

}  // namespace clendo
