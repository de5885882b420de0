#include "app/check_list_dialog.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/dialog_buttons.h"
#include "app/theme.h"

namespace clendo {

CheckListDialog::CheckListDialog(const QString& title, const QStringList& things, QWidget* parent) : QDialog(parent), list_(new QListWidget(this))
{
    setObjectName(QStringLiteral("checkListDialog"));
    setWindowTitle(title);
    list_->setObjectName(QStringLiteral("checkList"));
    for (const auto& thing : things) {
        auto* item = new QListWidgetItem(thing, list_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Unchecked);
        item->setSizeHint({em(20), em(2)});
    }
    list_->setCurrentRow(0);
    auto* buttons = acceptOrBack(*this, tr("Go on (Enter)")).row;
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(new QLabel(tr("Space ticks what is in order, then comes the next."), this));
    layout->addWidget(list_);
    layout->addWidget(buttons);
    setMinimumSize(em(26), em(22));
    connect(list_, &QListWidget::itemChanged, this, [this](const QListWidgetItem* item) {
        if (item->checkState() == Qt::Checked) list_->setCurrentRow(std::min(list_->row(item) + 1, list_->count() - 1));
    });
    list_->setFocus();
}

QStringList CheckListDialog::things(bool ticked) const
{
    QStringList out;
    for (int row = 0; row < list_->count(); ++row)
        if ((list_->item(row)->checkState() == Qt::Checked) == ticked) out << list_->item(row)->text();
    return out;
}

}  // namespace clendo
