#pragma once
#include <QComboBox>
#include <QLabel>
#include <QWidget>
#include <optional>
#include <string>
#include <vector>

#include "app/widgets/cord_box.h"

namespace clendo {

/// Source, meter and cords in hand, of those that the kit has, by their names.
class GearRow : public QWidget {
    Q_OBJECT
public:
    explicit GearRow(QWidget* parent);
    void offer(const JobState& state);
    /// What a reference is set with: source, meter and the source's cord.
    [[nodiscard]] std::vector<std::string> names() const;
    /// Empty: not said.
    [[nodiscard]] std::string meter() const;
    /// Of the source's cord, where it was said which end sits on the source.
    [[nodiscard]] std::optional<FaceId> freeEnd() const { return cord_->freeEnd(); }
    /// Of the meter's cord, where there is one and it was said which end sits on the meter.
    [[nodiscard]] std::optional<FaceId> receiveEnd() const { return receive_->freeEnd(); }
    /// Whose measured loss is taken off; empty: none.
    [[nodiscard]] std::string launchCord() const;

signals:
    void changed();

private:
    QComboBox *source_, *meter_;
    CordBox *cord_, *receive_;
    QLabel* takenOffLabel_;
    QComboBox* takenOff_;
};

}  // namespace clendo
