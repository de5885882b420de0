// How the main window runs commands: by key, menu, search and button; and those that are its own.
#include <QApplication>
#include <QKeyEvent>
#include <QMenu>
#include <QPushButton>
#include <algorithm>
#include <array>

#include "app/frame/advice_view.h"
#include "app/frame/command_search.h"
#include "app/frame/main_window.h"
#include "app/frame/work_bar.h"
#include "app/kit/check_list_dialog.h"
#include "app/widgets/theme.h"

namespace clendo {
namespace {

/// Keys that fields of text and lists would take for themselves are shortcuts of the window.
bool isShortcut(QKeyCombination key)
{
    const bool functionKey = key.key() >= Qt::Key_F1 && key.key() <= Qt::Key_F35;
    return functionKey || (key.keyboardModifiers() & (Qt::ControlModifier | Qt::AltModifier));
}

}  // namespace

void MainWindow::buildCommands()
{
    for (auto& command : ownCommands()) commands_.add(std::move(command));
    for (auto& command : CommandGroup::of(*this)) commands_.add(std::move(command));
    for (const auto& command : commands_.all())
        for (const QKeyCombination key : command.keys) {
            if (!isShortcut(key)) continue;
            auto* action = new QAction(this);
            action->setShortcut(key);
            connect(action, &QAction::triggered, this, [this, id = command.id] { run(id); });
            addAction(action);
        }
}

std::vector<Command> MainWindow::ownCommands()
{
    using Menu = CommandMenu;
    const auto job = [this] { return needsJob(*this); };
    const auto link = [this] { return needsLink(*this); };
    std::vector<Command> out{
        {"round.next", Menu::Step, tr("Next step"), {Qt::Key_N, Qt::Key_Space}, [this] { goOn(); }, job},
        {"advice.first",
         Menu::Step,
         tr("The first thing that the advice asks for"),
         {Qt::Key_Return, Qt::Key_Enter, Qt::Key_PageDown},  // the last one is what pedals send
         [this] {
             if (!advice_->shown().actions.empty()) run(advice_->shown().actions.front().command);
         }},
        {"round.place", Menu::Plan, tr("Only one place"), {Qt::Key_L}, [this] { nextPlace(); }, job},
        {"round.carry", Menu::Plan, tr("What to take along …"), {Qt::Key_Y}, [this] { showCarry(); }, job},
        {"face.left", Menu::View, tr("Face before, along the ribbon"), {Qt::Key_Left}, [this] { moveFace(-1); }, link},
        {"face.right", Menu::View, tr("Next face along the ribbon"), {Qt::Key_Right}, [this] { moveFace(1); }, link},
        {"link.up", Menu::View, tr("Fibre before"), {Qt::Key_Up}, [this] { moveLink(-1); }, link},
        {"link.down", Menu::View, tr("Next fibre"), {Qt::Key_Down}, [this] { moveLink(1); }, link},
        {"window.leave-field", Menu::View, tr("Out of a field; stop what is being written"), {Qt::Key_Escape}, [this] { leaveOrStop(); }},
        {"window.fold-round", Menu::View, tr("Fold the round to a strip"), {Qt::Key_BracketLeft}, [this] { roundColumn_->toggle(); }, job},
        {"window.fold-advice", Menu::View, tr("Fold the advice to a strip"), {Qt::Key_BracketRight}, [this] { adviceColumn_->toggle(); }},
        {"window.words", Menu::View, tr("Large words"), {Qt::Key_F8}, [this] { showBigWords(); }},
        {"window.dark", Menu::View, tr("Dark or light"), {Qt::Key_F9}, [this] { setDark(!dark_); }},
        {"window.menu", Menu::Help, tr("Menu"), {Qt::Key_F10}, [this] { openMenu(); }},
        {"window.find", Menu::Help, tr("Find a command; all keys"), {Qt::Key_F1, Qt::Key_Slash}, [this] { findCommand(); }},
        {"window.quit", Menu::Job, tr("Quit"), {Qt::CTRL | Qt::Key_Q}, [this] { close(); }},
        {"job.new", Menu::Job, tr("New job …"), {Qt::CTRL | Qt::Key_N}, [this] { askForJob(true); }},
        {"job.open", Menu::Job, tr("Open a job …"), {Qt::CTRL | Qt::Key_O}, [this] { askForJob(false); }}};
    constexpr int digits = 9;
    int number = 0;
    for (const Desk* desk : desks_) {
        const auto digit = static_cast<Qt::Key>(Qt::Key_1 + number % digits);  // the tenth is Alt+1
        const QKeyCombination key = number < digits ? QKeyCombination(digit) : QKeyCombination(Qt::ALT, digit);
        ++number;
        out.push_back({"desk." + desk->id().toStdString(),
                       Menu::View,
                       desk->title(),
                       {key},
                       [this, id = desk->id()] { showDesk(id); },
                       desk->needsJob() ? std::function<QString()>(job) : nullptr});
    }
    return out;
}

/// Who is in a field leaves it; else what runs in the background is stopped.
void MainWindow::leaveOrStop()
{
    if (hasFocus()) work_->stop();
    setFocus();
}

void MainWindow::run(const Command& command)
{
    if (const QString why = command.whyNot ? command.whyNot() : QString(); !why.isEmpty()) return say(why, true);
    again_ = ranLast_ == command.id;
    ranLast_ = command.id;
    const JobSnapshot held = session() ? session()->snapshot() : JobSnapshot();  // what it looks at stays while it asks in a dialog
    command.run();
}

void MainWindow::run(std::string_view id)
{
    if (const Command* command = commands_.find(id)) run(*command);
}

void MainWindow::keyPressEvent(QKeyEvent* event)
{
    const auto modifiers = event->modifiers() & ~Qt::KeypadModifier;
    const auto key = static_cast<Qt::Key>(event->key());
    const Command* command = commands_.at(QKeyCombination(modifiers, key), desk_->id());
    // on some keyboards signs need the shift key: they are meant by themselves
    if (!command && modifiers == Qt::ShiftModifier && (key < Qt::Key_A || key > Qt::Key_Z)) command = commands_.at(key, desk_->id());
    if (!command) return QMainWindow::keyPressEvent(event);
    run(*command);
}

void MainWindow::openMenu()
{
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("menu"));
    menu.setToolTipsVisible(true);
    std::array<QMenu*, commandMenus> menus{};
    for (int i = 0; i < commandMenus; ++i) menus[static_cast<std::size_t>(i)] = menu.addMenu(titleOf(static_cast<CommandMenu>(i)));
    for (const auto& command : commands_.all()) {
        if (!command.desk.isEmpty() && command.desk != desk_->id()) continue;
        QAction* action = menus[static_cast<std::size_t>(command.menu)]->addAction(command.words + QLatin1Char('\t') + command.key(),
                                                                                   [this, id = command.id] { run(id); });
        const QString why = command.whyNot ? command.whyNot() : QString();
        action->setEnabled(why.isEmpty());
        action->setToolTip(why);
    }
    for (QMenu* one : menus) one->menuAction()->setVisible(!one->isEmpty());
    menu.exec(menuButton_->mapToGlobal(QPoint(0, menuButton_->height())));
}

