#pragma once
#include <QDialog>
#include <QDialogButtonBox>
#include <QPushButton>

namespace clendo {

/// The last row of a dialog: what Enter does, and the way back.
struct DialogButtons {
    QDialogButtonBox* row;
    QPushButton* accept;
};
/// `what`: in words with its key, "Plan it (Enter)".
DialogButtons acceptOrBack(QDialog& dialog, const QString& what);

}  // namespace clendo
