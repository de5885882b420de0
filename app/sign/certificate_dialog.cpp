#include "app/sign/certificate_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

#include "app/sign/keyring.h"
#include "app/sign/signer.h"
#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"

namespace clendo {

CertificateDialog::CertificateDialog(const std::vector<Offer>& offers, const Signer& signer, const QString& folder, QWidget* parent)
    : QDialog(parent),
      offers_(offers),
      signer_(signer),
      keys_(signer.ring().own()),
      what_(new QComboBox(this)),
      key_(new QComboBox(this)),
      passphrase_(new QLineEdit(this)),
      pages_(new QCheckBox(tr("a &page per fibre, with pictures and traces"), this)),
      evidence_(new QCheckBox(tr("pictures and traces lie &beside it, as they came"), this)),
      remember_(new QCheckBox(tr("let this desktop’s key&ring keep the passphrase"), this)),
      hint_(new QLabel(this))
{
    setObjectName(QStringLiteral("certificateDialog"));
    setWindowTitle(tr("Write certificates"));
    for (const auto& offer : offers_) what_->addItem(offer.words);
    for (const auto& key : keys_)
        key_->addItem(tr("%1, key %2").arg(QString::fromStdString(key.holder), QString::fromStdString(key.publicKey.spoken())));
    key_->addItem(tr("nobody: no key"));
    const std::pair<QWidget*, const char*> names[] = {
        {what_, "certificateOf"},     {key_, "certificateKey"},           {passphrase_, "certificatePassphrase"},
        {pages_, "certificatePages"}, {evidence_, "certificateEvidence"}, {remember_, "certificateRemember"},
        {hint_, "certificateHint"}};
    for (const auto& [widget, name] : names) widget->setObjectName(QString::fromLatin1(name));
    passphrase_->setEchoMode(QLineEdit::Password);
    pages_->setChecked(true);
    evidence_->setChecked(true);
    hint_->setWordWrap(true);
    auto* form = new QFormLayout;
    form->addRow(tr("&Of"), what_);
    form->addRow(QString(), pages_);
    form->addRow(QString(), evidence_);
    form->addRow(tr("Signed by the &key of"), key_);
    form->addRow(tr("P&assphrase"), passphrase_);
    form->addRow(QString(), remember_);
    auto* into = new QLabel(
        tr("They are written into %1; one that lies there already is replaced as a whole, and the new one says what differs.").arg(folder), this);
    into->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->addLayout(form);
    layout->addWidget(hint_);
    layout->addWidget(into);
    layout->addWidget(acceptOrBack(*this, tr("Write (Enter)")).row);
    setMinimumWidth(em(36));
    connect(key_, &QComboBox::currentIndexChanged, this, &CertificateDialog::follow);
    follow();
}

const seal::KeyFile* CertificateDialog::chosenKey() const
{
    const auto at = static_cast<std::size_t>(key_->currentIndex());
    return at < keys_.size() ? &keys_[at] : nullptr;
}

void CertificateDialog::follow()
{
    const seal::KeyFile* key = chosenKey();
    const bool open = key && signer_.open() && signer_.open()->publicKey() == key->publicKey;
    passphrase_->setEnabled(key && !open);
    remember_->setEnabled(key && !open && keyringIsThere());
    passphrase_->setPlaceholderText(open ? tr("open already") : QString());
    hint_->setText(!key ? keys_.empty()
                              ? tr("There is no key yet; Ctrl+K makes one. Without a key nobody can tell later whether a certificate was changed.")
                              : tr("Without a key nobody can tell later whether a certificate was changed.")
                        : tr("The signature shows that nothing was changed since. It does not show that what was measured is true."));
    if (key && !open) {
        passphrase_->setFocus();
        if (keyringIsThere())
            askKeyring(key->publicKey.hex(), this, [this, of = key->publicKey](const QString& kept) {
                if (!kept.isEmpty() && passphrase_->text().isEmpty() && chosenKey() && chosenKey()->publicKey == of) passphrase_->setText(kept);
            });
    } else {
        what_->setFocus();
    }
}

CertificateChoice CertificateDialog::choice() const
{
    CertificateChoice out{
        offers_[static_cast<std::size_t>(what_->currentIndex())].subjects, pages_->isChecked(), evidence_->isChecked(), nullptr, {}, {}};
    const seal::KeyFile* key = chosenKey();
    if (!key) return out;
    out.key = *key;
    if (signer_.open() && signer_.open()->publicKey() == key->publicKey) out.open = signer_.open();
    out.passphrase = passphrase_->text().toStdString();
    out.remember = remember_->isEnabled() && remember_->isChecked();
    return out;
}

}  // namespace clendo
