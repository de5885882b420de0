#pragma once
#include <QDialog>
#include <QListWidget>
#include <QSpinBox>

#include "record/ruling.h"

namespace clendo {

/// "What did you do?" Method by number key, strokes by plus and minus, Enter files it. What is advised is chosen already.
class CleanDialog : public QDialog {
    Q_OBJECT
public:
    explicit CleanDialog(const CleaningAdvice& advice, QWidget* parent = nullptr);
    [[nodiscard]] std::string method() const;
    [[nodiscard]] int strokes() const { return strokes_->value(); }

protected:
    void keyPressEvent(QKeyEvent*) override;

private:
    QListWidget* methods_;
    QSpinBox* strokes_;
};

}  // namespace clendo
