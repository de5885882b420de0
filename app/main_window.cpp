#include "app/main_window.h"

#include <QApplication>
#include <QDateTime>
#include <QDir>
#include <QHBoxLayout>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include "app/batch_view.h"
#include "app/big_words.h"
#include "app/clocks_bar.h"
#include "app/journal_desk.h"
#include "app/learn_desk.h"
#include "app/live_desk.h"
#include "app/look_view.h"
#include "app/loss_view.h"
#include "app/picture_intake.h"
#include "app/ribbon_view.h"
#include "app/round_view.h"
#include "app/ruling_view.h"
#include "app/sign_view.h"
#include "app/text_block.h"
#include "app/theme.h"
#include "app/trace_intake.h"
#include "app/trace_view.h"
#include "files/files.h"
#include "files/log_file.h"
#include "instruments/watched_folder.h"
#include "record/round.h"

namespace clendo {

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent), watched_(new WatchedFolder(this))
{
    setObjectName(QStringLiteral("mainWindow"));
    setWindowTitle(tr("Clendo"));
    buildParts();
    buildActions();
    connect(watched_, &WatchedFolder::arrived, this, [this](const QString& path) {
        if (intake_) intake_->take(path, chosen_, PictureIntake::Came::JustNow);
    });
    ageing_ = new QTimer(this);
    ageing_->setInterval(30000);
    connect(ageing_, &QTimer::timeout, this, [this] {
        if (!session_) return;
        session_->tick();
        clocks_->show(session_->state(), QDateTime::currentSecsSinceEpoch());
    });
    ageing_->start();
    resize(1280, 800);
    setMinimumSize(900, 600);
}

void MainWindow::showEvent(QShowEvent* event)
{
    if (!session_) refresh();
    QMainWindow::showEvent(event);
}

MainWindow::~MainWindow() = default;

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
    ruling_ = new RulingView(this);
    clocks_ = new ClocksBar(this);
    stack_ = new QStackedWidget(this);
    look_ = new LookView(this);
    stack_->addWidget(look_);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(round_);
    middle->addWidget(stack_, 1);
    middle->addWidget(ruling_);
    auto* centre = new QWidget(this);
    auto* all = new QVBoxLayout(centre);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(bar);
    all->addWidget(ribbon_);
    all->addLayout(middle, 1);
    all->addWidget(clocks_);
    setCentralWidget(centre);
    connect(ribbon_, &RibbonView::faceChosen, this, [this](const FaceId& face) {
        choose(face);
        showDesk(Desk::Look);
    });
    connect(round_, &RoundView::stepChosen, this, &MainWindow::goTo);
    connect(ruling_, &RulingView::wanted, this, &MainWindow::act);
    connect(look_, &LookView::dropped, this, &MainWindow::takePicture);
    connect(look_, &LookView::faceChosen, this, &MainWindow::choose);
    live_ = new LiveDesk(look_, this);
    connect(live_, &LiveDesk::said, this, qOverload<const QString&, bool>(&MainWindow::say));
    connect(live_, &LiveDesk::runningChanged, this, &MainWindow::refresh);
}

const Link* MainWindow::link() const { return session_ ? session_->state().link(chosen_.link) : nullptr; }

void MainWindow::setSession(std::unique_ptr<JobSession> session)
{
    live_->stop();
    if (journal_) journal_->clear();  // it reads the entries of the session that goes
    place_.clear();
    refused_ = {};
    unsigned_.clear();
    letFinish();
    session_ = std::move(session);
    intake_ = std::make_unique<PictureIntake>(*session_);
    traces_ = std::make_unique<TraceIntake>(*session_,
                                            [this](const QString& file, const QString& a, const QString& b) { return askDirection(file, a, b); });
    connect(session_.get(), &JobSession::changed, this, &MainWindow::refresh);
    connect(session_.get(), &JobSession::said, this, qOverload<const QString&, bool>(&MainWindow::say));
    connect(intake_.get(), &PictureIntake::busyChanged, this, &MainWindow::refresh);
    connect(traces_.get(), &TraceIntake::busyChanged, this, &MainWindow::refresh);
    connect(intake_.get(), &PictureIntake::judged, this, &MainWindow::judged);
    chosen_ = {};
    desk_ = Desk::Look;
    const auto& links = session_->state().links;
    if (!links.empty()) chosen_ = {links.front().id, End::A, Side::Cord};
    const Round round = roundOf(session_->state());
    if (!round.left.empty())
        goTo(round.left.front());
    else
        showDesk(Desk::Look);
    if (!session_->store().readOnlyReason().empty())
        say(QString::fromStdString(session_->store().readOnlyReason()), true);
    else if (!session_->store().notice().empty())
        say(QString::fromStdString(session_->store().notice()), true);
    else if (!session_->state().troubles.empty())
        say(QString::fromStdString(session_->state().troubles.front()), true);
}

