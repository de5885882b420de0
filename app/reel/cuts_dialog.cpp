#include "app/reel/cuts_dialog.h"

#include <fmt/format.h>

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QVBoxLayout>
#include <QtConcurrentRun>
#include <algorithm>

#include "app/reel/cuts_drawing.h"
#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/theme.h"
#include "app/widgets/when_done.h"
#include "files/typed_number.h"
#include "modules/planning.h"
#include "result/guarded.h"

namespace clendo {
namespace {

constexpr double searchFor = 10;  // seconds

QTableWidget* tableOf(QWidget* parent, const char* name, const QStringList& heads)
{
    auto* table = new QTableWidget(0, static_cast<int>(heads.size()), parent);
    table->setObjectName(QString::fromLatin1(name));
    table->setHorizontalHeaderLabels(heads);
    table->verticalHeader()->hide();
    table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table->verticalHeader()->setDefaultSectionSize(em(2.2));
    table->setSelectionMode(QAbstractItemView::SingleSelection);
    return table;
}

std::string cell(const QTableWidget& table, int row, int column)
{
    const auto* item = table.item(row, column);
    return item ? item->text().trimmed().toStdString() : std::string();
}

QString lengthText(Metre m) { return QString::number(m.value(), 'f', m.value() == std::floor(m.value()) ? 0 : 1); }

}  // namespace

CutsDialog::CutsDialog(std::vector<reel::Stock> stock, std::vector<std::string> notAccepted, const CutsPlanned* before,
                       const std::vector<std::string>& troubles, QWidget* parent)
    : QDialog(parent),
      stock_(std::move(stock)),
      notAccepted_(std::move(notAccepted)),
      runs_(tableOf(this, "cutRuns", {tr("Run"), tr("Length, m"), tr("Slack, m")})),
      cuts_(tableOf(this, "cutPieces", {tr("Piece for"), tr("from reel"), tr("Length, m")})),
      joints_(new QCheckBox(tr("A run &may be joined from pieces"), this)),
      keep_(new QSpinBox(this)),
      search_(new QPushButton(tr("&Search the best"), this)),
      add_(new QPushButton(tr("&One more run"), this)),
      split_(new QPushButton(tr("S&plit the piece"), this)),
      drawing_(new CutsDrawing(this)),
      says_(new TextBlock(this))
{
    setObjectName(QStringLiteral("cutsDialog"));
    setWindowTitle(tr("Which reel serves which run"));
    joints_->setObjectName(QStringLiteral("jointsAllowed"));
    keep_->setObjectName(QStringLiteral("keepLeast"));
    keep_->setRange(0, 100'000);
    keep_->setValue(50);
    keep_->setSuffix(tr(" m and more are kept"));
    search_->setObjectName(QStringLiteral("searchCuts"));
    add_->setObjectName(QStringLiteral("addRun"));
    split_->setObjectName(QStringLiteral("splitPiece"));
    for (auto* button : {search_, add_, split_}) button->setAutoDefault(false);
    says_->setObjectName(QStringLiteral("cutsSay"));
    auto* options = new QHBoxLayout;
    options->addWidget(add_);
    options->addWidget(joints_);
    options->addWidget(keep_);
    options->addStretch(1);
    options->addWidget(split_);
    options->addWidget(search_);
    auto* tables = new QHBoxLayout;
    tables->addWidget(runs_, 1);
    tables->addWidget(cuts_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->addLayout(tables, 1);
    layout->addLayout(options);
    layout->addWidget(drawing_);
    layout->addWidget(says_);
    const DialogButtons buttons = acceptOrBack(*this, tr("File this plan (Enter)"));
    accept_ = buttons.accept;
    layout->addWidget(buttons.row);
    resizeOnScreen(*this, {em(60), em(42)});
    if (before) {
        for (const auto& run : before->wish.runs) addRun(QString::fromStdString(run.name), lengthText(run.length), lengthText(run.slack));
        joints_->setChecked(before->wish.jointAllowed);
        keep_->setValue(static_cast<int>(before->wish.keepLeast.value()));
        if (troubles.empty()) {
            byHand_ = before->byHand;
            showCuts(before->cuts);
        }
    } else {
        addRun({}, {}, {});
    }
    connect(add_, &QPushButton::clicked, this, [this] {
        addRun({}, {}, {});
        runs_->setFocus();
        runs_->setCurrentCell(runs_->rowCount() - 1, 0);
        runs_->editItem(runs_->item(runs_->rowCount() - 1, 0));
    });
    connect(search_, &QPushButton::clicked, this, &CutsDialog::search);
    connect(split_, &QPushButton::clicked, this, &CutsDialog::splitPiece);
    connect(runs_, &QTableWidget::cellChanged, this, &CutsDialog::runsChanged);
    connect(joints_, &QCheckBox::toggled, this, &CutsDialog::runsChanged);
    connect(keep_, &QSpinBox::valueChanged, this, &CutsDialog::runsChanged);
    connect(cuts_, &QTableWidget::cellChanged, this, &CutsDialog::cutsChanged);
    follow();
    if (before && !troubles.empty()) search();
    runs_->setFocus();
}

void CutsDialog::addRun(const QString& name, const QString& length, const QString& slack)
{
    filling_ = true;
    const int row = runs_->rowCount();
    runs_->insertRow(row);
    int column = 0;
    for (const QString& text : {name, length, slack}) runs_->setItem(row, column++, new QTableWidgetItem(text));
    filling_ = false;
}

Result<reel::CuttingWish> CutsDialog::wish() const
{
    reel::CuttingWish out;
    out.reels = stock_;
    out.jointAllowed = joints_->isChecked();
    out.keepLeast = Metre(keep_->value());
    for (int row = 0; row < runs_->rowCount(); ++row) {
        const std::string name = cell(*runs_, row, 0), length = cell(*runs_, row, 1), slack = cell(*runs_, row, 2);
        if (name.empty() && length.empty()) continue;
        const auto metres = typedNumber(length), more = slack.empty() ? TypedNumber{0, {}} : typedNumber(slack);
        if (name.empty() || !metres || !more)
            return failure(Error::Code::PlanInvalid,
                           fmt::format("Run {} wants a name, a length and, where there is one, its slack in metres.", row + 1));
        out.runs.push_back({name, Metre(metres->value), Metre(more->value)});
    }
    if (auto ok = reel::checked(out); !ok) return tl::unexpected(ok.error());
    return out;
}

void CutsDialog::runsChanged()
{
    if (filling_) return;
    best_.reset();
    follow();
}

void CutsDialog::search()
{
    const auto wanted = wish();
    if (!wanted) return follow();
    searching_ = true;
    search_->setEnabled(false);
    says_->setText(tr("Searching …"));
    whenDone(QtConcurrent::run([wish = *wanted] {
                 return guarded([&] { return planning().and_then([&](const Planning& p) { return p.planCuts(wish, searchFor); }); });
             }),
             this, [this, asked = ++asked_](const Result<reel::CuttingPlan>& plan) {
                 if (asked == asked_) found(plan);
             });
}

void CutsDialog::found(const Result<reel::CuttingPlan>& plan)
{
    searching_ = false;
    search_->setEnabled(true);
    if (!plan) {
        best_.reset();
        return says_->setText(QString::fromStdString(plan.error().message), false, theme().work);
    }
    best_ = *plan;
    byHand_ = false;
    showCuts(plan->reels);
    follow();
}

void CutsDialog::showCuts(const std::vector<reel::ReelCuts>& all)
{
    filling_ = true;
    cuts_->setRowCount(0);
    for (const auto& reel : all)
        for (const auto& cut : reel.cuts) addPiece(cut.run, QString::fromStdString(reel.reel), cut.length);
    filling_ = false;
}

std::vector<reel::ReelCuts> CutsDialog::cuts() const
{
    std::vector<reel::ReelCuts> out;
    for (int row = 0; row < cuts_->rowCount(); ++row) {
        const auto* from = qobject_cast<QComboBox*>(cuts_->cellWidget(row, 1));
        const auto length = typedNumber(cell(*cuts_, row, 2));
        const std::string reel = from ? from->currentText().toStdString() : std::string();
        if (length && length->value == 0) continue;  // it is not cut
        auto of = std::find_if(out.begin(), out.end(), [&](const auto& r) { return r.reel == reel; });
        if (of == out.end()) of = out.insert(out.end(), {reel, {}, {}});
        of->cuts.push_back({cell(*cuts_, row, 0), Metre(length ? length->value : -1)});
    }
    return out;
}

void CutsDialog::addPiece(const std::string& run, const QString& reel, Metre length)
{
    const int row = cuts_->rowCount();
    cuts_->insertRow(row);
    auto* name = new QTableWidgetItem(QString::fromStdString(run));
    name->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    cuts_->setItem(row, 0, name);
    auto* from = new QComboBox(cuts_);
    from->setAccessibleName(tr("Reel for %1").arg(name->text()));
    for (const auto& stock : stock_) from->addItem(QString::fromStdString(stock.reel));
    from->setCurrentIndex(from->findText(reel));
    connect(from, &QComboBox::activated, this, &CutsDialog::cutsChanged);
    cuts_->setCellWidget(row, 1, from);
    cuts_->setItem(row, 2, new QTableWidgetItem(lengthText(length)));
}

/// Two halves of the piece, to be joined again.
void CutsDialog::splitPiece()
{
    const int row = cuts_->currentRow();
    const auto length = row < 0 ? std::nullopt : typedNumber(cell(*cuts_, row, 2));
    if (!length || !joints_->isChecked())
        return says_->setText(tr("Choose a piece, and allow that runs are joined from pieces."), false, theme().work);
    const auto* from = qobject_cast<QComboBox*>(cuts_->cellWidget(row, 1));
    const Metre half{length->value / 2};
    filling_ = true;
    cuts_->item(row, 2)->setText(lengthText(half));
    addPiece(cell(*cuts_, row, 0), from ? from->currentText() : QString(), Metre(length->value) - half);
    filling_ = false;
    cutsChanged();
}

void CutsDialog::cutsChanged()
{
    if (filling_) return;
    byHand_ = true;
    follow();
}

/// What the plan comes to as it stands now.
void CutsDialog::follow()
{
    const auto wanted = wish();
    const auto weighed = wanted ? reel::weigh(*wanted, cuts()) : tl::unexpected(wanted.error());
    accept_->setEnabled(weighed.has_value() && cuts_->rowCount() > 0);
    search_->setEnabled(wanted.has_value() && !searching_);
    if (!weighed) {
        drawing_->show(stock_, {}, Metre(keep_->value()));
        return says_->setText(QString::fromStdString(weighed.error().message), false, theme().work);
    }
    drawing_->show(stock_, *weighed, Metre(keep_->value()));
    const auto figures = [](const reel::CuttingPlan& plan) {
        return tr("joints: %1 · waste: %2 m · short of: %3 m · reels opened: %4")
            .arg(plan.joints)
            .arg(plan.waste.value(), 0, 'f', 0)
            .arg(plan.shortOf.value(), 0, 'f', 0)
            .arg(plan.reels.size());
    };
    std::vector<Paragraph> words{{{figures(*weighed), true}}};
    if (best_ && byHand_)
        words.push_back({{tr("By hand. The search found: %1.").arg(figures(*best_))}});
    else if (best_)
        words.push_back({{best_->optimal ? tr("Proven: no plan does better with these reels.")
                                         : tr("The search was stopped: a plan may still be up to %1 % better.").arg(100 * best_->gap, 0, 'f', 1)}});
    else
        words.push_back({{cuts_->rowCount() == 0 ? tr("Name the runs with their lengths, then search.")
                                                 : tr("Not searched for since something was changed: it may be done better."),
                          false, theme().soft}});
    QStringList open;
    for (const auto& reel : weighed->reels)
        if (std::find(notAccepted_.begin(), notAccepted_.end(), reel.reel) != notAccepted_.end()) open << QString::fromStdString(reel.reel);
    if (!open.isEmpty()) words.push_back({{tr("Nobody accepted yet: %1.").arg(open.join(QStringLiteral(", "))), false, theme().work}});
    words.push_back({{tr("Lengths of reels are what they hold for sure: measured, less what the measurement leaves open. Change pieces by hand in "
                         "the table on the right."),
                      false, theme().soft}});
    says_->setParagraphs(std::move(words));
}

CutsPlanned CutsDialog::planned() const
{
    const auto wanted = wish();
    return {wanted.value_or(reel::CuttingWish{}), cuts(), byHand_};
}

}  // namespace clendo
