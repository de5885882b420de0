#pragma once
#include <QDialog>

#include "power/link_budget.h"
#include "record/state/state.h"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QSpinBox;
class QTableWidget;

namespace clendo {

/// Before anything is built: what a link may lose, what it will lose as a rule, and what it carries; and what one more splice or connection would
/// change. Begins with the chosen cable; beside it stands what the chosen link carries as it was measured.
class BudgetDialog : public QDialog {
    Q_OBJECT
public:
    BudgetDialog(const JobState& state, const Link* link, QWidget* parent);

private:
    void follow();
    void showBudget(const Result<LinkBudget>& made);
    void refuse(const QString& why);

    TypicalLosses typical_;
    std::vector<Application> applications_;
    std::vector<ApplicationBudget> measured_;
    ReferenceMethod method_;
    QString trouble_;
    int asked_ = 0;  ///< what was asked for last, counted
    QComboBox *fibre_, *limits_, *statistics_;
    QDoubleSpinBox *length_, *other_;
    QSpinBox *connections_, *splices_;
    QTableWidget *wavelengths_, *carried_;
    QLabel* headline_;
};

}  // namespace clendo