void MainWindow::refresh()
{
    if (closing_ && stillJudged() == 0) QTimer::singleShot(0, this, &QWidget::close);
    const Theme& t = theme();
    tint(bar_, QPalette::Window, t.bar);
    tint(bar_, QPalette::WindowText, t.barText);
    if (desk_ == Desk::Batch) {
        const Link* chosen = link();
        batch().show(session_ ? session_->state().profile : loadProfile("2015", dataFolder()).value_or(Profile()),
                     chosen ? chosen->cable->criteriaAt(chosen_.connection, chosen_.side) : "sm-upc");
    }
    if (!session_) {
        jobLabel_->setText(tr("Clendo"), true);
        rulesLabel_->setText(tr("Ctrl+N new job · Ctrl+O open"));
        ribbon_->show(nullptr, nullptr, {});
        round_->show({}, {}, {}, {});
        Ruling welcome;
        welcome.headline = "Open or make a job";
        welcome.sentence = "A job holds the plan, what was seen, read and shot, and the certificates. Ctrl+N makes a new one, Ctrl+O opens one.";
        ruling_->show(desk_ == Desk::Batch ? batch().ruling() : welcome);
        return;
    }
    const JobState& state = session_->state();
    const Link* l = link();
    Paragraph head{{QString::fromStdString(state.job.name), true}};
    if (l)
        head.push_back(
            {QStringLiteral("    %1 → %2 · %3 · %4")
                 .arg(QString::fromStdString(l->cable->placeA), QString::fromStdString(l->cable->placeB),
                      tr("cable %1").arg(QString::fromStdString(l->cable->id)), tr("fibre %1 of %2").arg(l->fibre).arg(l->cable->fibres))});
    jobLabel_->setParagraphs({head});
    const auto method = name(state.job.method);
    const auto& store = session_->store();
    rulesLabel_->setToolTip(QString::fromStdString(store.readOnlyReason()));
    rulesLabel_->setText((store.readOnlyReason().empty() ? QString()
                          : store.wrong().empty()        ? tr("can only be read · ")
                                                         : tr("damaged, can only be read · ")) +
                         tr("rules: %1 · %2 · %3")
                             .arg(QString::fromStdString(state.job.edition),
                                  l ? QString::fromStdString(l->cable->criteriaAt(chosen_.connection, chosen_.side)) : QString(),
                                  QString::fromUtf8(method.data(), static_cast<qsizetype>(method.size()))));
    ribbon_->show(&state, l, chosen_);
    round_->show(roundOf(state, place_), state, QString::fromStdString(chosen_.link), QString::fromStdString(place_));
    switch (desk_) {
        case Desk::Look:
            if (l && live_->hasSource()) live_->pointAt(chosen_, state);
            look_->show(*session_, l, chosen_, intake_ ? intake_->busy() : 0);
            break;
        case Desk::Loss: loss_->show(*session_, l); break;
        case Desk::Trace: trace_->show(*session_, l); break;
        case Desk::Sign: sign_->show(*session_, l); break;
        case Desk::Journal: journal_->show(session_->entries(), state, chosen_); break;
        case Desk::Learn: learn_->show(session_->entries(), state); break;
        case Desk::Batch: break;
    }
    const Ruling ruling = rulingNow();
    ruling_->show(ruling);
    if (bigWords_ && bigWords_->isVisible()) bigWords_->show(ruling, l ? QString::fromStdString(l->where(chosen_)) : QString());
    clocks_->show(state, QDateTime::currentSecsSinceEpoch());
}

