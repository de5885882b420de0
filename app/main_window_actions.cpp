// What the keys and buttons of the main window do.
#include <QApplication>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <nlohmann/json.hpp>

#include "app/live_desk.h"
#include "app/loss_view.h"
#include "app/main_window.h"
#include "app/picture_intake.h"
#include "app/ruling_view.h"
#include "app/theme.h"
#include "app/trace_intake.h"
#include "files/files.h"
#include "files/log_file.h"
#include "instruments/watched_folder.h"
#include "modules/vision.h"
#include "pictures/decode.h"
#include "record/certificate.h"
#include "record/round.h"
#include "report/certificate_pdf.h"

namespace clendo {

/// Shortcuts with a modifier live on the window from the start; the menu that shows everything is built when it is opened.
void MainWindow::buildActions()
{
    const auto shortcut = [this](const QKeySequence& keys, auto work) {
        auto* action = new QAction(this);
        action->setShortcut(keys);
        connect(action, &QAction::triggered, this, work);
        addAction(action);
    };
    shortcut(QKeySequence::New, [this] { askForJob(true); });
    shortcut(QKeySequence::Open, [this] { askForJob(false); });
    shortcut(QKeySequence(Qt::CTRL | Qt::Key_F), [this] { askForWatchedFolder(); });
    shortcut(QKeySequence::Quit, [this] { close(); });
    shortcut(QKeySequence(Qt::Key_F9), [this] { setDark(!dark_); });
    shortcut(QKeySequence(Qt::Key_F3), [this] { showProfiles(); });
    shortcut(QKeySequence(Qt::CTRL | Qt::Key_I), [this] { askForTable(); });
    shortcut(QKeySequence(Qt::Key_F5), [this] { showKit(); });
    shortcut(QKeySequence(Qt::Key_F8), [this] { toggleBigWords(); });
    shortcut(QKeySequence(Qt::Key_F4), [this] { choosePolicies(); });
    shortcut(QKeySequence(Qt::Key_F1), [this] { showKeys(); });
    shortcut(QKeySequence(Qt::Key_F10), [this] { openMenu(); });
    connect(menuButton_, &QPushButton::clicked, this, &MainWindow::openMenu);
}

void MainWindow::openMenu()
{
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("menu"));
    const auto entry = [](QMenu* into, const QString& text, const QString& key, auto work) { into->addAction(text + QLatin1Char('\t') + key, work); };
    QMenu* job = menu.addMenu(tr("&Job"));
    entry(job, tr("&New job …"), tr("Ctrl+N"), [this] { askForJob(true); });
    entry(job, tr("&Open job …"), tr("Ctrl+O"), [this] { askForJob(false); });
    if (session_) troubledJobEntries(job);
    entry(job, tr("&Cables from a table …"), tr("Ctrl+I"), [this] { askForTable(); });
    entry(job, tr("An &example of such a table …"), QString(), [this] { saveTableExample(); });
    entry(job, tr("&Kit …"), tr("F5"), [this] { showKit(); });
    entry(job, tr("Policy …"), tr("F4"), [this] { choosePolicies(); });
    entry(job, tr("What to take &along"), tr("Y"), [this] { showCarry(); });
    entry(job, tr("Only one &place"), tr("L"), [this] { nextPlace(); });
    entry(job, tr("&Watch a scope's folder …"), tr("Ctrl+F"), [this] { askForWatchedFolder(); });
    entry(job, tr("Who works &here …"), QString(), [this] {
        bool ok = false;
        const QString who = QInputDialog::getText(this, tr("Who works here"), tr("Role or name as it shall stand in the journal"), QLineEdit::Normal,
                                                  session_ ? session_->who() : QString(), &ok);
        if (ok && session_ && !who.trimmed().isEmpty()) session_->setWho(who.trimmed());
    });
    chooseScope(menu.addMenu(tr("S&cope")));
    QMenu* step = menu.addMenu(tr("&Step"));
    for (const auto& [kind, text] : std::initializer_list<std::pair<ActionKind, QString>>{{ActionKind::NextStep, tr("Next step")},
                                                                                          {ActionKind::TakePicture, tr("Take a picture")},
                                                                                          {ActionKind::Clean, tr("I cleaned it")},
                                                                                          {ActionKind::CleanSleeve, tr("I cleaned the sleeve")},
                                                                                          {ActionKind::Mate, tr("Mate")},
                                                                                          {ActionKind::SetReference, tr("Set the reference")},
                                                                                          {ActionKind::ReadPower, tr("Type the readings")},
                                                                                          {ActionKind::ProveFibre, tr("Light came out here")},
                                                                                          {ActionKind::OpenTrace, tr("Open a picture or trace")},
                                                                                          {ActionKind::Sign, tr("Sign off")},
                                                                                          {ActionKind::Certificate, tr("Write the certificate")},
                                                                                          {ActionKind::Undo, tr("Take back the last entry")},
                                                                                          {ActionKind::PlanCable, tr("Plan a cable")}})
        entry(step, text, keyOf(kind), [this, action = kind] { act(action); });
    entry(step, tr("Light came out elsewhere …"), tr("Shift+F"), [this] { proveFibre(true); });
    entry(step, tr("Length measured …"), tr("E"), [this] { askForLength(); });
    entry(step, tr("What happened to the face …"), tr("H"), [this] { handled(); });
    entry(step, tr("Joined with a test cord or an instrument …"), tr("J"), [this] { joinTestCord(); });
    entry(step, tr("A test cord or an instrument's port …"), tr("Shift+J"), [this] { workOnTestCord(); });
    entry(step, tr("Ferrule held the other way"), tr("K"), [this] { turnKey(); });
    QMenu* view = menu.addMenu(tr("&View"));
    int n = 0;
    for (const QString& text : {tr("Look"), tr("Light"), tr("Trace"), tr("Sign-off"), tr("Many at once"), tr("Journal"), tr("What it teaches")}) {
        const auto desk = static_cast<Desk>(n++);
        entry(view, text, QString::number(n), [this, desk] { showDesk(desk); });
    }
    entry(view, tr("Face &unrolled"), tr("U"), [this] { unroll(); });
    entry(view, tr("What touched what"), tr("G"), [this] { showContacts(); });
    entry(step, tr("Overrule a finding …"), tr("X"), [this] { overrule(); });
    entry(view, tr("Large words"), tr("F8"), [this] { toggleBigWords(); });
    entry(view, soundOn_ ? tr("Sounds off") : tr("Sounds on"), QString(), [this] { soundOn_ = !soundOn_; });
    entry(view, dark_ ? tr("Light theme") : tr("Dark theme"), tr("F9"), [this] { setDark(!dark_); });
    entry(&menu, tr("&Profiles …"), tr("F3"), [this] { showProfiles(); });
    QMenu* help = menu.addMenu(tr("&Help"));
    entry(help, tr("&Keys"), tr("F1"), [this] { showKeys(); });
    entry(help, tr("Where the &log is"), QString(), [this] { showLog(); });
    entry(&menu, tr("&Quit"), tr("Ctrl+Q"), [this] { close(); });
    menu.exec(menuButton_->mapToGlobal(QPoint(0, menuButton_->height())));
}

