#pragma once
#include <QComboBox>
#include <QDialog>
#include <QDoubleSpinBox>

#include "app/widgets/text_block.h"
#include "record/state/state.h"

namespace clendo {

/// The scale of a scope with its tip, as its graticule says or as the cladding in the last look gives it.
class CalibrationDialog : public QDialog {
    Q_OBJECT
public:
    CalibrationDialog(const JobState& state, const FaceId& face, QWidget* parent = nullptr);
    [[nodiscard]] ScopeCalibrated fact() const;
    void accept() override;

private:
    QComboBox* scope_;
    QDoubleSpinBox* scale_;
    TextBlock* words_;
};

}  // namespace clendo
