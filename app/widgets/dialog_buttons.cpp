#include "app/widgets/dialog_buttons.h"

namespace clendo {

DialogButtons acceptOrBack(QDialog& dialog, const QString& what)
{
    auto* row = new QDialogButtonBox(&dialog);
    auto* accept = row->addButton(what, QDialogButtonBox::AcceptRole);
    accept->setProperty("first", true);
    accept->setDefault(true);
    row->addButton(QObject::tr("Back (Esc)"), QDialogButtonBox::RejectRole);
    QObject::connect(row, &QDialogButtonBox::accepted, &dialog, &QDialog::accept);
    QObject::connect(row, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    return {row, accept};
}

}  // namespace clendo
