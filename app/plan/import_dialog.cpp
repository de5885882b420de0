#include "app/plan/import_dialog.h"

#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/theme.h"
#include "record/rules/kit.h"

namespace clendo {

ImportDialog::ImportDialog(std::vector<PlanLine> lines, const std::vector<CablePlan>& planned, const std::vector<ConnectorFamily>& families,
                           QWidget* parent)
    : QDialog(parent), table_(new QTableWidget(this)), said_(new TextBlock(this))
{
    setObjectName(QStringLiteral("importDialog"));
    setWindowTitle(tr("Cables from a table"));
    table_->setObjectName(QStringLiteral("importLines"));
    table_->setColumnCount(4);
    table_->setHorizontalHeaderLabels({tr("Line"), tr("Cable"), tr("From, to"), tr("What comes of it")});
    table_->setRowCount(static_cast<int>(lines.size()));
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->verticalHeader()->hide();
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(3, QHeaderView::Stretch);

    for (auto& line : lines)
        if (line.cable && std::any_of(planned.begin(), planned.end(), [&](const CablePlan& c) { return c.id == line.cable->id; }))
            line = {line.line, {}, tr("The job has a cable %1 already.").arg(QString::fromStdString(line.cable->id)).toStdString()};
    std::vector<CablePlan> all = planned;
    for (const auto& line : lines)
        if (line.cable) all.push_back(*line.cable);
    const auto troubles = planTroubles(all, families);

    int bad = 0, warned = 0;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const auto& line = lines[i];
        QString what = QString::fromStdString(line.trouble), cable, ends;
        QColor colour = theme().damaged;
        if (line.cable) {
            const CablePlan& c = *line.cable;
            cable = QString::fromStdString(c.id);
            ends = QStringLiteral("%1 → %2").arg(QString::fromStdString(c.placeA), QString::fromStdString(c.placeB));
            what = tr("%1 fibres, ports %2 to %3").arg(c.fibres).arg(c.endA.firstPort).arg(c.endA.firstPort + c.ports() - 1);
            colour = theme().ink;
            for (const auto& trouble : troubles)
                if (trouble.about == c.id) {
                    what = QString::fromStdString(trouble.sentence);
                    colour = theme().work;
                    ++warned;
                    break;
                }
            cables_.push_back(c);
        } else {
            ++bad;
        }
        const QStringList texts{QString::number(line.line), cable, ends, what};
        for (int column = 0; column < 4; ++column) {
            auto* item = new QTableWidgetItem(texts[column]);
            if (column == 3) {
                item->setForeground(colour);
                item->setToolTip(what);
            }
            table_->setItem(static_cast<int>(i), column, item);
        }
    }
    said_->setObjectName(QStringLiteral("importSaid"));
    said_->setText(tr("Cables that can be planned: %1, with a warning: %2. Lines that cannot be read and are left out: %3.")
                       .arg(cables_.size())
                       .arg(warned)
                       .arg(bad),
                   true, bad > 0 ? theme().damaged : theme().ink);
    const auto [buttons, take] = acceptOrBack(*this, tr("Plan %1 cables (Enter)").arg(cables_.size()));
    take->setEnabled(!cables_.empty());
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(said_);
    layout->addWidget(table_, 1);
    layout->addWidget(buttons);
    resizeOnScreen(*this, {em(60), em(30)});
    take->setFocus();
}

}  // namespace clendo
