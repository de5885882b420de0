#pragma once
#include <QFrame>
#include <QLabel>
#include <QListWidget>

#include "record/round.h"

namespace clendo {

/// What is left, in walking order: the next step as a card, the rest as a list under the places.
class RoundView : public QFrame {
    Q_OBJECT
public:
    explicit RoundView(QWidget* parent = nullptr);
    void show(const Round& round, const JobState& state, const QString& chosenLink);

signals:
    void stepChosen(const Step& step);

private:
    QLabel* progress_;
    QLabel* card_;
    QListWidget* list_;
    std::vector<Step> steps_;
};

}  // namespace clendo
