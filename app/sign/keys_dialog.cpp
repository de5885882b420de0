#include "app/sign/keys_dialog.h"

#include <QDateTime>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <QtConcurrentRun>
#include <fstream>

#include "app/sign/signer.h"
#include "app/widgets/dialog_buttons.h"
#include "app/widgets/save_file.h"
#include "app/widgets/theme.h"
#include "app/widgets/when_done.h"
#include "files/files.h"
#include "modules/papers.h"
#include "result/guarded.h"

namespace clendo {
namespace {

constexpr int keyRole = Qt::UserRole;

/// Whose key, and a passphrase twice.
class NewKeyDialog : public QDialog {
public:
    explicit NewKeyDialog(QWidget* parent)
        : QDialog(parent), holder(new QLineEdit(this)), first(new QLineEdit(this)), second(new QLineEdit(this)), why_(new QLabel(this))
    {
        setObjectName(QStringLiteral("newKeyDialog"));
        setWindowTitle(tr("A new key"));
        holder->setObjectName(QStringLiteral("keyHolder"));
        first->setObjectName(QStringLiteral("keyPassphrase"));
        second->setObjectName(QStringLiteral("keyPassphraseAgain"));
        why_->setWordWrap(true);
        auto* form = new QFormLayout;
        form->addRow(tr("&Whose key: person or firm"), holder);
        form->addRow(tr("&Passphrase"), first);
        form->addRow(tr("&Again"), second);
        for (auto* field : {first, second}) field->setEchoMode(QLineEdit::Password);
        auto* words = new QLabel(
            tr("Nobody can open the key without its passphrase, and nobody can tell you the passphrase again. Three or four words that do not "
               "belong together are better than one with odd signs."),
            this);
        words->setWordWrap(true);
        const auto buttons = acceptOrBack(*this, tr("Make it (Enter)"));
        auto* layout = new QVBoxLayout(this);
        layout->addWidget(words);
        layout->addLayout(form);
        layout->addWidget(why_);
        layout->addWidget(buttons.row);
        setMinimumWidth(em(32));
        const auto follow = [this, accept = buttons.accept] {
            const QString why = whyNot();
            why_->setText(why);
            accept->setEnabled(why.isEmpty());
        };
        for (auto* field : {holder, first, second}) connect(field, &QLineEdit::textChanged, this, follow);
        follow();
    }
    QLineEdit *holder, *first, *second;

private:
    [[nodiscard]] QString whyNot() const
    {
        if (holder->text().trimmed().isEmpty()) return tr("It needs a name: yours, or that of your firm.");
        if (first->text().toUtf8().size() < static_cast<qsizetype>(seal::shortestPassphrase))
            return tr("The passphrase has %1 letters or more.").arg(seal::shortestPassphrase);
        if (first->text() != second->text()) return tr("The passphrase is not the same twice.");
        return {};
    }
    QLabel* why_;
};

}  // namespace

KeysDialog::KeysDialog(Signer& signer, QWidget* parent)
    : QDialog(parent), signer_(signer), ownList_(new QListWidget(this)), knownList_(new QListWidget(this)), said_(new QLabel(this))
{
    setObjectName(QStringLiteral("keysDialog"));
    setWindowTitle(tr("Keys"));
    ownList_->setObjectName(QStringLiteral("ownKeys"));
    knownList_->setObjectName(QStringLiteral("knownKeys"));
    said_->setObjectName(QStringLiteral("keysSaid"));
    said_->setWordWrap(true);
    auto* words = new QLabel(
        tr("A key signs certificates: whoever has its public half can see that nothing was changed since. That half is no secret; its sixteen "
           "digits are read to a client over the telephone, say, so that the client knows whose key it is."),
        this);
    words->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(words);
    const auto section = [&](const QString& title, QListWidget* list, const std::vector<std::pair<QString, void (KeysDialog::*)()>>& deeds) {
        layout->addWidget(new QLabel(title, this));
        list->setFixedHeight(em(7));
        list->setWordWrap(true);
        layout->addWidget(list);
        auto* row = new QHBoxLayout;
        for (const auto& [name, deed] : deeds) {
            auto* button = new QPushButton(name, this);
            button->setAutoDefault(false);
            connect(button, &QPushButton::clicked, this, deed);
            row->addWidget(button);
        }
        row->addStretch();
        layout->addLayout(row);
    };
    section(tr("<b>Own keys</b>, the newest first"), ownList_,
            {{tr("&Make a key …"), &KeysDialog::makeKey},
             {tr("&Export its public half …"), &KeysDialog::exportKey},
             {tr("On &paper …"), &KeysDialog::printKey}});
    section(tr("<b>Keys that are known here</b>, by which certificates of others are checked"), knownList_,
            {{tr("&Take one for known …"), &KeysDialog::knowKey}, {tr("&No longer in use"), &KeysDialog::retireKey}});
    layout->addWidget(said_);
    auto* close = acceptOrBack(*this, tr("Done (Enter)")).row;
    layout->addWidget(close);
    setMinimumWidth(em(42));
    fill();
}

void KeysDialog::fill()
{
    own_ = signer_.ring().own();
    known_ = signer_.ring().known();
    ownList_->clear();
    knownList_->clear();
    for (const auto& key : own_) {
        const bool open = signer_.open() && signer_.open()->publicKey() == key.publicKey;
        ownList_->addItem(tr("%1 · %2 · made %3%4")
                              .arg(QString::fromStdString(key.publicKey.spoken()), QString::fromStdString(key.holder),
                                   QDateTime::fromSecsSinceEpoch(key.madeAt).date().toString(Qt::ISODate), open ? tr(" · open") : QString()));
    }
    if (own_.empty()) ownList_->addItem(tr("none yet: “Make a key”"));
    for (const auto& key : known_)
        knownList_->addItem(tr("%1 · %2%3")
                                .arg(QString::fromStdString(key.key.spoken()), QString::fromStdString(key.holder),
                                     key.until
                                         ? tr(" · not in use since %1").arg(QDateTime::fromSecsSinceEpoch(*key.until).date().toString(Qt::ISODate))
                                         : QString()));
    ownList_->setCurrentRow(0);
    knownList_->setCurrentRow(0);
}

const seal::KeyFile* KeysDialog::chosenOwn() const
{
    const auto row = static_cast<std::size_t>(ownList_->currentRow());
    return row < own_.size() ? &own_[row] : nullptr;
}

const seal::KnownKey* KeysDialog::chosenKnown() const
{
    const auto row = static_cast<std::size_t>(knownList_->currentRow());
    return row < known_.size() ? &known_[row] : nullptr;
}

void KeysDialog::say(const Result<void>& done, const QString& sentence)
{
    said_->setText(done ? sentence : QString::fromStdString(done.error().message));
    tint(said_, QPalette::WindowText, done ? theme().ink : theme().damaged);
    fill();
}

void KeysDialog::makeKey()
{
    NewKeyDialog asked(this);
    if (asked.exec() != QDialog::Accepted) return;
    said_->setText(tr("Making the key …"));
    // sealing it costs a tenth of a second, on purpose
    whenDone(QtConcurrent::run([holder = asked.holder->text().trimmed().toStdString(), passphrase = asked.first->text().toStdString(),
                                now = QDateTime::currentSecsSinceEpoch(), ring = signer_.ring()] {
                 return guarded([&]() -> Result<std::shared_ptr<const seal::SigningKey>> {
                     auto key = std::make_shared<seal::SigningKey>(seal::SigningKey::make(holder));
                     return key->sealedFile(passphrase, now)
                         .and_then([](const std::string& text) { return seal::readKeyFile(text); })
                         .and_then([&](const seal::KeyFile& file) { return ring.keep(file); })
                         .map([&] { return std::shared_ptr<const seal::SigningKey>(key); });
                 });
             }),
             this, [this](const Result<std::shared_ptr<const seal::SigningKey>>& made) {
                 if (!made) return say(tl::unexpected(made.error()), {});
                 signer_.setOpen(*made);
                 say({}, tr("Made, and open until the window closes: %1. Put it on paper, and keep that apart from this computer.")
                             .arg(QString::fromStdString((*made)->publicKey().spoken())));
             });
}

void KeysDialog::exportKey()
{
    const seal::KeyFile* key = chosenOwn();
    if (!key) return say(failure(Error::Code::KeyInvalid, "There is no own key to export: make one first."), {});
    const QString to = QFileDialog::getSaveFileName(this, tr("Export the public half as"), QStringLiteral("public-key.json"), tr("Keys (*.json)"));
    if (to.isEmpty()) return;
    saveFile(
        this, to, [text = seal::publicKeyText(key->publicKey, key->holder)] { return text; },
        [this, to](const Result<void>& saved) {
            say(saved, tr("Saved as %1. It is no secret: send it to whoever checks your certificates.").arg(to));
        });
}

void KeysDialog::printKey()
{
    const seal::KeyFile* key = chosenOwn();
    if (!key) return say(failure(Error::Code::KeyInvalid, "There is no own key to print: make one first."), {});
    const QString to = QFileDialog::getSaveFileName(this, tr("Save the sheet as"), QStringLiteral("key.pdf"), tr("PDF (*.pdf)"));
    if (to.isEmpty()) return;
    whenDone(QtConcurrent::run([key = *key, to, now = QDateTime::currentSecsSinceEpoch()] {
                 return guarded([&] {
                     return papers().and_then([&](const Papers& p) { return p.keySheet(key, now); }).and_then([&](const std::string& pdf) {
                         return writeFile(to.toStdString(), pdf);
                     });
                 });
             }),
             this, [this, to](const Result<void>& saved) {
                 say(saved,
                     tr("Saved as %1: the key, still sealed with its passphrase. Print it, and keep the paper apart from this computer.").arg(to));
             });
}

void KeysDialog::knowKey()
{
    const QString file =
        QFileDialog::getOpenFileName(this, tr("A public key that somebody sent"), QString(), tr("Keys (*.json *.clendo-key *.txt);;All files (*)"));
    if (file.isEmpty()) return;
    constexpr std::size_t largest = 64 * 1024;
    const auto key = readFile(file.toStdString(), largest).and_then([](const std::string& text) { return seal::readPublicKey(text); });
    if (!key) return say(tl::unexpected(key.error()), {});
    bool sure = false;
    const QString holder =
        QInputDialog::getText(this, tr("Whose key is it?"),
                              tr("Ask its holder, by another way than the file came, for the sixteen digits of the key. Are they\n\n%1 ?\n\nThen it "
                                 "is the key of:")
                                  .arg(QString::fromStdString(key->key.spoken())),
                              QLineEdit::Normal, QString::fromStdString(key->holder), &sure)
            .trimmed();
    if (!sure || holder.isEmpty()) return;
    say(signer_.ring().know({key->key, holder.toStdString(), std::nullopt}), tr("Known from now on as %1’s.").arg(holder));
}

void KeysDialog::retireKey()
{
    const seal::KnownKey* key = chosenKnown();
    if (!key) return say(failure(Error::Code::KeyInvalid, "No key is chosen."), {});
    say(signer_.ring().know({key->key, key->holder, QDateTime::currentSecsSinceEpoch()}),
        tr("What is signed with it from now on is said to be signed with a key that is no longer in use."));
}

}  // namespace clendo
