#include "app/frame/main_window.h"

#include <QDateTime>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMimeData>
#include <QPushButton>
#include <QTimer>
#include <QUrl>
#include <QVBoxLayout>
#include <algorithm>

#include "app/frame/advice_view.h"
#include "app/frame/big_words.h"
#include "app/frame/clocks_bar.h"
#include "app/frame/ribbon_view.h"
#include "app/frame/round_view.h"
#include "app/frame/work_bar.h"
#include "app/widgets/fold_strip.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/room.h"
#include "app/widgets/text_block.h"
#include "app/widgets/theme.h"
#include "files/log_file.h"
#include "record/advice/face_advice.h"

namespace clendo {

namespace {

/// Narrower than this the desk comes before the round.
constexpr double roomForRound = 68;  // em

}  // namespace

QString needsJob(const WindowFrame& frame) { return frame.session() ? QString() : QObject::tr("Open or make a job first."); }

QString needsLink(const WindowFrame& frame)
{
    if (!frame.session()) return needsJob(frame);
    return frame.link() ? QString() : QObject::tr("Plan a cable first, or choose a fibre.");
}

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent), leftJobs_(new LeftJobs(this))
{
    setObjectName(QStringLiteral("mainWindow"));
    setWindowTitle(tr("Clendo"));
    setAcceptDrops(true);
    buildParts();
    for (auto& made : DeskEntry::all(*this)) {
        Desk* desk = desks_.emplace_back(made.release());
        desk->setParent(this);
        connect(desk, &Desk::adviceChanged, this, [this, desk] {
            if (desk_ == desk) advice_->show(desk_->advice(shown()));
        });
    }
    const auto start = std::find_if(desks_.begin(), desks_.end(), [](const Desk* desk) { return desk->isStart(); });
    desk_ = start == desks_.end() ? desks_.front() : *start;
    buildCommands();
    connect(leftJobs_, &LeftJobs::said, this, qOverload<const QString&, bool>(&MainWindow::say));
    connect(leftJobs_, &LeftJobs::finished, this, [this] {
        if (closing_) close();
    });
    ageing_ = new QTimer(this);
    ageing_->setInterval(30000);
    connect(ageing_, &QTimer::timeout, this, [this] {
        if (!session()) return;
        clocks_->show(session()->state(), QDateTime::currentSecsSinceEpoch());
    });
    ageing_->start();
    setMinimumSize(1000, 600);
    resizeOnScreen(*this, QSize(1280, 800));
    showColumns();
}

MainWindow::~MainWindow() = default;

void MainWindow::showEvent(QShowEvent* event)
{
    if (!session()) showDesk(desk_->id());
    QMainWindow::showEvent(event);
}

