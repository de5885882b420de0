#pragma once
#include <QFrame>
#include <QPushButton>
#include <array>

#include "app/rule_table.h"
#include "app/text_block.h"
#include "record/ruling.h"

class QScrollArea;

namespace clendo {

/// The key of an action, shown on its button.
QString keyOf(ActionKind kind);

/// One large sentence with what to do, why, what helps, and at most three actions.
class RulingView : public QFrame {
    Q_OBJECT
public:
    explicit RulingView(QWidget* parent = nullptr);
    void show(const Ruling& ruling);
    [[nodiscard]] const Ruling& shown() const { return ruling_; }

signals:
    void wanted(ActionKind action);

private:
    class ToneMark;
    ToneMark* mark_;
    TextBlock* headline_;
    TextBlock* sentence_;
    TextBlock* rowsTitle_;
    QScrollArea* scroll_;
    RuleTable* rows_;
    TextBlock* help_;
    std::array<QPushButton*, 3> buttons_{};
    Ruling ruling_;
};

}  // namespace clendo
