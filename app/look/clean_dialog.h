#pragma once
#include <QComboBox>
#include <QDialog>
#include <QListWidget>
#include <QSpinBox>
#include <functional>

#include "record/advice/cleaning_advice.h"

namespace clendo {

/// "What did you do?" Method by number key, strokes by plus and minus, Enter files it. What is advised is chosen already.
class CleanDialog : public QDialog {
    Q_OBJECT
public:
    /// Whether a tool does this method: a dry pen is not filed as wet.
    using Does = std::function<bool(const QString& tool, const std::string& method)>;
    /// `tools`: of the kit, those that fit, the likeliest first.
    CleanDialog(const CleaningAdvice& advice, const QStringList& tools, QWidget* parent = nullptr, Does does = {});
    /// Of the kit; empty where none is in it.
    [[nodiscard]] QString tool() const { return tools_->currentText(); }
    [[nodiscard]] std::string method() const;
    [[nodiscard]] int strokes() const { return strokes_->value(); }

protected:
    void keyPressEvent(QKeyEvent*) override;

private:
    void offerTools();

    QStringList all_;
    Does does_;
    QListWidget* methods_;
    QSpinBox* strokes_;
    QComboBox* tools_;
};

}  // namespace clendo
