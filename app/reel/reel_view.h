#pragma once
#include <QLabel>
#include <QWidget>

#include "app/reel/reel_intake.h"
#include "app/widgets/cord_box.h"
#include "app/widgets/text_block.h"
#include "record/rules/reels.h"

namespace clendo {

class FibreField;
class LengthDrawing;
class ReelShelf;
class SampleCurve;

/// All reels of the job, and of the chosen one what is known: length three ways, its fibres, what a sample of them is worth, joints and papers.
class ReelView : public QWidget {
    Q_OBJECT
public:
    explicit ReelView(QWidget* parent = nullptr);
    void show(const JobState& state, const std::string& reel);
    using QWidget::show;
    [[nodiscard]] ReelLaunch launch(const JobState& state) const;

signals:
    void picked(const QString& reel);

private:
    void tell(const JobState& state, const ReelStanding& standing);

    std::string reel_;
    QLabel* title_;
    ReelShelf* shelf_;
    TextBlock *papers_, *empty_;
    QWidget* chosen_;
    QLabel* with_;
    CordBox* cord_;
    LengthDrawing* length_;
    FibreField* fibres_;
    QLabel* sampleTitle_;
    SampleCurve* curve_;
    TextBlock* filed_;
};

}  // namespace clendo
