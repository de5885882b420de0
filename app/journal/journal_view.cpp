#include "app/journal/journal_view.h"

#include <QDateTime>
#include <QFutureWatcher>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <QtConcurrentRun>

#include "app/widgets/theme.h"
#include "app/widgets/words.h"

namespace clendo {
namespace {

constexpr std::size_t longJournal = 10000;  // entries

enum Column { NumberColumn, TimeColumn, WhatColumn, WhoColumn };

}  // namespace

/// Whether `now` is `before` with more entries, of which none changes what was said of the earlier ones.
static bool goesOn(const JobSnapshot& before, const JobSnapshot& now)
{
    const std::size_t known = before.journal.size();
    return before.state && now.state->plan == before.state->plan && known > 0 && now.journal.size() >= known &&
           now.journal[known - 1].hash == before.journal.back().hash;
}

void JournalModel::set(const JobSnapshot& job, const JournalFilter& filter, std::vector<std::size_t> matches)
{
    beginResetModel();
    job_ = job;
    filter_ = filter;
    shown_ = std::move(matches);
    corrected_ = correctedEntries(job_.journal.all());
    endResetModel();
}

bool JournalModel::grows(const JobSnapshot& job, const JournalFilter& filter) const { return filter == filter_ && goesOn(job_, job); }

void JournalModel::grow(const JobSnapshot& job)
{
    const auto fresh = journalMatches(job.journal.all(), *job.state, filter_, job_.journal.size());
    if (!fresh.empty()) beginInsertRows({}, 0, static_cast<int>(fresh.size()) - 1);  // the newest stand first
    job_ = job;
    shown_.insert(shown_.end(), fresh.begin(), fresh.end());
    if (!fresh.empty()) endInsertRows();
}

void JournalModel::clear()
{
    beginResetModel();
    shown_.clear();
    job_ = {};
    endResetModel();
}

const Entry* JournalModel::at(int row) const
{
    if (row < 0 || static_cast<std::size_t>(row) >= shown_.size()) return nullptr;
    return &job_.journal[shown_[shown_.size() - 1 - static_cast<std::size_t>(row)]];
}

int JournalModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : static_cast<int>(shown_.size()); }

QVariant JournalModel::data(const QModelIndex& index, int role) const
{
    const Entry* entry = at(index.row());
    if (!entry) return {};
    const bool corrected = corrected_.contains(entry->hash);
    if (role == Qt::ForegroundRole) return corrected ? theme().soft : theme().ink;
    if (role == Qt::ToolTipRole && index.column() == WhatColumn) return text(lineOf(*entry, job_.journal.all(), *job_.state));
    if (role != Qt::DisplayRole) return {};
    switch (index.column()) {
        case NumberColumn: return static_cast<qlonglong>(entry - job_.journal.all().data() + 1);
        case TimeColumn: return QDateTime::fromSecsSinceEpoch(entry->at()).toString(QStringLiteral("yyyy-MM-dd HH:mm"));
        case WhatColumn: return (corrected ? tr("no longer counts: ") : QString()) + text(lineOf(*entry, job_.journal.all(), *job_.state));
        case WhoColumn: return QString::fromStdString(entry->who);
        default: return {};
    }
}

QVariant JournalModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
    return QStringList{tr("No."), tr("When"), tr("What"), tr("Who")}.value(section);
}

JournalView::JournalView(QWidget* parent)
    : QWidget(parent),
      words_(new QLineEdit(this)),
      kind_(new QComboBox(this)),
      who_(new QComboBox(this)),
      said_(new TextBlock(this)),
      detail_(new TextBlock(this)),
      table_(new QTableView(this)),
      model_(new JournalModel(this))
{
    setObjectName(QStringLiteral("journalDesk"));
    words_->setObjectName(QStringLiteral("journalWords"));
    words_->setPlaceholderText(tr("search (F): words of the entry"));
    words_->setClearButtonEnabled(true);
    kind_->setObjectName(QStringLiteral("journalKind"));
    who_->setObjectName(QStringLiteral("journalWho"));
    for (auto* box : {kind_, who_}) box->setFocusPolicy(Qt::ClickFocus);
    said_->setObjectName(QStringLiteral("journalSaid"));
    said_->setSingleLine();
    table_->setObjectName(QStringLiteral("journal"));
    table_->setModel(model_);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setShowGrid(false);
    table_->setWordWrap(false);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(em(1.7));
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);  // rows of one height: nothing is measured for a hundred thousand of them
    auto* head = table_->horizontalHeader();
    head->setDefaultAlignment(Qt::AlignLeft);
    head->setHighlightSections(false);
    head->setSectionResizeMode(WhatColumn, QHeaderView::Stretch);
    table_->setColumnWidth(NumberColumn, em(3));
    table_->setColumnWidth(TimeColumn, em(7.4));
    table_->setColumnWidth(WhoColumn, em(5.4));
    table_->installEventFilter(this);
    words_->installEventFilter(this);
    auto* top = new QHBoxLayout;
    top->addWidget(words_, 1);
    top->addWidget(kind_);
    top->addWidget(who_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addLayout(top);
    layout->addWidget(said_);
    layout->addWidget(table_, 1);
    detail_->setObjectName(QStringLiteral("journalDetail"));
    detail_->setMinimumHeight(em(2.6));
    layout->addWidget(detail_);
    connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
        const Entry* entry = model_->at(now.row());
        detail_->setText(entry ? text(lineOf(*entry, job_.journal.all(), *job_.state)) : QString());
    });
    pause_.setSingleShot(true);
    pause_.setInterval(150);
    connect(&pause_, &QTimer::timeout, this, &JournalView::refresh);
    // a long journal is searched when the typing pauses, a short one with every letter
    connect(words_, &QLineEdit::textChanged, this, [this] { job_.journal.size() > longJournal ? pause_.start() : refresh(); });
    connect(kind_, &QComboBox::currentIndexChanged, this, &JournalView::refresh);
    connect(who_, &QComboBox::currentIndexChanged, this, &JournalView::refresh);
    connect(table_, &QTableView::activated, this, &JournalView::go);
}

