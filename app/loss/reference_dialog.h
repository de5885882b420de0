#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLabel>

#include "power/reference_choice.h"
#include "record/state/state.h"

namespace clendo {

class PlugDrawing;

/// Three questions that lead to a reference: drawn, with what the loss will hold, why, and which faces to see first.
class ReferenceDialog : public QDialog {
    Q_OBJECT
public:
    /// `inHand`: source, meter and cords by their names in the kit.
    ReferenceDialog(const JobState& state, const std::vector<std::string>& inHand, QWidget* parent = nullptr);
    [[nodiscard]] ReferenceQuestions answers() const;

private:
    void answered();

    QComboBox *ends_, *meter_, *launch_;
    PlugDrawing* drawing_;
    QLabel* words_;
};

}  // namespace clendo
