#pragma once
#include <QComboBox>
#include <QDialog>
#include <QDoubleSpinBox>
#include <QLineEdit>

#include "record/state/state.h"

namespace clendo {

/// "The picture says otherwise": a finding of the last judged look is not real, is of another kind, or one was missed. A reason is asked for; both
/// the measurement and what was said against it stay in the record.
class OverruleDialog : public QDialog {
    Q_OBJECT
public:
    OverruleDialog(const FaceId& face, const Look& look, const std::optional<FaceClass>& faceClass, QWidget* parent = nullptr);
    [[nodiscard]] FindingOverruled fact() const;
    void accept() override;

private:
    void adapt();

    FaceId face_;
    Digest look_;
    QComboBox* which_;
    QComboBox* as_;
    QDoubleSpinBox *x_, *y_, *size_;
    QWidget* place_;
    QLineEdit* reason_;
    class TextBlock* trouble_;
};

}  // namespace clendo
