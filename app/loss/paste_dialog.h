#pragma once
#include <QDialog>

#include "power/pasted_table.h"
#include "record/facts/facts.h"
#include "record/state/state.h"

class QComboBox;
class QLabel;
class QTableWidget;

namespace clendo {

/// A table out of a spreadsheet, with what each of its columns is taken for: shown and corrected before anything of it is filed.
class PasteDialog : public QDialog {
    Q_OBJECT
public:
    /// `usual`: the direction of what names none.
    PasteDialog(PastedTable table, const JobState& state, const CablePlan& cable, Direction usual, QWidget* parent);
    /// The readings of the cable's fibres as they would be filed.
    [[nodiscard]] std::vector<Fact> facts() const;

private:
    void build();
    void follow();

    PastedTable table_;
    const CablePlan cable_;
    std::vector<int> wavelengths_;
    Direction usual_;
    TakenTable taken_;
    std::vector<PastedColumn> choices_;  ///< of every column's box
    std::vector<QComboBox*> boxes_;
    QTableWidget* cells_;
    QLabel* summary_;
};

}  // namespace clendo
