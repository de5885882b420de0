#include "app/reel/sample_dialog.h"

#include <QFormLayout>
#include <QVBoxLayout>

#include "app/reel/sample_curve.h"
#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"

namespace clendo {

SampleDialog::SampleDialog(std::string reel, int fibres, reel::SamplingTable table, std::uint32_t seed, QWidget* parent)
    : QDialog(parent),
      fibres_(fibres),
      table_(std::move(table)),
      aql_(new QComboBox(this)),
      seed_(new QSpinBox(this)),
      bad_(new QSpinBox(this)),
      plan_(new QLabel(this)),
      worth_(new QLabel(this)),
      curve_(new SampleCurve(this))
{
    sampled_.reel = std::move(reel);
    setObjectName(QStringLiteral("sampleDialog"));
    setWindowTitle(tr("Draw the fibres that are tested"));
    aql_->setObjectName(QStringLiteral("aql"));
    for (const double aql : table_.qualityLimits("II")) aql_->addItem(tr("%1 % bad fibres").arg(aql), aql);
    aql_->setCurrentIndex(std::max(0, aql_->findData(1.0)));
    seed_->setObjectName(QStringLiteral("seed"));
    seed_->setRange(0, 2'000'000'000);
    seed_->setValue(static_cast<int>(seed % 1'000'000));
    bad_->setObjectName(QStringLiteral("badShare"));
    bad_->setRange(0, 30);
    bad_->setValue(5);
    bad_->setSuffix(tr(" % bad"));
    for (auto* label : {plan_, worth_}) label->setWordWrap(true);
    plan_->setObjectName(QStringLiteral("samplePlan"));
    worth_->setObjectName(QStringLiteral("sampleWorth"));
    auto* form = new QFormLayout;
    form->addRow(tr("&Quality that is accepted as a rule (AQL)"), aql_);
    form->addRow(tr("&Seed: the same one draws the same fibres"), seed_);
    form->addRow(tr("&What if the reel has"), bad_);
    auto* layout = new QVBoxLayout(this);
    layout->addLayout(form);
    layout->addWidget(plan_);
    layout->addWidget(worth_);
    layout->addWidget(curve_);
    auto* source = new QLabel(QString::fromStdString(table_.source()) + tr(". Compare it with your licensed copy."), this);
    source->setWordWrap(true);
    tint(source, QPalette::WindowText, theme().soft);
    layout->addWidget(source);
    const DialogButtons buttons = acceptOrBack(*this, tr("Draw them (Enter)"));
    accept_ = buttons.accept;
    layout->addWidget(buttons.row);
    setMinimumWidth(em(36));
    connect(aql_, &QComboBox::currentIndexChanged, this, &SampleDialog::follow);
    for (auto* box : {seed_, bad_}) connect(box, &QSpinBox::valueChanged, this, &SampleDialog::follow);
    follow();
}

void SampleDialog::follow()
{
    sampled_.level = "II";
    sampled_.aql = aql_->currentData().toDouble();
    sampled_.seed = static_cast<std::uint32_t>(seed_->value());
    const auto plan = table_.plan(fibres_, sampled_.level, sampled_.aql);
    accept_->setEnabled(plan.has_value());
    worth_->setVisible(plan.has_value());
    curve_->setVisible(plan.has_value() && !plan->all());
    if (!plan) return plan_->setText(QString::fromStdString(plan.error().message));
    sampled_.sample = {*plan, reel::draw(*plan, sampled_.seed)};
    QStringList drawn;
    for (const int fibre : sampled_.sample.drawn) drawn << QString::number(fibre);
    plan_->setText(
        plan->all()
            ? tr("<b>All %1 fibres</b> are tested: the lot is smaller than the plan's sample. %2 bad reject it.").arg(plan->lot).arg(plan->reject)
            : tr("<b>%1 of %2 fibres</b>: up to %3 bad accept the reel, %4 bad reject it. Drawn: %5.")
                  .arg(plan->size)
                  .arg(plan->lot)
                  .arg(plan->accept)
                  .arg(plan->reject)
                  .arg(drawn.join(QStringLiteral(", "))));
    worth_->setText(plan->all() ? tr("No fibre is left to chance.") : SampleCurve::words(*plan, bad_->value()));
    curve_->show(*plan, bad_->value());
}

}  // namespace clendo