void JournalView::show(const JobSnapshot& job, const FaceId& chosen)
{
    const JobSnapshot before = std::exchange(job_, job);
    chosen_ = chosen;
    offerChoices(before);
    refresh();
}

void JournalView::offerChoices(const JobSnapshot& before)
{
    const bool more = goesOn(before, job_);
    if (!more) kinds_.clear(), people_.clear();
    const auto kinds = kinds_.size(), people = people_.size();
    for (const auto& entry : job_.journal.all().subspan(more ? before.journal.size() : 0)) {
        kinds_.insert(text(kindWords(entry.fact)));
        people_.insert(QString::fromStdString(entry.who));
    }
    if (more && kinds == kinds_.size() && people == people_.size()) return;
    offer(kind_, tr("all kinds"), kinds_);
    offer(who_, tr("everybody"), people_);
}

void JournalView::clear()
{
    job_ = {};
    searching_ = nullptr;
    model_->clear();
}

void JournalView::offer(QComboBox* box, const QString& all, const std::set<QString>& choices)
{
    const QSignalBlocker quiet(box);
    const QString before = box->currentData().toString();
    box->clear();
    box->addItem(all, QString());
    for (const QString& choice : choices) box->addItem(choice, choice);
    box->setCurrentIndex(std::max(0, box->findData(before)));
}

void JournalView::refresh()
{
    if (!job_.state) return;
    JournalFilter filter{
        words_->text().toStdString(), {}, who_->currentData().toString().toStdString(), kind_->currentData().toString().toStdString()};
    if (scope_ == Scope::Link) filter.subject = chosen_.link;
    if (scope_ == Scope::Face) filter.subject = chosen_.text();
    showMatches(filter);
}

/// A long journal is searched elsewhere; of several searches the last one counts.
void JournalView::showMatches(const JournalFilter& filter)
{
    searching_ = nullptr;
    if (model_->grows(job_, filter)) {
        model_->grow(job_);
        return tellCount();
    }
    if (job_.journal.size() <= longJournal) {
        model_->set(job_, filter, journalMatches(job_.journal.all(), *job_.state, filter));
        return tellCount();
    }
    using Matches = std::vector<std::size_t>;
    auto* watcher = new QFutureWatcher<Matches>(this);
    searching_ = watcher;
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher, filter, job = job_] {
        watcher->deleteLater();
        if (searching_ != watcher || !job_.state) return;
        searching_ = nullptr;
        model_->set(job, filter, watcher->result());
        tellCount();
    });
    watcher->setFuture(QtConcurrent::run([job = job_, filter] { return journalMatches(job.journal.all(), *job.state, filter); }));
}

void JournalView::tellCount()
{
    const QString about = scope_ == Scope::All    ? tr("everything")
                          : scope_ == Scope::Link ? tr("about link %1").arg(QString::fromStdString(chosen_.link))
                                                  : tr("about %1").arg(QString::fromStdString(job_.state->where(chosen_)));
    QString line =
        tr("%1 of %2 entries, %3 (L: everything, link, face). Enter goes to the face.").arg(model_->rowCount()).arg(job_.journal.size()).arg(about);
    if (const auto back = clockSetBack(job_.journal.all()); !back.empty())
        line += QLatin1Char(' ') + tr("The clock was set back before entry %1: the order of filing holds, the times do not.").arg(back.front() + 1);
    said_->setText(line);
    if (model_->rowCount() > 0) table_->selectRow(0);
}

void JournalView::search()
{
    words_->setFocus();
    words_->selectAll();
}

void JournalView::nextScope()
{
    scope_ = static_cast<Scope>((static_cast<int>(scope_) + 1) % 3);
    refresh();
}

void JournalView::go()
{
    const Entry* entry = model_->at(table_->currentIndex().row());
    if (!entry) return;
    const std::string subject = subjectOf(entry->fact);
    if (const auto face = FaceId::parse(subject)) return emit faceChosen(*face);
    if (const auto port = FaceId::parse(subject + "/port")) return emit faceChosen(*port);
    if (job_.state->link(subject)) emit faceChosen({subject, End::A, Side::Cord});
}

bool JournalView::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (watched == words_ && (key == Qt::Key_Down || key == Qt::Key_Return || key == Qt::Key_Enter)) {
            if (pause_.isActive()) pause_.stop(), refresh();
            table_->setFocus();
            return true;
        }
        if (watched == table_ && (key == Qt::Key_Return || key == Qt::Key_Enter)) {
            go();
            return true;
        }
        if (watched == table_ && key == Qt::Key_F) {
            search();
            return true;
        }
        if (watched == table_ && key == Qt::Key_L) {
            nextScope();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace clendo
