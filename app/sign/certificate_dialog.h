#pragma once
#include <QDialog>
#include <memory>
#include <optional>
#include <vector>

#include "seal/signing_key.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;

namespace clendo {

class Signer;

/// What is to be written, and who signs it.
struct CertificateChoice {
    std::vector<std::string> subjects;  ///< links and cables; an empty one: the whole job
    bool fibrePages = true, evidence = true;
    std::shared_ptr<const seal::SigningKey> open;  ///< signs; null: `key` is to be opened first
    std::optional<seal::KeyFile> key;              ///< nothing: nobody signs
    std::string passphrase;
    bool remember = false;  ///< the passphrase, in the desktop's keyring
};

/// Asked before certificates are written: of what, with which pages, signed by whom.
class CertificateDialog : public QDialog {
    Q_OBJECT
public:
    /// What can be written of: in words, with the subjects that are meant. The first one is proposed.
    struct Offer {
        QString words;
        std::vector<std::string> subjects;
    };
    CertificateDialog(const std::vector<Offer>& offers, const Signer& signer, const QString& folder, QWidget* parent);
    [[nodiscard]] CertificateChoice choice() const;

private:
    void follow();
    [[nodiscard]] const seal::KeyFile* chosenKey() const;

    std::vector<Offer> offers_;
    const Signer& signer_;
    std::vector<seal::KeyFile> keys_;
    QComboBox *what_, *key_;
    QLineEdit* passphrase_;
    QCheckBox *pages_, *evidence_, *remember_;
    QLabel* hint_;
};

}  // namespace clendo
