#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

#include "record/facts/reel_facts.h"

namespace clendo {

class SampleCurve;

/// Which fibres are tested for all: the plan, what it is worth, and the seed by which they are drawn.
class SampleDialog : public QDialog {
    Q_OBJECT
public:
    SampleDialog(std::string reel, int fibres, reel::SamplingTable table, std::uint32_t seed, QWidget* parent);
    [[nodiscard]] const ReelSampled& sampled() const { return sampled_; }

private:
    void follow();

    ReelSampled sampled_;
    int fibres_;
    reel::SamplingTable table_;
    QComboBox* aql_;
    QSpinBox *seed_, *bad_;
    QLabel *plan_, *worth_;
    SampleCurve* curve_;
    QPushButton* accept_;
};

}  // namespace clendo
