#include "app/budget/budget_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QSpinBox>
#include <QTableWidget>
#include <QtConcurrentRun>
#include <algorithm>

#include "app/widgets/theme.h"
#include "app/widgets/when_done.h"
#include "files/files.h"
#include "power/measured_applications.h"
#include "result/guarded.h"

namespace clendo {
namespace {

QString decibels(const std::optional<Decibel>& value)
{
    return value ? QObject::tr("%1 dB").arg(value->value(), 0, 'f', 2) : QObject::tr("not known");
}

QString carriesWords(const ApplicationBudget& one)
{
    if (!one.carries) return QObject::tr("not known");
    if (*one.carries) return one.spare ? QObject::tr("yes, %1 to spare").arg(decibels(one.spare)) : QObject::tr("yes");
    switch (one.limitedBy) {
        case ApplicationBudget::Limit::Loss:
            return one.spare ? QObject::tr("no, %1 too much loss").arg(decibels(-*one.spare)) : QObject::tr("no, too much loss");
        case ApplicationBudget::Limit::Length: return QObject::tr("no, too long");
        case ApplicationBudget::Limit::LeastLoss: return QObject::tr("no, too much light for the receiver");
        case ApplicationBudget::Limit::Reflectance: return QObject::tr("no, its joints reflect too much");
        case ApplicationBudget::Limit::None: break;
    }
    return QObject::tr("no");
}

QTableWidget* table(const QStringList& titles, QWidget* parent)
{
    auto* out = new QTableWidget(0, static_cast<int>(titles.size()), parent);
    out->setHorizontalHeaderLabels(titles);
    out->verticalHeader()->hide();
    out->setEditTriggers(QAbstractItemView::NoEditTriggers);
    out->setSelectionMode(QAbstractItemView::NoSelection);
    out->horizontalHeader()->setStretchLastSection(true);
    return out;
}

void put(QTableWidget* into, int row, const QStringList& cells, const std::vector<bool>& warn = {})
{
    for (int c = 0; c < cells.size(); ++c) {
        auto* item = new QTableWidgetItem(cells[c]);
        if (static_cast<std::size_t>(c) < warn.size() && warn[static_cast<std::size_t>(c)]) {
            QFont bold = into->font();
            bold.setBold(true);
            item->setFont(bold);
            item->setForeground(theme().damaged);
        }
        into->setItem(row, c, item);
    }
}

}  // namespace

BudgetDialog::BudgetDialog(const JobState& state, const Link* link, QWidget* parent)
    : QDialog(parent),
      method_(state.plan->job.method),
      fibre_(new QComboBox(this)),
      limits_(new QComboBox(this)),
      statistics_(new QComboBox(this)),
      length_(new QDoubleSpinBox(this)),
      other_(new QDoubleSpinBox(this)),
      connections_(new QSpinBox(this)),
      splices_(new QSpinBox(this)),
      wavelengths_(table({tr("wavelength"), tr("limit of a measurement"), tr("worst case"), tr("as a rule"), tr("95 of 100 lose less than")}, this)),
      carried_(table({tr("application"), tr("as planned, worst case"), tr("as measured: loss and length")}, this)),
      headline_(new QLabel(this))
{
    setObjectName(QStringLiteral("budgetDialog"));
    setWindowTitle(tr("What a link may lose, and what it carries"));
    if (auto typical = loadTypicalLosses(dataFolder()))
        typical_ = std::move(*typical);
    else
        trouble_ = QString::fromStdString(typical.error().message);
    if (auto applications = loadApplications(dataFolder()))
        applications_ = std::move(*applications);
    else
        trouble_ = QString::fromStdString(applications.error().message);
    for (const auto& [fibre, known] : typical_.fibres) fibre_->addItem(QString::fromStdString(fibre));
    for (const char* set : {"generic-sm", "iso-link-sm", "generic-mm", "iso-link-mm"}) limits_->addItem(QString::fromLatin1(set));
    statistics_->addItem(tr("root of squares"));
    statistics_->addItem(tr("drawn by chance (Monte Carlo)"));
    length_->setRange(1, 200000);
    length_->setDecimals(0);
    length_->setSuffix(tr(" m"));
    other_->setRange(0, 40);
    other_->setSuffix(tr(" dB"));
    connections_->setRange(2, 100);
    splices_->setRange(0, 1000);
    const std::pair<QWidget*, const char*> names[] = {
        {fibre_, "budgetFibre"},     {length_, "budgetLength"},    {connections_, "budgetConnections"}, {splices_, "budgetSplices"},
        {other_, "budgetOther"},     {limits_, "budgetLimits"},    {statistics_, "budgetStatistics"},   {wavelengths_, "budgetWavelengths"},
        {carried_, "budgetCarried"}, {headline_, "budgetHeadline"}};
    for (const auto& [widget, name] : names) widget->setObjectName(QString::fromLatin1(name));
    if (link) {
        const CablePlan& cable = *link->cable;
        fibre_->setCurrentText(QString::fromStdString(cable.fibre));
        limits_->setCurrentText(isMultimode(cable) ? QStringLiteral("generic-mm") : QStringLiteral("generic-sm"));
        length_->setValue(cable.length.value());
        connections_->setValue(cable.testedConnections());
        splices_->setValue(static_cast<int>(cable.splices.size()));
        if (const auto& of = state.state(link->id); of.loss) measured_ = measuredApplications(*of.loss, cable.fibre, cable.length, applications_);
    }
    auto* form = new QFormLayout;
    form->addRow(tr("&Fibre"), fibre_);
    form->addRow(tr("&Length"), length_);
    form->addRow(tr("&Connections, both ends"), connections_);
    form->addRow(tr("&Splices"), splices_);
    form->addRow(tr("&Other loss (splitter)"), other_);
    form->addRow(tr("L&imits"), limits_);
    form->addRow(tr("S&preads"), statistics_);
    auto* right = new QVBoxLayout;
    headline_->setWordWrap(true);
    QFont large = font();
    large.setPointSizeF(large.pointSizeF() * 1.3);
    large.setBold(true);
    headline_->setFont(large);
    right->addWidget(headline_);
    wavelengths_->setFixedHeight(em(8));
    right->addWidget(wavelengths_);
    right->addWidget(carried_, 1);
    auto* note = new QLabel(
        tr("Figures of joints as a rule are this program's own defaults (data/plant/joints.json); compare limits with your licensed copies."), this);
    note->setWordWrap(true);
    tint(note, QPalette::WindowText, theme().soft);
    right->addWidget(note);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    right->addWidget(buttons);
    auto* all = new QHBoxLayout(this);
    all->addLayout(form);
    all->addSpacing(em(1));
    all->addLayout(right, 1);
    for (QComboBox* box : {fibre_, limits_, statistics_}) connect(box, &QComboBox::currentIndexChanged, this, &BudgetDialog::follow);
    for (QDoubleSpinBox* box : {length_, other_}) connect(box, &QDoubleSpinBox::valueChanged, this, &BudgetDialog::follow);
    for (QSpinBox* box : {connections_, splices_}) connect(box, &QSpinBox::valueChanged, this, &BudgetDialog::follow);
    resize(em(72), em(42));
    follow();
}

void BudgetDialog::follow()
{
    if (!trouble_.isEmpty()) return refuse(trouble_);
    LinkPlan plan;
    plan.method = method_;
    const std::string fibre = fibre_->currentText().toStdString();
    plan.elements.push_back({LinkElement::Kind::Fibre, fibre, Metre(length_->value())});
    for (int i = 0; i < connections_->value(); ++i) plan.elements.push_back({LinkElement::Kind::Connection});
    for (int i = 0; i < splices_->value(); ++i) plan.elements.push_back({LinkElement::Kind::Splice});
    if (other_->value() > 0) plan.elements.push_back({LinkElement::Kind::Other, {}, {}, Decibel(other_->value())});
    const auto statistics = statistics_->currentIndex() == 0 ? Statistics::RootOfSquares : Statistics::MonteCarlo;
    // drawing by chance takes some 100 ms: not in the window's thread; what was asked for last is shown
    const int asked = ++asked_;
    const auto work =
        QtConcurrent::run([plan, fibre, set = limits_->currentText().toStdString(), statistics, typical = typical_, applications = applications_] {
            return guarded([&] {
                return loadLimits(set, fibre, dataFolder()).and_then([&](const LimitSet& limits) {
                    return planBudget(plan, limits, typical, applications, statistics);
                });
            });
        });
    whenDone(work, this, [this, asked](const Result<LinkBudget>& made) {
        if (asked == asked_) showBudget(made);
    });
}

void BudgetDialog::refuse(const QString& why)
{
    headline_->setText(why);
    tint(headline_, QPalette::WindowText, theme().damaged);
    wavelengths_->setRowCount(0);
    carried_->setRowCount(0);
}

void BudgetDialog::showBudget(const Result<LinkBudget>& made)
{
    if (!made) return refuse(QString::fromStdString(made.error().message));
    const LinkBudget& budget = *made;
    tint(headline_, QPalette::WindowText, theme().ink);
    wavelengths_->setRowCount(static_cast<int>(budget.wavelengths.size()));
    for (std::size_t i = 0; i < budget.wavelengths.size(); ++i) {
        const auto& w = budget.wavelengths[i];
        put(wavelengths_, static_cast<int>(i),
            {tr("%1 nm").arg(std::lround(w.wavelength.value())), decibels(w.limit), decibels(w.worst), decibels(w.typical), decibels(w.typicalP95)});
    }
    const auto carried =
        std::count_if(budget.applications.begin(), budget.applications.end(), [](const auto& a) { return a.carries.value_or(false); });
    headline_->setText(
        tr("Carries %1 of %2 applications on %3, in the worst case").arg(carried).arg(budget.applications.size()).arg(fibre_->currentText()));
    carried_->setRowCount(static_cast<int>(budget.applications.size()));
    for (std::size_t i = 0; i < budget.applications.size(); ++i) {
        const auto& planned = budget.applications[i];
        const auto measured = std::find_if(measured_.begin(), measured_.end(), [&](const auto& m) { return m.name == planned.name; });
        const bool here = measured != measured_.end();
        put(carried_, static_cast<int>(i),
            {QString::fromStdString(planned.name), carriesWords(planned), here ? carriesWords(*measured) : tr("not measured")},
            {false, planned.carries.has_value() && !*planned.carries, here && measured->carries.has_value() && !*measured->carries});
    }
    for (QTableWidget* one : {wavelengths_, carried_}) one->resizeColumnsToContents();
}

}  // namespace clendo
