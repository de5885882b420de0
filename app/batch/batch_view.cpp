#include "app/batch/batch_view.h"

#include <QDateTime>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QVBoxLayout>
#include <QtConcurrentRun>
#include <algorithm>
#include <iterator>
#include <nlohmann/json.hpp>
#include <utility>

#include "app/kit/check_list_dialog.h"
#include "app/sign/signer.h"
#include "app/widgets/save_file.h"
#include "app/widgets/theme.h"
#include "app/widgets/when_done.h"
#include "app/widgets/words.h"
#include "cleaning/kit_kinds.h"
#include "files/files.h"
#include "instruments/watched_folder.h"
#include "modules/papers.h"
#include "modules/vision.h"
#include "pictures/decode.h"
#include "record/advice/batch_advice.h"
#include "result/guarded.h"

namespace clendo {
BatchView::BatchView(QWidget* parent)
    : QWidget(parent),
      judge_(new BatchJudge(this)),
      model_(new SheetModel(this)),
      class_(new QComboBox(this)),
      progress_(new QProgressBar(this)),
      stop_(new QPushButton(tr("Stop (Esc)"), this)),
      export_(new QPushButton(tr("Export (E)"), this)),
      table_(new QTableView(this)),
      picture_(new FacePicture(this))
{
    setObjectName(QStringLiteral("batchView"));
    class_->setObjectName(QStringLiteral("batchClass"));
    class_->setFocusPolicy(Qt::ClickFocus);
    auto* folder = new QPushButton(tr("Judge a folder (F)"), this);
    auto* line = new QPushButton(tr("Watch a line (L)"), this);
    for (auto* button : {folder, line, stop_, export_}) {
        button->setFocusPolicy(Qt::NoFocus);
        button->setMinimumHeight(em(2.2));
    }
    table_->setObjectName(QStringLiteral("sheet"));
    table_->setModel(model_);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setShowGrid(false);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(em(1.8));
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft);
    table_->horizontalHeader()->setHighlightSections(false);
    table_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
    table_->setColumnWidth(0, em(8));
    table_->setColumnWidth(1, em(7));
    table_->setColumnWidth(3, em(8));
    progress_->setObjectName(QStringLiteral("batchProgress"));
    progress_->setFormat(tr("%v of %m judged"));
    picture_->setAcceptDrops(false);
    auto* top = new QHBoxLayout;
    top->addWidget(folder);
    top->addWidget(line);
    top->addWidget(stop_);
    top->addWidget(export_);
    top->addStretch();
    top->addWidget(class_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addLayout(top);
    layout->addWidget(progress_);
    layout->addWidget(table_, 3);
    layout->addWidget(picture_, 4);
    progress_->hide();
    flush_.setSingleShot(true);
    flush_.setInterval(100);  // thousands of rows must not be sorted in one by one
    connect(&flush_, &QTimer::timeout, this, &BatchView::flush);
    connect(folder, &QPushButton::clicked, this, &BatchView::askForFolder);
    connect(line, &QPushButton::clicked, this, &BatchView::askForLine);
    connect(stop_, &QPushButton::clicked, this, &BatchView::stop);
    connect(export_, &QPushButton::clicked, this, &BatchView::askForExport);
    connect(judge_, &BatchJudge::judged, this, &BatchView::take);
    connect(judge_, &BatchJudge::finished, this, [this](bool cancelled) {
        flush();
        progress_->hide();
        if (!line_)
            emit said(cancelled ? tr("Stopped: %1 pictures were judged, the rest was left out.").arg(model_->taken().size())
                                : tr("Judged: %1 pictures, worst first.").arg(model_->taken().size()),
                      false);
        emit changed();
    });
    connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, &BatchView::showChosen);
    connect(model_, &QAbstractItemModel::modelReset, this, &BatchView::showChosen);
    picture_->show({}, nullptr, {}, tr("F judges all pictures of a folder.\nL watches a line: each picture that the scope saves is judged at once."));
}

void BatchView::putAbove(QWidget* bar) { static_cast<QVBoxLayout*>(layout())->insertWidget(0, bar); }

void BatchView::show(const Criteria& criteria, const std::string& preferred)
{
    if (criteria.hash == criteria_.hash && class_->count() > 0) return;
    criteria_ = criteria;
    class_->clear();
    for (const auto& [key, faceClass] : criteria.classes) class_->addItem(QString::fromStdString(key), QString::fromStdString(faceClass.title));
    class_->setCurrentText(QString::fromStdString(preferred));
    class_->setToolTip(class_->currentData().toString());
}

