// Signatures and certificates.
#include <QDir>
#include <QFileInfo>
#include <QInputDialog>
#include <QPromise>
#include <QWidget>
#include <QtConcurrentRun>
#include <nlohmann/json.hpp>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "record/advice/command_ids.h"
#include "record/output/certificate.h"
#include "record/rules/completeness.h"
#include "report/certificate_pdf.h"
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

/// What a certificate needs of the job, in a thread of its own.
Result<QString> writeCertificates(QPromise<Result<QString>>& promise, const JobSnapshot& job, const EvidenceSource& evidence, const Link& link,
                                  const QString& folder)
{
    std::vector<nlohmann::json> bodies;
    for (const std::string& subject : {link.id, link.cable->id}) {
        auto body = certificate(*job.state, subject, signaturesOf(job, evidence, subject));
        if (!body) return tl::unexpected(body.error());
        bodies.push_back(std::move(*body));
    }
    const auto progress = [&promise](int done, int all) {
        promise.setProgressRange(0, all);
        promise.setProgressValue(done);
        return !promise.isCanceled();
    };
    return clendo::writeCertificates(bodies, evidence, folder, progress).map([&](const QStringList&) {
        return QObject::tr("Certificates of fibre %1 and of cable %2 are in %3 (PDF, JSON, CSV).")
            .arg(link.fibre)
            .arg(QString::fromStdString(link.cable->id), folder);
    });
}

void writeCertificate(WindowFrame& frame)
{
    JobSession& session = *frame.session();
    if (!session.jobFile().wrong.empty())
        return frame.say(
            QObject::tr("This job is damaged: no certificate is written from a record that is not whole. Save what is left of it first (Job menu)."),
            true);
    const auto work = [job = session.snapshot(), evidence = session.service().evidenceSource(), id = frame.link()->id,
                       folder = QFileInfo(session.path()).dir().filePath(QStringLiteral("certificates"))](QPromise<Result<QString>>& promise) {
        promise.addResult(guarded([&] { return writeCertificates(promise, job, evidence, *job.state->link(id), folder); }));
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
             QObject::tr("Write the certificates of fibre and cable"),
             {Qt::Key_W},
             [&frame] { writeCertificate(frame); },
             link}};
}

const CommandGroup group(40, commandsOf);

}  // namespace
}  // namespace clendo
