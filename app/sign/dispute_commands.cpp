// Who could it have been: what was filed between the last fit look at a face and the one that found it bad.
#include <QDateTime>
#include <QFileInfo>
#include <QInputDialog>
#include <QPointer>
#include <QtConcurrentRun>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/sign/signer.h"
#include "app/widgets/when_done.h"
#include "modules/papers.h"
#include "result/guarded.h"

namespace clendo {
namespace {

using OpenKey = Signer::OpenKey;

/// What the page is written of, and who signs it.
struct Dispute {
    BetweenLooks between;
    JobSnapshot job;
    EvidenceSource evidence;
    QString folder;
    OpenKey open;
    std::optional<seal::KeyFile> key;  ///< to be opened first
    std::string passphrase;
};

Result<std::pair<PlacedFiles, OpenKey>> write(const Dispute& d)
{
    const auto key = Signer::keyOf(d.open, d.key, d.passphrase);
    if (!key) return tl::unexpected(key.error());
    return papers()
        .and_then([&](const Papers& p) {
            return p.writeBetweenLooks(d.between, *d.job.state, d.evidence, d.folder, key->get(), QDateTime::currentSecsSinceEpoch());
        })
        .map([&](const PlacedFiles& files) { return std::pair(files, *key); });
}

void settleDispute(WindowFrame& frame)
{
    JobSession& session = *frame.session();
    const JobSnapshot job = session.snapshot();
    const auto between = betweenLooks(*job.state, job.journal.all(), frame.chosen());
    if (!between) return frame.say(between.error());
    Signer& signer = Signer::of(frame.widget());
    Dispute d{*between,
              job,
              session.service().evidenceSource(),
              QFileInfo(session.path()).dir().filePath(QStringLiteral("certificates")),
              signer.open(),
              std::nullopt,
              {}};
    if (const auto own = signer.ring().own(); !d.open && !own.empty()) {
        bool sure = false;
        const QString said = QInputDialog::getText(frame.widget(), QObject::tr("Sign this page"),
                                                   QObject::tr("%1\n\nPassphrase of the key of %2 (empty: no key signs):")
                                                       .arg(QString::fromStdString(between->sentence), QString::fromStdString(own.front().holder)),
                                                   QLineEdit::Password, QString(), &sure);
        if (!sure) return;
        if (!said.isEmpty()) d.key = own.front();
        d.passphrase = said.toStdString();
    }
    whenDone(QtConcurrent::run(&session.workers(), [d] { return guarded([&] { return write(d); }); }), frame.widget(),
             [&frame, signer = QPointer(&signer)](const Result<std::pair<PlacedFiles, OpenKey>>& written) {
                 if (!written) return frame.say(written.error());
                 if (signer && written->second) signer->setOpen(written->second);
                 frame.say(QObject::tr("The page is in %1, %2.")
                               .arg(QFileInfo(written->first.paths.last()).path(),
                                    written->second ? QObject::tr("signed with the key of %1").arg(QString::fromStdString(written->second->holder()))
                                                    : QObject::tr("signed by no key")),
                           false);
             });
}

const CommandGroup group(42, [](WindowFrame& frame) -> std::vector<Command> {
    return {{"sign.dispute",
             CommandMenu::Sign,
             QObject::tr("Who could it have been: this face’s page …"),
             {Qt::SHIFT | Qt::Key_Y},
             [&frame] { settleDispute(frame); },
             [&frame] { return needsLink(frame); }}};
});

}  // namespace
}  // namespace clendo
