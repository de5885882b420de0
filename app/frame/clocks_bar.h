#pragma once
#include <QFrame>
#include <QTimer>

#include "app/widgets/text_block.h"
#include "record/state/state.h"

namespace clendo {

/// What ages: the reference, faces that are open; and what just happened, in one sentence.
class ClocksBar : public QFrame {
    Q_OBJECT
public:
    explicit ClocksBar(QWidget* parent = nullptr);
    void show(const JobState& state, std::int64_t now);
    void say(const QString& sentence, bool trouble);
    [[nodiscard]] QString said() const { return said_->text(); }

private:
    TextBlock* clocks_;
    TextBlock* said_;
    QTimer fade_;
};

}  // namespace clendo
