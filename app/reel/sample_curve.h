#pragma once
#include <QWidget>
#include <optional>

#include "reel/sampling.h"

namespace clendo {

/// The operating characteristic of a sampling plan: how likely a reel is accepted of which so many fibres are bad.
class SampleCurve : public QWidget {
    Q_OBJECT
public:
    explicit SampleCurve(QWidget* parent = nullptr);
    /// `percent`: of bad fibres that is marked.
    void show(const reel::SamplingPlan& plan, int percent);
    using QWidget::show;
    /// “A reel with 5 % bad fibres is accepted in 62 % of cases.”
    static QString words(const reel::SamplingPlan& plan, int percent);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::optional<reel::SamplingPlan> plan_;
    int percent_ = 5;
};

}  // namespace clendo
