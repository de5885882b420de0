#include "app/frame/command_search.h"

#include <QCoreApplication>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/widgets/on_screen.h"
#include "app/widgets/theme.h"

namespace clendo {

CommandSearch::CommandSearch(const CommandTable& commands, const QString& desk, QWidget* parent)
    : QDialog(parent), commands_(commands), desk_(desk), typed_(new QLineEdit(this)), list_(new QTableWidget(0, 4, this))
{
    setWindowTitle(tr("Commands and keys"));
    typed_->setObjectName(QStringLiteral("typed"));
    typed_->setPlaceholderText(tr("Type a few letters; Enter does it"));
    typed_->setAccessibleName(tr("What to look for"));
    typed_->installEventFilter(this);
    list_->setObjectName(QStringLiteral("commands"));
    list_->setHorizontalHeaderLabels({tr("Command"), tr("Key"), tr("Where"), tr("Why not now")});
    list_->verticalHeader()->hide();
    list_->setSelectionBehavior(QAbstractItemView::SelectRows);
    list_->setSelectionMode(QAbstractItemView::SingleSelection);
    list_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    list_->setShowGrid(false);
    list_->setFocusPolicy(Qt::NoFocus);
    list_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    list_->horizontalHeader()->setStretchLastSection(true);
    list_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(typed_);
    layout->addWidget(list_, 1);
    resizeOnScreen(*this, {em(52), em(34)});
    connect(typed_, &QLineEdit::textChanged, this, &CommandSearch::search);
    connect(typed_, &QLineEdit::returnPressed, this, &CommandSearch::choose);
    connect(list_, &QTableWidget::cellDoubleClicked, this, &CommandSearch::choose);
    search();
}

void CommandSearch::search()
{
    found_ = commands_.matching(typed_->text(), desk_);
    list_->setRowCount(static_cast<int>(found_.size()));
    for (int row = 0; row < list_->rowCount(); ++row) {
        const Command& c = *found_[static_cast<std::size_t>(row)];
        const QString why = c.whyNot ? c.whyNot() : QString();
        QStringList keys;
        for (const auto key : c.keys) keys << QKeySequence(key).toString(QKeySequence::NativeText);
        int column = 0;
        for (const QString& text : {c.words, keys.join(tr(" or ")), titleOf(c.menu), why}) {
            auto* item = new QTableWidgetItem(text);
            if (!why.isEmpty()) item->setForeground(theme().soft);
            list_->setItem(row, column++, item);
        }
    }
    // Enter alone does nothing: who has typed nothing has asked for nothing
    if (list_->rowCount() > 0 && !typed_->text().isEmpty())
        list_->selectRow(0);
    else
        list_->setCurrentItem(nullptr);
}

void CommandSearch::choose()
{
    const int row = list_->currentRow();
    if (row < 0 || row >= static_cast<int>(found_.size())) return;
    chosen_ = found_[static_cast<std::size_t>(row)]->id;
    accept();
}

/// The arrows move in the list while the letters go into the field.
bool CommandSearch::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Up || key == Qt::Key_Down || key == Qt::Key_PageUp || key == Qt::Key_PageDown) {
            QCoreApplication::sendEvent(list_, event);
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

}  // namespace clendo
