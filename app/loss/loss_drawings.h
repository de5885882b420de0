#pragma once
#include <QWidget>

#include "app/loss/loss_view.h"
#include "record/output/loss_by_element.h"

namespace clendo {

/// Where the loss goes, wavelength by wavelength: the terms of its limit stacked, the measured loss as a bar under them.
class LossView::Budget : public QWidget {
public:
    explicit Budget(QWidget* parent);
    /// `found`: what the traces show, at the wavelengths at which there are any.
    void setReport(const std::optional<LossReport>& report, std::vector<LossByElement> found);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paintResult(QPainter& painter, const LossResult& result, double top, double scale) const;

    void paintFound(QPainter& painter, const LossByElement& found, double top, double scale) const;
    [[nodiscard]] double rowHeight() const;

    std::optional<LossReport> report_;
    std::vector<LossByElement> found_;
};

/// All fibres of the cable as small multiples: worst loss against the limit.
class LossView::Fibres : public QWidget {
public:
    explicit Fibres(QWidget* parent);
    const JobState* state = nullptr;
    std::string chosen;

protected:
    void paintEvent(QPaintEvent*) override;
};

}  // namespace clendo
