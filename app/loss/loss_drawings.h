#pragma once
#include <QWidget>

#include "app/loss/loss_view.h"

namespace clendo {

/// What to plug into what: for the reference above, for the measurement below; the connections that count are closed faces.
class LossView::Diagram : public QWidget {
public:
    explicit Diagram(QWidget* parent);
    ReferenceMethod method = ReferenceMethod::OneCord;
    QString fibre;

protected:
    void paintEvent(QPaintEvent*) override;
};

/// Where the loss goes, wavelength by wavelength: the terms of its limit stacked, the measured loss as a bar under them.
class LossView::Budget : public QWidget {
public:
    explicit Budget(QWidget* parent);
    void setReport(const std::optional<LossReport>& report);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paintResult(QPainter& painter, const LossResult& result, double top, double scale) const;

    std::optional<LossReport> report_;
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
