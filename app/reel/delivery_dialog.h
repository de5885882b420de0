#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>

#include "app/widgets/text_block.h"
#include "reel/reel_report.h"

namespace clendo {

/// A reel as it was ordered and as it came. What the marks say is shown while they are typed.
class DeliveryDialog : public QDialog {
    Q_OBJECT
public:
    /// `known`: names of the job's reels; `like`: the one that is put right, or the last one that came; null: none. `anew`: another reel.
    DeliveryDialog(const std::vector<std::string>& known, const reel::Delivery* like, bool anew, QWidget* parent);
    /// As it was typed; an Error says what cannot be.
    [[nodiscard]] Result<reel::Delivery> delivery() const;

private:
    void follow();
    [[nodiscard]] QLineEdit* edit(const char* name, const QString& hint);
    /// A length or a figure; nothing where the field is empty. `trouble` gets the field's words where it is none.
    [[nodiscard]] static std::optional<double> figure(const QLineEdit* edit, std::string& trouble);

    std::vector<std::string> known_;
    QLineEdit *name_, *ordered_, *price_, *allowed_, *outer_, *inner_, *excess_, *date_, *papersLength_, *papers_;
    QSpinBox *fibres_, *digits_;
    QComboBox *type_, *jacket_, *environment_, *unit_;
    TextBlock* says_;
    QPushButton* accept_ = nullptr;
};

}  // namespace clendo