void MainWindow::buildParts()
{
    auto* bar = bar_ = new QFrame(this);
    bar->setObjectName(QStringLiteral("titleBar"));
    bar->setAutoFillBackground(true);
    jobLabel_ = new TextBlock(bar);
    rulesLabel_ = new TextBlock(bar);
    rulesLabel_->setObjectName(QStringLiteral("rulesLabel"));
    jobLabel_->setSingleLine();
    rulesLabel_->setSingleLine();
    auto* barLayout = new QHBoxLayout(bar);
    barLayout->setContentsMargins(12, 4, 16, 4);
    menuButton_ = new QPushButton(tr("Menu (F10)"), bar);
    menuButton_->setFocusPolicy(Qt::NoFocus);
    menuButton_->setProperty("onBar", true);
    barLayout->addWidget(menuButton_);
    barLayout->addSpacing(8);
    barLayout->addWidget(jobLabel_, 1);
    barLayout->addWidget(rulesLabel_);
    ribbon_ = new RibbonView(this);
    round_ = new RoundView(this);
    advice_ = new AdviceView(commands_, this);
    work_ = new WorkBar(this);
    connect(work_, &WorkBar::done, this, qOverload<const QString&, bool>(&MainWindow::say));
    connect(work_, &WorkBar::failed, this, qOverload<const Error&>(&MainWindow::say));
    clocks_ = new ClocksBar(this);
    stack_ = new QStackedWidget(this);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    auto* roundStrip = new FoldStrip(tr("The round ([)"), this);
    auto* adviceStrip = new FoldStrip(tr("Advice (])"), this);
    middle->addWidget(roundStrip);
    middle->addWidget(round_);
    middle->addWidget(stack_, 1);
    middle->addWidget(advice_);
    middle->addWidget(adviceStrip);
    roundColumn_.emplace(round_, roundStrip, QStringLiteral("round_folded"));
    adviceColumn_.emplace(advice_, adviceStrip, QStringLiteral("advice_folded"));
    auto* centre = new QWidget(this);
    auto* all = new QVBoxLayout(centre);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(bar);
    all->addWidget(ribbon_);
    all->addLayout(middle, 1);
    all->addWidget(work_);
    all->addWidget(clocks_);
    setCentralWidget(centre);
    connect(menuButton_, &QPushButton::clicked, this, &MainWindow::openMenu);
    connect(roundStrip, &QPushButton::clicked, this, [this] { roundColumn_->toggle(); });
    connect(adviceStrip, &QPushButton::clicked, this, [this] { adviceColumn_->toggle(); });
    connect(ribbon_, &RibbonView::faceChosen, this, [this](const FaceId& face) {
        choose(face);
        if (const Desk* desk = deskFor(StepKind::Look)) showDesk(desk->id());
    });
    connect(round_, &RoundView::faceChosen, this, [this](const FaceId& face) {
        choose(face);
        if (const Desk* desk = deskFor(StepKind::Look)) showDesk(desk->id());
    });
    connect(round_, &RoundView::kindChosen, this, [this](StepKind kind) {
        if (const Desk* desk = deskFor(kind)) showDesk(desk->id());
    });
    connect(advice_, &AdviceView::wanted, this, qOverload<std::string_view>(&MainWindow::run));
}

const Link* MainWindow::link() const { return session() ? session()->state().link(chosen_.link) : nullptr; }

Shown MainWindow::shown() const { return {session(), link(), chosen_}; }

void MainWindow::showNoJob()
{
    jobLabel_->setText(tr("Clendo"), true);
    rulesLabel_->setText(tr("no job"));
    ribbon_->show(nullptr, nullptr, {});
    round_->clear();
    desk_->show(shown());
    advice_->show(desk_->advice(shown()));
}

void MainWindow::refresh()
{
    closeWhenDone();
    const Theme& t = theme();
    tint(bar_, QPalette::Window, t.bar);
    tint(bar_, QPalette::WindowText, t.barText);
    if (!session()) return showNoJob();
    const JobState& state = session()->state();
    const Link* l = link();
    Paragraph head{{QString::fromStdString(state.plan->job.name), true}};
    if (l)
        head.push_back(
            {QStringLiteral("    %1 → %2 · %3 · %4")
                 .arg(QString::fromStdString(l->cable->placeA), QString::fromStdString(l->cable->placeB),
                      tr("cable %1").arg(QString::fromStdString(l->cable->id)), tr("fibre %1 of %2").arg(l->fibre).arg(l->cable->fibres))});
    jobLabel_->setParagraphs({head});
    const auto method = name(state.plan->job.method);
    const JobFile& file = session()->jobFile();
    rulesLabel_->setToolTip(QString::fromStdString(file.readOnlyReason));
    rulesLabel_->setText((file.readOnlyReason.empty() ? QString()
                          : file.wrong.empty()        ? tr("can only be read · ")
                                                      : tr("damaged, can only be read · ")) +
                         tr("rules: %1 · %2 · %3")
                             .arg(QString::fromStdString(state.plan->job.edition),
                                  l ? QString::fromStdString(l->cable->classAt(chosen_.connection, chosen_.side)) : QString(),
                                  QString::fromUtf8(method.data(), static_cast<qsizetype>(method.size()))));
    ribbon_->show(&state, l, chosen_);
    ribbon_->showHidden(l ? desk_->hidden(shown()) : std::vector<HiddenLength>());
    const Round round = roundOf(state, place_);
    round_->show(session()->snapshot().state, round, nextSteps(state, round.left, standing()), chosen_, place_);
    desk_->show(shown());
    const Advice advice = desk_->advice(shown());
    advice_->show(advice);
    if (bigWords_ && bigWords_->isVisible()) {
        const Command* first = advice.actions.empty() ? nullptr : commands_.find(advice.actions.front().command);
        bigWords_->show(advice, l ? QString::fromStdString(l->where(chosen_)) : QString(), first ? first->key() : QString());
    }
    clocks_->show(state, QDateTime::currentSecsSinceEpoch());
}

