#include "app/policy/criteria_column.h"

#include <fmt/format.h>

#include <QHeaderView>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "record/state/rules.h"

namespace clendo {
namespace {

enum Cell { ZoneCell, WhatCell, OverCell, UpToCell, AllowedCell, FoundCell, CellCount };

QString number(Micrometre value) { return QString::number(value.value(), 'g', 4); }

/// A number of µm, 0 or more; nothing where the text is none.
std::optional<double> numberIn(QString text)
{
    bool ok = false;
    const double value = text.trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&ok);
    return ok && std::isfinite(value) && value >= 0 ? std::optional(value) : std::nullopt;
}

}  // namespace

CriteriaColumn::CriteriaColumn(const QString& name, QWidget* parent)
    : QWidget(parent), which_(new QComboBox(this)), words_(new TextBlock(this)), table_(new QTableWidget(this))
{
    which_->setObjectName(name + QStringLiteral("Criteria"));
    words_->setObjectName(name + QStringLiteral("Words"));
    table_->setObjectName(name + QStringLiteral("Rules"));
    table_->setColumnCount(CellCount);
    table_->setHorizontalHeaderLabels({tr("Zone"), tr("What"), tr("Over µm"), tr("Up to µm"), tr("Allowed"), tr("Found")});
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(em(1.5));
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(WhatCell, QHeaderView::Stretch);
    words_->setMinimumHeight(em(3.2));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(which_);
    layout->addWidget(words_);
    layout->addWidget(table_, 1);
    connect(which_, &QComboBox::currentIndexChanged, this, &CriteriaColumn::chosen);
}

void CriteriaColumn::offer(const std::vector<std::pair<QString, QString>>& sets)
{
    const QSignalBlocker quiet(which_);
    const QString before = edition();
    which_->clear();
    for (const auto& [edition, title] : sets) which_->addItem(title, edition);
    choose(before);
}

void CriteriaColumn::choose(const QString& edition)
{
    const QSignalBlocker quiet(which_);
    which_->setCurrentIndex(std::max(0, which_->findData(edition)));
}

void CriteriaColumn::showTrouble(const QString& sentence)
{
    words_->setText(sentence, true, theme().damaged);
    table_->setRowCount(0);
    rules_.clear();
}

void CriteriaColumn::show(const Criteria& criteria, const std::string& className, const face::FaceMeasurement* look, bool editable)
{
    const auto faceClass = criteria.find(className);
    if (!faceClass) return showTrouble(QString::fromStdString(faceClass.error().message));
    const auto opinion = look ? face::opinionOf(*look, className, criteria) : face::CriteriaOpinion{{}, "This face was not seen yet: rules only."};
    const auto& verdict = opinion.said.verdict;
    QString said = QString::fromStdString(opinion.words);
    if (!said.isEmpty()) said[0] = said[0].toUpper();
    words_->setText(said + QLatin1Char('.'), true, !verdict ? theme().soft : verdict->fit ? theme().fit : theme().damaged);
    rules_ = faceClass->rules;
    table_->setRowCount(static_cast<int>(rules_.size()));
    for (std::size_t i = 0; i < rules_.size(); ++i) {
        const Rule& rule = rules_[i];
        const RuleOutcome* outcome = verdict && i < verdict->outcomes.size() ? &verdict->outcomes[i] : nullptr;
        const QStringList cells{text(name(rule.zone)),
                                rule.kind == RuleKind::Defect ? tr("defect") : text(name(rule.kind)),
                                number(rule.lower),
                                rule.upper ? number(*rule.upper) : tr("any"),
                                rule.allowed ? QString::number(*rule.allowed) : tr("any"),
                                outcome ? QString::number(outcome->counted) : QString()};
        for (int c = 0; c < CellCount; ++c) {
            auto* item = new QTableWidgetItem(cells[c]);
            const bool changes = editable && c >= OverCell && c <= AllowedCell;
            item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | (changes ? Qt::ItemIsEditable : Qt::NoItemFlags));
            if (c >= OverCell) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            if (outcome && !outcome->met) {
                QFont bold = font();
                bold.setBold(true);
                item->setFont(bold);
                item->setForeground(theme().damaged);
            }
            table_->setItem(static_cast<int>(i), c, item);
        }
    }
}

Result<std::vector<Rule>> CriteriaColumn::rules() const
{
    std::vector<Rule> out = rules_;
    for (std::size_t i = 0; i < out.size(); ++i) {
        const auto text = [&](int cell) { return table_->item(static_cast<int>(i), cell)->text().trimmed(); };
        const auto open = [](const QString& t) { return t.isEmpty() || t == tr("any"); };
        const auto unreadable = [&](int cell) {
            return failure(Error::Code::CriteriaInvalid, fmt::format("Row {}: “{}” is neither a number nor “any”.", i + 1, text(cell).toStdString()));
        };
        const auto lower = numberIn(text(OverCell)), upper = numberIn(text(UpToCell)), allowed = numberIn(text(AllowedCell));
        if (!lower) return unreadable(OverCell);
        if (!upper && !open(text(UpToCell))) return unreadable(UpToCell);
        if (!allowed && !open(text(AllowedCell))) return unreadable(AllowedCell);
        out[i].lower = Micrometre(*lower);
        out[i].upper = upper ? std::optional(Micrometre(*upper)) : std::nullopt;
        out[i].allowed = allowed ? std::optional(static_cast<int>(std::min(*allowed, 100000.0))) : std::nullopt;
    }
    return out;
}

}  // namespace clendo