std::shared_ptr<const BatchRules> BatchView::rules()
{
    const auto module = vision();
    const auto faceClass = criteria_.find(class_->currentText().toStdString());
    if (!module || !faceClass) {
        emit said(QString::fromStdString(module ? faceClass.error().message : module.error().message), true);
        return nullptr;
    }
    face::MeasureOptions options;
    if (faceClass->rectangular) options.fibres.reset();
    options.cores = 1;  // the pictures are judged side by side
    auto made = std::make_shared<BatchRules>();
    made->criteria = criteria_;
    made->faceClass = *faceClass;
    made->measure = [measure = module->measure, options](const face::Picture& p) { return measure(p, options); };
    return rules_ = std::move(made);
}

void BatchView::judgeFolder(const QString& folder)
{
    stop();
    whenDone(QtConcurrent::run(picturesIn, folder), this, [this, folder, begun = ++begun_](const QStringList& files) {
        if (begun != begun_) return;  // something else was begun meanwhile
        if (files.isEmpty()) return emit said(tr("There is no picture in %1.").arg(folder), true);
        if (!rules()) return;
        shownFile_.clear();
        model_->clear(false);
        progress_->setRange(0, static_cast<int>(files.size()));
        progress_->setValue(0);
        progress_->show();
        judge_->judge(files, rules_);
        emit changed();
    });
}

Advice BatchView::advice() const { return line_ ? lineAdvice(model_->taken(), rules_->faceClass, cords_, cleaner_) : folderAdvice(model_->taken()); }

void BatchView::watchLine(const QString& folder)
{
    stop();
    ++begun_;
    if (!rules()) return;
    shownFile_.clear();
    model_->clear(true);
    cords_ = CordLine(tr("cord 1").toStdString());
    cleaner_ = {};
    lineFolder_ = folder;
    line_ = new WatchedFolder(this);
    connect(line_, &WatchedFolder::arrived, this, [this](const QString& path) { judge_->judge({path}, rules_); });
    line_->watch(folder);
    emit said(tr("Watching %1: each picture is judged as it comes.").arg(folder), false);
    emit changed();
}

void BatchView::take(std::vector<SheetRow> rows)
{
    for (auto& row : rows) {
        if (!line_) continue;
        // until a cord is fit, the pictures are of the same one: cleaned, looked at again
        row.cord = cords_.label();
        row.end = cords_.end();
        cords_.judged(isFit(outcomeOf(row)));
    }
    waiting_.insert(waiting_.end(), std::make_move_iterator(rows.begin()), std::make_move_iterator(rows.end()));
    if (line_)
        flush();
    else if (!flush_.isActive())
        flush_.start();
}

void BatchView::flush()
{
    if (waiting_.empty()) return;
    model_->add(std::exchange(waiting_, {}), rules_->faceClass);
    if (line_) table_->selectRow(0);
    progress_->setValue(static_cast<int>(model_->taken().size()));
    emit changed();
}

void BatchView::nextCord()
{
    if (!line_) return;
    cords_.giveUp();
    emit said(tr("The next picture is of %1.").arg(QString::fromStdString(cords_.inHand())), false);
    emit changed();
}

void BatchView::relabel(const QString& label)
{
    if (!line_ || label.trimmed().isEmpty()) return;
    cords_.relabel(label.trimmed().toStdString());
    emit said(tr("In hand: %1.").arg(QString::fromStdString(cords_.inHand())), false);
    emit changed();
}

void BatchView::askForLabel()
{
    if (!line_) return emit said(tr("Labels belong to a line: L watches one."), true);
    bool ok = false;
    const QString label = QInputDialog::getText(this, tr("Label of the cord in hand"), tr("Scan or type it; a number at its end counts on"),
                                                QLineEdit::Normal, QString::fromStdString(cords_.label()), &ok);
    if (ok) relabel(label);
}

void BatchView::toggleBothEnds()
{
    if (!line_) return emit said(tr("Ends belong to a line: L watches one."), true);
    cords_.setBothEnds(!cords_.bothEnds());
    emit said(cords_.bothEnds() ? tr("Both ends of each cord, A then B.") : tr("One end of each cord."), false);
    emit changed();
}

void BatchView::writeCord()
{
    const auto& all = model_->taken();
    std::string cord;
    for (const auto& row : all)
        if (line_ && row.cord != cords_.label()) cord = row.cord;
    if (cord.empty()) return emit said(tr("No cord of a line is finished yet."), true);
    std::vector<SheetRow> rows;
    std::copy_if(all.begin(), all.end(), std::back_inserter(rows), [&](const SheetRow& row) { return row.cord == cord; });
    const auto losses = lossesOf_ ? lossesOf_(cord) : std::vector<CordLossRow>();
    const auto key = Signer::of(window()).open();  // that which is open signs; a line waits for no passphrase
    whenDone(QtConcurrent::run([cord, rows, losses, key, rules = rules_, cleaner = cleaner_, now = QDateTime::currentSecsSinceEpoch(),
                                folder = lineFolder_ + QStringLiteral("/certificates")] {
                 return guarded([&] {
                     const auto certificate = cordCertificate(cord, rows, rules->faceClass, rules->criteria, cleaner, losses, now);
                     return papers().and_then(
                         [&](const Papers& p) { return p.writeCord(certificate, sheetCsv(rows, rules->faceClass), folder, key.get()); });
                 });
             }),
             this, [this, cord = QString::fromStdString(cord), key](const Result<PlacedFiles>& written) {
                 const QString by = key ? tr("signed with the key of %1").arg(QString::fromStdString(key->holder())) : tr("signed by no key");
                 emit said(written ? tr("Certificate of %1, %2: %3").arg(cord, by, written->paths.front())
                                   : QString::fromStdString(written.error().message),
                           !written);
             });
}

