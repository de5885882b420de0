#pragma once
#include <QWidget>
#include <vector>

#include "record/advice/advice.h"

namespace clendo {

/// The rules of a verdict, a row each; a broken one stands out by weight, ground and colour. As high as its rows.
class RuleTable : public QWidget {
    Q_OBJECT
public:
    explicit RuleTable(QWidget* parent = nullptr);
    void setRows(std::vector<AdviceRow> rows);
    [[nodiscard]] const std::vector<AdviceRow>& rows() const { return rows_; }
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<AdviceRow> rows_;
};

}  // namespace clendo
