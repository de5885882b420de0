#include "app/kit/check_list_dialog.h"

#include <QLabel>
#include <QVBoxLayout>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"

namespace clendo {
namespace {

/// Headings cannot be ticked.
bool canBeTicked(const QListWidgetItem* item) { return item->flags().testFlag(Qt::ItemIsUserCheckable); }

}  // namespace

CheckListDialog::CheckListDialog(const QString& title, const QString& hint, const QList<ListedThing>& things, QWidget* parent)
    : QDialog(parent), list_(new QListWidget(this))
{
    setObjectName(QStringLiteral("checkListDialog"));
    setWindowTitle(title);
    list_->setObjectName(QStringLiteral("checkList"));
    for (const auto& thing : things) {
        auto* item = new QListWidgetItem(thing.text, list_);
        item->setSizeHint({em(20), em(2)});
        if (thing.heading) {
            QFont bold = item->font();
            bold.setBold(true);
            item->setFont(bold);
            item->setFlags(Qt::NoItemFlags);  // the keys go past it
            item->setForeground(theme().ink);
            continue;
        }
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Unchecked);
    }
    list_->setCurrentRow(nextThing(0));
    auto* buttons = acceptOrBack(*this, tr("Go on (Enter)")).row;
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(new QLabel(hint, this));
    layout->addWidget(list_);
    layout->addWidget(buttons);
    setMinimumSize(em(26), em(22));
    connect(list_, &QListWidget::itemChanged, this, [this](const QListWidgetItem* item) {
        if (item->checkState() == Qt::Checked) list_->setCurrentRow(nextThing(list_->row(item) + 1));
    });
    list_->setFocus();
}

/// The first line from there on that can be ticked; the last one of all where there is none.
int CheckListDialog::nextThing(int row) const
{
    while (row < list_->count() && !canBeTicked(list_->item(row))) ++row;
    if (row < list_->count()) return row;
    for (row = list_->count() - 1; row > 0 && !canBeTicked(list_->item(row));) --row;
    return row;
}

QStringList CheckListDialog::things(bool ticked) const
{
    QStringList out;
    for (int row = 0; row < list_->count(); ++row)
        if (const auto* item = list_->item(row); canBeTicked(item) && (item->checkState() == Qt::Checked) == ticked) out << item->text();
    return out;
}

}  // namespace clendo
