// The loss of patch cords, beside their looks on a line: one connector at a time, or both at once.
#include "app/batch/batch_desk.h"
#include "app/batch/batch_view.h"
#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/loss/ask_levels.h"
#include "app/loss/loss_desk.h"
#include "record/rules/patch_cords.h"

namespace clendo {
namespace {

/// Two cords in the reference: both connectors of what comes between them.
bool readsBoth(WindowFrame& frame) { return frame.session()->state().plan->job.method == ReferenceMethod::TwoCord; }

/// The cord in hand on the line, and its end where one connector is read.
CordEnd inHand(WindowFrame& frame, bool both)
{
    const CordLine& line = *frame.deskOf<BatchDesk>().sheet().line();
    return {line.label(), both ? std::string() : line.end()};
}

constexpr int mostCords = 300;  // of one run

void tell(WindowFrame& frame, const std::string& cord)
{
    const auto rows = cordLosses(frame.session()->state(), cord, *frame.link()->cable);
    frame.say(QString::fromStdString(cordLossWords(cord, rows)),
              std::any_of(rows.begin(), rows.end(), [](const auto& row) { return row.verdict != "pass"; }));
}

void readCord(WindowFrame& frame)
{
    LightRun& run = frame.deskOf<LossDesk>().run();
    const bool both = readsBoth(frame);
    if (run.running()) {
        run.stop();
        return frame.say(QObject::tr("No more cords are read."));
    }
    const auto [cord, end] = inHand(frame, both);
    if (run.meterOnLine()) {
        run.readCords(cordsFrom({cord, end}, mostCords));
        return frame.say(QObject::tr("From %1 on, each cord is filed as soon as its light is steady; the same key ends it.")
                             .arg(QString::fromStdString(cordWords(cord, end))));
    }
    const auto levels = askLevels(frame, QObject::tr("Loss of %1").arg(QString::fromStdString(cordWords(cord, end))));
    if (!levels) return;
    std::vector<Fact> facts;
    for (const auto& [wavelength, level] : *levels) {
        CordRead read;
        read.cord = cord;
        read.end = end;
        read.wavelength = wavelength;
        read.direction = run.direction();
        read.power = level;
        facts.emplace_back(std::move(read));
    }
    frame.session()->file(std::move(facts), [&frame, cord = cord] { tell(frame, cord); });
}

const CommandGroup group(34, [](WindowFrame& frame) -> std::vector<Command> {
    return {{"batch.loss",
             CommandMenu::Light,
             QObject::tr("Loss of patch cords on the line, from the one in hand on"),
             {Qt::SHIFT | Qt::Key_M},
             [&frame] { readCord(frame); },
             [&frame] {
                 if (const QString why = needsLink(frame); !why.isEmpty()) return why;
                 const CordLine* line = frame.deskOf<BatchDesk>().sheet().line();
                 if (!line) return QObject::tr("Cords are read on a line: watch one first (batch inspection, L).");
                 return line->end().empty() && !readsBoth(frame)
                            ? QObject::tr(
                                  "One connector at a time: let the line go through both ends of each cord first (batch inspection, D), so that "
                                  "the record knows which one was read.")
                            : QString();
             }}};
});

}  // namespace
}  // namespace clendo
