#pragma once
#include <QDialog>
#include <QListWidget>
#include <QStringList>

namespace clendo {

/// Things to look at before work begins, each ticked with Space; Enter ends it, with what is ticked and what is not.
class CheckListDialog : public QDialog {
    Q_OBJECT
public:
    CheckListDialog(const QString& title, const QStringList& things, QWidget* parent = nullptr);
    [[nodiscard]] QStringList things(bool ticked) const;

private:
    QListWidget* list_;
};

}  // namespace clendo
