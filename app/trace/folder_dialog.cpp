#include "app/trace/folder_dialog.h"

#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QVBoxLayout>
#include <algorithm>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "files/files.h"

namespace clendo {
namespace {

enum Column { NameColumn, FibreColumn, EndColumn, WavelengthColumn, SaysColumn, Columns };

QString directionWords(Direction d) { return d == Direction::AtoB ? FolderDialog::tr("A to B") : FolderDialog::tr("B to A"); }

std::vector<std::string> tracesIn(const JobState& state)
{
    std::vector<std::string> out;
    for (const Link& link : state.plan->links)
        for (const auto& shot : state.state(link.id).traces) out.push_back(shot.what.trace);
    return out;
}

}  // namespace

FolderDialog::FolderDialog(JobSession& session, const QStringList& files, const ShotCords& shotWith, QWidget* parent)
    : QDialog(parent),
      session_(session),
      shotWith_(shotWith),
      pattern_(new QComboBox(this)),
      fibre_(new QComboBox(this)),
      end_(new QComboBox(this)),
      table_(new QTableWidget(this)),
      says_(new QLabel(this)),
      progress_(new QProgressBar(this)),
      set_(new QPushButton(tr("Set for the chosen lines"), this))
{
    setObjectName(QStringLiteral("folderDialog"));
    setWindowTitle(tr("Traces at once"));
    pattern_->setObjectName(QStringLiteral("namePattern"));
    pattern_->setEditable(true);
    pattern_->setInsertPolicy(QComboBox::NoInsert);
    for (const auto& usual : usualPatterns()) pattern_->addItem(text(usual));
    pattern_->setToolTip(
        tr("{cable}, {fibre}, {nm} and {end} stand for what a name says there, * for anything. {end}: ab, ba, A, B, a place or a panel."));
    connect(pattern_, &QComboBox::currentTextChanged, this, [this] { place(); });
    table_->setObjectName(QStringLiteral("folderFiles"));
    table_->setColumnCount(Columns);
    table_->setHorizontalHeaderLabels({tr("File"), tr("Fibre"), tr("Shot"), tr("nm"), tr("What comes of it")});
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(em(1.6));
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft);
    table_->horizontalHeader()->setSectionResizeMode(SaysColumn, QHeaderView::Stretch);
    table_->setColumnWidth(NameColumn, em(12));
    table_->setColumnWidth(FibreColumn, em(6));
    table_->setColumnWidth(EndColumn, em(5));
    table_->setColumnWidth(WavelengthColumn, em(4));
    says_->setObjectName(QStringLiteral("folderSays"));
    says_->setWordWrap(true);
    progress_->setObjectName(QStringLiteral("folderProgress"));
    buildChoices();
    auto* name = new QHBoxLayout;
    auto* label = new QLabel(tr("Names are read as"), this);
    label->setBuddy(pattern_);
    name->addWidget(label);
    name->addWidget(pattern_, 1);
    auto* choice = new QHBoxLayout;
    auto* lines = new QLabel(tr("The chosen lines are of"), this);
    choice->addWidget(lines);
    choice->addWidget(fibre_, 1);
    choice->addWidget(end_, 1);
    choice->addWidget(set_);
    const auto [buttons, take] = acceptOrBack(*this, tr("File them (Enter)"));
    accept_ = take;
    accept_->setObjectName(QStringLiteral("accept"));
    accept_->setEnabled(false);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(says_);
    layout->addLayout(name);
    layout->addWidget(table_, 1);
    layout->addLayout(choice);
    layout->addWidget(progress_);
    layout->addWidget(buttons);
    resizeOnScreen(*this, {em(68), em(36)});
    connect(set_, &QPushButton::clicked, this, &FolderDialog::set);
    connect(&reading_, &FolderReading::progressed, this, [this](int done, int all) {
        progress_->setMaximum(all);
        progress_->setValue(done);
    });
    connect(&reading_, &FolderReading::wasRead, this, [this](const std::vector<FolderFile>& read) {
        files_ = read;
        const QSignalBlocker quiet(pattern_);
        pattern_->setCurrentText(text(patternOf(files_, *session_.state().plan)));
        progress_->hide();
        place();
        accept_->setFocus();
    });
    connect(&reading_, &FolderReading::wasAnalysed, this, &FolderDialog::fileAll);
    const QStringList traces = traceFilesOf(files);
    says_->setText(traces.isEmpty() ? tr("There is no trace (*.sor) in it.") : tr("Reading %1 traces …").arg(traces.size()));
    progress_->setVisible(!traces.isEmpty());
    progress_->setFormat(tr("%v of %m read"));
    if (!traces.isEmpty()) reading_.read(traces);
}

void FolderDialog::buildChoices()
{
    fibre_->setObjectName(QStringLiteral("chosenFibre"));
    fibre_->setAccessibleName(tr("Fibre of the chosen lines"));
    fibre_->addItem(tr("fibre as it is"), QString());
    for (const Link& link : session_.state().plan->links)
        if (link.cable->carriesLight(link.fibre)) fibre_->addItem(tr("%1, fibre %2").arg(text(link.cable->id)).arg(link.fibre), text(link.id));
    end_->setObjectName(QStringLiteral("chosenEnd"));
    end_->setAccessibleName(tr("From which end the chosen lines were shot"));
    end_->addItem(tr("end as it is"), -1);
    for (const Direction d : {Direction::AtoB, Direction::BtoA}) end_->addItem(directionWords(d), static_cast<int>(d));
}

