#include "app/policy_dialog.h"

#include <QGridLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/dialog_buttons.h"
#include "app/text_block.h"
#include "app/theme.h"
#include "record/job_policy.h"

namespace clendo {

PolicyDialog::PolicyDialog(const JobSettings& job, QWidget* parent) : QDialog(parent), job_(job)
{
    setObjectName(QStringLiteral("policyDialog"));
    setWindowTitle(tr("The job's policy"));
    auto* inside = new QWidget(this);
    auto* grid = new QGridLayout(inside);
    grid->setColumnStretch(2, 1);
    grid->setHorizontalSpacing(em(1));
    grid->setVerticalSpacing(em(0.6));
    int n = 0;
    for (const auto& row : policyRows()) {
        auto* question = new TextBlock(inside);
        question->setText(QString::fromStdString(row.question), true);
        question->setMinimumWidth(em(14));
        auto* answer = new QComboBox(inside);
        answer->setObjectName(QStringLiteral("policy_") + QString::fromStdString(row.key));
        answer->setAccessibleName(QString::fromStdString(row.question));
        const std::string now = answerOf(job, row.key);
        for (const auto& [key, words] : row.choices) {
            const bool standard = &key == &row.choices.front().first;
            answer->addItem(standard ? tr("%1 (default)").arg(QString::fromStdString(words)) : QString::fromStdString(words),
                            QString::fromStdString(key));
        }
        if (answer->findData(QString::fromStdString(now)) < 0)  // criteria of the house
            answer->addItem(QString::fromStdString(now), QString::fromStdString(now));
        answer->setCurrentIndex(answer->findData(QString::fromStdString(now)));
        answer->setMinimumWidth(em(18));
        answers_[row.key] = answer;
        auto* why = new TextBlock(inside);
        why->setParagraphs(
            {{{QString::fromStdString(row.reason)}}, {{tr("Changes: %1.").arg(QString::fromStdString(row.changes)), false, theme().soft}}});
        grid->addWidget(question, n, 0);
        grid->addWidget(answer, n, 1, Qt::AlignTop);
        grid->addWidget(why, n++, 2);
    }
    auto* area = new QScrollArea(this);
    area->setWidget(inside);
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    auto* buttons = acceptOrBack(*this, tr("It holds from now on (Enter)")).row;
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(area, 1);
    layout->addWidget(buttons);
    resize(em(66), em(42));
}

JobSettings PolicyDialog::job() const
{
    JobSettings job = job_;
    for (const auto& [key, answer] : answers_) job = withAnswer(std::move(job), key, answer->currentData().toString().toStdString());
    return job;
}

}  // namespace clendo
