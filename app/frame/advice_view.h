#pragma once
#include <QFrame>
#include <QPushButton>
#include <array>

#include "app/frame/command.h"
#include "app/frame/rule_table.h"
#include "app/widgets/text_block.h"
#include "record/advice/advice.h"

class QScrollArea;

namespace clendo {

/// One large sentence with what to do, why, what helps, and at most three actions.
class AdviceView : public QFrame {
    Q_OBJECT
public:
    /// `commands`: which keys its buttons show; must live as long.
    explicit AdviceView(const CommandTable& commands, QWidget* parent = nullptr);
    void show(const Advice& advice);
    [[nodiscard]] const Advice& shown() const { return advice_; }

signals:
    void wanted(std::string_view command);

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
    const CommandTable& commands_;
    Advice advice_;
};

}  // namespace clendo
