// What is done with light beside reading: references and readings are typed, a fibre is proven, its length is known.
#include <QInputDialog>
#include <QWidget>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/loss/loss_desk.h"
#include "record/advice/command_ids.h"
#include "record/rules/right_fibre.h"

namespace clendo {
namespace {

void proveFibre(WindowFrame& frame, bool elsewhere)
{
    const Link* l = frame.link();
    frame.showDesk(QStringLiteral("right-fibre"));
    const int fibre = l->fibre;
    const int belongs = belongsAt(*l);
    int out = belongs;  // 0: nowhere
    if (elsewhere) {
        QStringList answers{QObject::tr("nowhere: no light came out")};
        for (int n = 1; n <= l->cable->fibres; ++n) answers << QObject::tr("fibre %1").arg(n);
        bool ok = false;
        const QString answer = QInputDialog::getItem(frame.widget(), QObject::tr("Where did it come out?"),
                                                     QObject::tr("Light into fibre %1 at A came out at B in").arg(fibre), answers, 0, false, &ok);
        if (!ok) return;
        out = static_cast<int>(answers.indexOf(answer));
    }
    const std::string cable = l->cable->id;
    LightSeen seen{cable, fibre, {}};
    if (out > 0) seen.out = out;
    frame.session()->file(seen, [&frame, seen, belongs] { frame.say(said::lightSeen(seen, belongs)); });
}

void askForLength(WindowFrame& frame)
{
    const Link* l = frame.link();
    const std::string id = l->id;
    bool ok = false;
    constexpr double longest = 200000;
    const double length = QInputDialog::getDouble(frame.widget(), QObject::tr("Length"),
                                                  QObject::tr("Fibre %1 was measured to be, metres (a trace tells it by itself):").arg(l->fibre), 0,
                                                  0, longest, 1, &ok);
    if (!ok || length <= 0) return;
    const QString how = QInputDialog::getItem(frame.widget(), QObject::tr("Length"), QObject::tr("Measured by"),
                                              {QObject::tr("the light source and meter"), QObject::tr("sheath marks")}, 0, true, &ok)
                            .trimmed();
    if (!ok || how.isEmpty()) return;
    const LengthMeasured measured{id, Metre(length), how.toStdString()};
    frame.session()->file(measured, [&frame, measured] { frame.say(said::lengthMeasured(measured)); });
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    const auto link = [&frame] { return needsLink(frame); };
    return {
        {std::string(command::setReference),
         Menu::Light,
         QObject::tr("Set the reference"),
         {Qt::Key_R},
         [&frame] {
             auto& desk = frame.deskOf<LossDesk>();
             frame.showDesk(desk.id());
             if (desk.run().meterOnLine())
                 desk.run().readOnce(LightRun::Purpose::Reference, desk.gear());
             else
                 desk.typeReference();
         },
         link},
        {std::string(command::readPower),
         Menu::Light,
         QObject::tr("Type the readings"),
         {Qt::Key_T},
         [&frame] { frame.deskOf<LossDesk>().typeReading(); },
         link},
        {std::string(command::proveFibre),
         Menu::Light,
         QObject::tr("Light came out where it belongs"),
         {Qt::Key_F},
         [&frame] { proveFibre(frame, false); },
         link},
        {"loss.elsewhere",
         Menu::Light,
         QObject::tr("Light came out elsewhere …"),
         {Qt::SHIFT | Qt::Key_F},
         [&frame] { proveFibre(frame, true); },
         link},
        {"loss.length", Menu::Light, QObject::tr("Length measured …"), {Qt::Key_E}, [&frame] { askForLength(frame); }, link},
    };
}

const CommandGroup group(30, commandsOf);

}  // namespace
}  // namespace clendo
