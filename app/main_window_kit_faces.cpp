// Test cords and the ports of instruments: faces that touch many others in a day.
#include <QFileDialog>
#include <QFileInfo>

#include "app/job_session.h"
#include "app/main_window.h"
#include "app/pick.h"
#include "app/picture_intake.h"

namespace clendo {
namespace {

const QString portWord = QStringLiteral("port");

bool hasPort(const JobState& state, const KitItem& item)
{
    const KitKind* kind = kitKindNamed(state.kitKinds, item.what.kind);
    return kind && kind->port;
}

}  // namespace

/// Asks for a cord of the kit and one of its ends, or for an instrument whose port it is. A cord that is not in the kit yet is filed in it.
std::optional<FaceId> MainWindow::askForKitFace(const QString& title)
{
    const JobState& state = session_->state();
    QStringList faces;
    for (const auto& [id, item] : state.kit) {
        if (item.what.gone) continue;
        const QString name = QString::fromStdString(id);
        if (item.what.kind == "cord")
            for (const char* end : {"A", "B"}) faces << QStringLiteral("%1 %2").arg(name, QLatin1String(end));
        if (hasPort(state, item)) faces << QStringLiteral("%1 %2").arg(name, portWord);
    }
    const auto answer = pick(this, title, tr("Cord and end (type a new one: RC-1 A), or an instrument's port"), faces, true);
    if (!answer) return std::nullopt;
    const QString id = answer->section(QLatin1Char(' '), 0, -2).trimmed(), which = answer->section(QLatin1Char(' '), -1);
    const auto connection = Connection::parse(which == portWord ? "A" : which.toStdString());
    if (id.isEmpty() || id.contains(QLatin1Char('/')) || !connection || !connection->panelEnd()) {
        say(tr("Name the cord and its end, a blank between them: RC-1 A. Of an instrument: PM-01 port."), true);
        return std::nullopt;
    }
    const FaceId face{id.toStdString(), *connection, which == portWord ? Side::Port : Side::Cord};
    const auto known = state.kit.find(face.link);
    if (face.side == Side::Port && (known == state.kit.end() || !hasPort(state, known->second))) {
        say(tr("%1 is no instrument of the kit. Enter it there first.").arg(id), true);
        return std::nullopt;
    }
    // a face is judged by a class: that of the port at hand, where none was said of it
    const std::string& connector = link()->cable->connectorAt(chosen_.connection);
    const std::string& criteria = link()->cable->criteriaAt(chosen_.connection);
    if (known == state.kit.end()) {
        KitKept kept{face.link, "cord", {connector}, {}, 0, 0, criteria, false};
        if (const auto* kind = kitKindNamed(state.kitKinds, "cord")) kept.most = kind->most;
        if (!session_->file(kept)) return std::nullopt;
    } else if (known->second.what.criteria.empty()) {
        KitKept kept = known->second.what;
        kept.criteria = criteria;
        if (kept.connectors.empty()) kept.connectors = {connector};
        if (!session_->file(kept)) return std::nullopt;
    }
    return face;
}

void MainWindow::joinTestCord()
{
    if (!link()) return;
    const auto other = askForKitFace(tr("Joined with a test cord or an instrument"));
    if (other && session_->file(Joined{chosen_, *other}))
        say(tr("Filed: joined with %1. What touches it later is traced.").arg(QString::fromStdString(session_->state().where(*other))), false);
}

void MainWindow::workOnTestCord()
{
    if (!link()) return;
    const auto face = askForKitFace(tr("A test cord or an instrument's port"));
    if (!face) return;
    const auto words = [this](const FaceId& id) { return QString::fromStdString(session_->state().where(id)); };
    const QString look = tr("look at it: open its picture"), joined = tr("it touched another cord or port");
    std::vector<std::pair<QString, Fact>> known{{tr("it was cleaned, dry"), FaceCleaned{*face, "dry", 1, {}}}};
    if (face->side == Side::Cord)  // nothing wet goes into an instrument
        known.emplace_back(tr("it was cleaned, wet then dry"), FaceCleaned{*face, "wet-then-dry", 1, {}});
    known.emplace_back(tr("it was touched or dropped"), FaceHandled{*face, "touched"});
    known.emplace_back(tr("it is capped"), FaceCovered{*face, "capped"});
    QStringList answers{look};
    for (const auto& [said, fact] : known) answers << said;
    answers << joined;
    const auto answer = pick(this, words(*face), tr("What now?"), answers, false);
    if (!answer) return;
    if (*answer == look) {
        const QString path = QFileDialog::getOpenFileName(this, tr("Its picture"), QFileInfo(session_->path()).path(), pictureFilter());
        if (!path.isEmpty()) intake_->take(path, *face);
        return;
    }
    if (*answer == joined) {
        const auto other = askForKitFace(tr("%1 touched").arg(words(*face)));
        if (!other) return;
        if (*other == *face) return say(tr("A face does not touch itself."), true);
        if (session_->file(Joined{*face, *other})) say(tr("Filed: %1 touched %2.").arg(words(*face), words(*other)), false);
        return;
    }
    if (session_->file(known[static_cast<std::size_t>(answers.indexOf(*answer) - 1)].second))
        say(tr("Filed of %1: %2.").arg(words(*face), *answer), false);
}

}  // namespace clendo
