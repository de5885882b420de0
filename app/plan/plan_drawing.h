#pragma once
#include <QWidget>

#include "plant/plan.h"

namespace clendo {

/// A cable as it is being planned: its ends with panels and ports, what lies between them, and what its fibres will be called.
class PlanDrawing : public QWidget {
    Q_OBJECT
public:
    explicit PlanDrawing(QWidget* parent = nullptr);
    /// `odd`: what is against the rules of the trade, in sentences; empty: nothing.
    void show(const CablePlan& cable, const QString& odd);
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    [[nodiscard]] QStringList endWords(End end) const;
    [[nodiscard]] QString fibreWords() const;
    [[nodiscard]] double xOf(Metre at) const;

    CablePlan cable_;
    QString odd_;
};

}  // namespace clendo
