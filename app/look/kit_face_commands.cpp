// Test cords and the ports of instruments: faces that touch many others in a day.
#include <QFileDialog>
#include <QFileInfo>

#include "app/frame/command.h"
#include "app/frame/open_job.h"
#include "app/frame/window_frame.h"
#include "app/look/look_desk.h"
#include "app/widgets/live_picture.h"
#include "app/widgets/pick.h"

namespace clendo {
namespace {

const QString portWord = QStringLiteral("port");

bool hasPort(const JobState& state, const KitItem& item)
{
    const KitKind* kind = kitKindNamed(state.plan->kitKinds, item.what.kind);
    return kind && kind->port;
}

/// Asks for a cord of the kit and one of its ends, or for an instrument whose port it is. A cord that is not in the kit yet is filed in it.
std::optional<FaceId> askForKitFace(WindowFrame& frame, const QString& title)
{
    const JobState& state = frame.session()->state();
    QStringList faces;
    for (const auto& [id, item] : state.kit) {
        if (item.what.gone) continue;
        const QString name = QString::fromStdString(id);
        if (item.what.kind == goldenKind) faces << QStringLiteral("%1 A").arg(name);
        if (item.what.kind == "cord")
            for (const char* end : {"A", "B"}) faces << QStringLiteral("%1 %2").arg(name, QLatin1String(end));
        if (hasPort(state, item)) faces << QStringLiteral("%1 %2").arg(name, portWord);
    }
    const auto answer = pick(frame.widget(), title, QObject::tr("Cord and end (type a new one: RC-1 A), or an instrument's port"), faces, true);
    if (!answer) return std::nullopt;
    const QString id = answer->section(QLatin1Char(' '), 0, -2).trimmed(), which = answer->section(QLatin1Char(' '), -1);
    const auto connection = Connection::parse(which == portWord ? "A" : which.toStdString());
    if (id.isEmpty() || id.contains(QLatin1Char('/')) || !connection || !connection->panelEnd()) {
        frame.say(QObject::tr("Name the cord and its end, a blank between them: RC-1 A. Of an instrument: PM-01 port."), true);
        return std::nullopt;
    }
    const FaceId face{id.toStdString(), *connection, which == portWord ? Side::Port : Side::Cord};
    const auto known = state.kit.find(face.link);
    if (face.side == Side::Port && (known == state.kit.end() || !hasPort(state, known->second))) {
        frame.say(QObject::tr("%1 is no instrument of the kit. Enter it there first.").arg(id), true);
        return std::nullopt;
    }
    // a face is judged by a class: that of the port at hand, where none was said of it
    const std::string& connector = frame.link()->cable->connectorAt(frame.chosen().connection);
    const std::string& className = frame.link()->cable->classAt(frame.chosen().connection);
    if (known == state.kit.end()) {
        KitKept kept{face.link, "cord", {connector}, {}, 0, 0, className, false};
        if (const auto* kind = kitKindNamed(state.plan->kitKinds, "cord")) kept.most = kind->most;
        frame.session()->file(kept);  // before what is done with it now: what is filed keeps its order
    } else if (known->second.what.className.empty()) {
        KitKept kept = known->second.what;
        kept.className = className;
        if (kept.connectors.empty()) kept.connectors = {connector};
        frame.session()->file(kept);  // before what is done with it now: what is filed keeps its order
    }
    return face;
}

void joinTestCord(WindowFrame& frame)
{
    const auto other = askForKitFace(frame, QObject::tr("Joined with a test cord or an instrument"));
    if (!other) return;
    frame.session()->file(Joined{frame.chosen(), *other},
                          [&frame, other = *other] { frame.say(said::joined(frame.session()->state().where(other))); });
}

void workOnTestCord(WindowFrame& frame)
{
    const auto face = askForKitFace(frame, QObject::tr("A test cord or an instrument's port"));
    if (!face) return;
    const auto words = [&frame](const FaceId& id) { return QString::fromStdString(frame.session()->state().where(id)); };
    const QString look = QObject::tr("look at it: open its picture"), joined = QObject::tr("it touched another cord or port");
    std::vector<std::pair<QString, Fact>> known;
    known.reserve(4);
    known.emplace_back(QObject::tr("it was cleaned, dry"), FaceCleaned{*face, "dry", 1, {}});
    if (face->side == Side::Cord)  // nothing wet goes into an instrument
        known.emplace_back(QObject::tr("it was cleaned, wet then dry"), FaceCleaned{*face, "wet-then-dry", 1, {}});
    known.emplace_back(QObject::tr("it was touched or dropped"), FaceHandled{*face, "touched"});
    known.emplace_back(QObject::tr("it is capped"), FaceCovered{*face, "capped"});
    LookDesk& desk = frame.deskOf<LookDesk>();
    const QString live = QObject::tr("look at it with the live scope");
    QStringList answers{look};
    if (desk.live().hasSource()) answers << live;
    const auto firstKnown = answers.size();
    for (const auto& [said, fact] : known) answers << said;
    answers << joined;
    const auto answer = pick(frame.widget(), words(*face), QObject::tr("What now?"), answers, false);
    if (!answer) return;
    if (*answer == look) {
        const QString path =
            QFileDialog::getOpenFileName(frame.widget(), QObject::tr("Its picture"), QFileInfo(frame.session()->path()).path(), pictureFilter());
        if (!path.isEmpty()) frame.job()->pictures->take(path, *face);
        return;
    }
    if (*answer == live) return desk.lookAtKit(*face);
    if (*answer == joined) {
        const auto other = askForKitFace(frame, QObject::tr("%1 touched").arg(words(*face)));
        if (!other) return;
        if (*other == *face) return frame.say(QObject::tr("A face does not touch itself."), true);
        return frame.session()->file(Joined{*face, *other}, [&frame, said = QObject::tr("Filed: %1 touched %2.").arg(words(*face), words(*other))] {
            frame.say(said, false);
        });
    }
    frame.session()->file(known[static_cast<std::size_t>(answers.indexOf(*answer) - firstKnown)].second,
                          [&frame, said = QObject::tr("Filed of %1: %2.").arg(words(*face), *answer)] { frame.say(said, false); });
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    const auto link = [&frame] { return needsLink(frame); };
    return {{"face.joined",
             CommandMenu::Step,
             QObject::tr("Joined with a test cord or an instrument …"),
             {Qt::Key_J},
             [&frame] { joinTestCord(frame); },
             link},
            {"kit.face",
             CommandMenu::Step,
             QObject::tr("A test cord or an instrument's port …"),
             {Qt::SHIFT | Qt::Key_J},
             [&frame] { workOnTestCord(frame); },
             link}};
}

const CommandGroup group(21, commandsOf);

}  // namespace
}  // namespace clendo
