#pragma once
#include <QDialog>

#include "record/output/price_of_looks.h"

class QSpinBox;

namespace clendo {

class TextBlock;

/// What looking costs and spares in this job, with the assumption that can be changed.
class PriceDialog : public QDialog {
    Q_OBJECT
public:
    /// `journal`: of which the state is the fold; read once.
    PriceDialog(const JobState& state, std::span<const Entry> journal, QWidget* parent);

private:
    void follow();

    const PriceOfLooks price_;
    QSpinBox *minutes_, *share_;
    TextBlock* words_;
};

}  // namespace clendo
