#pragma once
#include <QComboBox>
#include <QTableWidget>
#include <QWidget>

#include "app/widgets/text_block.h"
#include "face/judge/criteria_opinion.h"

namespace clendo {

/// One of two sets of criteria that are compared: which, what it says of the face, and its rules with what was counted.
class CriteriaColumn : public QWidget {
    Q_OBJECT
public:
    CriteriaColumn(const QString& name, QWidget* parent);
    /// The sets to choose from, by edition and title.
    void offer(const std::vector<std::pair<QString, QString>>& sets);
    void choose(const QString& edition);
    [[nodiscard]] QString edition() const { return which_->currentData().toString(); }
    /// `look`: nothing where the face was not seen.
    void show(const Criteria& criteria, const std::string& className, const face::FaceMeasurement* look, bool editable);
    void showTrouble(const QString& sentence);
    /// The class's rules with what stands in the cells now; an Error names the cell that cannot be read.
    [[nodiscard]] Result<std::vector<Rule>> rules() const;

signals:
    void chosen();

private:
    QComboBox* which_;
    TextBlock* words_;
    QTableWidget* table_;
    std::vector<Rule> rules_;
};

}  // namespace clendo