void MainWindow::askForWatchedFolder()
{
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder into which the scope saves"));
    if (!folder.isEmpty()) watchFolder(folder);
}

void MainWindow::showKeys()
{
    QMessageBox::information(this, tr("Keys"),
                             tr("N or Space  next step\n← →  face along the ribbon\n↑ ↓  fibre\n1 2 3 4 5 6 7  look, light, trace, sign-off, many at "
                                "once, journal, what it teaches\nL  only one place\nY  what to take along\nEnter  the "
                                "first action of the ruling, also a pedal that sends Page Down\n"
                                "P  take a picture\nC  I cleaned it\nA  I cleaned the sleeve\nM  mate\nH  touched, dropped, capped …\nJ  joined with "
                                "a test cord\nG  what touched what\nR  set the reference\nT  type the readings\nF  light into this fibre came out at "
                                "the same number, Shift+F elsewhere\nE  its length\nO  open a picture or "
                                "trace\nD  other shot\nK  ferrule held with its key up or down\nV  live picture, + − focus of the simulated scope\nU "
                                " the face unrolled\nX  overrule a "
                                "finding\nS  sign the fibre, Shift+S the cable\n"
                                "W  write the certificates of the fibre and its cable\nZ  take back the last entry\nB  plan a cable\nEsc  out of a "
                                "field\nF3  profiles\nF4  the job's policy\nF5  the kit\nF8  large words\nF9  dark\nF10  menu"));
}

void MainWindow::showLog()
{
    QMessageBox::information(
        this, tr("The log"),
        tr("What went wrong is written down, with what the sentences leave out, in\n%1\nIt stays on this computer and never grows beyond 512 KB.")
            .arg(QDir::toNativeSeparators(QString::fromStdString(programLog().path().string()))));
}

