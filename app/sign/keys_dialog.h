#pragma once
#include <QDialog>

#include "seal/known_keys.h"

class QLabel;
class QListWidget;

namespace clendo {

class Signer;

/// Own keys and those of others: made, exported, put on paper, taken for known, taken out of use.
class KeysDialog : public QDialog {
    Q_OBJECT
public:
    KeysDialog(Signer& signer, QWidget* parent);

private:
    void fill();
    void makeKey();
    void exportKey();
    void printKey();
    void knowKey();
    void retireKey();
    /// The chosen own key, or what is known of the chosen one of others.
    [[nodiscard]] const seal::KeyFile* chosenOwn() const;
    [[nodiscard]] const seal::KnownKey* chosenKnown() const;
    void say(const Result<void>& done, const QString& sentence);

    Signer& signer_;
    std::vector<seal::KeyFile> own_;
    std::vector<seal::KnownKey> known_;
    QListWidget *ownList_, *knownList_;
    QLabel* said_;
};

}  // namespace clendo
