#pragma once
#include <QPushButton>

namespace clendo {

/// What is left of a column that was folded: a strip with its name from top to bottom. A click unfolds it.
class FoldStrip : public QPushButton {
    Q_OBJECT
public:
    FoldStrip(const QString& name, QWidget* parent = nullptr);
    /// The column folds or unfolds.
    void fold(QWidget* column, bool folded);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QString name_;
};

}  // namespace clendo
