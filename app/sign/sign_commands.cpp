// Signatures and certificates.
#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QInputDialog>
#include <QPointer>
#include <QPromise>
#include <QWidget>
#include <QtConcurrentRun>
#include <nlohmann/json.hpp>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/sign/certificate_dialog.h"
#include "app/sign/keyring.h"
#include "app/sign/signer.h"
#include "files/files.h"
#include "modules/papers.h"
#include "record/advice/command_ids.h"
#include "record/output/certificate.h"
#include "record/rules/completeness.h"
#include "result/guarded.h"

namespace clendo {
namespace {

void sign(WindowFrame& frame, bool wholeCable)
{
    const Link* l = frame.link();
    frame.showDesk(QStringLiteral("sign"));
    const JobState& state = frame.session()->state();
    const int fibre = l->fibre;
    const std::string subject = wholeCable ? l->cable->id : l->id;
    const QString what = wholeCable ? QObject::tr("cable %1").arg(QString::fromStdString(subject)) : QObject::tr("fibre %1").arg(fibre);
    std::string remark;
    if (wholeCable) {
        if (const auto ok = maySign(state, *l->cable); !ok) return frame.say(QString::fromStdString(ok.error().message), true);
        if (const auto before = state.signedCables.find(subject); before != state.signedCables.end() && before->second.stands)
            return frame.say(QObject::tr("Signed already: %1.").arg(what), false);
    } else {
        if (const auto& before = state.state(subject).signature; before && before->stands)
            return frame.say(QObject::tr("Signed already: %1.").arg(what), false);
        if (const auto ok = maySign(state, *l); !ok) {
            const QString why = QString::fromStdString(ok.error().message);
            if (!frame.again()) return frame.say(QObject::tr("%1 S again: sign anyway, with a reason.").arg(why), true);
            bool sure = false;
            const QString said =
                QInputDialog::getText(frame.widget(), QObject::tr("Sign anyway?"), QObject::tr("%1\nIf you sign anyway, say why (Esc: no):").arg(why),
                                      QLineEdit::Normal, QString(), &sure)
                    .trimmed();
            if (!sure || said.isEmpty()) return frame.say(why, true);
            remark = said.toStdString();
        }
    }
    frame.session()->sign(subject, remark, [&frame, what] { frame.say(QObject::tr("Signed off: %1.").arg(what), false); });
}

/// What came of writing: in words, and the key that was opened for it.
struct Written {
    QString words;
    std::shared_ptr<const seal::SigningKey> key;
};

/// What a certificate needs of the job, in a thread of its own.
Result<Written> writeCertificates(QPromise<Result<QString>>& promise, const JobSnapshot& job, const EvidenceSource& evidence,
                                  const CertificateChoice& choice, const QString& folder)
{
    const auto key = Signer::keyOf(choice.open, choice.key, choice.passphrase);
    if (!key) return tl::unexpected(key.error());
    const auto applications = loadApplications(Rules(dataFolder()).files());
    if (!applications) return tl::unexpected(applications.error());
    std::vector<nlohmann::json> bodies;
    for (const std::string& subject : choice.subjects) {
        const auto signatures = signaturesOf(job, evidence, subject);
        auto body = certificate(*job.state, subject, {signatures, job.journal.all(), *applications});
        if (!body) return tl::unexpected(body.error());
        bodies.push_back(std::move(*body));
    }
    const auto progress = [&promise](int done, int all) {
        promise.setProgressRange(0, all);
        promise.setProgressValue(done);
        return !promise.isCanceled();
    };
    const Delivery how{choice.fibrePages, choice.evidence, key->get(), QDateTime::currentSecsSinceEpoch(), progress};
    return papers().and_then([&](const Papers& p) { return p.writeCertificates(bodies, evidence, folder, how); }).map([&](const PlacedFiles& files) {
        const QString pages = QFileInfo(files.paths.last()).path();
        const QString by =
            *key ? QObject::tr("signed with the key of %1").arg(QString::fromStdString((*key)->holder())) : QObject::tr("signed by no key");
        return Written{(files.each.size() == 1 ? QObject::tr("The certificate is in %1, %2: open index.html there.")
                                               : QObject::tr("The certificates are in %1, %2: each has an index.html."))
                           .arg(files.each.size() == 1 ? pages : folder, by),
                       *key};
    });
}

std::vector<CertificateDialog::Offer> offersOf(const Link& link)
{
    const QString cable = QString::fromStdString(link.cable->id);
    return {{QObject::tr("fibre %1, and cable %2").arg(link.fibre).arg(cable), {link.id, link.cable->id}},
            {QObject::tr("cable %1").arg(cable), {link.cable->id}},
            {QObject::tr("fibre %1").arg(link.fibre), {link.id}},
            {QObject::tr("the whole job"), {""}}};
}

void writeCertificate(WindowFrame& frame)
{
    JobSession& session = *frame.session();
    if (!session.jobFile().wrong.empty())
        return frame.say(
            QObject::tr("This job is damaged: no certificate is written from a record that is not whole. Save what is left of it first (Job menu)."),
            true);
    const QString folder = QFileInfo(session.path()).dir().filePath(QStringLiteral("certificates"));
    Signer& signer = Signer::of(frame.widget());
    CertificateDialog dialog(offersOf(*frame.link()), signer, folder, frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    const auto work = [job = session.snapshot(), evidence = session.service().evidenceSource(), choice = dialog.choice(), folder,
                       signer = QPointer(&signer)](QPromise<Result<QString>>& promise) {
        const auto written = guarded([&] { return writeCertificates(promise, job, evidence, choice, folder); });
        if (written && written->key)
            QMetaObject::invokeMethod(QCoreApplication::instance(), [signer, key = written->key, choice] {
                if (signer) signer->setOpen(key);
                if (choice.remember) tellKeyring(key->publicKey().hex(), QString::fromStdString(choice.passphrase));
            });
        promise.addResult(written.map([](const Written& w) { return w.words; }));
    };
    frame.follow(QObject::tr("Writing certificates"), QtConcurrent::run(&session.workers(), work));
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    const auto link = [&frame] { return needsLink(frame); };
    return {{std::string(command::sign), Menu::Sign, QObject::tr("Sign off the fibre"), {Qt::Key_S}, [&frame] { sign(frame, false); }, link},
            {"sign.cable", Menu::Sign, QObject::tr("Sign off the cable"), {Qt::SHIFT | Qt::Key_S}, [&frame] { sign(frame, true); }, link},
            {std::string(command::certificate),
             Menu::Sign,
             QObject::tr("Write certificates …"),
             {Qt::Key_W},
             [&frame] { writeCertificate(frame); },
             link}};
}

const CommandGroup group(40, commandsOf);

}  // namespace
}  // namespace clendo
