// What is done with the face in hand: looked at, cleaned, mated, handled, overruled.
#include <QInputDialog>
#include <QWidget>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/look/clean_dialog.h"
#include "app/look/contacts_dialog.h"
#include "app/look/look_desk.h"
#include "app/look/overrule_dialog.h"
#include "app/widgets/pick.h"
#include "record/advice/cleaning_advice.h"
#include "record/advice/command_ids.h"
#include "record/rules/gates.h"
#include "record/rules/kit.h"

namespace clendo {
namespace {

void clean(WindowFrame& frame)
{
    if (frame.session()->state().state(frame.chosen().link).mated.contains(frame.chosen().connection))
        frame.say(QObject::tr("This pair is mated. Cleaning it means it was opened: both faces must be seen again."), false);
    const JobState& state = frame.session()->state();
    QStringList tools;
    for (const KitItem* tool : toolsFor(state, frame.link()->cable->connectorAt(frame.chosen().connection), cleaningTarget(state, frame.chosen())))
        tools << QString::fromStdString(tool->what.id);
    const auto does = [&state](const QString& tool, const std::string& method) {
        const auto item = state.kit.find(tool.toStdString());
        return item == state.kit.end() || doesMethod(state, item->second, method);
    };
    CleanDialog dialog(adviceFor(state.face(frame.chosen()), state.policy("first_method"), cleaningTarget(state, frame.chosen())), tools,
                       frame.widget(), does);
    if (dialog.exec() != QDialog::Accepted) return;
    const std::string tool = dialog.tool().toStdString();
    frame.working(StepKind::Clean);
    frame.session()->file(FaceCleaned{frame.chosen(), dialog.method(), dialog.strokes(), tool}, [&frame, tool] {
        const auto& kit = frame.session()->state().kit;
        const auto used = kit.find(tool);
        frame.say(said::cleaned(used == kit.end() ? nullptr : &used->second));
        frame.showDesk(QStringLiteral("look"));
    });
}

void cleanSleeve(WindowFrame& frame)
{
    const Link* l = frame.link();
    const bool mated = frame.session()->state().state(l->id).mated.contains(frame.chosen().connection);
    frame.session()->file(SleeveCleaned{l->id, frame.chosen().connection},
                          [&frame, words = said::sleeveCleaned(l->port(frame.chosen().connection), mated)] { frame.say(words); });
}

void handled(WindowFrame& frame)
{
    const std::vector<std::pair<QString, Fact>> known{{QObject::tr("touched"), FaceHandled{frame.chosen(), "touched"}},
                                                      {QObject::tr("dropped"), FaceHandled{frame.chosen(), "dropped"}},
                                                      {QObject::tr("moved"), FaceHandled{frame.chosen(), "moved"}},
                                                      {QObject::tr("open too long"), FaceHandled{frame.chosen(), "open too long"}},
                                                      {QObject::tr("capped"), FaceCovered{frame.chosen(), "capped"}},
                                                      {QObject::tr("parked in a clean port"), FaceCovered{frame.chosen(), "parked"}},
                                                      {QObject::tr("factory cap on"), FaceCovered{frame.chosen(), "factory cap"}},
                                                      {QObject::tr("cap taken off"), FaceCovered{frame.chosen(), "open"}}};
    QStringList answers;
    for (const auto& [words, fact] : known) answers << words;
    const auto answer = pick(frame.widget(), QObject::tr("What happened to it?"), QObject::tr("The face in hand was"), answers, false);
    if (!answer) return;
    const Fact& fact = known[static_cast<std::size_t>(answers.indexOf(*answer))].second;
    const std::string how = answer->toStdString();
    frame.session()->file(
        fact, [&frame, words = std::holds_alternative<FaceHandled>(fact) ? said::touched(how) : said::covered(how)] { frame.say(words); });
}

void showContacts(WindowFrame& frame)
{
    ContactsDialog dialog(frame.session()->state(), frame.chosen(), frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    if (frame.session()->state().link(dialog.chosen().link))
        frame.choose(dialog.chosen());
    else
        frame.say(QObject::tr("A test cord is in no port: Shift+J looks at it or says what was done with it."), false);
}

void mate(WindowFrame& frame)
{
    const Link* l = frame.link();
    if (frame.session()->state().state(l->id).mated.contains(frame.chosen().connection))
        return frame.say(QObject::tr("This pair is mated already."), false);
    std::string reason;
    if (const auto ok = mayMate(frame.session()->state(), *l, frame.chosen().connection); !ok) {
        const QString why = QString::fromStdString(ok.error().message);
        if (ok.error().code != Error::Code::StepRefused) return frame.say(why, true);
        // hands that are busy are not trapped in a question: only who presses again is asked why
        if (!frame.again()) return frame.say(QObject::tr("%1 M again: mate anyway, with a reason.").arg(why), true);
        bool sure = false;
        const QString said =
            QInputDialog::getText(frame.widget(), QObject::tr("Mate anyway?"), QObject::tr("%1\nIf you mate anyway, say why (Esc: no):").arg(why),
                                  QLineEdit::Normal, QString(), &sure)
                .trimmed();
        if (!sure || said.isEmpty()) return frame.say(why, true);
        reason = said.toStdString();
        l = frame.link();
        if (!l) return;
    }
    frame.session()->file(Mated{l->id, frame.chosen().connection, reason},
                          [&frame, words = said::mated(*l, frame.chosen().connection)] { frame.say(words); });
}

void overrule(WindowFrame& frame)
{
    frame.showDesk(QStringLiteral("look"));
    const Look* look = frame.session()->state().face(frame.chosen()).lastJudged();
    if (!look) return frame.say(QObject::tr("This face was not judged yet: there is nothing to overrule."), true);
    OverruleDialog dialog(frame.chosen(), *look, optionalOf(frame.session()->state().faceClass(frame.chosen())), frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    frame.session()->file(
        dialog.fact(), [&frame] { frame.say(QObject::tr("Filed: the record keeps what was measured and what you say. Z takes it back."), false); });
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    const auto link = [&frame] { return needsLink(frame); };
    const auto of = [&frame](void (*work)(WindowFrame&)) { return [&frame, work] { work(frame); }; };
    return {
        {std::string(command::takePicture),
         Menu::Step,
         QObject::tr("Take a picture"),
         {Qt::Key_P},
         [&frame] { frame.deskOf<LookDesk>().takePicture(); },
         link},
        {std::string(command::clean), Menu::Step, QObject::tr("I cleaned it …"), {Qt::Key_C}, of(clean), link},
        {std::string(command::cleanSleeve), Menu::Step, QObject::tr("I cleaned the sleeve"), {Qt::Key_A}, of(cleanSleeve), link},
        {std::string(command::mate), Menu::Step, QObject::tr("Mate"), {Qt::Key_M}, of(mate), link},
        {std::string(command::openPicture),
         Menu::Step,
         QObject::tr("Open a picture of the face …"),
         {Qt::Key_O},
         [&frame] { frame.deskOf<LookDesk>().openPicture(); },
         link},
        {"face.handled", Menu::Step, QObject::tr("What happened to the face …"), {Qt::Key_H}, of(handled), link},
        {"face.overrule", Menu::Look, QObject::tr("Overrule a finding …"), {Qt::Key_X}, of(overrule), link},
        {"face.contacts", Menu::Look, QObject::tr("What touched what …"), {Qt::Key_G}, of(showContacts), link},
        {"face.unroll", Menu::Look, QObject::tr("Face unrolled"), {Qt::Key_U}, [&frame] { frame.deskOf<LookDesk>().toggleUnrolled(); }},
        {"face.live", Menu::Look, QObject::tr("Live picture on or off"), {Qt::Key_V}, [&frame] { frame.deskOf<LookDesk>().toggleLive(); }, link},
        {"face.key",
         Menu::Look,
         QObject::tr("Ferrule held the other way"),
         {Qt::Key_K},
         [&frame] { frame.deskOf<LookDesk>().turnKey(); },
         [&frame] { return needsJob(frame); }},
    };
}

const CommandGroup group(20, commandsOf);

}  // namespace
}  // namespace clendo
