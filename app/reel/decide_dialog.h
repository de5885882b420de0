#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLineEdit>
#include <QPushButton>

#include "app/widgets/text_block.h"
#include "record/rules/reels.h"

namespace clendo {

/// Accept, accept with a note, reject: what is proposed and why, and what a person says. Who says otherwise says why.
class DecideDialog : public QDialog {
    Q_OBJECT
public:
    DecideDialog(std::string reel, const ReelStanding& standing, QWidget* parent);
    [[nodiscard]] ReelDecided decided() const;

private:
    void follow();

    std::string reel_;
    reel::ReelVerdict proposed_;
    QComboBox* verdict_;
    QLineEdit* note_;
    TextBlock* lacks_;
    QPushButton* accept_;
};

}  // namespace clendo