void MainWindow::findCommand()
{
    CommandSearch search(commands_, desk_->id(), this);
    if (search.exec() == QDialog::Accepted) run(search.chosen());
}

void MainWindow::moveFace(int by)
{
    const auto faces = link()->faces();
    const auto at = std::find(faces.begin(), faces.end(), chosen_) - faces.begin();
    const auto next = std::clamp<std::ptrdiff_t>(at + by, 0, static_cast<std::ptrdiff_t>(faces.size()) - 1);
    choose(faces[static_cast<std::size_t>(next)]);
}

void MainWindow::moveLink(int by)
{
    const auto& links = session()->state().plan->links;
    const auto at = std::find_if(links.begin(), links.end(), [&](const Link& l) { return l.id == chosen_.link; }) - links.begin();
    const auto next = std::clamp<std::ptrdiff_t>(at + by, 0, static_cast<std::ptrdiff_t>(links.size()) - 1);
    choose({links[static_cast<std::size_t>(next)].id, chosen_.connection, chosen_.side});
}

void MainWindow::goTo(const Step& step)
{
    if (step.kind == StepKind::Look || step.kind == StepKind::Clean) working_ = step.kind;
    setChosen(step.face.link.empty() ? FaceId{step.link, End::A, Side::Cord} : step.face);
    if (const Desk* desk = deskFor(step.kind)) showDesk(desk->id());
}

void MainWindow::goOn()
{
    const Round round = roundOf(session()->state(), place_);
    if (const auto next = nextStep(session()->state(), round.left, standing())) return goTo(*next);
    say(round.left.empty() ? tr("The round is done.") : tr("Nothing else can be done now: what is left waits for a decision."));
}

/// Everywhere, then each place in turn: two people at two ends each see their own round.
void MainWindow::nextPlace()
{
    const auto places = placesOf(*session()->state().plan);
    const auto at = std::find(places.begin(), places.end(), place_);
    if (place_.empty())
        place_ = places.empty() ? std::string() : places.front();
    else
        place_ = at == places.end() || std::next(at) == places.end() ? std::string() : *std::next(at);
    refresh();
    say(place_.empty() ? tr("The round of all places.")
                       : tr("Only what is to be done at %1. L: the next place.").arg(QString::fromStdString(place_)));
}

void MainWindow::showCarry()
{
    const Round round = roundOf(session()->state(), place_);
    QList<ListedThing> things;
    const auto take = [&](const QString& where, const std::vector<std::string>& list) {
        if (!list.empty()) things.push_back({where, true});
        for (const auto& thing : list) things.push_back({QString::fromStdString(thing)});
    };
    for (const auto& place : placesOf(*session()->state().plan)) take(QString::fromStdString(place), carryList(round.left, place));
    take(tr("Both ends"), carryList(round.left, "Both ends"));
    if (things.empty()) return say(tr("Nothing is left to do, and nothing to take along."));
    CheckListDialog(tr("What to take along"), tr("Space ticks what is packed, then comes the next."), things, this).exec();
}

void MainWindow::setDark(bool dark)
{
    dark_ = dark;
    applyTheme(*qApp, dark);
    refresh();
}

}  // namespace clendo