Ruling MainWindow::rulingNow() const
{
    if (desk_ == Desk::Batch) return batch_->ruling();
    if (desk_ == Desk::Journal) return journalRuling(session_->state(), session_->entries());
    if (desk_ == Desk::Learn) return learnRuling(learn_->learned());
    const Link* l = link();
    if (!l) return emptyJobRuling();
    switch (desk_) {
        case Desk::Look: return faceRuling(session_->state(), *l, chosen_);
        case Desk::Loss: return lossRuling(session_->state(), *l);
        case Desk::Trace: return traceRuling(session_->state(), *l);
        case Desk::Sign: return signRuling(session_->state(), *l);
        case Desk::Batch:
        case Desk::Journal:
        case Desk::Learn: break;
    }
    return emptyJobRuling();
}

void MainWindow::choose(const FaceId& face)
{
    if (!session_ || !session_->state().link(face.link)) return;
    chosen_ = face;
    refresh();
}

void MainWindow::showDesk(Desk desk)
{
    if (!session_ && (desk == Desk::Journal || desk == Desk::Learn)) return;  // there is nothing to read yet
    if (desk != Desk::Look) live_->stop();                                    // a live picture that nobody sees could be filed unseen
    desk_ = desk;
    stack_->setCurrentWidget(viewOf(desk));
    setFocus();
    refresh();
}

/// The view of a desk, made when it is first wanted: what is not shown costs no start-up time.
QWidget* MainWindow::viewOf(Desk desk)
{
    switch (desk) {
        case Desk::Look: return look_;
        case Desk::Loss:
            if (!loss_) stack_->addWidget(loss_ = new LossView(this));
            return loss_;
        case Desk::Trace:
            if (!trace_) {
                stack_->addWidget(trace_ = new TraceView(this));
                connect(trace_, &TraceView::dropped, this, &MainWindow::openTrace);
            }
            return trace_;
        case Desk::Sign:
            if (!sign_) stack_->addWidget(sign_ = new SignView(this));
            return sign_;
        case Desk::Batch: return &batch();
        case Desk::Journal:
            if (!journal_) {
                stack_->addWidget(journal_ = new JournalDesk(this));
                connect(journal_, &JournalDesk::faceChosen, this, [this](const FaceId& face) {
                    choose(face);
                    showDesk(Desk::Look);
                });
            }
            return journal_;
        case Desk::Learn:
            if (!learn_) stack_->addWidget(learn_ = new LearnDesk(this));
            return learn_;
    }
    return look_;
}

BatchView& MainWindow::batch()
{
    if (!batch_) {
        stack_->addWidget(batch_ = new BatchView(this));
        connect(batch_, &BatchView::said, this, qOverload<const QString&, bool>(&MainWindow::say));
        connect(batch_, &BatchView::changed, this, [this] {
            if (desk_ == Desk::Batch) ruling_->show(batch_->ruling());
        });
    }
    return *batch_;
}

void MainWindow::goTo(const Step& step)
{
    if (step.kind == StepKind::Look || step.kind == StepKind::Clean) working_ = step.kind;
    chosen_ = step.face.link.empty() ? FaceId{step.link, End::A, Side::Cord} : step.face;
    switch (step.kind) {
        case StepKind::Look:
        case StepKind::Clean:
        case StepKind::Sleeve:
        case StepKind::Mate: showDesk(Desk::Look); break;
        case StepKind::Reference:
        case StepKind::RightFibre:
        case StepKind::Length:
        case StepKind::Loss: showDesk(Desk::Loss); break;
        case StepKind::Trace: showDesk(Desk::Trace); break;
        case StepKind::Sign: showDesk(Desk::Sign); break;
    }
}

void MainWindow::toggleBigWords()
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
}

void MainWindow::say(const QString& sentence, bool trouble) { clocks_->say(sentence, trouble); }

void MainWindow::say(const Error& error)
{
    programLog().write(error);
    say(QString::fromStdString(error.message), true);
}

}  // namespace clendo
