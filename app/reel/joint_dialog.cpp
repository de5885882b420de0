#include "app/reel/joint_dialog.h"

#include <QFormLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/room.h"
#include "app/widgets/theme.h"

namespace clendo {

JointDialog::JointDialog(std::string reel, int fibre, int fibres, reel::JointKinds kinds, const ReelJointMade* last,
                         std::function<int(const std::string&)> usesOf, QWidget* parent)
    : QDialog(parent),
      reel_(std::move(reel)),
      kinds_(std::move(kinds)),
      usesOf_(std::move(usesOf)),
      fibre_(new QSpinBox(this)),
      kind_(new QComboBox(this)),
      part_(new QLineEdit(this)),
      figures_(new TextBlock(this)),
      caution_(new TextBlock(this)),
      steps_(new QListWidget(this))
{
    setObjectName(QStringLiteral("jointDialog"));
    setWindowTitle(tr("A joint to reel %1").arg(QString::fromStdString(reel_)));
    fibre_->setObjectName(QStringLiteral("jointFibre"));
    fibre_->setRange(1, std::max(1, fibres));
    fibre_->setValue(fibre);
    kind_->setObjectName(QStringLiteral("jointKind"));
    for (const auto& kind : kinds_.all) kind_->addItem(QString::fromStdString(kind.title));
    part_->setObjectName(QStringLiteral("jointPart"));
    part_->setPlaceholderText(tr("its number, so that its uses are counted; empty: not counted"));
    if (last) {
        kind_->setCurrentIndex(std::max(0, kind_->findText(QString::fromStdString(last->kind))));
        part_->setText(QString::fromStdString(last->part));
    }
    figures_->setObjectName(QStringLiteral("jointFigures"));
    caution_->setObjectName(QStringLiteral("jointCaution"));
    caution_->setCard(theme().work);
    steps_->setObjectName(QStringLiteral("jointSteps"));
    steps_->setWordWrap(true);
    steps_->setMinimumHeight(em(12));
    auto* form = new QFormLayout;
    form->addRow(tr("&Fibre"), fibre_);
    form->addRow(tr("&How"), kind_);
    form->addRow(tr("&Part"), part_);
    auto* inside = new QWidget(this);
    auto* within = new QVBoxLayout(inside);
    within->setContentsMargins(0, 0, 0, 0);
    within->addLayout(form);
    within->addWidget(figures_);
    within->addWidget(new QLabel(tr("<b>Steps</b>: Space ticks one and goes on to the next"), this));
    within->addWidget(steps_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(new Room(inside, this), 1);
    layout->addWidget(caution_);  // seen however low the screen is
    for (const auto& trouble : kinds_.troubles) {
        auto* label = new QLabel(QString::fromStdString(trouble), this);
        label->setWordWrap(true);
        label->setTextFormat(Qt::PlainText);
        layout->addWidget(label);
    }
    layout->addWidget(acceptOrBack(*this, tr("The joint is made (Enter)")).row);
    resizeOnScreen(*this, {em(40), em(34)});
    connect(kind_, &QComboBox::currentIndexChanged, this, &JointDialog::fill);
    connect(part_, &QLineEdit::textChanged, this, &JointDialog::follow);
    connect(steps_, &QListWidget::currentRowChanged, this, &JointDialog::follow);
    connect(steps_, &QListWidget::itemChanged, this, [this](const QListWidgetItem* item) {
        if (item->checkState() == Qt::Checked && steps_->row(item) + 1 < steps_->count()) steps_->setCurrentRow(steps_->row(item) + 1);
    });
    fill();
    steps_->setFocus();
}

const reel::JointKind* JointDialog::kind() const
{
    const int row = kind_->currentIndex();
    return row < 0 ? nullptr : &kinds_.all[static_cast<std::size_t>(row)];
}

void JointDialog::fill()
{
    steps_->clear();
    if (!kind()) return;
    for (const auto& step : kind()->steps) {
        auto* item = new QListWidgetItem(QString::fromStdString(step.words), steps_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Unchecked);
        if (!step.caution.empty()) item->setForeground(theme().work);
    }
    steps_->setCurrentRow(0);
    follow();
}

void JointDialog::follow()
{
    const reel::JointKind* k = kind();
    if (!k) return figures_->setText(tr("There is no kind of joint: the files in data/joints are missing."));
    std::vector<Paragraph> out{{{QString::fromStdString(reel::figuresOf(*k)), true}}};
    if (!k->wayRound.empty()) out.push_back({{tr("Which way round: "), true}, {QString::fromStdString(k->wayRound)}});
    if (!k->seated.empty()) out.push_back({{tr("It is seated when: "), true}, {QString::fromStdString(k->seated)}});
    if (const std::string part = part_->text().trimmed().toStdString(); !part.empty()) {
        const int used = usesOf_(part);
        const bool worn = k->uses > 0 && used >= k->uses;
        out.push_back({{k->uses > 0 ? tr("%1 was used %2 times of %3%4")
                                          .arg(QString::fromStdString(part))
                                          .arg(used)
                                          .arg(k->uses)
                                          .arg(worn ? tr(": take another one.") : tr("."))
                                    : tr("%1 was used %2 times.").arg(QString::fromStdString(part)).arg(used),
                        worn, worn ? theme().work : QColor()}});
    }
    out.push_back({{tr("Figures: ") + QString::fromStdString(k->source), false, theme().soft}});
    figures_->setParagraphs(std::move(out));
    const int row = steps_->currentRow();
    const bool here = row >= 0 && row < static_cast<int>(k->steps.size());
    const std::string caution = here ? k->steps[static_cast<std::size_t>(row)].caution : std::string();
    caution_->setText(caution.empty() ? tr("The rules of your site come first.")
                                      : QString::fromStdString(caution) + tr(" The rules of your site come first."));
}

ReelJointMade JointDialog::made() const
{
    ReelJointMade out{reel_, fibre_->value(), {}, part_->text().trimmed().toStdString(), {}, {}};
    const reel::JointKind* k = kind();
    if (!k) return out;
    out.kind = k->title;
    for (int row = 0; row < steps_->count(); ++row)
        (steps_->item(row)->checkState() == Qt::Checked ? out.done : out.left).push_back(k->steps[static_cast<std::size_t>(row)].id);
    return out;
}

}  // namespace clendo
