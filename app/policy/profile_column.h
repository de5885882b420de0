#pragma once
#include <QComboBox>
#include <QTableWidget>
#include <QWidget>

#include "app/widgets/text_block.h"
#include "face/judge/profile_opinion.h"

namespace clendo {

/// One profile of two that are compared: which, what it says of the face, and its rules with what was counted.
class ProfileColumn : public QWidget {
    Q_OBJECT
public:
    ProfileColumn(const QString& name, QWidget* parent);
    /// The profiles to choose from, by edition and title.
    void offer(const std::vector<std::pair<QString, QString>>& profiles);
    void choose(const QString& edition);
    [[nodiscard]] QString edition() const { return which_->currentData().toString(); }
    /// `look`: nothing where the face was not seen.
    void show(const Profile& profile, const std::string& className, const face::FaceMeasurement* look, bool editable);
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