void FolderDialog::place()
{
    placeAll(files_, *session_.state().plan, pattern_->currentText().toStdString(), tracesIn(session_.state()));
    // what is asked comes first, then what cannot be read, what will be filed, what is there already; by name
    const auto rank = [](const FolderFile& f) { return !f.read ? 1 : f.leftOut ? 3 : f.willBeFiled() ? 2 : 0; };
    std::stable_sort(files_.begin(), files_.end(), [&](const auto& a, const auto& b) { return rank(a) < rank(b); });
    fill();
}

QString FolderDialog::wordsOf(const FolderFile& file) const
{
    if (!file.read) return text(file.read.error().message);
    if (file.leftOut) return tr("left out: it is in the job already");
    if (file.byHand && file.willBeFiled()) return tr("will be filed as you said");
    if (!file.place.doubt.empty()) return text(file.place.doubt);
    const auto& oddities = (*file.read)->trace.oddities;
    return oddities.empty() ? tr("will be filed") : tr("will be filed. %1").arg(text(oddities.front()));
}

void FolderDialog::fill()
{
    int filed = 0, asked = 0, bad = 0, there = 0;
    table_->setRowCount(static_cast<int>(files_.size()));
    for (int r = 0; r < table_->rowCount(); ++r) {
        const FolderFile& file = files_[static_cast<std::size_t>(r)];
        const bool readable = file.read.has_value();
        const QString nm = readable ? QString::number((*file.read)->trace.wavelength.value(), 'f', 0) : QString();
        const QStringList texts{QFileInfo(file.path).fileName(), file.place.link ? text(*file.place.link) : tr("?"),
                                file.place.direction ? directionWords(*file.place.direction) : tr("?"), nm, wordsOf(file)};
        const bool open = readable && !file.leftOut && !file.willBeFiled();
        (!readable ? bad : file.leftOut ? there : open ? asked : filed) += 1;
        for (int c = 0; c < Columns; ++c) {
            auto* item = new QTableWidgetItem(c > 0 && c < SaysColumn && !readable ? QString() : texts[c]);
            item->setToolTip(texts[c]);
            if (open) item->setForeground(theme().work);
            if (!readable) item->setForeground(theme().damaged);
            table_->setItem(r, c, item);
        }
    }
    const QString rest =
        (there > 0 ? tr(" %1 are in the job already.").arg(there) : QString()) + (bad > 0 ? tr(" %1 cannot be read.").arg(bad) : QString());
    says_->setText(asked > 0
                       ? tr("%1 of %2 traces can be filed. Of %3 it is not told where they belong: they stand first. Choose them and say it below, "
                            "or they are left out.%4")
                             .arg(filed)
                             .arg(files_.size())
                             .arg(asked)
                             .arg(rest)
                       : tr("%1 of %2 traces can be filed.%3").arg(filed).arg(files_.size()).arg(rest));
    accept_->setText(tr("File %1 traces (Enter)").arg(filed));
    accept_->setEnabled(filed > 0);
    if (asked > 0) table_->selectRow(0);
}

void FolderDialog::set()
{
    const QString link = fibre_->currentData().toString();
    const int end = end_->currentData().toInt();
    const auto rows = table_->selectionModel()->selectedRows();
    for (const QModelIndex& row : rows) {
        FolderFile& file = files_[static_cast<std::size_t>(row.row())];
        if (!file.read || file.leftOut) continue;
        if (!link.isEmpty()) file.place.link = link.toStdString();
        if (end >= 0) file.place.direction = static_cast<Direction>(end);
        file.byHand = true;
    }
    place();
}

void FolderDialog::accept()
{
    if (!accept_->isEnabled()) return;
    const JobSettings& job = session_.state().plan->job;
    for (QWidget* widget :
         {static_cast<QWidget*>(pattern_), static_cast<QWidget*>(table_), static_cast<QWidget*>(set_), static_cast<QWidget*>(accept_)})
        widget->setEnabled(false);
    progress_->setFormat(tr("%v of %m analysed"));
    progress_->setValue(0);
    progress_->show();
    reading_.analyse(files_, {job.launchCord, job.tailCord}, shotWith_);
}

/// Each one by itself: each was shot at a time of its own.
void FolderDialog::fileAll(const std::vector<TraceShot>& shots)
{
    progress_->setFormat(tr("%v of %m filed"));
    progress_->setValue(0);
    std::size_t next = 0;
    const std::int64_t now = timeOfDay();
    for (const auto& file : files_) {
        if (!file.willBeFiled() || next >= shots.size()) continue;
        const ReadTrace& read = **file.read;
        Filing filing{{shots[next++]}, {read.file}, session_.believedTime(read.trace.takenAt * 1'000'000, now)};
        const auto one = [this, all = shots.size()](bool good) {
            (good ? filed_ : failed_) += 1;
            progress_->setValue(static_cast<int>(filed_ + failed_));
            if (filed_ + failed_ < all) return;
            emit filed(failed_ > 0 ? tr("Filed: %1 of %2 traces.").arg(filed_).arg(all) : tr("Filed: %1 traces.").arg(filed_), failed_ > 0);
            QDialog::accept();
        };
        session_.file(
            std::move(filing), [one] { one(true); }, this, [one] { one(false); });
    }
}

}  // namespace clendo