void MainWindow::follow(const QString& title, const QFuture<Result<QString>>& work) { work_->follow(title, work); }

void MainWindow::choose(const FaceId& face)
{
    if (!session() || !session()->state().link(face.link)) return;
    setChosen(face);
    refresh();
}

/// A key that was refused for one face is a first press for the next.
void MainWindow::setChosen(const FaceId& face)
{
    if (face != chosen_) ranLast_.clear();
    chosen_ = face;
}

void MainWindow::showDesk(const QString& id)
{
    const auto it = std::find_if(desks_.begin(), desks_.end(), [&](const auto& desk) { return desk->id() == id; });
    if (it == desks_.end() || (!session() && (*it)->needsJob())) return;  // there is nothing to read yet
    if (desk_ != *it) {
        desk_->left();
        adviceColumn_->forgetAsked();
    }
    desk_ = *it;
    showColumns();
    stack_->setCurrentWidget(roomFor(desk_->view()));
    setFocus();
    refresh();
}

QWidget* MainWindow::roomFor(QWidget* view)
{
    Room*& room = rooms_[view];
    if (!room) stack_->addWidget(room = new Room(view, stack_));
    return room;
}

Desk* MainWindow::deskFor(const QString& file) const
{
    if (desk_->accepts(file)) return desk_;
    const auto it = std::find_if(desks_.begin(), desks_.end(), [&](const auto& desk) { return desk->accepts(file); });
    return it == desks_.end() ? nullptr : *it;
}

Desk* MainWindow::deskFor(StepKind kind) const
{
    const auto it = std::find_if(desks_.begin(), desks_.end(), [&](const auto& desk) { return desk->isFor(kind); });
    return it == desks_.end() ? nullptr : *it;
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    const auto urls = event->mimeData()->urls();
    if (std::any_of(urls.begin(), urls.end(), [&](const QUrl& url) { return url.isLocalFile() && deskFor(url.toLocalFile()); }))
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    QStringList files;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) files << url.toLocalFile();  // files only: nothing is fetched
    Desk* desk = files.size() > 1 ? deskFor(files.front()) : nullptr;
    if (desk && std::all_of(files.begin(), files.end(), [&](const QString& file) { return deskFor(file) == desk; })) return desk->takeAll(files);
    for (const QString& file : files) takeFile(file);
}

void MainWindow::takeFile(const QString& file)
{
    if (Desk* desk = deskFor(file))
        desk->take(file);
    else
        say(tr("%1: no desk knows what to do with such a file.").arg(QFileInfo(file).fileName()), true);
}

void MainWindow::showBigWords()
{
    if (!bigWords_) {
        bigWords_ = new BigWords(centralWidget());
        bigWords_->hide();
    }
    bigWords_->setVisible(!bigWords_->isVisible());
    refresh();
}

void MainWindow::resizeEvent(QResizeEvent* event)
{
    QMainWindow::resizeEvent(event);
    if (bigWords_) bigWords_->setGeometry(centralWidget()->rect());
    showColumns();
}

/// Without a job there is no round and no line: the desk has their room.
void MainWindow::showColumns()
{
    adviceColumn_->setTight(desk_->isWide());
    roundColumn_->setTight(width() < em(roomForRound));
    roundColumn_->setShown(session());
    ribbon_->setVisible(session());
}

void MainWindow::say(const QString& sentence, bool trouble)
{
    if (trouble) closing_ = false;  // it is read first
    clocks_->say(sentence, trouble);
}

void MainWindow::say(const Error& error)
{
    programLog().write(error);
    say(QString::fromStdString(error.message), true);
}

}  // namespace clendo
