#pragma once
#include <QDialog>
#include <QListWidget>
#include <QStringList>

namespace clendo {

/// A line of a list: something to tick, or what stands over the things below it.
struct ListedThing {
    QString text;
    bool heading = false;
};

/// Things to look at before work begins, or to take along, each ticked with Space; Enter ends it, with what is ticked and what is not.
class CheckListDialog : public QDialog {
    Q_OBJECT
public:
    /// `hint`: what a tick says.
    CheckListDialog(const QString& title, const QString& hint, const QList<ListedThing>& things, QWidget* parent = nullptr);
    [[nodiscard]] QStringList things(bool ticked) const;

private:
    [[nodiscard]] int nextThing(int row) const;

    QListWidget* list_;
};

}  // namespace clendo
