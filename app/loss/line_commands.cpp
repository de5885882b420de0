// Instruments on the line, and what is done with the reference besides setting it.
#include <QClipboard>
#include <QGuiApplication>
#include <algorithm>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/loss/ask_levels.h"
#include "app/loss/light_run.h"
#include "app/loss/lines_dialog.h"
#include "app/loss/loss_desk.h"
#include "app/loss/paste_dialog.h"
#include "app/widgets/pick.h"
#include "record/advice/command_ids.h"
#include "record/rules/reference_health.h"

namespace clendo {
namespace {

LightRun& runOf(WindowFrame& frame) { return frame.deskOf<LossDesk>().run(); }

/// The cord that is put on behind the reference cord: the only other one of the kit, or the one that is named; empty: not said. Nothing: given up.
std::optional<std::string> receiveCord(WindowFrame& frame, const std::vector<std::string>& inHand)
{
    QStringList cords;
    for (const auto& [name, item] : frame.session()->state().kit)
        if (item.what.kind == "cord" && !item.what.gone && std::find(inHand.begin(), inHand.end(), name) == inHand.end())
            cords << QString::fromStdString(name);
    if (cords.size() < 2) return cords.isEmpty() ? std::string() : cords.front().toStdString();
    cords << QObject::tr("not said");
    const auto answer = pick(frame.widget(), QObject::tr("Proof of the reference"), QObject::tr("The cord that was put on behind"), cords, false);
    if (!answer) return std::nullopt;
    return *answer == cords.back() ? std::string() : answer->toStdString();
}

template <class Fact>
void proveOrCheck(WindowFrame& frame, LightRun::Purpose purpose, const QString& title)
{
    frame.showDesk(QStringLiteral("loss"));
    auto& desk = frame.deskOf<LossDesk>();
    LightGear gear = desk.gear();
    if constexpr (std::is_same_v<Fact, ReferenceProved>) {
        const auto cord = receiveCord(frame, gear.with);
        if (!cord) return;
        gear.provenCord = *cord;
    }
    if (desk.run().meterOnLine()) return desk.run().readOnce(purpose, std::move(gear));
    const auto levels = askLevels(frame, title);
    if (!levels) return;
    std::vector<clendo::Fact> facts;
    for (const auto& [wavelength, level] : *levels) {
        Fact fact;
        fact.direction = desk.run().direction();
        fact.wavelength = wavelength;
        fact.level = level;
        if constexpr (std::is_same_v<Fact, ReferenceProved>) fact.cord = gear.provenCord;
        facts.emplace_back(std::move(fact));
    }
    frame.session()->file(std::move(facts), [&frame] {
        const JobState& state = frame.session()->state();
        const Link* link = frame.link();
        const LimitSet* limits = link ? state.plan->limitsFor(*link->cable) : nullptr;
        if constexpr (std::is_same_v<Fact, ReferenceProved>) {
            if (!state.proofs.empty() && limits)
                frame.say(QString::fromStdString(proofWords(state.proofs.back().loss, limits->referencePair)),
                          judgeProof(state.proofs.back().loss, limits->referencePair) != ProofVerdict::Good);
        } else if (!state.checks.empty()) {
            frame.say(QString::fromStdString(checkWords(state, state.checks.back().loss)));
        }
    });
}

void measure(WindowFrame& frame)
{
    frame.showDesk(QStringLiteral("loss"));
    LightRun& run = runOf(frame);
    if (run.running())
        run.stop();
    else
        run.readCable();
}

void voidReference(WindowFrame& frame, const std::string& reason)
{
    const Direction direction = runOf(frame).direction();
    frame.session()->file(ReferenceVoided{direction, reason}, [&frame] {
        frame.say(QObject::tr("The reference is void. What was read before still rests on it; set it again before the next fibre."), true);
    });
}

void meterWasZeroed(WindowFrame& frame)
{
    auto& desk = frame.deskOf<LossDesk>();
    const LightGear gear = desk.gear();
    std::vector<Fact> facts;
    for (const int nm : frame.session()->state().plan->wavelengthsFor(*frame.link()->cable)) {
        ReferenceSet set = gear.set({frame.session()->state().plan->job.method, Nanometre(nm), desk.run().direction(), {}});
        set.zeroed = true;
        facts.emplace_back(std::move(set));
    }
    frame.session()->file(std::move(facts), [&frame] {
        frame.showDesk(QStringLiteral("loss"));
        frame.say(QObject::tr("Type what the meter shows in dB, with its sign: that is the loss."));
    });
}

void sourceSwitchedOn(WindowFrame& frame)
{
    const auto gear = frame.deskOf<LossDesk>().gear();
    frame.session()->file(SourceSwitchedOn{sourceOf(gear.with, frame.session()->state())}, [&frame] {
        frame.say(QObject::tr("Cold from now on; references that were set with it are void. Wait until it is warm, then set them."), true);
    });
}

void pasteTable(WindowFrame& frame)
{
    frame.showDesk(QStringLiteral("loss"));
    const Direction direction = runOf(frame).direction();
    auto table = guessTable(QGuiApplication::clipboard()->text().toStdString());
    if (!table) return frame.say(table.error());
    PasteDialog dialog(std::move(*table), frame.session()->state(), *frame.link()->cable, direction, frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    auto facts = dialog.facts();
    const auto n = facts.size();
    frame.session()->file(std::move(facts),
                          [&frame, n] { frame.say(QObject::tr("%1 readings out of the table are filed, on the references in force.").arg(n)); });
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    const auto link = [&frame] { return needsLink(frame); };
    const auto onLine = [&frame] {
        if (const QString why = needsLink(frame); !why.isEmpty()) return why;
        return runOf(frame).meterOnLine() ? QString() : QObject::tr("No meter is on a line. Say where it is first (Shift+I), or type what it shows.");
    };
    const auto underWay = [&frame] { return runOf(frame).running() ? QString() : QObject::tr("Nothing is being read by the instruments now."); };
    return {
        {"light.measure", Menu::Light, QObject::tr("Read fibre by fibre with the instruments"), {Qt::Key_I}, [&frame] { measure(frame); }, onLine},
        {"light.lines", Menu::Light, QObject::tr("Instruments on the line …"), {Qt::SHIFT | Qt::Key_I}, [&frame] { chooseLines(frame); }},
        {"light.skip", Menu::Light, QObject::tr("Leave this fibre out"), {Qt::SHIFT | Qt::Key_K}, [&frame] { runOf(frame).skip(); }, underWay},
        {"light.source-set",
         Menu::Light,
         QObject::tr("The source is set to this wavelength"),
         {Qt::SHIFT | Qt::Key_L},
         [&frame] { runOf(frame).sourceIsSet(); },
         underWay},
        {"light.tone",
         Menu::Light,
         QObject::tr("Tone on the source, to find the fibre; again: continuous light"),
         {Qt::SHIFT | Qt::Key_N},
         [&frame] {
             if (const auto asked = runOf(frame).toggleTone(); !asked) return frame.say(asked.error());
             frame.say(runOf(frame).toneOn() ? QObject::tr("The source was asked for a tone of 2 Hz. Where it comes out, F files it.")
                                             : QObject::tr("Continuous light again."));
         },
         [&frame] {
             return runOf(frame).sourcePlace().isEmpty()
                        ? QObject::tr("No source is on a line. Say where it is first (Shift+I), or set its tone by hand.")
                        : QString();
         }},
        {"light.turn",
         Menu::Light,
         QObject::tr("The source is at the other end"),
         {Qt::SHIFT | Qt::Key_D},
         [&frame] {
             frame.showDesk(QStringLiteral("loss"));
             runOf(frame).turnRound();
         },
         link},
        {std::string(command::proveReference),
         Menu::Light,
         QObject::tr("Prove the reference: the receive cord is on"),
         {Qt::SHIFT | Qt::Key_R},
         [&frame] { proveOrCheck<ReferenceProved>(frame, LightRun::Purpose::Proof, QObject::tr("Proof of the reference")); },
         link},
        {"light.check",
         Menu::Light,
         QObject::tr("Check the reference: the cords are as they were for it"),
         {Qt::SHIFT | Qt::Key_T},
         [&frame] { proveOrCheck<ReferenceChecked>(frame, LightRun::Purpose::Check, QObject::tr("Check of the reference")); },
         link},
        {"light.cord-off",
         Menu::Light,
         QObject::tr("The cord came off the source"),
         {Qt::SHIFT | Qt::Key_O},
         [&frame] { voidReference(frame, "the cord came off the source"); },
         link},
        {"light.source-on",
         Menu::Light,
         QObject::tr("The source was switched on just now"),
         {Qt::SHIFT | Qt::Key_W},
         [&frame] { sourceSwitchedOn(frame); },
         link},
        {"light.paste",
         Menu::Light,
         QObject::tr("Readings out of a table that was copied …"),
         {Qt::CTRL | Qt::Key_T},
         [&frame] { pasteTable(frame); },
         link},
        {"light.zeroed",
         Menu::Light,
         QObject::tr("The meter was set to zero on the reference"),
         {Qt::SHIFT | Qt::Key_Z},
         [&frame] { meterWasZeroed(frame); },
         link},
    };
}

const CommandGroup group(31, commandsOf);

}  // namespace
}  // namespace clendo
