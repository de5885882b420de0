#pragma once
#include <QDialog>
#include <QTableWidget>

#include "app/widgets/text_block.h"
#include "plant/connectors.h"
#include "plant/plan_csv.h"

namespace clendo {

/// A table of cables before it becomes a plan: each line with what would come of it, bad lines named. Good lines can go in without the bad ones.
class ImportDialog : public QDialog {
    Q_OBJECT
public:
    /// `planned`: the cables that the job has already.
    ImportDialog(std::vector<PlanLine> lines, const std::vector<CablePlan>& planned, const std::vector<ConnectorFamily>& families,
                 QWidget* parent = nullptr);
    [[nodiscard]] const std::vector<CablePlan>& cables() const { return cables_; }

private:
    std::vector<CablePlan> cables_;
    QTableWidget* table_;
    TextBlock* said_;
};

}  // namespace clendo