void BatchView::checkCleaner()
{
    if (!line_) return emit said(tr("The cleaner belongs to a line: L watches one."), true);
    const auto kinds = loadKitKinds(dataFolder());
    const KitKind* jet = kinds ? kitKindNamed(*kinds, "jet") : nullptr;
    if (!jet) return emit said(kinds ? tr("There is no list for a cleaner.") : QString::fromStdString(kinds.error().message), true);
    QList<ListedThing> things;
    for (const auto& thing : jet->proofs) things.push_back({QString::fromStdString(thing)});
    CheckListDialog dialog(tr("The line's cleaner: %1").arg(QString::fromStdString(jet->title)),
                           tr("Space ticks what is in order, then comes the next."), things, this);
    if (dialog.exec() != QDialog::Accepted) return;
    cleaner_ = {QDateTime::currentSecsSinceEpoch(), {}, {}};
    for (const auto& thing : dialog.things(true)) cleaner_.good.push_back(thing.toStdString());
    for (const auto& thing : dialog.things(false)) cleaner_.open.push_back(thing.toStdString());
    emit said(cleaner_.open.empty() ? tr("The cleaner is in order. It stands on each cord's certificate.")
                                    : tr("Open: %1. It stands on each cord's certificate.").arg(dialog.things(false).join(QStringLiteral(", "))),
              !cleaner_.open.empty());
    emit changed();
}

void BatchView::stop()
{
    delete line_;
    line_ = nullptr;
    if (judge_->waiting() > 0) judge_->cancel();
    emit changed();
}

void BatchView::showChosen()
{
    const SheetRow* row = model_->at(table_->currentIndex());
    if (!row && model_->rowCount() > 0) row = model_->at(model_->index(0, 0));
    if (!row || !rules_ || row->file == shownFile_) return;  // the table grows ten times a second: one decoding a picture is enough
    shownFile_ = row->file;
    if (row->error) return showRow(*row, {});
    whenDone(QtConcurrent::run([file = row->file] {
                 return guarded([&] { return readFile(file).and_then([&](const std::string& bytes) { return readImage(bytes, file); }); });
             }),
             this, [this, row = *row](const Result<QImage>& image) {
                 if (row.file == shownFile_) showRow(row, image.value_or(QImage()));
             });
}

void BatchView::showRow(const SheetRow& row, const QImage& image)
{
    if (image.isNull() || row.faces.empty()) return picture_->show({}, nullptr, {}, QString::fromStdString(whyOf(row, rules_->faceClass)));
    const auto outcome = outcomeOf(row);
    const auto worst = std::find_if(row.faces.begin(), row.faces.end(), [&](const JudgedFace& f) {
        return outcomeOf({row.file, row.cord, {}, {f}}) == outcome;
    });
    Look shown;
    shown.seen.measured = worst->measured;
    shown.verdict = worst->judged.verdict;
    picture_->show(image, &shown, rules_->faceClass, QString::fromStdString(row.called()) + QStringLiteral(" · ") + text(name(outcome)));
}

void BatchView::exportTo(const QString& path)
{
    if (!rules_ || model_->taken().empty()) return emit said(tr("There is nothing to export yet."), true);
    const bool json = path.endsWith(QLatin1String(".json"), Qt::CaseInsensitive);
    const auto bytes = [rows = model_->taken(), rules = rules_, json]() mutable {
        sortWorstFirst(rows);
        return json ? sheetJson(rows, rules->faceClass, rules->criteria).dump(1) : sheetCsv(rows, rules->faceClass);
    };
    saveFile(this, path, bytes, [this, path](const Result<void>& saved) {
        emit said(saved ? tr("Exported: %1").arg(path) : QString::fromStdString(saved.error().message), !saved);
    });
}

void BatchView::askForFolder()
{
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder of pictures to judge"));
    if (!folder.isEmpty()) judgeFolder(folder);
}

void BatchView::askForLine()
{
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder into which the scope of the line saves"));
    if (!folder.isEmpty()) watchLine(folder);
}

void BatchView::askForExport()
{
    const QString path = QFileDialog::getSaveFileName(this, tr("Export the sheet"), QStringLiteral("sheet.csv"), tr("CSV (*.csv);;JSON (*.json)"));
    if (!path.isEmpty()) exportTo(path);
}

}  // namespace clendo
