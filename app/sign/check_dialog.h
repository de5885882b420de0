#pragma once
#include <QDialog>

#include "seal/check_folder.h"

namespace clendo {

/// What is said of a certificate's folder: whether anything was changed, what, by whose key it is signed, and what that proves.
class CheckDialog : public QDialog {
    Q_OBJECT
public:
    CheckDialog(const QString& folder, const seal::FolderCheck& check, QWidget* parent);
};

}  // namespace clendo