void MainWindow::act(ActionKind action)
{
    if (!session_) return;
    switch (action) {
        case ActionKind::NextStep: return nextStep();
        case ActionKind::Clean: return clean();
        case ActionKind::CleanSleeve: return cleanSleeve();
        case ActionKind::Mate: return mate();
        case ActionKind::OpenTrace: return askForFile();
        case ActionKind::ProveFibre: return proveFibre(false);
        case ActionKind::Sign: return sign(false);
        case ActionKind::Certificate: return writeCertificate();
        case ActionKind::PlanCable: return planCable();
        case ActionKind::Undo: session_->takeBackLast(); return;
        case ActionKind::SetReference: showDesk(Desk::Loss); return loss_->focusReference();
        case ActionKind::ReadPower: showDesk(Desk::Loss); return loss_->focusReading();
        case ActionKind::TakePicture:
            if (!link()) return;
            working_ = StepKind::Look;
            showDesk(Desk::Look);
            if (live_->running()) {
                if (const auto filed = live_->capture(*intake_); !filed) say(filed.error());
                return;
            }
            if (simulatedScope_.isEmpty()) return askForFile();
            // the simulated scope saves into the watched folder, like a real one; the folder does the rest
            QString file = QString::fromStdString(chosen_.text()).replace(QLatin1Char('/'), QLatin1Char('-'));
            file = QStringLiteral("%1-%2.png").arg(file).arg(session_->state().face(chosen_).tries.size() + 1);
            const auto saved = vision().and_then([&](const Vision& v) {
                return writeFile(QDir(simulatedScope_).filePath(file).toStdString(),
                                 encodePng(v.demoPicture(chosen_, session_->state().face(chosen_).cleanings)));
            });
            if (!saved) say(saved.error());
            return;
    }
}

void MainWindow::writeCertificate()
{
    const Link* l = link();
    if (!l) return;
    const QString folder = QFileInfo(session_->path()).dir().filePath(QStringLiteral("certificates"));
    if (!session_->store().wrong().empty())
        return say(tr("This job is damaged: no certificate is written from a record that is not whole. Save what is left of it first (Job menu)."),
                   true);
    std::vector<nlohmann::json> bodies;
    for (const std::string& subject : {l->id, l->cable->id}) {
        auto body = certificate(session_->state(), subject, session_->signatures(subject));
        if (!body) return say(body.error());
        bodies.push_back(std::move(*body));
    }
    const auto written = writeCertificates(
        bodies, [this](const std::string& sha) { return session_->store().evidence(sha); }, folder);
    if (!written) return say(written.error());
    say(tr("Certificates of fibre %1 and of cable %2 are in %3 (PDF, JSON, CSV).").arg(l->fibre).arg(QString::fromStdString(l->cable->id), folder),
        false);
    emit certificateWritten(*written);
}

QString MainWindow::pictureFilter() { return tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.bmp);;All files (*)"); }

void MainWindow::askForFile()
{
    if (!link()) return;
    const bool trace = desk_ == Desk::Trace;
    const QString path = QFileDialog::getOpenFileName(this, trace ? tr("Open a trace") : tr("Open a picture"), QFileInfo(session_->path()).path(),
                                                      trace ? tr("OTDR traces (*.sor *.SOR);;All files (*)") : pictureFilter());
    if (path.isEmpty()) return;
    if (trace)
        openTrace(path);
    else
        takePicture(path);
}

void MainWindow::takePicture(const QString& path)
{
    if (!intake_) return say(tr("Open a job first."), true);
    intake_->take(path, chosen_);
}

void MainWindow::openTrace(const QString& path)
{
    const Link* l = link();
    if (!l) return say(tr("Choose a fibre first."), true);
    traces_->take(path, *l);
    showDesk(Desk::Trace);
}

/// From which end a trace was shot, where the file does not tell it.
std::optional<Direction> MainWindow::askDirection(const QString& file, const QString& placeA, const QString& placeB)
{
    const QStringList answers{tr("A to B: the instrument stood at %1").arg(placeA), tr("B to A: the instrument stood at %1").arg(placeB)};
    bool ok = false;
    const QString answer =
        QInputDialog::getItem(this, tr("From which end?"), tr("%1 does not say from which end it was shot.").arg(file), answers, 0, false, &ok);
    if (!ok) return std::nullopt;
    return answer == answers[0] ? Direction::AtoB : Direction::BtoA;
}

void MainWindow::watchFolder(const QString& folder)
{
    watched_->watch(folder);
    say(tr("Watching %1: a picture saved there goes to the chosen face.").arg(folder), false);
}

void MainWindow::useSimulatedScope(const QString& folder)
{
    simulatedScope_ = folder;
    live_->useSimulatedScope();
    watchFolder(folder);
}

void MainWindow::setDark(bool dark)
{
    dark_ = dark;
    applyTheme(*qApp, dark);
    refresh();
}

}  // namespace clendo
