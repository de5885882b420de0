// Signatures and certificates.
#include <QDir>
#include <QFileInfo>
#include <QInputDialog>
#include <QWidget>
#include <nlohmann/json.hpp>

#include "app/frame/command.h"
#include "app/frame/window_frame.h"
#include "app/job_session.h"
#include "record/advice/command_ids.h"
#include "record/output/certificate.h"
#include "record/rules/completeness.h"
#include "report/certificate_pdf.h"

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
        for (const auto& other : state.links) {
            if (other.cable != l->cable) continue;
            const auto& signature = state.state(other.id).signature;
            if (!signature || !signature->stands)
                return frame.say(QObject::tr("Not yet: fibre %1 is %2. The cable is signed when the signatures of all its fibres stand.")
                                     .arg(other.fibre)
                                     .arg(signature ? QObject::tr("signed, but overtaken") : QObject::tr("not signed")),
                                 true);
        }
        if (const auto before = state.signedCables.find(subject); before != state.signedCables.end() && before->second.stands)
            return frame.say(QObject::tr("Signed already: %1.").arg(what), false);
    } else {
        if (const auto& before = state.state(subject).signature; before && before->stands)
            return frame.say(QObject::tr("Signed already: %1.").arg(what), false);
        if (const auto ok = maySign(state, *l); !ok) {
            const QString why = QString::fromStdString(ok.error().message);
            if (!frame.again()) return frame.say(QObject::tr("%1 S again: sign all the same, with a reason.").arg(why), true);
            bool sure = false;
            const QString said =
                QInputDialog::getText(frame.widget(), QObject::tr("Sign all the same?"),
                                      QObject::tr("%1\nIf you sign all the same, say why (Esc: no):").arg(why), QLineEdit::Normal, QString(), &sure)
                    .trimmed();
            if (!sure || said.isEmpty()) return frame.say(why, true);
            remark = said.toStdString();
        }
    }
    if (frame.session()->sign(subject, remark)) frame.say(QObject::tr("Signed off: %1.").arg(what), false);
}

void writeCertificate(WindowFrame& frame)
{
    const Link* l = frame.link();
    JobSession& session = *frame.session();
    const QString folder = QFileInfo(session.path()).dir().filePath(QStringLiteral("certificates"));
    if (!session.store().wrong().empty())
        return frame.say(
            QObject::tr("This job is damaged: no certificate is written from a record that is not whole. Save what is left of it first (Job menu)."),
            true);
    std::vector<nlohmann::json> bodies;
    for (const std::string& subject : {l->id, l->cable->id}) {
        auto body = certificate(session.state(), subject, session.signatures(subject));
        if (!body) return frame.say(body.error());
        bodies.push_back(std::move(*body));
    }
    const auto written = writeCertificates(
        bodies, [&session](const std::string& sha) { return session.store().evidence(sha); }, folder);
    if (!written) return frame.say(written.error());
    frame.say(QObject::tr("Certificates of fibre %1 and of cable %2 are in %3 (PDF, JSON, CSV).")
                  .arg(l->fibre)
                  .arg(QString::fromStdString(l->cable->id), folder));
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
