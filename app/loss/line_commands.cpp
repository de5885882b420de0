// Instruments on the line, and what is done with the reference besides setting it.
#include <QClipboard>
#include <QDialog>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QGuiApplication>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/loss/light_run.h"
#include "app/loss/loss_desk.h"
#include "app/loss/paste_dialog.h"
#include "app/widgets/theme.h"
#include "record/advice/command_ids.h"
#include "record/rules/reference_health.h"

namespace clendo {
namespace {

LightRun& runOf(WindowFrame& frame) { return frame.deskOf<LossDesk>().run(); }

/// Asks where meter and source are; a meter can be spoken to before it is used.
void chooseLines(WindowFrame& frame)
{
    LightRun& run = runOf(frame);
    QDialog dialog(frame.widget());
    dialog.setObjectName(QStringLiteral("linesDialog"));
    dialog.setWindowTitle(QObject::tr("Instruments on the line"));
    auto* form = new QFormLayout(&dialog);
    auto* about =
        new QLabel(QObject::tr("Host and port (192.168.0.20:5025) or a serial port (/dev/ttyUSB0). Empty: not on a line; what it shows is typed, "
                               "and a source is set by hand."));
    about->setWordWrap(true);
    form->addRow(about);
    auto* meter = new QLineEdit(run.meterPlace());
    meter->setObjectName(QStringLiteral("meterPlace"));
    auto* source = new QLineEdit(run.sourcePlace());
    source->setObjectName(QStringLiteral("sourcePlace"));
    form->addRow(QObject::tr("Power &meter"), meter);
    form->addRow(QObject::tr("Light &source"), source);
    auto* said = new QLineEdit(QStringLiteral("*IDN?"));
    said->setObjectName(QStringLiteral("sayToMeter"));
    auto* ask = new QPushButton(QObject::tr("&Say it to the meter"));
    auto* answer = new QLabel;
    answer->setObjectName(QStringLiteral("meterAnswer"));
    answer->setTextInteractionFlags(Qt::TextSelectableByMouse);
    form->addRow(ask, said);
    form->addRow(QObject::tr("It says"), answer);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    form->addRow(buttons);
    const auto use = [&] {
        const auto ok = run.use(meter->text(), source->text());
        if (!ok) answer->setText(QString::fromStdString(ok.error().message));
        return ok.has_value();
    };
    QObject::connect(ask, &QPushButton::clicked, &dialog, [&] {
        if ((run.meterPlace() != meter->text().trimmed() || !run.meterOnLine()) && !use()) return;
        answer->setText(QObject::tr("…"));
        constexpr int greeting = 300;  // ms: a line that was only just opened
        QTimer::singleShot(greeting, &dialog, [&] { run.say(said->text()); });
    });
    QObject::connect(&run, &LightRun::answered, answer, &QLabel::setText);
    QObject::connect(buttons, &QDialogButtonBox::accepted, &dialog, [&] {
        if (use()) dialog.accept();
    });
    QObject::connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    dialog.resize(dialog.sizeHint().expandedTo(QSize(em(38), 0)));
    if (dialog.exec() != QDialog::Accepted) return;
    frame.showDesk(QStringLiteral("loss"));
    frame.say(run.meterOnLine() ? QObject::tr("The meter's level is shown from now on. Readings are typed or read by it.")
                                : QObject::tr("No meter is on a line: what it shows is typed."));
}

/// What the meter shows at each wavelength of the chosen cable, typed one after the other; nothing where it was left.
std::optional<std::vector<std::pair<Nanometre, DecibelMilliwatt>>> askLevels(WindowFrame& frame, const QString& title)
{
    std::vector<std::pair<Nanometre, DecibelMilliwatt>> out;
    for (const int nm : frame.session()->state().plan->wavelengthsFor(*frame.link()->cable)) {
        QString trouble;
        while (true) {
            bool ok = false;
            const QString text = QInputDialog::getText(frame.widget(), title, trouble + QObject::tr("What the meter shows at %1 nm, dBm").arg(nm),
                                                       QLineEdit::Normal, QString(), &ok);
            if (!ok) return std::nullopt;
            const auto level = parsePower(text.toStdString());
            if (level) {
                out.emplace_back(Nanometre(nm), *level);
                break;
            }
            trouble = QString::fromStdString(level.error().message) + QLatin1Char('\n');
        }
    }
    return out;
}

template <class Fact, class Put>
void proveOrCheck(WindowFrame& frame, LightRun::Purpose purpose, const QString& title, Put put)
{
    frame.showDesk(QStringLiteral("loss"));
    auto& desk = frame.deskOf<LossDesk>();
    if (desk.run().meterOnLine()) return desk.run().readOnce(purpose, desk.gear(), desk.launch());
    const auto levels = askLevels(frame, title);
    if (!levels) return;
    std::vector<clendo::Fact> facts;
    for (const auto& [wavelength, level] : *levels) {
        Fact fact;
        fact.direction = desk.run().direction();
        fact.wavelength = wavelength;
        put(fact, level);
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
    std::vector<Fact> facts;
    for (const int nm : frame.session()->state().plan->wavelengthsFor(*frame.link()->cable)) {
        ReferenceSet set{frame.session()->state().plan->job.method, Nanometre(nm), desk.run().direction(), {}};
        set.zeroed = true;
        set.with = desk.gear();
        set.launch = desk.launch();
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
    frame.session()->file(SourceSwitchedOn{sourceOf(gear, frame.session()->state())}, [&frame] {
        frame.say(QObject::tr("Cold from now on; references that were set with it are void. Wait until it is warm, then set them."), true);
    });
}

void pasteTable(WindowFrame& frame)
{
    frame.showDesk(QStringLiteral("loss"));
    const Direction direction = runOf(frame).direction();
    auto table = guessTable(QGuiApplication::clipboard()->text().toStdString(), direction);
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
        {std::string(command::readByLine),
         Menu::Light,
         QObject::tr("Read fibre by fibre with the instruments"),
         {Qt::Key_I},
         [&frame] { measure(frame); },
         onLine},
        {std::string(command::chooseLines),
         Menu::Light,
         QObject::tr("Instruments on the line …"),
         {Qt::SHIFT | Qt::Key_I},
         [&frame] { chooseLines(frame); }},
        {"light.skip", Menu::Light, QObject::tr("Leave this fibre out"), {Qt::SHIFT | Qt::Key_K}, [&frame] { runOf(frame).skip(); }, underWay},
        {"light.source-set",
         Menu::Light,
         QObject::tr("The source is set to this wavelength"),
         {Qt::SHIFT | Qt::Key_L},
         [&frame] { runOf(frame).sourceIsSet(); },
         underWay},
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
         [&frame] {
             proveOrCheck<ReferenceProved>(frame, LightRun::Purpose::Proof, QObject::tr("Proof of the reference"),
                                           [](ReferenceProved& fact, DecibelMilliwatt level) { fact.power = level; });
         },
         link},
        {std::string(command::checkReference),
         Menu::Light,
         QObject::tr("Check the reference: the cords are as they were for it"),
         {Qt::SHIFT | Qt::Key_T},
         [&frame] {
             proveOrCheck<ReferenceChecked>(frame, LightRun::Purpose::Check, QObject::tr("Check of the reference"),
                                            [](ReferenceChecked& fact, DecibelMilliwatt level) { fact.level = level; });
         },
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
