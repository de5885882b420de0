#pragma once
#include <QWidget>
#include <vector>

#include "record/ruling.h"

namespace clendo {

/// The rules of a verdict, a row each; a broken one stands out by weight, ground and colour. As high as its rows.
class RuleTable : public QWidget {
    Q_OBJECT
public:
    explicit RuleTable(QWidget* parent = nullptr);
    void setRows(std::vector<RulingRow> rows);
    [[nodiscard]] const std::vector<RulingRow>& rows() const { return rows_; }
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<RulingRow> rows_;
};

}  // namespace clendo
