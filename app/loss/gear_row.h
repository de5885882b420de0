#pragma once
#include <QComboBox>
#include <QLabel>
#include <QWidget>
#include <optional>
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// Source, meter and cords in hand, of those that the kit has, by their names.
class GearRow : public QWidget {
    Q_OBJECT
public:
    explicit GearRow(QWidget* parent);
    void offer(const JobState& state);
    [[nodiscard]] std::vector<std::string> names() const;
    /// Empty: not said.
    [[nodiscard]] std::string meter() const;
    /// Of the source's cord, where it was said which end sits on the source.
    [[nodiscard]] std::optional<FaceId> freeEnd() const;
    /// Whose measured loss is taken off; empty: none.
    [[nodiscard]] std::string launchCord() const;

signals:
    void changed();

private:
    std::vector<std::pair<std::string, QComboBox*>> boxes_;  ///< by kind of the kit
    QLabel* takenOffLabel_;
    QComboBox* takenOff_;
};

}  // namespace clendo
