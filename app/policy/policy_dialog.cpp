#include "app/policy/policy_dialog.h"

#include <QFileDialog>
#include <QGridLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/text_block.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "files/files.h"

namespace clendo {
namespace {

const char* const anotherFile = "another file";

}  // namespace

PolicyDialog::PolicyDialog(const JobSettings& job, QWidget* parent)
    : QDialog(parent),
      job_(job),
      inside_(new QWidget(this)),
      grid_(new QGridLayout(inside_)),
      launch_(cord("launchCord", job.launchCord)),
      tail_(cord("tailCord", job.tailCord)),
      limits_(new QComboBox(inside_)),
      also_(new QListWidget(inside_)),
      attempts_(new QSpinBox(inside_))
{
    setObjectName(QStringLiteral("policyDialog"));
    setWindowTitle(tr("Settings and policy of this job"));
    grid_->setColumnStretch(2, 1);
    grid_->setHorizontalSpacing(em(1));
    grid_->setVerticalSpacing(em(0.6));
    limits();
    alsoLimits();
    wavelengths();
    cords();
    attempts();
    questions();
    auto* area = new QScrollArea(this);
    area->setWidget(inside_);
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    auto* buttons = acceptOrBack(*this, tr("It holds from now on (Enter)")).row;
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(area, 1);
    layout->addWidget(buttons);
    resizeOnScreen(*this, {em(66), em(42)});
}

void PolicyDialog::row(const QString& question, QWidget* answer, const QString& why, const QString& changes)
{
    auto* asked = new TextBlock(inside_);
    asked->setText(question, true);
    asked->setMinimumWidth(em(14));
    answer->setMinimumWidth(em(18));
    if (answer->accessibleName().isEmpty()) answer->setAccessibleName(question);
    auto* words = new TextBlock(inside_);
    words->setParagraphs({{{why}}, {{tr("Changes: %1.").arg(changes), false, theme().soft}}});
    const int n = grid_->rowCount();
    grid_->addWidget(asked, n, 0);
    grid_->addWidget(answer, n, 1, Qt::AlignTop);
    grid_->addWidget(words, n, 2);
}

QDoubleSpinBox* PolicyDialog::cord(const char* name, Metre now)
{
    auto* box = new QDoubleSpinBox(inside_);
    box->setObjectName(QString::fromLatin1(name));
    box->setRange(0, 100000);
    box->setDecimals(1);
    box->setSuffix(tr(" m"));
    box->setSpecialValueText(tr("none"));
    box->setValue(now.value());
    return box;
}

void PolicyDialog::cords()
{
    const QString usual = tr("Default: %1 m; 0 is none.").arg(JobSettings().launchCord.value(), 0, 'f', 0);
    row(tr("Launch cord at end A"), launch_,
        tr("It makes the first connection measurable; without one the record says that it is not known. %1").arg(usual),
        tr("where the link begins in a trace, and what the round asks you to carry"));
    row(tr("Tail cord at end B"), tail_, tr("It makes the last connection measurable. %1").arg(usual), tr("where the link ends in a trace"));
}

void PolicyDialog::limits()
{
    limits_->setObjectName(QStringLiteral("limits"));
    limits_->addItem(tr("generic, TIA (default)"), QStringLiteral("generic-sm"));
    limits_->addItem(tr("ISO/IEC link, ends against reference cords"), QStringLiteral("iso-link-sm"));
    for (const auto& name : applicationNames(RuleFiles(dataFolder()))) limits_->addItem(text(name), text("application:" + name));
    if (limits_->findData(text(job_.limits)) < 0) limits_->addItem(text(job_.limits), text(job_.limits));
    limits_->addItem(tr("the client's own: a file …"), QString::fromLatin1(anotherFile));
    limits_->setCurrentIndex(limitsBefore_ = limits_->findData(text(job_.limits)));
    connect(limits_, &QComboBox::activated, this, &PolicyDialog::chooseLimits);
    row(tr("Limits of loss"), limits_,
        tr("Each cable takes the multimode or single-mode set by its fibre. A file that is chosen is kept in the job."),
        tr("every verdict of loss, those of earlier readings included"));
}

void PolicyDialog::chooseLimits(int index)
{
    if (limits_->itemData(index).toString() == QLatin1String(anotherFile)) {
        const QString file = QFileDialog::getOpenFileName(this, tr("Limits of loss"), QString(), tr("Limits (*.json)"));
        if (file.isEmpty()) return limits_->setCurrentIndex(limitsBefore_);
        index = limits_->count() - 1;
        limits_->insertItem(index, file, file);
        limits_->setCurrentIndex(index);
    }
    limitsBefore_ = index;
}

/// All sets that can be chosen for the job, and files that it names already; the last line opens another one.
void PolicyDialog::alsoLimits()
{
    also_->setObjectName(QStringLiteral("alsoLimits"));
    const auto add = [this](const QString& words, const QString& name, int row) {
        auto* item = new QListWidgetItem(words);
        item->setData(Qt::UserRole, name);
        if (name != QLatin1String(anotherFile)) {
            item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
            const bool chosen = std::find(job_.alsoLimits.begin(), job_.alsoLimits.end(), name.toStdString()) != job_.alsoLimits.end();
            item->setCheckState(chosen ? Qt::Checked : Qt::Unchecked);
        }
        also_->insertItem(row, item);
        return item;
    };
    for (int i = 0; i < limits_->count(); ++i) add(limits_->itemText(i), limits_->itemData(i).toString(), also_->count());
    for (const auto& name : job_.alsoLimits)
        if (limits_->findData(text(name)) < 0) add(text(name), text(name), 0);
    also_->setFixedHeight(em(8));
    connect(also_, &QListWidget::itemActivated, this, [this, add](const QListWidgetItem* item) {
        if (item->data(Qt::UserRole).toString() != QLatin1String(anotherFile)) return;
        const QString file = QFileDialog::getOpenFileName(this, tr("Limits of loss"), QString(), tr("Limits (*.json)"));
        if (!file.isEmpty()) add(file, file, 0)->setCheckState(Qt::Checked);
    });
    row(tr("Loss also held against"), also_,
        tr("A client's own limits, an application, the generic set: what each fibre has to spare there is printed beside. Space ticks one."),
        tr("what certificates say beside their verdict; no verdict"));
}

void PolicyDialog::wavelengths()
{
    auto* boxes = new QWidget(inside_);
    boxes->setObjectName(QStringLiteral("wavelengths"));
    boxes->setAccessibleName(tr("Wavelengths"));
    auto* grid = new QGridLayout(boxes);
    grid->setContentsMargins(0, 0, 0, 0);
    int n = 0;
    for (const int nm : {850, 953, 1300, 1310, 1383, 1490, 1550, 1625}) {
        auto* box = new QCheckBox(tr("%1 nm").arg(nm), boxes);
        box->setObjectName(QStringLiteral("nm%1").arg(nm));
        box->setChecked(std::find(job_.wavelengths.begin(), job_.wavelengths.end(), nm) != job_.wavelengths.end());
        grid->addWidget(box, n / 3, n % 3);
        wavelengths_.emplace_back(nm, box);
        ++n;
    }
    row(tr("Wavelengths"), boxes,
        tr("Up to 1300 nm for multimode cables, from 1310 nm for single-mode ones; a kind of which none is chosen is tested at 850 and 1300 or 1310 "
           "and "
           "1550 nm. The longer one shows bends, the shorter one mismatch. Default: 1310 and 1550 nm."),
        tr("how many references, readings and traces a fibre needs"));
}

void PolicyDialog::attempts()
{
    attempts_->setObjectName(QStringLiteral("attempts"));
    attempts_->setRange(1, 100);
    attempts_->setValue(job_.attempts);
    row(tr("Cleanings before somebody decides"), attempts_,
        tr("What does not come off by then is damage, or wants another tool. Default: %1.").arg(JobSettings().attempts),
        tr("when the advice says to stop cleaning"));
}

void PolicyDialog::questions()
{
    for (const auto& q : policyRows()) {
        auto* answer = new QComboBox(inside_);
        answer->setObjectName(QStringLiteral("policy_") + text(q.key));
        const std::string now = answerOf(job_, q.key);
        for (const auto& [key, words] : q.choices) {
            const bool standard = &key == &q.choices.front().first;
            answer->addItem(standard ? tr("%1 (default)").arg(text(words)) : text(words), text(key));
        }
        if (answer->findData(text(now)) < 0)  // criteria of the house
            answer->addItem(text(now), text(now));
        answer->setCurrentIndex(answer->findData(text(now)));
        answers_[q.key] = answer;
        row(text(q.question), answer, text(q.reason), text(q.changes));
    }
}

JobSettings PolicyDialog::job() const
{
    JobSettings job = job_;
    job.launchCord = Metre(launch_->value());
    job.tailCord = Metre(tail_->value());
    job.attempts = attempts_->value();
    job.limits = limits_->currentData().toString().toStdString();
    job.alsoLimits.clear();
    for (int i = 0; i < also_->count(); ++i)
        if (also_->item(i)->checkState() == Qt::Checked) job.alsoLimits.push_back(also_->item(i)->data(Qt::UserRole).toString().toStdString());
    job.wavelengths.clear();
    for (const auto& [nm, box] : wavelengths_)
        if (box->isChecked()) job.wavelengths.push_back(nm);
    for (const int nm : job_.wavelengths)  // of another version: what cannot be chosen here stays
        if (std::none_of(wavelengths_.begin(), wavelengths_.end(), [&](const auto& w) { return w.first == nm; })) job.wavelengths.push_back(nm);
    for (const auto& [key, answer] : answers_) job = withAnswer(std::move(job), key, answer->currentData().toString().toStdString());
    return job;
}

}  // namespace clendo
