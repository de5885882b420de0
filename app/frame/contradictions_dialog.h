#pragma once
#include <QDialog>
#include <vector>

#include "record/facts/facts.h"
#include "record/journal/unite.h"

class QButtonGroup;

namespace clendo {

/// What two journals say of the same thing and cannot both hold, side by side; which of them holds is settled by a new fact, or left open.
class ContradictionsDialog : public QDialog {
    Q_OBJECT
public:
    /// `entries`: the united journal, of which `state` is the fold.
    ContradictionsDialog(const std::vector<Contradiction>& found, std::span<const Entry> entries, const JobState& state, QWidget* parent);
    /// The facts that settle what was chosen: what one side said, said once more.
    [[nodiscard]] std::vector<Fact> settled() const;

private:
    struct Choice {
        QButtonGroup* group;
        std::vector<Fact> facts;  ///< by id of the button, from 0
    };
    std::vector<Choice> choices_;
};

}  // namespace clendo
